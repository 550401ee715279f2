"""The options of the launcher's own commands. Asking for help starts nothing."""

from __future__ import annotations

import argparse
import re
from collections.abc import Sequence
from dataclasses import dataclass, field

APPLICATION_PORT = 8420
PUBLISHED_PORT = 8421
LOOPBACK = "127.0.0.1"
_SLUG = re.compile(r"[a-z0-9]+(?:-[a-z0-9]+)*")
#: A path that begins with a slash and ends without one; what begins with a hyphen is the server's own.
_PREFIX = re.compile(r"(?:/[A-Za-z0-9_~][A-Za-z0-9._~-]*)+")


@dataclass(frozen=True)
class StartOptions:
    """Where to serve. A port that is None: the usual one, or where that is taken the next free one.

    ``empty``: whether without the demo; None for as before in this folder. ``site_ports``: of single sites, by slug;
    ``site_prefixes``: the paths of those that are served below one.
    """

    host: str = LOOPBACK
    port: int | None = None
    public_port: int | None = None
    empty: bool | None = None
    site_ports: dict[str, int] = field(default_factory=dict)
    site_prefixes: dict[str, str] = field(default_factory=dict)


def start_options(arguments: Sequence[str]) -> StartOptions:
    """Read the options of `start`; prints help or what is wrong and exits where it is asked to, or has to."""
    parser = argparse.ArgumentParser(
        prog="./navrel start", description="Set up what is missing, then serve Navrel until Ctrl-C. The data stays."
    )
    usual = f"usually {APPLICATION_PORT}, the next free one where that is taken"
    parser.add_argument("--port", type=_port, help=f"port of the application; {usual}")
    parser.add_argument("--public-port", type=_port, help=f"port of the published site; usually {PUBLISHED_PORT}")
    parser.add_argument(
        "--site-port", type=_site_port, action="append", default=[], metavar="SLUG=PORT",
        help="a port on which one site is served besides; may be given for several",
    )  # fmt: skip
    parser.add_argument(
        "--site-prefix", type=_site_prefix, action="append", default=[], metavar="SLUG=/PATH",
        help="a path of the published site below which one site is served besides; may be given for several",
    )  # fmt: skip
    parser.add_argument("--host", default=LOOPBACK, help=f"address to serve on; {LOOPBACK} is this machine alone")
    kind = parser.add_mutually_exclusive_group()
    told = "without the demo site and its known password, from now on in this folder; the first account is made at an"
    kind.add_argument("--empty", dest="empty", action="store_true", default=None, help=f"{told} address that is told")
    kind.add_argument("--demo", dest="empty", action="store_false", help="with the demo again, which is the usual")
    read = parser.parse_args(arguments)
    return StartOptions(
        read.host, read.port, read.public_port, read.empty, dict(read.site_port), dict(read.site_prefix)
    )


def stop_options(arguments: Sequence[str]) -> None:
    """Read the options of `stop`, of which there are none but help."""
    description = "End the Navrel that runs in this folder, in order. The data stays."
    argparse.ArgumentParser(prog="./navrel stop", description=description).parse_args(arguments)


def test_help(arguments: Sequence[str]) -> None:
    """Print help on `test` and exit, where that is asked for."""
    if arguments and arguments[0] in ("-h", "--help"):
        parser = argparse.ArgumentParser(
            prog="./navrel test",
            description="Set up what is missing, then run every check and test; or with arguments pytest on a part.",
        )
        parser.add_argument("part", nargs="*", help="files, folders and options for pytest: tests/core -k cascade")
        parser.parse_args(["--help"])


def _port(text: str) -> int:
    if not text.isascii() or not text.isdigit() or not 1 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"{text} is no port; a port is a number from 1 to 65535")
    return int(text)


def _site_port(text: str) -> tuple[str, int]:
    slug, mark, port = text.partition("=")
    if not mark or not _SLUG.fullmatch(slug):
        raise argparse.ArgumentTypeError(f"{text} names no site and port; write it as shop=8430")
    return slug, _port(port)


def _site_prefix(text: str) -> tuple[str, str]:
    slug, _, path = text.partition("=")
    if not _SLUG.fullmatch(slug) or not _PREFIX.fullmatch(path):
        raise argparse.ArgumentTypeError(f"{text} names no site and path; write it as shop=/shop")
    return slug, path
