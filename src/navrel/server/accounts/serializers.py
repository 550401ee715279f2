"""The shapes of sign-in, on the wire."""

from rest_framework import serializers as s


class DemoAccount(s.Serializer):
    username = s.CharField()
    password = s.CharField()


class SessionInfo(s.Serializer):
    username = s.CharField(allow_null=True)
    csrf_cookie = s.CharField(help_text="The cookie whose value every write repeats in X-CSRFToken")
    demo = DemoAccount(allow_null=True)


class SignIn(s.Serializer):
    username = s.CharField(max_length=150)
    password = s.CharField(max_length=200, trim_whitespace=False)
