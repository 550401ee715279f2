"""Run as a program: python -m navrel.cli."""

import sys

from . import main

main(sys.argv[1:])
