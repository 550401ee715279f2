"""The published site's addresses: every one is a page's."""

from django.urls import re_path

from .views import published_page

urlpatterns = [re_path(r"^.*$", published_page)]
