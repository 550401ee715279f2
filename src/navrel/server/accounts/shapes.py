"""The shapes of sign-in, on the wire."""

from rest_framework import serializers as s

from .models import ROLES, TOKEN_ROLES
from .tokens import LONGEST


class DemoAccount(s.Serializer):
    """The account of the demo."""

    username = s.CharField(help_text="Its name")
    password = s.CharField(help_text="Its password")


class SessionInfo(s.Serializer):
    """Who is signed in."""

    username = s.CharField(allow_null=True, help_text="The account's name; null where nobody is signed in")
    csrf_cookie = s.CharField(help_text="The cookie whose value every write repeats in X-CSRFToken")
    runs = s.BooleanField(help_text="Whether that account runs the installation, and so may make sites")
    demo = DemoAccount(allow_null=True, help_text="The demo account, in demo mode only")


class SignIn(s.Serializer):
    """A name and a password."""

    username = s.CharField(max_length=150, help_text="The account's name")
    password = s.CharField(max_length=200, trim_whitespace=False, help_text="Its password")
    code = s.CharField(
        required=False, allow_blank=True, default="", max_length=20, help_text="The code, where the account takes one"
    )


class FactorInfo(s.Serializer):
    """Whether signing in takes a second factor."""

    since = s.DateTimeField(allow_null=True, help_text="Since when; null where it takes none")
    spare = s.IntegerField(help_text="How many spare codes are left")


class FactorRequest(s.Serializer):
    """The password, which both beginning and ending a second factor take."""

    password = s.CharField(max_length=200, trim_whitespace=False, help_text="The password of the account")


class FactorBegun(s.Serializer):
    """A secret for an application that makes codes by time (TOTP, RFC 6238)."""

    secret = s.CharField(help_text="The secret, in base 32")
    address = s.CharField(help_text="The secret as an otpauth: address")
    picture = s.CharField(help_text="That address as a QR code (ISO/IEC 18004), an SVG in a data: address")


class CodeRequest(s.Serializer):
    """A code."""

    code = s.CharField(max_length=20, help_text="The code that the application shows now")


class SpareCodes(s.Serializer):
    """Spare codes, each good once."""

    codes = s.ListField(child=s.CharField(), help_text="The codes; they are not told again")


class PasswordRequest(s.Serializer):
    """A new password."""

    old = s.CharField(max_length=200, trim_whitespace=False, help_text="The password until now")
    new = s.CharField(max_length=200, trim_whitespace=False, help_text="The new one")


class SignInRow(s.Serializer):
    """A session of the account."""

    address = s.CharField(allow_null=True, help_text="From where it was signed in")
    agent = s.CharField(allow_blank=True, help_text="With what: the browser, as it named itself")
    since = s.DateTimeField(help_text="Since when")
    this = s.BooleanField(help_text="Whether it is the session that asks")


class TokenRow(s.Serializer):
    """A token of the account."""

    id = s.IntegerField(help_text="Its id")
    name = s.CharField(help_text="What it is for")
    site = s.CharField(help_text="The slug of the site at which it does something")
    role = s.ChoiceField(
        choices=TOKEN_ROLES,
        help_text="What it can do there, as far as the account itself can; published: ask for layouts",
    )
    made = s.DateTimeField(help_text="When it was made")
    ends = s.DateTimeField(help_text="When it ends")
    used = s.DateTimeField(allow_null=True, help_text="The hour in which it was used last")


class NewToken(TokenRow):
    """A token as it is told once."""

    token = s.CharField(help_text="The token itself, for the Authorization header: Bearer and it; it is not told again")


class TokenRequest(s.Serializer):
    """A token that is to be made."""

    name = s.CharField(max_length=80, help_text="What it is for")
    site = s.SlugField(max_length=50, help_text="The slug of the site at which it does something")
    role = s.ChoiceField(choices=TOKEN_ROLES, help_text="What it can do there")
    days = s.IntegerField(min_value=1, max_value=LONGEST, help_text="How many days it lasts")


class PersonRow(s.Serializer):
    """Somebody at a site."""

    name = s.CharField(help_text="The account's name")
    role = s.ChoiceField(choices=ROLES, help_text="What they may do there")
    you = s.BooleanField(help_text="Whether that is who asks")


class RoleRequest(s.Serializer):
    """What somebody is to be at a site."""

    role = s.ChoiceField(choices=ROLES, help_text="What they may do there")


class InvitationRow(s.Serializer):
    """An invitation that is open."""

    id = s.IntegerField(help_text="Its id")
    token = s.CharField(help_text="What its address is known by")
    role = s.ChoiceField(choices=ROLES, help_text="What whoever takes it may do there")
    by = s.CharField(allow_null=True, help_text="Who invites")
    ends = s.DateTimeField(help_text="When it ends")


class InvitedInfo(s.Serializer):
    """What an invitation leads to."""

    site = s.CharField(help_text="The name of the site")
    slug = s.CharField(help_text="Its slug")
    role = s.ChoiceField(choices=ROLES, help_text="What whoever takes it may do there")
    by = s.CharField(allow_null=True, help_text="Who invites")


class FirstRequest(s.Serializer):
    """The first account of an installation."""

    username = s.CharField(max_length=150, help_text="Its name")
    password = s.CharField(max_length=200, trim_whitespace=False, help_text="Its password")


class JoinRequest(s.Serializer):
    """Taking an invitation; without a name as whoever is signed in."""

    username = s.CharField(
        required=False, allow_blank=True, default="", max_length=150, help_text="The name of the new account"
    )
    password = s.CharField(
        required=False, allow_blank=True, default="", max_length=200, trim_whitespace=False, help_text="Its password"
    )
