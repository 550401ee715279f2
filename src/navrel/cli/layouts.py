"""Layouts of the sites in the database: out to a file, in from one."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from navrel.core.layout.model import ARRANGED, FORMS

from .files import cannot_use, read_tree, say
from .site import with_django


def layout_options(parser: ArgumentParser) -> None:
    parts = parser.add_subparsers(dest="what", required=True)
    export = parts.add_parser("export", help="print a site's layout as a layout file")
    export.add_argument("site", metavar="SITE", help="the slug of the site")
    export.add_argument("--pieces", default="", metavar="SLUGS", help="some pieces only, by comma, with what they need")
    export.add_argument("--with-rules", action="store_true", help="with the rules that name those pieces")
    taking = parts.add_parser("take-in", help="take a layout file into a site, as one edit of its draft")
    taking.add_argument("site", metavar="SITE", help="the slug of the site")
    taking.add_argument("file", type=Path, metavar="FILE", help="a layout file, whole or in parts, JSON or YAML")
    taking.add_argument(
        "--rules", choices=("none", "off", "as-written"), default=None,
        help="whether its rules come, and switched off or not: off, and into an empty site as written",
    )  # fmt: skip
    taking.add_argument("--replace", action="store_true", help="pieces that clash replace those that are there")
    taking.add_argument("--no-pages", action="store_true", help="without its pages")


def layout(what: str, site: str, **options: Any) -> None:
    """Take a site's layout out to a layout file, or take a file in."""
    with_django()
    from navrel.core.errors import DocumentError
    from navrel.server.api.errors import Refused

    try:
        _export(site, **options) if what == "export" else _take_in(site, **options)
    except DocumentError as error:
        cannot_use([f"{problem.pointer or 'the file'}: {problem.message}" for problem in error.problems])
    except Refused as refused:
        cannot_use([f"{refused.title}. {refused.detail}"])


def _export(site: str, pieces: str, with_rules: bool) -> None:
    from navrel.server.exchange.out import as_text, some_pieces, whole_layout
    from navrel.server.sitestate.draft import draft
    from navrel.server.sitestate.locking import find_site

    state = draft(find_site(site))
    slugs = [slug for slug in pieces.split(",") if slug]
    say(as_text(some_pieces(state, slugs, rules=with_rules) if slugs else whole_layout(state)), end="")


def _take_in(site: str, file: Path, rules: Any, replace: bool, no_pages: bool) -> None:
    from navrel.server.exchange.taking import Choices, look_into, take_in
    from navrel.server.sitestate.locking import find_site

    record = find_site(site)
    tree = read_tree(file)
    empty = not (record.rules.exists() or record.pieces.exists() or record.pages.exists())
    clashing = [one.piece.slug for one in look_into(record, tree).pieces if one.clash and not one.same]
    choices = Choices(
        dict.fromkeys(clashing, ("replace" if replace else "leave", "")),
        rules or ("as-written" if empty else "off"),
        pages=not no_pages,
        site=empty,
    )
    taken = take_in(site, tree, choices)
    told = ", ".join(f"{count} {name}" for name, count in taken.items() if name != "files")
    left = f"; left out as they clash: {', '.join(clashing)}" if clashing and not replace else ""
    say(f"Took in {told}{left}. They are in the draft, not live yet.")


def site_options(parser: ArgumentParser) -> None:
    parts = parser.add_subparsers(dest="what", required=True)
    making = parts.add_parser("make", help="make an empty site")
    making.add_argument("slug", metavar="SLUG")
    making.add_argument("--name", required=True, metavar="NAME")
    making.add_argument("--address", default="", metavar="URL", help="where it is published, as https://example.org")
    making.add_argument(
        "--form",
        choices=FORMS,
        default=ARRANGED,
        help="whether its pages are put together from their content, or drawn in their own HTML",
    )
    parts.add_parser("list", help="list the sites")
    archiving = parts.add_parser("archive", help="put a site away; it is neither listed nor served")
    archiving.add_argument("slug", metavar="SLUG")
    archiving.add_argument("--back", action="store_true", help="bring it back")


def site(what: str, **options: Any) -> None:
    """Make a site, list the sites, or put one away."""
    with_django()
    from navrel.server.accounts.services import show_to_demo
    from navrel.server.api.errors import Refused
    from navrel.server.inventory.models import Site
    from navrel.server.inventory.services import make_empty_site
    from navrel.server.inventory.setting_up import archive
    from navrel.server.publishing.hosts import published_origin

    try:
        if what == "make":
            made = make_empty_site(options["slug"], options["name"], options["address"], options["form"])
            show_to_demo(made)
            say(f"Made the site {made.slug}. It will be served at {published_origin(made)}")
        elif what == "archive":
            archive(options["slug"], None, away=not options["back"])
            say(f"{options['slug']} is {'back' if options['back'] else 'put away'}")
        else:
            for record in Site.objects.order_by("pk"):
                say(f"{record.slug}: {record.name}{', put away' if record.archived else ''}")
    except Refused as refused:
        cannot_use([f"{refused.title}. {refused.detail}"])
