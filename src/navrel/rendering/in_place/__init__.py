"""Pages drawn in their own HTML: where its slots are, and what is put there."""
