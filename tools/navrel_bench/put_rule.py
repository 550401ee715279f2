"""A rule by which every page looks otherwise to whoever is signed in. Run as a program, by the benchmark."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from navrel.server.rules.services import make_rule  # noqa: E402

make_rule(
    "marrowick",
    {
        "name": "Signed in",
        "condition": {"include": "all", "visitors": {"include": "signed:in"}},
        "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
        "priority": 100,
    },
)
