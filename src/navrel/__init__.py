"""Navrel: decide by rules which layout every page of a site gets, see why, publish it."""
