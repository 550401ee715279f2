"""What mends a finding in a rule that is being edited, in words."""

from __future__ import annotations

from navrel.core.layout.model import Rule
from navrel.core.questions.checks.finding import Finding

_MENDED = {
    "no-include": "Apply it to every page",
    "contradiction": "Take that clause out",
    "no-page-in-clause": "Take that clause out",
    "no-page-left": "Leave nothing out",
    "gone": "Take what is gone out",
    "nobody": "Let everyone in",
    "never": "Be in force always",
    "over": "Be in force always",
    "ends-soon": "Be in force always",
}


def mended_words(finding: Finding, remedy: Rule) -> str:
    """What is done about a finding to an edited rule, as a command."""
    if finding.check == "notice-here":
        return f"Leave {finding.pages[0].path} out of it"
    return _MENDED.get(finding.check, f"Give it priority {remedy.priority}")
