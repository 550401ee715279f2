"""The application as a WSGI callable."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
application = get_wsgi_application()
