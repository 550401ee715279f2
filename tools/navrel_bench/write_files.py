"""Export a made site of 10,000 arranged pages, and draw it without writing: how long each takes, in seconds."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import django

django.setup()

from navrel.core.index.page_index import PageIndex  # noqa: E402
from navrel.core.language.visitor import Lens, Visitor  # noqa: E402
from navrel.rendering.page import draw_page  # noqa: E402
from navrel.server.exporting.folder import Folder  # noqa: E402
from navrel.server.exporting.writing import export  # noqa: E402
from navrel.server.inventory.models import Site  # noqa: E402
from navrel.server.publishing.live import LiveState  # noqa: E402
from navrel.server.publishing.models import Revision  # noqa: E402
from navrel_bench.rendering import made_source  # noqa: E402


def _state() -> LiveState:
    document = made_source().document
    site = Site.objects.get(slug="marrowick")
    return LiveState(document, PageIndex(document.tree), revision=Revision(site=site, number=0), contents={})


def _timed_drawing() -> float:
    state = _state()
    lens = Lens(Visitor(), state.document.now())
    begun = time.perf_counter()
    for page in state.index.tree.pages:
        draw_page(state.resolving, page, "", lens)
    return time.perf_counter() - begun


def _timed_export() -> float:
    state = _state()
    with tempfile.TemporaryDirectory() as folder:
        begun = time.perf_counter()
        export(state, Folder(Path(folder) / "out"), Lens(Visitor(), state.document.now()))
        return time.perf_counter() - begun


print(_timed_drawing(), _timed_export())
