"""The command line."""

from __future__ import annotations

import typer

from . import comparing, resolving, site

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    help="Navrel. Besides the commands below: ./navrel start · test · bench · screenshots.",
)
for commands in (site, resolving, comparing):
    commands.add_to(app)
