"""What asking other servers has in common, whatever is asked for."""

from __future__ import annotations

from typing import Any

import urllib3

#: Answers that lead on (RFC 9110, section 15.4).
REDIRECTS = (301, 302, 303, 307, 308)


def connections(scheme: str, host: str, ip: str, port: int, timeout: urllib3.Timeout) -> Any:
    """Connections to a host at the address in numbers that was looked up for it, and at no other."""
    if scheme == "https":
        return urllib3.HTTPSConnectionPool(ip, port, server_hostname=host, assert_hostname=host, timeout=timeout)
    return urllib3.HTTPConnectionPool(ip, port, timeout=timeout)
