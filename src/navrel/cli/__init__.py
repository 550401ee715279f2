"""The command line.

Each command is loaded only when it is asked for: most of the time of a short command would else go into loading what
the others need.
"""

from __future__ import annotations

from collections.abc import Iterable
from importlib import import_module

import typer

#: The commands, and the module that holds each.
COMMANDS = {
    "set-up": "site",
    "manage": "site",
    "intake": "site",
    "resolve": "resolving",
    "explain": "resolving",
    "looks": "looking",
    "check": "checking",
    "diff": "comparing",
    "suggest": "suggesting",
    "format": "writing",
    "schema": "writing",
}


def application(names: Iterable[str] = ()) -> typer.Typer:
    """The command line with the commands of these names, or with all where one of them is unknown."""
    wanted = [COMMANDS.get(name) for name in names]
    modules = dict.fromkeys(COMMANDS.values() if not wanted or None in wanted else filter(None, wanted))
    app = typer.Typer(
        add_completion=False,
        no_args_is_help=True,
        pretty_exceptions_enable=False,
        help="Navrel. Besides the commands below: ./navrel start · stop · test · bench · screenshots.",
    )
    # A program of one command would take the command's name for its first argument.
    app.callback()(_together)
    for module in modules:
        import_module(f"navrel.cli.{module}").add_to(app)
    return app


def _together() -> None:
    """Navrel. Besides the commands below: ./navrel start · stop · test · bench · screenshots."""
