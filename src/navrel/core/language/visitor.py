"""Who looks at a page, and when."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal


@dataclass(frozen=True)
class Visitor:
    """Who looks at a page. The defaults are those of a request that names no visitor."""

    signed: Literal["in", "out"] = "out"
    roles: frozenset[str] = frozenset()
    device: str = "desktop"
    browser: str = "other"
    accepts: tuple[str, ...] = ()
    query: Mapping[str, str] = field(default_factory=dict, hash=False)
    referrer: str = ""


@dataclass(frozen=True)
class Lens:
    """The eyes through which the site is seen. ``moment`` is what the clock shows in the site's time zone."""

    visitor: Visitor
    moment: datetime.datetime
