"""Making ready what was just published before anybody asks for it."""

from __future__ import annotations

import logging
import time
from threading import Thread

from django.db import DatabaseError, connection

from navrel.server.publishing.live import served, served_sites

#: How often it is looked for what was published, in seconds.
LOOKED_EVERY = 1.0
log = logging.getLogger(__name__)


def keep_ready() -> None:
    """Look for new revisions for as long as the process lasts, in a thread of its own."""
    Thread(target=_keep_ready, name="keep-ready", daemon=True).start()


def _keep_ready() -> None:
    while True:
        try:
            for site in served_sites():
                served(site)
        except DatabaseError as error:
            # It is told to every reader; it goes on when the database answers again.
            log.debug("nothing could be made ready: %s", error)
            connection.close()
        except Exception:
            log.exception("what was published could not be made ready")
        time.sleep(LOOKED_EVERY)
