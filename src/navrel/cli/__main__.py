"""Run as a program: python -m navrel.cli."""

import sys

from . import application

application(sys.argv[1:2])()
