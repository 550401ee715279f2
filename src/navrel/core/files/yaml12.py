"""The core schema of YAML 1.2 (section 10.3) for PyYAML, which by itself reads YAML 1.1.

In 1.2 `on`, `yes` and `2026-03-01` are texts. Aliases are refused: a layout file has no use for them, and a few
lines of them can stand for more than fits any memory.
"""

from __future__ import annotations

import re
from collections.abc import Hashable
from typing import Any

import yaml

_INT = re.compile(r"[-+]?[0-9]+\Z|0o[0-7]+\Z|0x[0-9a-fA-F]+\Z")
_FLOAT = re.compile(r"[-+]?(\.[0-9]+|[0-9]+(\.[0-9]*)?)([eE][-+]?[0-9]+)?\Z")


class Loader(yaml.SafeLoader):
    """Makes plain values only, without aliases, and no key twice in one table."""

    yaml_implicit_resolvers: dict[str, Any] = {}

    def compose_node(self, parent: yaml.Node | None, index: int) -> yaml.Node | None:
        if self.check_event(yaml.events.AliasEvent):
            raise yaml.composer.ComposerError(None, None, "a layout file takes no aliases", self.get_mark())
        return super().compose_node(parent, index)

    def construct_mapping(self, node: yaml.MappingNode, deep: bool = False) -> dict[Hashable, Any]:
        found = super().construct_mapping(node, deep)
        if len(found) != len(node.value):
            raise yaml.constructor.ConstructorError(None, None, "a key stands twice here", node.start_mark)
        return found

    def construct_yaml_int(self, node: yaml.ScalarNode) -> int:
        text = node.value
        base = {"0o": 8, "0x": 16}.get(text[:2], 10)
        return int(text, base) if base == 10 else int(text[2:], base)


for first, tag, pattern in (
    ("~nN", "null", re.compile(r"(?:~|null|Null|NULL|)\Z")),
    ("tTfF", "bool", re.compile(r"(?:true|True|TRUE|false|False|FALSE)\Z")),
    ("-+0123456789", "int", _INT),
    ("-+.0123456789", "float", _FLOAT),
):
    Loader.add_implicit_resolver(f"tag:yaml.org,2002:{tag}", pattern, [*first, ""] if tag == "null" else list(first))
Loader.add_constructor("tag:yaml.org,2002:int", Loader.construct_yaml_int)


class _Dumper(yaml.SafeDumper):
    """Writes every list and table in full, so that a reader meets no alias, and quotes what 1.1 took for a switch."""

    def ignore_aliases(self, data: object) -> bool:
        return True


def load(text: str | bytes) -> object:
    """The tree of a YAML text. Raises ValueError with what is wrong."""
    try:
        return yaml.load(text, Loader=Loader)  # noqa: S506, the loader makes plain values only
    except yaml.YAMLError as error:
        raise ValueError(str(error)) from None


def dump(tree: object) -> str:
    """A tree of plain values as YAML, keys in their order."""
    written: str = yaml.dump(tree, Dumper=_Dumper, allow_unicode=True, sort_keys=False, width=120)
    return written
