"""The API as a Django application: what it needs to be known when everything is loaded."""

from __future__ import annotations

from importlib import import_module

from django.apps import AppConfig


class ApiConfig(AppConfig):
    """Loads what describes the API."""

    name = "navrel.server.api"
    label = "api"

    def ready(self) -> None:
        """Make the authentication known to what writes the description."""
        import_module("navrel.server.api.description")
