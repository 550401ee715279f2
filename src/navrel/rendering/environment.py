"""The templates, and the style sheet at an address of its own."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined, Template
from markupsafe import Markup


@cache
def _environment() -> Environment:
    return Environment(
        loader=PackageLoader("navrel.rendering"), autoescape=True, undefined=StrictUndefined,
        trim_blocks=True, lstrip_blocks=True, auto_reload=False,
    )  # fmt: skip


@cache
def _template(name: str) -> Template:
    return _environment().get_template(name)


def read_ahead() -> None:
    """Read all templates before somebody waits for one."""
    for name in _environment().list_templates(extensions=["html"]):
        _template(name)


def drawn(name: str, told: Mapping[str, Any]) -> Markup:
    """A template of the project's, filled in."""
    return Markup(_template(name).render(told).strip())  # noqa: S704


@cache
def stylesheet() -> bytes:
    """The styles of all sites, from which a dress sets the measures and colours."""
    return resources.files("navrel.rendering").joinpath("site.css").read_bytes()


@cache
def stylesheet_address() -> str:
    """Where it is served: an address that never shows anything else."""
    return f"/-/site-{hashlib.sha256(stylesheet()).hexdigest()[:16]}.css"


@cache
def drawing_digest() -> str:
    """What tells this way of drawing from another: a digest of the code and the templates of the rendering."""
    digest = hashlib.sha256()
    for name, data in sorted(_sources(resources.files("navrel.rendering"))):
        digest.update(f"{name} {len(data)}\n".encode() + data)
    return digest.hexdigest()[:16]


def _sources(folder: Traversable, at: str = "") -> Iterator[tuple[str, bytes]]:
    for one in folder.iterdir():
        if one.is_dir():
            yield from _sources(one, f"{at}{one.name}/")
        elif not one.name.endswith(".pyc"):
            yield f"{at}{one.name}", one.read_bytes()
