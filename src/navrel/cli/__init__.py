"""The command line.

Each command is loaded only when it is asked for: most of the time of a short command would else go into loading what
the others need.
"""

from __future__ import annotations

import sys
from argparse import ArgumentParser
from collections.abc import Sequence
from difflib import get_close_matches
from importlib import import_module
from typing import NamedTuple


class Command(NamedTuple):
    """Where a command stands: `run` in a module of this package, whose options `options` adds to a parser."""

    module: str
    options: str
    run: str
    about: str


COMMANDS = {
    "resolve": Command("resolving", "resolve_options", "resolve", "what every page of a layout file resolves to"),
    "explain": Command("resolving", "explain_options", "explain", "why a slot of a page comes to what it does"),
    "looks": Command("looking", "looks_options", "looks", "every distinct layout of a page, and who sees it when"),
    "check": Command("checking", "check_options", "check_command", "rules and pieces that cannot be what is meant"),
    "diff": Command("comparing", "diff_options", "diff", "what differs between two layout files, for whom and when"),
    "suggest": Command("suggesting", "suggest_options", "suggest_command", "conditions that pages have in common"),
    "format": Command("writing", "format_options", "format_command", "a layout file in its one written form"),
    "schema": Command("writing", "schema_options", "schema", "the JSON Schema of the layout file"),
    "layout": Command("layouts", "layout_options", "layout", "a site's layout out to a file, or a file into a site"),
    "site": Command("layouts", "site_options", "site", "make a site, or list the sites"),
    "intake": Command("site", "intake_options", "intake", "take in a site: a folder, an archive, a WARC, an address"),
    "publish": Command("publishing", "publish_options", "publish", "publish the draft, now or at a moment"),
    "export": Command("exporting", "export_options", "export", "a site as a folder of files, for any static host"),
    "feeds": Command("site", "feeds_options", "feeds", "fetch the feeds of other services that pieces show"),
    "manage": Command("site", "manage_options", "manage", "a Django management command"),
    "set-up": Command("site", "set_up_options", "set_up", ""),
    "first-account": Command("site", "first_account_options", "first_account", ""),
    "clock": Command("site", "clock_options", "clock", ""),
}


def main(arguments: Sequence[str]) -> None:
    """Run one command. Exits with 2 for arguments that cannot be used."""
    name, *rest = arguments or ["--help"]
    if name in ("-h", "--help"):
        print(_help())
        return
    command = COMMANDS.get(name)
    if command is None:
        near = get_close_matches(name, COMMANDS, 1)
        meant = f" Do you mean {near[0]}?" if near else ""
        print(f"There is no command {name}.{meant} ./navrel --help lists them.", file=sys.stderr)
        raise SystemExit(2)
    module = import_module(f"navrel.cli.{command.module}")
    run = getattr(module, command.run)
    parser = ArgumentParser(prog=f"./navrel {name}", description=run.__doc__, allow_abbrev=False)
    getattr(module, command.options)(parser)
    if name == "manage":
        run(rest)
    else:
        run(**vars(parser.parse_args(rest)))


def _help() -> str:
    listed = "\n".join(f"  {name:9} {one.about}" for name, one in COMMANDS.items() if one.about)
    own = "start · dev · stop · build · test · bench · screenshots · backup · restore · wheel · faults · api"
    return f"usage: ./navrel COMMAND …\n\n{listed}\n\nand {own}. Each tells its options with --help."
