"""Checking a layout file. No database."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from navrel.core.index.page_index import PageIndex
from navrel.core.questions.checks import SEVERITIES, Finding, check
from navrel.wording.findings import finding_words

from .files import cannot_use, print_json, read_layout, read_lens, say, some_paths, takes_file, takes_json, takes_moment


def check_options(parser: ArgumentParser) -> None:
    takes_file(parser)
    takes_moment(parser)
    parser.add_argument(
        "--fail-on", default="error", metavar="SEVERITY", help="exit with 1 on findings this severe, or severer"
    )
    takes_json(parser)


def check_command(file: Path, at: str, fail_on: str, as_json: bool) -> None:
    """Look a layout file through for rules and pieces that cannot be what is meant."""
    if fail_on not in SEVERITIES:
        cannot_use([f"--fail-on: {fail_on} is none of {', '.join(SEVERITIES)}"])
    document, tree = read_layout(file)
    lens = read_lens(document, "", at)
    found = check(document, PageIndex(tree), lens)
    if as_json:
        print_json([_finding(one) for one in found])
    else:
        for one in found:
            words = finding_words(one)
            say(f"{one.severity}: {words.what}")
            say(f"  at {one.pointer or '/'}: {words.why}")
            say(f"  to mend it: {words.mend}")
            if one.pages:
                say(f"  on {some_paths([page.path for page in one.pages], one.page_count)}")
        counts = [(name, sum(one.severity == name for one in found)) for name in SEVERITIES]
        say(", ".join(f"{number} {name}{'' if number == 1 else 's'}" for name, number in counts))
    if any(SEVERITIES.index(one.severity) <= SEVERITIES.index(fail_on) for one in found):
        raise SystemExit(1)


def _finding(one: Finding) -> dict[str, Any]:
    return {
        "check": one.check,
        "severity": one.severity,
        "pointer": one.pointer,
        "subject": one.subject,
        **finding_words(one)._asdict(),
        "rules": list(one.rules),
        "pages": [page.path for page in one.pages],
        "page_count": one.page_count,
    }
