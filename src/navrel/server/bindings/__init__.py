"""Where the slots of pages in their own HTML are, proposals for that, and what stands there today."""
