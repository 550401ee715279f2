"""The shapes of sign-in, on the wire."""

from rest_framework import serializers as s


class DemoAccount(s.Serializer):
    """The account of the demo."""

    username = s.CharField(help_text="Its name")
    password = s.CharField(help_text="Its password")


class SessionInfo(s.Serializer):
    """Who is signed in."""

    username = s.CharField(allow_null=True, help_text="The account's name; null where nobody is signed in")
    csrf_cookie = s.CharField(help_text="The cookie whose value every write repeats in X-CSRFToken")
    demo = DemoAccount(allow_null=True, help_text="The demo account, in demo mode only")


class SignIn(s.Serializer):
    """A name and a password."""

    username = s.CharField(max_length=150, help_text="The account's name")
    password = s.CharField(max_length=200, trim_whitespace=False, help_text="Its password")
