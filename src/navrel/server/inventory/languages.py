"""The languages of pages as their site tells them, by folders and names of files, where pages do not."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable
from functools import lru_cache

from babel import Locale, UnknownLocaleError

#: A language, by itself or with a script or a region after it, as BCP 47 writes them, or POSIX with a low line.
_TAG = re.compile(r"([a-z]{2})(?:[-_]([A-Za-z]{4}))?(?:[-_]([A-Za-z]{2}))?")
#: So many of a hundred pages have to have a language in their names where none stands beside another of the same name.
_MOST_OF = 70


def languages_told(paths: Iterable[str]) -> Callable[[str], str]:
    """What tells the language of a path; empty where its site has no folders, and no names, of two languages.

    Names tell it as `/fares.nb` does beside `/fares`, and where nearly all do; not where most names that end like that
    end in something else, as `/boat.id` beside `/boat.crew`.
    """
    known = set(paths)
    folders = {folder: tag for path in known if (tag := _language(folder := path.split("/")[1]))}
    parted = {path: end for path in known if (end := _end(path))}
    named = {path: end for path, end in parted.items() if _language(end)}
    stems = Counter(path.removesuffix(f".{suffix}") for path, suffix in named.items())
    beside = any(count > 1 or stem in known for stem, count in stems.items())
    is_named = len(named) * 100 >= (len(parted) if beside else len(known)) * _MOST_OF

    def told(path: str) -> str:
        top = path.split("/")[1]
        if len(folders) > 1 and top in folders:
            return folders[top]
        return _language(_end(path)) if is_named else ""

    return told


def _end(path: str) -> str:
    """The word behind the last dot of a path's name; empty for none, and for a number."""
    name, _, end = path.rpartition("/")[2].rpartition(".")
    return end if name and end[:1].isalpha() else ""


@lru_cache(maxsize=1024)
def _language(text: str) -> str:
    """The language that a folder or a suffix is called by, as BCP 47 writes it; empty for none."""
    found = _TAG.fullmatch(text)
    if not found:
        return ""
    language, script, region = found.groups()
    parts = [language, *([script.title()] if script else []), *([region.upper()] if region else [])]
    try:
        known = Locale.parse("-".join(parts), sep="-")
    except (UnknownLocaleError, ValueError):
        return ""
    return "-".join(parts) if known.script or not script else ""
