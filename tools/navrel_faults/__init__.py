"""Faults on purpose: a Navrel of its own whose processes are killed while it is edited and published."""
