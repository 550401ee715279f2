"""The written form of layout files, and their schema. No database."""

from __future__ import annotations

from argparse import ArgumentParser
from importlib.resources import files
from pathlib import Path

from .files import read_layout, takes_file

SchemaText = files("navrel.core.files") / "layout-file.schema.json"


def format_options(parser: ArgumentParser) -> None:
    takes_file(parser)
    parser.add_argument("--yaml", dest="as_yaml", action="store_true", help="print YAML")


def schema_options(parser: ArgumentParser) -> None:
    """It takes none."""


def format_command(file: Path, as_yaml: bool) -> None:
    """Print a layout file in its one written form: fixed key order, two spaces, final newline."""
    from navrel.core.files.writing import write_json, write_yaml

    document, _ = read_layout(file)
    print(write_yaml(document) if as_yaml else write_json(document), end="")


def schema() -> None:
    """Print the JSON Schema (draft 2020-12) of the layout file."""
    print(SchemaText.read_text("utf-8"), end="")
