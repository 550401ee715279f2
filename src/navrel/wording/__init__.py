"""What the core tells in codes and values, in words for people: for the interface and the command line alike."""
