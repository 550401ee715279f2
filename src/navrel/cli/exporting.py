"""A site out to a folder of files, for any static host."""

from __future__ import annotations

import sys
from argparse import ArgumentParser
from dataclasses import asdict
from pathlib import Path

from .files import cannot_use, print_json, read_lens, say, takes_json, takes_moment, takes_visitor
from .site import with_django

#: Files that are named one by one.
_MOST_NAMED = 20


def export_options(parser: ArgumentParser) -> None:
    parser.add_argument("site", metavar="SITE", help="the slug of the site")
    parser.add_argument("folder", type=Path, metavar="FOLDER", help="an empty folder, or one of an earlier export")
    which = parser.add_mutually_exclusive_group()
    which.add_argument("--revision", type=int, metavar="N", help="an earlier revision; what is live by itself")
    which.add_argument("--draft", action="store_true", help="the draft, as it is now")
    takes_visitor(parser)
    takes_moment(parser)
    parser.add_argument(
        "--check", action="store_true", help="write nothing; exit with 1 where anything would be another file"
    )
    parser.add_argument(
        "--nginx", type=Path, metavar="FILE",
        help="write a configuration of nginx for it, and the looks that others see, as far as a request tells who asks",
    )  # fmt: skip
    parser.add_argument("--listen", default="80", metavar="PORT", help="where nginx listens; 80 by itself")
    parser.add_argument("--workers", type=int, metavar="N", help="processes that draw; one a processor by itself")
    takes_json(parser)


def export(
    site: str, folder: Path, revision: int | None, draft: bool, visitor: str, at: str, check: bool,
    nginx: Path | None, listen: str, workers: int | None, as_json: bool,
) -> None:  # fmt: skip
    """Write all that a site shows to a folder: only what is another than the file that is there."""
    with_django()
    from navrel.core.calendar.schedule import write_moment
    from navrel.server.api.errors import Refused
    from navrel.server.exporting.folder import Folder, NoFolder
    from navrel.server.exporting.nginx import configuration
    from navrel.server.exporting.writing import Report
    from navrel.server.exporting.writing import export as write
    from navrel.server.publishing.live import LiveState, as_if_live, live, opened
    from navrel.server.sitestate.draft import draft as draft_of
    from navrel.server.sitestate.locking import find_site

    def chosen() -> LiveState:
        record = find_site(site)
        if draft:
            return as_if_live(record, draft_of(record))
        found = live(record) if revision is None else opened(record, revision)
        if found is None:
            cannot_use([f"{site} has nothing published yet; --draft takes what is not"])
        return found

    def told(report: Report) -> None:
        change = "would be written" if check else "written"
        gone = "would be removed" if check else "removed"
        say(f"{report.pages:,} pages, {report.files:,} files: {len(report.written):,} {change}, "
            f"{len(report.removed):,} {gone}.")  # fmt: skip
        for name in (*report.written, *report.removed)[:_MOST_NAMED] if check else ():
            say(f"  {name}")
        for fact, paths in sorted(report.several.items()):
            more = f" and {len(paths) - 3:,} more" if len(paths) > 3 else ""
            say(f"What others see differs by {fact}: {', '.join(paths[:3])}{more}")
        if report.until:
            say(f"Some of it changes by itself on {write_moment(report.until)}, on the clocks of the site.")
        for problem in report.problems:
            print(f"Left out: {problem}", file=sys.stderr)

    try:
        state = chosen()
        lens = read_lens(state.document, visitor, at)
        report = write(state, Folder(folder, only_looks=check), lens, workers, looks=nginx is not None)
    except Refused as refused:
        cannot_use([f"{refused.title}. {refused.detail}".rstrip()])
    except NoFolder as reason:
        cannot_use([str(reason)])
    if nginx is not None and report.served is not None and not check:
        nginx.write_text(configuration(report.served, folder, listen))
    if as_json:
        until = write_moment(report.until) if report.until else None
        told_to_programs = {name: value for name, value in asdict(report).items() if name != "served"}
        print_json({**told_to_programs, "until": until})
    else:
        told(report)
    if check and (report.written or report.removed):
        sys.exit(1)
