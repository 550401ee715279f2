"""Setting up and starting Navrel on a machine. Standard library only: it runs before anything is installed."""
