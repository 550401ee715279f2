"""The people of a site: what each may do there, and inviting others."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.validators import UnicodeUsernameValidator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import QuerySet

from navrel.core.errors import Problem
from navrel.server.api.errors import InTheWay, Missing, Refused
from navrel.server.api.signed import sign, signed
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note

from .models import Invitation, Membership, Role

#: Invitations of one site that can be open at once, and how long one lasts, in hours.
MOST_OPEN = 50
LASTS = 24 * 7
_PURPOSE = "invitation"


def people_of(site: Site) -> QuerySet[Membership]:
    """Who is something at a site, by name."""
    return Membership.objects.filter(site=site).select_related("user").order_by("user__username")


@transaction.atomic
def give_role(site: Site, name: str, role: Role, by: Any) -> None:
    """Make somebody of a site something else there. Raises Missing, and InTheWay for its last owner."""
    member = _member(site, name)
    if member.role == "owner" and role != "owner":
        _keep_an_owner(site, member)
    note(site, by, "rights", f"{name} is {role}, was {member.role}")
    member.role = role
    member.save(update_fields=["role"])


@transaction.atomic
def take_out(site: Site, name: str, by: Any) -> None:
    """Have somebody be nothing at a site any more. Raises Missing, and InTheWay for its last owner."""
    member = _member(site, name)
    if member.role == "owner":
        _keep_an_owner(site, member)
    note(site, by, "rights", f"Took {name} out, was {member.role}")
    member.delete()


def _member(site: Site, name: str) -> Membership:
    # Whoever changes roles does so one after the other, so that two owners cannot take each other out.
    Site.objects.select_for_update().get(pk=site.pk)
    member = people_of(site).filter(user__username=name).first()
    if member is None:
        raise Missing("no-person", f"{name} is nobody at this site")
    return member


def _keep_an_owner(site: Site, member: Membership) -> None:
    if not Membership.objects.filter(site=site, role="owner").exclude(pk=member.pk).exists():
        raise InTheWay(
            "last-owner", f"{member.user.get_username()} is its last owner", "Make somebody else owner first."
        )


def open_invitations(site: Site) -> QuerySet[Invitation]:
    """Those that nobody has taken and that have not ended, newest first."""
    return Invitation.objects.filter(site=site, taken=False, ends__gt=datetime.now(UTC)).select_related("by")


@transaction.atomic
def invite(site: Site, role: Role, by: Any) -> Invitation:
    """Invite whoever gets the address, as something, for a week. Raises InTheWay."""
    if open_invitations(site).count() >= MOST_OPEN:
        raise InTheWay("too-many-invitations", f"{MOST_OPEN} invitations are open already", "Take one back first.")
    note(site, by, "rights", f"Invited somebody as {role}")
    return Invitation.objects.create(site=site, role=role, by=by, ends=datetime.now(UTC) + timedelta(hours=LASTS))


def token_of(invitation: Invitation) -> str:
    """What the address of an invitation is known by: its id, signed with the installation's key."""
    return sign(invitation.pk, _PURPOSE)


def take_back(site: Site, number: int) -> None:
    """Take an open invitation back. Raises Missing."""
    if not open_invitations(site).filter(pk=number).update(ends=datetime.now(UTC)):
        raise Missing("no-invitation", "No such invitation is open")


def find_invitation(token: str, *, lock: bool = False) -> Invitation:
    """The open invitation that a token stands for. Raises Missing, whatever is wrong with it."""
    found = Invitation.objects.select_for_update() if lock else Invitation.objects.all()
    invitation = found.filter(pk=signed(token, _PURPOSE), taken=False, ends__gt=datetime.now(UTC)).first()
    if invitation is None:
        raise Missing("no-invitation", "This invitation has ended, was taken, or never was", "Ask for another.")
    return invitation


@transaction.atomic
def accept(token: str, user: Any) -> Membership:
    """Take an invitation, as somebody who has an account. Nobody becomes less by one. Raises Missing, and InTheWay."""
    invitation = find_invitation(token, lock=True)
    if Membership.objects.filter(site=invitation.site, user=user).exists():
        raise InTheWay("member-already", f"{user.get_username()} is something at this site already")
    invitation.taken = True
    invitation.save(update_fields=["taken"])
    note(invitation.site, user, "rights", f"Joined as {invitation.role}")
    return Membership.objects.create(site=invitation.site, user=user, role=invitation.role)


@transaction.atomic
def join(token: str, name: str, password: str) -> Any:
    """Make an account by taking an invitation; returns it. Raises Missing, and Refused."""
    find_invitation(token)
    user = make_account(name, password)
    accept(token, user)
    return user


def make_account(name: str, password: str, **more: Any) -> Any:
    """A new account. Raises Refused with what is wrong with the name, or with the password."""
    users = get_user_model()
    problems: list[Problem] = []
    try:
        UnicodeUsernameValidator()(name)
    except ValidationError:
        problems.append(Problem("/username", "a name has letters, digits and @ . + - _ only", "invalid"))
    if users.objects.filter(username__iexact=name).exists():
        problems.append(Problem("/username", f"{name} is taken", "taken"))
    check_password(password, users(username=name), "/password", problems)
    if problems:
        raise Refused("no-account", problems[0].message, problems=list(problems))
    return users.objects.create_user(name, password=password, **more)


def check_password(password: str, user: Any, pointer: str, problems: list[Problem]) -> None:
    """Add what is wrong with a new password to some problems."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        problems += [Problem(pointer, message, "weak") for message in error.messages]
