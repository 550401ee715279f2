"""Run as a program: python -m navrel.cli."""

from . import app

app()
