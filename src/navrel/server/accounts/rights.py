"""What somebody may do at a site: looked up, and checked, in this one place."""

from __future__ import annotations

from typing import Any, cast

from django.conf import settings
from django.db.models import QuerySet
from rest_framework.permissions import SAFE_METHODS, BasePermission
from rest_framework.request import Request

from navrel.server.api.errors import Forbidden, Missing
from navrel.server.inventory.models import Site

from .models import ROLES, Membership, Role, Token


def role_of(user: Any, site: str) -> Role | None:
    """What somebody is at a site; None where they have nothing to do with it. Who runs the installation owns all."""
    if user.is_superuser:
        return "owner"
    found = Membership.objects.filter(user=user, site__slug=site).values_list("role", flat=True).first()
    return cast(Role, found) if found else None


def sites_of(request: Request) -> QuerySet[Site]:
    """The sites at which whoever asks is something, those put away too."""
    user: Any = request.user
    found = Site.objects.all() if user.is_superuser else Site.objects.filter(memberships__user=user)
    return found.filter(pk=request.auth.site_id) if isinstance(request.auth, Token) else found


def runs_installation(request: Request) -> bool:
    """Whether whoever asks runs the installation. A token is for one site, so a program with one does not.

    A demo is run by its own account, for whoever tries it.
    """
    user: Any = request.user
    runs = user.is_superuser or (settings.DEMO and user.get_username() == settings.DEMO_ACCOUNT[0])
    return bool(runs) and not isinstance(request.auth, Token)


def needed(view: Any, method: str) -> Role:
    """The role that a request takes: what its operation states, else `viewer` to ask and `editor` to write."""
    stated: Role | None = getattr(getattr(view, method.lower(), None), "role", None)
    return stated or ("viewer" if method in SAFE_METHODS else "editor")


class HasRole(BasePermission):
    """Whether somebody is at the site of the address what the request takes; the view is told what they are there."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Raise Missing for those who have nothing to do with the site, and Forbidden for those who are too little."""
        site = view.kwargs.get("site")
        if site is None:
            return True
        role, takes = role_of(request.user, site), needed(view, request.method or "GET")
        if role is not None and isinstance(request.auth, Token):
            role = min(role, cast(Role, request.auth.role), key=ROLES.index) if request.auth.site.slug == site else None
        if role is None:
            raise Missing("no-site", f"There is no site {site}")
        if ROLES.index(role) < ROLES.index(takes):
            raise Forbidden(
                "role-lacking",
                f"That takes the role {takes}; {request.user.get_username()} is {role} here",
                "An owner of the site can change that, under Site.",
            )
        view.role = role
        return True
