"""A Django view that says nothing, served as the published site is: what all that is served is measured against."""

from __future__ import annotations

from django.conf import settings
from django.core.wsgi import get_wsgi_application
from django.http import HttpRequest, HttpResponse
from django.urls import re_path


def _nothing(request: HttpRequest) -> HttpResponse:
    return HttpResponse()


urlpatterns = [re_path("", _nothing)]
settings.configure(ROOT_URLCONF=__name__, ALLOWED_HOSTS=["*"], SECRET_KEY="empty")  # noqa: S106
application = get_wsgi_application()
