"""The published site as a WSGI callable."""

import os

from django.core.wsgi import get_wsgi_application

os.environ["DJANGO_SETTINGS_MODULE"] = "navrel.server.settings.delivery"
application = get_wsgi_application()
