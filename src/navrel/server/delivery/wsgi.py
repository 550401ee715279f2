"""The published site as a WSGI callable."""

import os

from django.core.wsgi import get_wsgi_application

os.environ["DJANGO_SETTINGS_MODULE"] = "navrel.server.settings.delivery"
application = get_wsgi_application()

# Django has to be set up first.
from navrel.server.delivery.warming import keep_ready  # noqa: E402

keep_ready()
