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
    """What somebody is at a site; None where they have nothing to do with it."""
    return _site_and_role(user, site)[1]


def _site_and_role(user: Any, slug: str) -> tuple[Site | None, Role | None]:
    """A site, and what somebody is there; neither without the other. Who runs the installation owns all."""
    if user.is_superuser:
        site = Site.objects.filter(slug=slug).first()
        return site, "owner" if site else None
    # One question: nearly every request asks it.
    member = Membership.objects.filter(user=user, site__slug=slug).select_related("site").first()
    return (member.site, cast(Role, member.role)) if member else (None, None)


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
    """Whether somebody is at the site of the address what the request takes; the view is told both."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Raise Missing for those who have nothing to do with the site, and Forbidden for those who are too little."""
        slug = view.kwargs.get("site")
        if slug is None:
            return True
        (site, role), takes = _site_and_role(request.user, slug), needed(view, request.method or "GET")
        if site and role and isinstance(request.auth, Token):
            own = cast(Role, request.auth.role)
            role = min(role, own, key=ROLES.index) if request.auth.site_id == site.pk else None
        if site is None or role is None:
            raise Missing("no-site", f"There is no site {slug}")
        if ROLES.index(role) < ROLES.index(takes):
            raise Forbidden(
                "role-lacking",
                f"That takes the role {takes}; {request.user.get_username()} is {role} here",
                "An owner of the site can change that, under Site.",
            )
        view.record, view.role = site, role
        return True
