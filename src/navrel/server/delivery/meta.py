"""The headers of a request as a WSGI server gives them (PEP 3333): `HTTP_USER_AGENT` and its like."""

from collections.abc import Mapping

Meta = Mapping[str, str]
