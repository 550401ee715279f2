"""The published site as a WSGI callable."""

import os

from django.core.wsgi import get_wsgi_application

os.environ["DJANGO_SETTINGS_MODULE"] = "navrel.server.settings.delivery"
_application = get_wsgi_application()

# Django has to be set up first.
from navrel.server.delivery.sign_in import sign_in_of  # noqa: E402
from navrel.server.delivery.swift import Swift  # noqa: E402
from navrel.server.delivery.watching import Watch  # noqa: E402

# What is wrong with it is told at the start.
sign_in_of("")
watch = Watch()
watch.start()
application = Swift(_application, watch)
