"""Sites that are drawn over an old one: its pages as it answers them, with what is decided in the places of slots."""

from __future__ import annotations

import re
import time
from collections.abc import Iterable
from dataclasses import dataclass
from functools import partial
from wsgiref.types import StartResponse, WSGIApplication, WSGIEnvironment

from django.conf import settings
from django.db import DatabaseError
from django.http.request import split_domain_port
from urllib3.exceptions import HTTPError

from navrel.core.cascade.lookup import PageResolver
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.redraw import OF_BYTES, Redrawing
from navrel.rendering.page import Source, no_original
from navrel.server.publishing.live import LiveState, newest_served
from navrel.wsgi import NOT_ASKED, Answered, Headers, in_place, path_of

from .answers import cache_control
from .hanging import Hung, hung_on, nature_of
from .mounting import mount_of
from .passing import OldSite, failed
from .watching import Watch

_AGE = {name: re.compile(rf"(?:^|[,\s]){name}=(\d{{1,9}})") for name in ("s-maxage", "max-age")}
#: What an old site says that no cache may keep.
_NOT_KEPT = re.compile(r"(?:^|[,\s])(?:private|no-store|no-cache)")
#: So many states are ready to be drawn with: one a site, and those that they follow.
_MOST_STATES = 16


@dataclass(frozen=True)
class _Live:
    """A published state as what pages are drawn by."""

    document: SiteDocument
    tree: PageTree
    resolver: PageResolver
    source: Source


class OverOldSites:
    """A WSGI application (PEP 3333) before another, which answers for all sites that have no old one behind them.

    What is not published yet is passed on as it is, and so is all that is no page of the site.
    """

    def __init__(self, application: WSGIApplication, watch: Watch) -> None:
        self._application = application
        self._watch = watch
        self._old = {slug: OldSite(origin) for slug, origin in settings.OLD_SITES.items()}
        #: By the keys of revisions.
        self._ready: dict[int, Redrawing] = {}

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        path = environ["PATH_INFO"]
        if not self._old or path.startswith("/-/"):
            return self._application(environ, start_response)
        if not self._watch.is_ready:
            # Which site that is, is known in a moment.
            start_response("503 Service Unavailable", [("Content-Type", "text/plain"), ("Retry-After", "1")])
            return (b"This is not ready for a moment. Try again in a few seconds.\n",)
        site = self._watch.site_at(*_where(environ))
        old = self._old.get(site.slug) if site else None
        if site is None or old is None:
            return self._application(environ, start_response)
        state = newest_served(site.pk)
        page = state.index.tree.meant(path_of(environ)) if state else None
        if state is None or page is None or environ["REQUEST_METHOD"] not in ("GET", "HEAD"):
            return old(environ, start_response)
        return self._drawn(state, page, environ, old, start_response)

    def _drawn(
        self, state: LiveState, page: Page, environ: WSGIEnvironment, old: OldSite, start_response: StartResponse
    ) -> Iterable[bytes]:
        answer = Answered(old, {name: value for name, value in environ.items() if name not in NOT_ASKED})
        try:
            hung = hung_on(state, page, nature_of(state, page), environ, "over")

            def drawn(data: bytes, encoding: str) -> bytes:
                taken = partial(state.served_original, page) if page.path in state.stands else no_original
                return self._redrawing(state).draw(page, data, encoding, hung.lens.visitor, hung.lens.moment, taken)

            return in_place(answer, environ, start_response, drawn, lambda told: _headers(told, hung, environ))
        except DatabaseError:
            # What a feed says cannot be looked up just now: the page stands as it is.
            start_response(answer.status, answer.headers, *answer.failed)
            return answer
        except (HTTPError, OSError) as error:
            # It ended in the middle of a page.
            answer.close()
            return failed(start_response, "502 Bad Gateway", error)

    def _redrawing(self, state: LiveState) -> Redrawing:
        """What the pages of a state are drawn by."""
        found = self._ready.get(state.revision.pk)
        if found is None:
            found = Redrawing(_Live(state.document, state.index.tree, state.resolver, state.resolving))
            while len(self._ready) >= _MOST_STATES:
                self._ready.pop(next(iter(self._ready)), None)
            self._ready[state.revision.pk] = found
        return found


def _where(environ: WSGIEnvironment) -> tuple[str, str, str]:
    host, _ = split_domain_port(environ.get("HTTP_HOST") or environ.get("SERVER_NAME", ""))
    return host, environ.get("SERVER_PORT", ""), mount_of(environ["PATH_INFO"])


def _headers(stated: Headers, hung: Hung, environ: WSGIEnvironment) -> Headers:
    """What is said of a drawn page: what the old site says, as far as that is so still; and what it hangs on here.

    It is kept by caches for no longer than the old site lets them, and not beyond a moment at which it changes.
    """
    kept = [one for one in stated if one[0].lower() not in OF_BYTES]
    others = [one for one in kept if one[0].lower() not in ("cache-control", "expires", "vary")]
    said = ", ".join(value for name, value in kept if name.lower() == "cache-control")
    varies = [one.strip() for name, value in kept if name.lower() == "vary" for one in value.split(",")]
    told = ("Vary", ", ".join(dict.fromkeys(filter(None, (*varies, *hung.nature.told_by)))))
    fresh = next((int(found[1]) for age in _AGE.values() if (found := age.search(said))), 0)
    is_own = any(name.lower() == "set-cookie" for name, _ in kept) or "HTTP_AUTHORIZATION" in environ
    if _NOT_KEPT.search(said) or is_own or not fresh:
        control = said if "no-store" in said else "private, no-cache"
    else:
        until = min(time.time() + fresh + 2, hung.until or float("inf"))
        control = cache_control(hung, until, environ)
    revision = ("Navrel-Revision", str(hung.number)), ("Surrogate-Key", hung.surrogate_keys)
    return [*others, *([told] if told[1] else []), ("Cache-Control", control), *revision]
