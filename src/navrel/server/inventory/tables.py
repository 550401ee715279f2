"""Pages from a table of facts, for sites whose pages live in another system: CSV (RFC 4180) or JSON Lines."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path
from typing import Any, TextIO

import orjson

from navrel.core.layout.document import is_slug, slugify
from navrel.core.layout.recipe import FACTS
from navrel.core.pages.page import page_path
from navrel.core.text import fit
from navrel.server.api.errors import Refused

from .addresses import Around, address_of
from .by_recipe import as_fact, folder_of
from .decoding import Unreadable
from .head import MAX_ADDRESS, MAX_TERMS
from .models import Intake, StagedPage

#: What files of tables are called.
SUFFIXES = (".csv", ".tsv", ".jsonl", ".ndjson")
#: Columns that name the page, in turn.
_PLACES = ("path", "address", "url", "loc")
#: Most columns that are free fields of a page, and the longest line, in characters.
MAX_FIELDS = 100
MAX_LINE = 1_000_000

Row = Mapping[str, Any]


def is_table(path: Path) -> bool:
    """Whether a file is a table of facts, by its name."""
    return is_table_name(path.name) and path.is_file()


def is_table_name(name: str) -> bool:
    """Whether a file of that name is a table of facts."""
    return name.lower().endswith(SUFFIXES)


def table_pages(intake: Intake, path: Path, name: str = "") -> Iterator[StagedPage]:
    """The page of every row, staged under the table's name and the row's line; raises Refused.

    ``name``: what the table is called, where that is not the file's own name.
    """
    if intake.site.pages.filter(gone=False, original__isnull=False).exists():
        told = "The pages of this site came with their files, and a table has facts alone"
        raise Refused("has-files", told, "Say under How facts are read where they stand, or make a site for the table.")
    around = Around("/", intake.site.base_url)
    name = name or path.name
    for line, row in _rows(path, name):
        staged = StagedPage(intake=intake, file=fit(f"{name}:{line}", 999))
        try:
            if isinstance(row, Unreadable):
                raise row
            staged.address, staged.facts = _address(row, around), {}
            staged.path = page_path(staged.address)
            staged.facts = _facts(row, around, staged.path)
        except Unreadable as reason:
            staged.path = staged.address = ""
            staged.skipped = fit(str(reason), 500)
        yield staged


def _rows(path: Path, name: str) -> Iterator[tuple[int, Row | Unreadable]]:
    """The rows of a table, each with its line. Raises Refused where it cannot be read on."""
    try:
        with path.open(encoding="utf-8-sig", newline="") as file:
            yield from (_csv_rows(file) if path.suffix.lower() in (".csv", ".tsv") else _json_rows(file))
    except UnicodeDecodeError:
        raise Refused("bad-table", f"{name} is not written in UTF-8", "Save it as UTF-8.") from None
    except csv.Error as error:
        raise Refused("bad-table", f"{name} cannot be read as CSV: {error}") from None


def _csv_rows(file: TextIO) -> Iterator[tuple[int, Row]]:
    start = file.read(20_000)
    file.seek(0)
    heads = start.partition("\n")[0]
    reader = csv.DictReader(file, delimiter=max(",;\t", key=heads.count), strict=True)
    for row in reader:
        yield reader.line_num, {key.strip().lower(): value for key, value in row.items() if key and value}


def _json_rows(file: TextIO) -> Iterator[tuple[int, Row | Unreadable]]:
    number = 0
    while text := file.readline(MAX_LINE + 1):
        number += 1
        if len(text) > MAX_LINE:
            while text and not text.endswith("\n"):
                text = file.readline(MAX_LINE)
            yield number, Unreadable(f"longer than {MAX_LINE:,} characters")
        elif text.strip():
            try:
                row = orjson.loads(text)
            except orjson.JSONDecodeError as error:
                yield number, Unreadable(f"is no JSON: {error}")
                continue
            yield number, row if isinstance(row, dict) else Unreadable("is no JSON object")


def _address(row: Row, around: Around) -> str:
    stated = next((str(row[key]).strip() for key in _PLACES if row.get(key)), "")
    if not stated:
        raise Unreadable(f"names no page: it has none of {', '.join(_PLACES)}")
    own = around.own(stated)
    if own is None:
        raise Unreadable(f"{fit(stated, 200)} is not on this site")
    address = address_of(own)
    if len(address.encode()) > MAX_ADDRESS or len(address) > 1000:
        raise Unreadable(f"has an address of more than {MAX_ADDRESS:,} bytes")
    return address


def _facts(row: Row, around: Around, path: str) -> dict[str, Any]:
    """The facts of a row; columns that name none are free fields."""
    facts: dict[str, Any] = dict.fromkeys(FACTS, "") | {"published": None, "kind": "single", "title": path}
    terms: dict[str, str] = {}
    fields: dict[str, str] = {}
    for column, value in row.items():
        family, _, taxonomy = column.partition("/")
        if column in FACTS:
            facts[column] = as_fact(column, _text(value), around, path) or facts[column]
        elif family == "terms":
            terms.update(_terms(taxonomy, value))
        elif column not in _PLACES and _text(value) and len(fields) < MAX_FIELDS:
            fields[slugify(column)] = fit(_text(value), 500)
    if facts["parent"] == folder_of(path):
        facts["parent"] = ""
    if path == "/":
        facts["kind"] = "home"
    return {
        **facts, "terms": list(terms), "term_names": terms, "fields": fields,
        "lists": "", "words": 0, "slots": [], "dropped": {}, "next": "",
    }  # fmt: skip


def _text(value: Any) -> str:
    listed = value if isinstance(value, list) else [value]
    return fit(" ".join(" ".join(str(one) for one in listed if isinstance(one, str | int | float)).split()), 2000)


def _terms(taxonomy: str, value: Any) -> Iterator[tuple[str, str]]:
    """The terms of a cell, with their names: a list, or parted by semicolons; `topic/Food` in a column of all."""
    listed: Iterable[Any] = value if isinstance(value, list) else str(value).split(";")
    for one in list(listed)[:MAX_TERMS]:
        stated = _text(one)
        named, name = (taxonomy, stated) if taxonomy else stated.split("/", 1) if "/" in stated else ("topic", stated)
        if name and is_slug(slugify(named)):
            yield f"{slugify(named)}/{slugify(name)}", fit(name, 200)
