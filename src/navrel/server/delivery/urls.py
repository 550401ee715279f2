"""The published site's addresses: every one is a page's, but for what pages need beside their HTML."""

from django.urls import re_path

from navrel.rendering.environment import read_ahead

from .assets import urlpatterns as asset_patterns
from .layouts import urlpatterns as layout_patterns
from .views import published_page

# Whoever asks first does not wait for what is read once.
read_ahead()
urlpatterns = [*layout_patterns, *asset_patterns, re_path(r"^.*$", published_page)]
