"""The languages of pages as their site tells them, by folders and names of files, where pages do not."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache

from babel import Locale, UnknownLocaleError

#: A language, by itself or with a script or a region after it, as BCP 47 writes them.
_TAG = re.compile(r"[a-z]{2}(-[A-Z][a-z]{3})?(?:-[A-Z]{2})?")
_WRITTEN = re.compile(r"[a-z]{1,8}(?:-[A-Za-z0-9]{1,8})*")
#: Scripts as ISO 15924 writes them, by the modifiers of POSIX locales that ask for them.
_SCRIPTS = {"latin": "Latn", "cyrillic": "Cyrl", "devanagari": "Deva"}
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


def language_tag(text: str) -> str:
    """A language tag, or the name of a POSIX locale such as `sr_RS.UTF-8@latin`, written as RFC 5646 (2.1.1) asks.

    Empty for what is none.
    """
    told, _, modifier = text.strip().partition("@")
    language, *others = re.split("[-_]", told.partition(".")[0])
    tag = "-".join([language.lower(), *filter(None, [_SCRIPTS.get(modifier), *_cased(others)])])
    return tag if len(tag) <= 35 and _WRITTEN.fullmatch(tag) else ""


def _cased(subtags: list[str]) -> Iterator[str]:
    """Subtags behind a language: regions in capitals and scripts with one, but for what follows a single letter."""
    extends = False
    for one in subtags:
        extends = extends or len(one) == 1
        region, script = len(one) == 2, len(one) == 4 and one.isalpha()
        yield one.lower() if extends or not (region or script) else one.upper() if region else one.title()


def _end(path: str) -> str:
    """The word behind the last dot of a path's name; empty for none, and for a number."""
    name, _, end = path.rpartition("/")[2].rpartition(".")
    return end if name and end[:1].isalpha() else ""


@lru_cache(maxsize=1024)
def _language(text: str) -> str:
    """The language that a folder or a suffix is called by, as BCP 47 writes it; empty for none."""
    tag = language_tag(text)
    found = _TAG.fullmatch(tag)
    if not found or not text.startswith(tag[:2]):
        return ""
    try:
        known = Locale.parse(tag, sep="-")
    except (UnknownLocaleError, ValueError):
        return ""
    return tag if known.script or not found[1] else ""
