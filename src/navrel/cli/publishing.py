"""Publishing the draft of a site. It needs the database."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import TYPE_CHECKING

from navrel.core.questions.checks import SEVERITIES
from navrel.wording.counts import count_pages, count_words
from navrel.wording.findings import finding_words

from .files import cannot_use, print_json, say, takes_json
from .site import with_django

if TYPE_CHECKING:
    from navrel.server.inventory.models import Site


def publish_options(parser: ArgumentParser) -> None:
    parser.add_argument("site", metavar="SITE", help="the slug of the site")
    parser.add_argument("--note", default="", help="what whoever looks back should know")
    parser.add_argument("--at", default="", metavar="MOMENT", help="when, on the site's clock: 2026-12-03T06:00")
    parser.add_argument("--overrule", default="", metavar="REASON", help="publish in spite of broken guards, and why")
    parser.add_argument(
        "--if-no-findings", default="", metavar="SEVERITY", help="only where the checks find nothing this severe"
    )
    takes_json(parser)


def publish(site: str, note: str, at: str, overrule: str, if_no_findings: str, as_json: bool) -> None:
    """Publish the draft of a site, at once or at a moment. Exits with 1 where it is refused, or there is nothing to."""
    if if_no_findings and if_no_findings not in SEVERITIES:
        cannot_use([f"--if-no-findings: {if_no_findings} is none of {', '.join(SEVERITIES)}"])
    with_django()
    from navrel.server.api.errors import Refused
    from navrel.server.publishing.planning import plan
    from navrel.server.publishing.services import impact_since_live
    from navrel.server.publishing.services import publish as publish_now
    from navrel.server.sitestate.locking import find_site

    try:
        record = find_site(site)
        pages = len(impact_since_live(record).paths)
        if if_no_findings:
            _stop_on_findings(record, if_no_findings)
        # What was looked at is what is published: an edit in between is refused.
        if at:
            planned = plan(site, None, at, note, record.version, overrule)
            told = {"plan": planned.pk, "at": at, "pages": pages}
        else:
            told = {"revision": publish_now(site, None, note, record.version, overrule).number, "pages": pages}
    except Refused as refused:
        say(". ".join(filter(None, (refused.title, refused.detail))))
        raise SystemExit(1) from None
    if as_json:
        print_json(told)
    elif at:
        say(f"Planned for {at.replace('T', ' ')}: {count_pages(pages)} will look different")
    else:
        say(f"Revision {told['revision']} is live: {count_pages(pages)} look different")


def _stop_on_findings(site: Site, severity: str) -> None:
    """End with 1 where the checks find something as severe as this about the draft that nobody has set aside."""
    from navrel.server.outcomes.findings import open_findings
    from navrel.server.sitestate.draft import draft

    grave = [
        one for one in open_findings(site, draft(site)) if SEVERITIES.index(one.severity) <= SEVERITIES.index(severity)
    ]
    for one in grave:
        say(f"{one.severity}: {finding_words(one).what}")
    if grave:
        say(f"Not published: {count_words(len(grave), 'finding')}")
        raise SystemExit(1)
