"""The first page of a new process, over reading its archive as JSON alone. Run as a program, by the benchmark.

A server has its code loaded before anybody asks.
"""

import gzip
import os
import time

import django

os.environ["DJANGO_SETTINGS_MODULE"] = "navrel.server.settings.delivery"
django.setup()

import orjson  # noqa: E402
from django.test import Client  # noqa: E402

import navrel.server.delivery.urls  # noqa: E402, F401
from navrel.server.publishing.models import Revision  # noqa: E402


def _parsed() -> float:
    archive = bytes(Revision.objects.latest("number").archive)
    begun = time.process_time()
    for line in gzip.decompress(archive).splitlines():
        orjson.loads(line)
    return time.process_time() - begun


parsed = min(_parsed() for _ in range(3))
begun = time.process_time()
status = Client().get("/", headers={"host": "localhost"}).status_code
first = time.process_time() - begun
if status != 200:
    raise SystemExit(f"The page is answered with {status}")
print(first, parsed)
