"""Signing in and out, with Django's sessions."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from navrel.server.api.errors import Unknown
from navrel.server.api.operations import operation
from navrel.server.api.views import parsed

from . import shapes


class SessionView(APIView):
    """Who is signed in."""

    permission_classes = [AllowAny]

    @operation("getSession", responses=shapes.SessionInfo)
    @method_decorator(ensure_csrf_cookie)
    def get(self, request: Request) -> Response:
        """Who is signed in; sets the CSRF cookie that every write has to repeat in X-CSRFToken."""
        return Response(_session(request))

    @operation("signIn", request=shapes.SignIn, responses=shapes.SessionInfo, errors=[401, 422])
    @method_decorator(csrf_protect)
    def post(self, request: Request) -> Response:
        """Sign in, with a name and a password."""
        body = parsed(shapes.SignIn, request.data)
        user = authenticate(request, username=body["username"], password=body["password"])
        if user is None:
            raise Unknown("wrong-sign-in", "This name and password do not belong together")
        login(request, user)
        return Response(_session(request))

    @operation("signOut", responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out; the session ends."""
        logout(request)
        return Response(status=204)


def _session(request: Request) -> dict[str, Any]:
    name, password = settings.DEMO_ACCOUNT
    return {
        "username": request.user.get_username() if request.user.is_authenticated else None,
        "csrf_cookie": settings.CSRF_COOKIE_NAME,
        "demo": {"username": name, "password": password} if settings.DEMO else None,
    }
