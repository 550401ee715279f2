"""The published site's addresses: every one is a page's, but for what pages need beside their HTML."""

from django.urls import re_path

from .assets import urlpatterns as asset_patterns
from .layouts import urlpatterns as layout_patterns
from .views import published_page

urlpatterns = [*layout_patterns, *asset_patterns, re_path(r"^.*$", published_page)]
