"""The written form of layout files, and their schema. No database."""

from __future__ import annotations

from importlib.resources import files
from typing import Annotated

import typer

from .files import LayoutFile, read_layout

SchemaText = files("navrel.core") / "layout-file.schema.json"


def add_to(app: typer.Typer) -> None:
    app.command("format")(format_command)
    app.command()(schema)


def format_command(
    file: LayoutFile,
    as_yaml: Annotated[bool, typer.Option("--yaml", help="Print YAML")] = False,
) -> None:
    """Print a layout file in its one written form: fixed key order, two spaces, final newline."""
    from navrel.core.writing import write_json, write_yaml

    document, _ = read_layout(file)
    print(write_yaml(document) if as_yaml else write_json(document), end="")


def schema() -> None:
    """Print the JSON Schema (draft 2020-12) of the layout file."""
    print(SchemaText.read_text("utf-8"), end="")
