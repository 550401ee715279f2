"""The application as a WSGI callable."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
_application = get_wsgi_application()

# Django has to be set up first.
from navrel.server.observing.observed import Observed  # noqa: E402
from navrel.server.sitestate.reaching import database_answers  # noqa: E402

application = Observed(_application, "application", database_answers)
