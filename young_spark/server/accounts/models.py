"""People, the browsers trusted at the bench, and single-use ways in."""

import hashlib
import secrets

from django.contrib.auth.hashers import check_password, make_password
from django.contrib.auth.models import AbstractUser
from django.db import models
from django.http import HttpRequest
from django.utils import timezone


class Person(AbstractUser):
    """Somebody of the shop. A technician writes on slips; a reader reads them."""

    class Role(models.TextChoices):
        TECHNICIAN = "technician"
        READER = "reader"

    role = models.CharField(max_length=20, choices=Role.choices, default=Role.READER)
    pin_hash = models.CharField(max_length=200, blank=True)

    @property
    def display_name(self) -> str:
        """The name on the slip."""
        return self.first_name or self.username

    def set_pin(self, pin: str) -> None:
        """Keep a hash of the PIN; an empty one takes it away."""
        self.pin_hash = make_password(pin) if pin else ""

    def pin_fits(self, pin: str) -> bool:
        """Whether the PIN is right; without one set, any tap fits."""
        return not self.pin_hash or check_password(pin, self.pin_hash)


def token_hash(token: str) -> str:
    """What is stored of a token: never the token itself."""
    return hashlib.sha256(token.encode()).hexdigest()


class TrustedBrowser(models.Model):
    """A browser that was trusted once by password; names can be tapped on it."""

    token_sha256 = models.CharField(max_length=64, unique=True)
    trusted_by = models.ForeignKey(Person, on_delete=models.CASCADE)
    trusted_at = models.DateTimeField(default=timezone.now)
    wrong_pins = models.PositiveSmallIntegerField(default=0)

    @classmethod
    def trust(cls, person: Person) -> str:
        """Trust a browser; returns the token for its cookie."""
        token = secrets.token_urlsafe(32)
        cls.objects.create(token_sha256=token_hash(token), trusted_by=person)
        return token


class WayIn(models.Model):
    """A single-use, short-lived address that opens signed in: what the start prints."""

    token_sha256 = models.CharField(max_length=64, unique=True)
    person = models.ForeignKey(Person, on_delete=models.CASCADE)
    expires_at = models.DateTimeField()


class SignedIn(HttpRequest):
    """A request of somebody who is signed in: the API lets nobody else as far as an endpoint."""

    user: Person
