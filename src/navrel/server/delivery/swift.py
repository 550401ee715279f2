"""The published site before anything else is asked: what is kept is answered at once, without the database."""

from __future__ import annotations

from collections.abc import Iterable
from wsgiref.types import StartResponse, WSGIApplication, WSGIEnvironment

from django.db import DatabaseError
from django.http.request import split_domain_port
from django.utils.http import parse_etags

from navrel.server.observing.counting import KEPT

from .answers import ANSWERS, Answer, cache_control
from .keeping import address_of, takes_gzip
from .layout_asked import BEGINNING, TOKENS, token_of
from .mounting import mount_of
from .watching import Watch

#: What an answer tells that has no body, as it is known to whoever asks (RFC 9110, section 15.4.5).
_OF_UNCHANGED = ("etag", "vary", "no-vary-search", "surrogate-key", "navrel-revision")


class Swift:
    """A WSGI application (PEP 3333) before another, which answers what is not kept."""

    def __init__(self, application: WSGIApplication, watch: Watch) -> None:
        self.application = application
        self.watch = watch

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        found = self._kept(environ)
        if found is None:
            return self.application(environ, start_response)
        KEPT.inc()
        answer, until = found
        told = ("Cache-Control", cache_control(answer.hung, until, environ))
        stated = environ.get("HTTP_IF_NONE_MATCH", "")
        if stated and _is_known(answer.hung.etag, stated):
            headers = [told, *(one for one in answer.headers if one[0].lower() in _OF_UNCHANGED)]
            start_response("304 Not Modified", headers)
            return ()
        body = answer.body
        headers = [told, *answer.headers]
        if takes_gzip(environ.get("HTTP_ACCEPT_ENCODING", "")) and answer.squeezed:
            body = answer.squeezed
            headers.append(("Content-Encoding", "gzip"))
        headers.append(("Content-Length", str(len(body))))
        start_response("200 OK", headers)
        return () if environ["REQUEST_METHOD"] == "HEAD" else (body,)

    def _kept(self, environ: WSGIEnvironment) -> tuple[Answer, float | None] | None:
        """The answer that is kept for a request, and until when it holds; None for what has to be asked further on."""
        if environ["REQUEST_METHOD"] not in ("GET", "HEAD"):
            return None
        path = environ["PATH_INFO"]
        if path.startswith(BEGINNING):
            slug = path.removeprefix(BEGINNING).partition("/")[0]
            serving = self.watch.serving_site(slug)
            if serving is None or not TOKENS.holds(token_of(environ), serving.site):
                return None
        else:
            host, _ = split_domain_port(environ.get("HTTP_HOST") or environ.get("SERVER_NAME", ""))
            serving = self.watch.serving(host, environ.get("SERVER_PORT", ""), mount_of(path))
        if serving is None:
            return None
        place = ANSWERS.find(address_of(environ, serving.site), serving.revision)
        if place is None:
            return None
        try:
            key, until = place.nature.key(environ)
        except DatabaseError:
            # What a feed says is looked up now and then; whoever is asked next tells what is wrong.
            return None
        answer = place.answers.get(key)
        return None if answer is None else (answer, until)


def _is_known(etag: str, stated: str) -> bool:
    """Whether `If-None-Match` names an entity tag (RFC 9110, section 13.1.2: compared weakly)."""
    if etag == stated:
        return True
    named = parse_etags(stated)
    return "*" in named or etag.removeprefix("W/") in {one.removeprefix("W/") for one in named}
