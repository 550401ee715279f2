"""Signing in and out, with Django's sessions."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import logout
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from navrel.server.api.authentication import SessionOr401
from navrel.server.api.errors import Unknown
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import GatedView, SiteView, made, parsed
from navrel.server.logbook.services import note
from navrel.server.sitestate.locking import find_site

from . import factors, first, people, services, sessions, shapes, tokens
from .models import Invitation, Token
from .rights import runs_installation


class SessionView(APIView):
    """Who is signed in."""

    permission_classes = [AllowAny]

    @operation("getSession", responses=shapes.SessionInfo)
    @method_decorator(ensure_csrf_cookie)
    def get(self, request: Request) -> Response:
        """Who is signed in; sets the CSRF cookie that every write has to repeat in X-CSRFToken."""
        return Response(_session(request))

    @operation("signIn", request=shapes.SignIn, responses=shapes.SessionInfo, errors=[401, 422, 429])
    @method_decorator(csrf_protect)
    def post(self, request: Request) -> Response:
        """Sign in, with a name and a password, and a code where the account takes one; 429 after too many wrong ones.

        401 with `code-wanted` where name and password are right and a code is missing.
        """
        body = parsed(shapes.SignIn, request.data)
        user = services.who_signs_in(request._request, body["username"], body["password"], body["code"])
        sessions.sign_in(request, user)
        return Response(_session(request))

    @operation("signOut", responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out; the session ends."""
        if request.user.is_authenticated:
            note(None, request.user, "sign-in", "Signed out")
        logout(request)
        return Response(status=204)


class OwnView(GatedView):
    """What somebody does with their own account, which takes a session: a program with a token cannot."""

    authentication_classes = [SessionOr401]


class SignInsView(OwnView):
    """Where whoever asks is signed in."""

    @operation("listSignIns", parameters=stretch_parameters(), responses=listing(shapes.SignInRow))
    def get(self, request: Request) -> Response:
        """The sessions of the account, newest first."""
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(sessions.sessions_of(request.user))
        own = request.session.session_key
        rows = [
            {"address": one.address, "agent": one.agent, "since": one.since, "this": one.session == own}
            for one in records
        ]
        return Response(stretch.listed(rows, total))

    @operation("signOutElsewhere", responses={204: None})
    def delete(self, request: Request) -> Response:
        """End every other session of the account."""
        sessions.end_others(request.user, request.session.session_key)
        return Response(status=204)


class FactorView(OwnView):
    """The second factor of whoever asks."""

    @operation("getFactor", responses=shapes.FactorInfo)
    def get(self, request: Request) -> Response:
        """Whether signing in takes one."""
        factor = factors.factor_of(request.user)
        return Response({"since": factor and factor.since, "spare": len(factor.spare) if factor else 0})

    @operation("beginFactor", request=shapes.FactorRequest, responses=shapes.FactorBegun, errors=[409, 422])
    def post(self, request: Request) -> Response:
        """Begin one: a secret, which is asked for from the first code on."""
        return Response(factors.begin(request.user, parsed(shapes.FactorRequest, request.data)["password"]))

    @operation("confirmFactor", request=shapes.CodeRequest, responses=shapes.SpareCodes, errors=[409, 422])
    def put(self, request: Request) -> Response:
        """Ask for it from now on, as a first code shows that it works; tells its spare codes."""
        return Response({"codes": factors.confirm(request.user, parsed(shapes.CodeRequest, request.data)["code"])})


class FactorEndView(OwnView):
    """The end of a second factor."""

    @operation("endFactor", request=shapes.FactorRequest, responses={204: None}, errors=[422])
    def post(self, request: Request) -> Response:
        """Ask for none any more."""
        factors.end(request.user, parsed(shapes.FactorRequest, request.data)["password"])
        return Response(status=204)


class TokensView(OwnView):
    """The tokens of whoever asks."""

    @operation("listTokens", parameters=stretch_parameters(), responses=listing(shapes.TokenRow))
    def get(self, request: Request) -> Response:
        """The tokens that have not ended, newest first; what each is was told once."""
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(tokens.tokens_of(request.user))
        return Response(stretch.listed([_token(one) for one in records], total))

    @operation("makeToken", request=shapes.TokenRequest, responses={201: shapes.NewToken}, errors=[403, 404, 409, 422])
    def post(self, request: Request) -> Response:
        """Make a token for a program; it can do no more than whoever makes it, at one site."""
        body = parsed(shapes.TokenRequest, request.data)
        kept, token = tokens.make_token(request.user, find_site(body["site"]), body["name"], body["role"], body["days"])
        return made({**_token(kept), "token": token}, f"/api/tokens/{kept.pk}")


class TokenView(OwnView):
    """One token."""

    @operation("takeTokenBack", responses={204: None}, errors=[404])
    def delete(self, request: Request, number: int) -> Response:
        """End it; a program that shows it is nobody from then on."""
        tokens.take_token_back(request.user, number)
        return Response(status=204)


def _token(one: Token) -> dict[str, Any]:
    return {
        "id": one.pk,
        "name": one.name,
        "site": one.site.slug,
        "role": one.role,
        "made": one.made,
        "ends": one.ends,
        "used": one.used,
    }


class PasswordView(OwnView):
    """The password of whoever is signed in."""

    @operation("changePassword", request=shapes.PasswordRequest, responses={204: None}, errors=[422])
    def put(self, request: Request) -> Response:
        """Change it; every other session of the account ends."""
        assert request.user.is_authenticated  # The permission classes saw to that.
        body = parsed(shapes.PasswordRequest, request.data)
        services.change_password(request.user, body["old"], body["new"])
        sessions.keep_this_alone(request)
        return Response(status=204)


class PeopleView(SiteView):
    """The people of a site."""

    @operation("listPeople", parameters=stretch_parameters(), responses=listing(shapes.PersonRow))
    def get(self, request: Request, site: str) -> Response:
        """Who is something at the site, by name."""
        stretch = Stretch.asked(request)
        members, total = stretch.of_records(people.people_of(self.record))
        rows = [
            {"name": one.user.get_username(), "role": one.role, "you": one.user_id == request.user.pk}
            for one in members
        ]
        return Response(stretch.listed(rows, total))


class PersonView(SiteView):
    """Somebody at a site."""

    @operation("giveRole", request=shapes.RoleRequest, responses={204: None}, errors=[409, 422], role="owner")
    def put(self, request: Request, site: str, name: str) -> Response:
        """Say what somebody may do there; a site keeps an owner."""
        people.give_role(self.record, name, parsed(shapes.RoleRequest, request.data)["role"], request.user)
        return Response(status=204)

    @operation("takeOut", responses={204: None}, errors=[409], role="owner")
    def delete(self, request: Request, site: str, name: str) -> Response:
        """Have somebody be nothing there any more; a site keeps an owner."""
        people.take_out(self.record, name, request.user)
        return Response(status=204)


class InvitationsView(SiteView):
    """Invitations to a site."""

    @operation(
        "listInvitations", parameters=stretch_parameters(), responses=listing(shapes.InvitationRow), role="owner"
    )
    def get(self, request: Request, site: str) -> Response:
        """The invitations that are open, newest first."""
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(people.open_invitations(self.record))
        return Response(stretch.listed([_invitation(one) for one in records], total))

    @operation(
        "invite", request=shapes.RoleRequest, responses={201: shapes.InvitationRow}, errors=[409, 422], role="owner"
    )
    def post(self, request: Request, site: str) -> Response:
        """Make an invitation for whoever gets its address; it can be taken once, within a week."""
        invitation = people.invite(self.record, parsed(shapes.RoleRequest, request.data)["role"], request.user)
        return made(_invitation(invitation), f"/api/sites/{site}/invitations/{invitation.pk}")


class InvitationView(SiteView):
    """One invitation."""

    @operation("takeInvitationBack", responses={204: None}, role="owner")
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Take it back."""
        people.take_back(self.record, number)
        return Response(status=204)


def _invitation(one: Invitation) -> dict[str, Any]:
    return {
        "id": one.pk,
        "token": people.token_of(one),
        "role": one.role,
        "by": one.by.get_username() if one.by else None,
        "ends": one.ends,
    }


class InvitedView(GatedView):
    """What an invitation leads to, for whoever has its address."""

    permission_classes = [AllowAny]

    @operation("getInvited", responses=shapes.InvitedInfo, errors=[404])
    def get(self, request: Request, token: str) -> Response:
        """To which site one is invited, and as what."""
        found = people.find_invitation(token)
        by = found.by.get_username() if found.by else None
        return Response({"site": found.site.name, "slug": found.site.slug, "role": found.role, "by": by})

    @operation("join", request=shapes.JoinRequest, responses=shapes.SessionInfo, errors=[401, 404, 409, 422])
    @method_decorator(csrf_protect)
    def post(self, request: Request, token: str) -> Response:
        """Take the invitation: as whoever is signed in, or with a new account, which is signed in then."""
        body = parsed(shapes.JoinRequest, request.data)
        if body["username"]:
            somebody = people.join(token, body["username"], body["password"])
            sessions.sign_in(request, somebody, backend=settings.AUTHENTICATION_BACKENDS[-1])
        elif request.user.is_authenticated:
            people.accept(token, request.user)
        else:
            raise Unknown("not-signed-in", "Nobody is signed in", "Name a new account, or sign in first.")
        return Response(_session(request))


class FirstView(GatedView):
    """The first account, for whoever has the address that the start of the installation tells."""

    permission_classes = [AllowAny]

    @operation("getFirst", responses={204: None}, errors=[404])
    def get(self, request: Request, token: str) -> Response:
        """Whether it is still to be made."""
        first.check(token)
        return Response(status=204)

    @operation("makeFirst", request=shapes.FirstRequest, responses=shapes.SessionInfo, errors=[404, 422])
    @method_decorator(csrf_protect)
    def post(self, request: Request, token: str) -> Response:
        """Make it; it is signed in then, and runs the installation: owner of every site, and makes new ones."""
        body = parsed(shapes.FirstRequest, request.data)
        somebody = first.make_first(token, body["username"], body["password"])
        sessions.sign_in(request, somebody, backend=settings.AUTHENTICATION_BACKENDS[-1])
        return Response(_session(request))


def _session(request: Request) -> dict[str, Any]:
    name, password = settings.DEMO_ACCOUNT
    return {
        "username": request.user.get_username() if request.user.is_authenticated else None,
        "runs": runs_installation(request),
        "csrf_cookie": settings.CSRF_COOKIE_NAME,
        "demo": {"username": name, "password": password} if settings.DEMO else None,
    }
