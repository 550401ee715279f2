"""What is told of an answer that may be used again, and its keeping for those who ask in the same way."""

from __future__ import annotations

import re
from collections.abc import Callable, Hashable

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase

from .answers import ANSWERS, Answer, cache_control
from .hanging import Hung
from .layout_asked import BEGINNING, PAGE_META
from .meta import AHEAD, Meta, plain
from .mounting import mount_of


def tell(response: HttpResponse, hung: Hung, meta: Meta) -> None:
    """Tell by which it is known, how long it is good, and what makes a difference to it."""
    response["ETag"] = hung.etag
    response["Cache-Control"] = cache_control(hung, hung.until, meta)
    response["Vary"] = hung.vary
    if not hung.asked_by:
        response["No-Vary-Search"] = hung.no_vary_search
    response["Surrogate-Key"] = hung.surrogate_keys
    response["Navrel-Revision"] = str(hung.number)


def address_of(meta: Meta, site: int) -> Hashable:
    """Under what the answers to requests for one address are kept."""
    path = meta.get("PATH_INFO", "")
    # What a program asks for stands behind the path.
    asked = (meta.get("QUERY_STRING", ""), meta.get(PAGE_META, "")) if path.startswith(BEGINNING) else None
    return site, mount_of(path), path, asked


#: A weight that says "rather not" (RFC 9110, section 12.4.2).
_NOT_AT_ALL = re.compile(r"q=0(?:\.0{0,3})?")
#: What is told of each request anew, whatever is kept.
_OF_REQUEST = ("cache-control", "content-length")


class Keeping:
    """Middleware that stands first: keeps what hangs on known things alone, just as it is answered."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        hung = getattr(response, "hung", None)
        if hung is None or not isinstance(response, HttpResponse):
            return response
        headers = tuple((name, value) for name, value in response.items() if name.lower() not in _OF_REQUEST)
        answer = Answer(headers, response.content, hung, plain(request.META))
        ANSWERS.keep(address_of(request.META, hung.site), answer, ahead=AHEAD in request.META)
        if takes_gzip(request.META.get("HTTP_ACCEPT_ENCODING", "")) and answer.squeezed:
            response.content = answer.squeezed
            response["Content-Encoding"] = "gzip"
        response["Content-Length"] = str(len(response.content))
        return response


def takes_gzip(stated: str) -> bool:
    """Whether `Accept-Encoding` lets an answer be squeezed (RFC 9110, section 12.5.3)."""
    for one in stated.lower().split(","):
        coding, _, weight = one.partition(";")
        if coding.strip() in ("gzip", "x-gzip", "*"):
            return _NOT_AT_ALL.fullmatch(weight.replace(" ", "")) is None
    return False
