"""Commands on the site that is being edited: they need the database."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated

import typer

from .files import cannot_use, print_json, say


def add_to(app: typer.Typer) -> None:
    app.command("set-up", hidden=True)(set_up)
    anything = {"ignore_unknown_options": True, "allow_extra_args": True}
    app.command(context_settings=anything, add_help_option=False)(manage)
    app.command()(intake)


def _django() -> None:
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
    django.setup()


def set_up() -> None:
    """Migrate the database, and load the demo site into an empty one."""
    _django()
    from django.core.management import call_command

    from navrel.server.demo import set_up as demo

    call_command("migrate", verbosity=0, interactive=False)
    demo()


def manage(context: typer.Context) -> None:
    """Run a Django management command on the database that is being edited."""
    _django()
    from django.core.management import execute_from_command_line

    execute_from_command_line(["./navrel manage", *context.args])


def intake(
    folder: Annotated[Path, typer.Argument(help="A folder of HTML files")],
    site: Annotated[str, typer.Option(help="The slug of the site")] = "marrowick",
    as_json: Annotated[bool, typer.Option("--json", help="Print the report as JSON")] = False,
) -> None:
    """Take pages in from a folder of HTML files: update, add, and mark as gone."""
    if not folder.is_dir():
        cannot_use([f"There is no folder {folder}"])
    _django()
    from rich.console import Console

    from navrel.server.inventory.services import take_in_folder
    from navrel.server.inventory.views import describe
    from navrel.server.problems import Refused

    try:
        with Console(stderr=True).status("Reading …") as status:
            report = take_in_folder(site, folder, lambda count: status.update(f"Reading … {count} files"))
    except Refused as refused:
        cannot_use([f"{refused.title}. {refused.detail}"])
    if as_json:
        print_json(report)
        return
    say(describe(report))
    for kind in ("skipped", "remarks"):
        for note in report[kind]:
            say(f"  {note['file']}: {note['reason']}")
