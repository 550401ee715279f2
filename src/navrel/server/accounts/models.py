"""Who may do what at which site, and invitations."""

from __future__ import annotations

from typing import Literal

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site

Role = Literal["viewer", "editor", "publisher", "owner"]
#: From the least to the most: each may do what those before it may.
ROLES: tuple[Role, ...] = ("viewer", "editor", "publisher", "owner")
_CHOICES = [(role, role) for role in ROLES]
#: What a token can do that asks for what is published, and for nothing else.
PUBLISHED = "published"
TOKEN_ROLES: tuple[str, ...] = (PUBLISHED, *ROLES)


class Membership(models.Model):
    """What somebody may do at a site."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=_CHOICES)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "user"], name="one_role_a_person")]

    def __str__(self) -> str:
        return f"{self.user}: {self.role}"


class Invitation(models.Model):
    """An invitation to a site, for whoever has its address; until it ends, or somebody has taken it."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=10, choices=_CHOICES)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()
    taken = models.BooleanField(default=False)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"invitation as {self.role}"


class SignedIn(models.Model):
    """A session that somebody signed in to, as they know it again: from where, with what, since when."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="sessions")
    #: The key of the session, which is Django's to keep; it ends there, by itself or by hand.
    session = models.CharField(max_length=40, unique=True)
    address = models.GenericIPAddressField(null=True)
    agent = models.CharField(max_length=300)
    since = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.user}, {self.agent}"


class SecondFactor(models.Model):
    """The second factor of an account: codes by time (TOTP, RFC 6238) from a secret that an application keeps."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, models.CASCADE, related_name="second_factor")
    secret = models.CharField(max_length=64)
    #: When a first code showed that the application has the secret; until then it is not asked for.
    since = models.DateTimeField(null=True)
    #: The last time step whose code was taken: no code serves twice (section 5.2).
    step = models.BigIntegerField(default=0)
    #: Digests of the spare codes that are left.
    spare = models.JSONField(default=list)

    def __str__(self) -> str:
        return f"second factor of {self.user}"


class Token(models.Model):
    """What a program shows to act as somebody, as far as its role goes, until it ends.

    Kept is a digest, so that whoever reads the database cannot act as anybody.
    """

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=80)
    digest = models.CharField(max_length=64, unique=True)
    role = models.CharField(max_length=10, choices=[(role, role) for role in TOKEN_ROLES])
    site = models.ForeignKey(Site, models.CASCADE, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()
    used = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.name}, {self.role} of {self.site}"
