"""The command line."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer
from rich.console import Console
from rich.table import Column, Table

from navrel.core.cascade import Trace, resolve_page, seated_slots, shown_entries
from navrel.core.document import SiteDocument
from navrel.core.errors import DocumentError, QueryError, ScheduleError
from navrel.core.index import PageIndex
from navrel.core.model import SLOTS, TEMPLATE, Lens, Page, Target
from navrel.core.reading import read_json, read_yaml
from navrel.core.schedule import read_moment
from navrel.core.site import Site
from navrel.core.suggest import suggest
from navrel.core.visitor import parse_visitor
from navrel.core.writing import write_action, write_json

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    help="Navrel. Besides the commands below: ./navrel start · test · bench · screenshots.",
)
console = Console()
errors = Console(stderr=True)


def _django() -> None:
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
    django.setup()


@app.command("set-up", hidden=True)
def set_up() -> None:
    """Migrate the database, and load the demo site into an empty one."""
    _django()
    from django.core.management import call_command

    from navrel.server.demo import set_up as demo

    call_command("migrate", verbosity=0, interactive=False)
    demo()


@app.command(context_settings={"ignore_unknown_options": True, "allow_extra_args": True}, add_help_option=False)
def manage(context: typer.Context) -> None:
    """Run a Django management command on the database that is being edited."""
    _django()
    from django.core.management import execute_from_command_line

    execute_from_command_line(["./navrel manage", *context.args])


@app.command()
def intake(
    folder: Annotated[Path, typer.Argument(help="A folder of HTML files")],
    site: Annotated[str, typer.Option(help="The slug of the site")] = "marrowick",
    as_json: Annotated[bool, typer.Option("--json", help="Print the report as JSON")] = False,
) -> None:
    """Take pages in from a folder of HTML files: update, add, and mark as gone."""
    if not folder.is_dir():
        errors.print(f"There is no folder {folder}")
        raise typer.Exit(2)
    _django()
    from navrel.server.inventory.services import take_in_folder
    from navrel.server.inventory.views import describe
    from navrel.server.problems import Refused

    try:
        with errors.status("Reading …") as status:
            report = take_in_folder(site, folder, lambda count: status.update(f"Reading … {count} files"))
    except Refused as refused:
        errors.print(f"{refused.title}. {refused.detail}")
        raise typer.Exit(2) from None
    if as_json:
        print(json.dumps(report, ensure_ascii=False, indent=2))
        return
    console.print(describe(report))
    for kind in ("skipped", "remarks"):
        for note in report[kind]:
            console.print(f"  {note['file']}: {note['reason']}", highlight=False)


LayoutFile = Annotated[Path, typer.Argument(help="A layout file, JSON or YAML", metavar="FILE")]
VisitorTerms = Annotated[
    str, typer.Option("--visitor", help='The visitor as terms: "signed:in role:crew device:phone"')
]
Moment = Annotated[
    str, typer.Option("--at", help="The moment, as 2026-12-01T18:00 in the site's time zone; now, when not given")
]
AsJson = Annotated[bool, typer.Option("--json", help="Print JSON")]


@app.command()
def resolve(
    file: LayoutFile,
    page: Annotated[list[str] | None, typer.Option("--page", help="Only this page; may be given several times")] = None,
    visitor: VisitorTerms = "",
    at: Moment = "",
    explain: Annotated[bool, typer.Option("--explain", help="Add the traces")] = False,
    as_json: AsJson = False,
) -> None:
    """Print what every page of a layout file resolves to."""
    document, site = _read_layout(file)
    lens = _read_lens(document, visitor, at)
    wanted = [_page(site, path) for path in page] if page else list(document.pages)
    found = [_resolved(document, site, one, lens, explain) for one in wanted]
    if as_json:
        print(json.dumps(found, ensure_ascii=False, indent=2))
        return
    used = [slot for slot in SLOTS if any(one["slots"][slot]["state"] != "unset" for one in found)]
    table = Table(Column("page", no_wrap=True), "template", *used)
    for one in found:
        table.add_row(one["path"], one["template"] or "", *(_cell(one["slots"][slot]) for slot in used))
    console.print(table)


@app.command("explain")
def explain_command(
    file: LayoutFile,
    path: Annotated[str, typer.Argument(help="The page")],
    slot: Annotated[str, typer.Argument(help="The slot, or `template`")],
    visitor: VisitorTerms = "",
    at: Moment = "",
    as_json: AsJson = False,
) -> None:
    """Say why a slot, or the template, of a page comes to what it does."""
    document, site = _read_layout(file)
    target = Target.read(slot)
    found = resolve_page(site, document.layout, _page(site, path), _read_lens(document, visitor, at), (target,))[target]
    if as_json:
        print(json.dumps(_traced(found), ensure_ascii=False, indent=2))
        return
    console.print(f"{path} {slot}: {found.outcome.state} {', '.join(found.outcome.pieces)}", highlight=False)
    for entry in found.entries:
        strength = f"priority {entry.strength.priority}, {entry.strength.specificity}" if entry.strength else ""
        against = f" by {entry.by.name} on {entry.on}" if entry.by else f" by {entry.clause}" if entry.clause else ""
        console.print(f"  {entry.state}{against}: {entry.rule.name}, no. {entry.place} {strength}", highlight=False)


@app.command("suggest")
def suggest_command(
    file: LayoutFile,
    paths: Annotated[list[str], typer.Argument(help="Pages to describe", metavar="PATH…")],
    as_json: AsJson = False,
) -> None:
    """Propose conditions that some pages have in common, best first."""
    _, site = _read_layout(file)
    for path in paths:
        _page(site, path)
    found = [
        {
            "include": str(one.include),
            "exclude": str(one.exclude),
            "adds": [page.path for page in one.adds],
            "misses": [page.path for page in one.misses],
            "lasting": one.lasting,
        }
        for one in suggest(PageIndex(site), paths)
    ]
    if as_json:
        print(json.dumps(found, ensure_ascii=False, indent=2))
        return
    for one in found:
        adds = f"   and {len(one['adds'])} more" if one["adds"] else ""  # type: ignore[arg-type]
        console.print(f"{one['query']}{adds}", highlight=False, markup=False)


@app.command("format")
def format_command(file: LayoutFile) -> None:
    """Print a layout file in its one written form: fixed key order, two spaces, final newline."""
    print(write_json(_read_layout(file)[0]), end="")


def _read_layout(file: Path) -> tuple[SiteDocument, Site]:
    """A layout file and its page tree. What cannot be used is told on standard error, with exit code 2."""
    try:
        text = file.read_bytes()
        document = read_yaml(text) if file.suffix in (".yaml", ".yml") else read_json(text)
    except OSError as error:
        _cannot_use([f"{file}: {error.strerror}"])
    except DocumentError as error:
        _cannot_use([f"{file}: {problem.pointer or '/'}: {problem.message}" for problem in error.problems])
    return document, document.site()


def _read_lens(document: SiteDocument, visitor: str, at: str) -> Lens:
    reasons = []
    try:
        seen_by = parse_visitor(visitor, document.language)
    except QueryError as error:
        reasons.append(f"--visitor: {error}")
    try:
        moment = read_moment(at) if at else document.now()
    except ScheduleError as error:
        reasons.append(f"--at: {error}")
    if reasons:
        _cannot_use(reasons)
    return Lens(seen_by, moment)


def _page(site: Site, path: str) -> Page:
    page = site.page(path)
    if page is None:
        _cannot_use([f"there is no page {path}"])
    return page


def _cannot_use(reasons: list[str]) -> NoReturn:
    for reason in reasons:
        errors.print(reason, highlight=False, markup=False, soft_wrap=True)
    raise typer.Exit(2)


def _cell(slot: dict[str, Any]) -> str:
    if slot["pieces"]:
        return ", ".join(slot["pieces"])
    return "" if slot["state"] == "unset" else str(slot["state"])


def _resolved(document: SiteDocument, site: Site, page: Page, lens: Lens, explain: bool) -> dict[str, Any]:
    """One page as the layout file's documentation shows it."""
    layout = document.layout
    traces = resolve_page(site, layout, page, lens)
    template = traces.pop(TEMPLATE)
    named = _named_slots(document, page, template.outcome.pieces)
    slots = {
        target.name: found.outcome for target, found in traces.items() if target.kind == "slot" and target.name in named
    }
    seated = seated_slots(layout, page, template.outcome, slots, lens, site)
    shown = {
        slug: [widget.slug for widget in shown_entries(layout, layout.pieces[slug], site, page, lens)]
        for name, outcome in slots.items()
        if name in seated
        for slug in outcome.pieces
        if layout.pieces[slug].kind == "sidebar"
    }
    found: dict[str, Any] = {
        "path": page.path,
        "template": template.outcome.pieces[0] if template.outcome.pieces else None,
        "template_by": template.outcome.by.name if template.outcome.by else None,
        "slots": {
            name: {
                "state": outcome.state,
                "pieces": list(outcome.pieces),
                "by": outcome.by.name if outcome.by else None,
            }
            for name, outcome in slots.items()
        },
        "entries": shown,
        "settings": {
            target.name: {"value": found.outcome.value, "by": found.outcome.by.name if found.outcome.by else None}
            for target, found in traces.items()
            if target.kind == "setting"
        },
        "unseated": [name for name, outcome in slots.items() if outcome.pieces and name not in seated],
    }
    if explain:
        found["traces"] = [_traced(trace) for trace in (template, *traces.values())]
    return found


def _named_slots(document: SiteDocument, page: Page, template: tuple[str, ...]) -> set[str]:
    """The slots that are told of: the standard ones, and what any rule, the page's template or the page names."""
    found = {*SLOTS, *page.slots}
    found.update(action.slot for rule in document.layout.rules for action in rule.actions if action.slot)
    for slug in template:
        found.update(document.layout.pieces[slug].slots)
    return found


def _traced(found: Trace) -> dict[str, Any]:
    return {
        "target": str(found.target),
        "state": found.outcome.state,
        "pieces": list(found.outcome.pieces),
        "entries": [
            {
                "rule": entry.rule.name,
                "place": entry.place,
                "action": write_action(entry.action),
                "state": entry.state,
                "priority": entry.strength.priority if entry.strength else None,
                "specificity": list(entry.strength.specificity) if entry.strength else None,
                "by": entry.by.name if entry.by else None,
                "on": entry.on,
                "clause": entry.clause or None,
            }
            for entry in found.entries
        ],
    }


if __name__ == "__main__":
    app()
