"""Where the facts of pages stand in their files: proposals for that, tried, and read anew."""
