"""The published site as a WSGI callable."""

import os
import sys

from django.core.wsgi import get_wsgi_application

os.environ["DJANGO_SETTINGS_MODULE"] = "navrel.server.settings.delivery"
_application = get_wsgi_application()

# Django has to be set up first. The addresses bring all that answers take: nobody who asks waits for code to be read.
import navrel.server.delivery.urls  # noqa: E402, F401
from navrel.server.delivery.over_old import OverOldSites  # noqa: E402
from navrel.server.delivery.sign_in import sign_in_of  # noqa: E402
from navrel.server.delivery.swift import Swift  # noqa: E402
from navrel.server.delivery.watching import Watch  # noqa: E402
from navrel.server.observing.observed import Observed  # noqa: E402

# Whoever makes a new revision ready does not hold up those who only read.
sys.setswitchinterval(0.0005)
# What is wrong with it is told at the start.
sign_in_of("")
watch = Watch(_application)
watch.start()
application = Observed(OverOldSites(Swift(_application, watch), watch), "published site", lambda: watch.is_ready)
