"""What is counted of both servers, for Prometheus. Several processes count into files of one folder.

``PROMETHEUS_MULTIPROC_DIR`` names that folder; without it each process counts for itself.
"""

from __future__ import annotations

import os

from prometheus_client import REGISTRY, CollectorRegistry, Counter, Histogram
from prometheus_client.multiprocess import MultiProcessCollector

REQUESTS = Counter("navrel_requests", "Requests that were answered", ["server", "status"])
SECONDS = Histogram(
    "navrel_request_seconds",
    "Seconds until an answer began",
    ["server"],
    buckets=(0.001, 0.0025, 0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10),
)
KEPT = Counter("navrel_answers_kept", "Answers of the published site that were given as they were kept")
SENDINGS = Counter("navrel_webhook_attempts", "Messages that were sent to servers that are told", ["outcome"])


def counted() -> CollectorRegistry:
    """All that was counted, by every process."""
    if "PROMETHEUS_MULTIPROC_DIR" not in os.environ:
        return REGISTRY
    found = CollectorRegistry()
    MultiProcessCollector(found)  # type: ignore[no-untyped-call]
    return found
