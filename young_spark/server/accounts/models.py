"""People, the browsers trusted at the bench, and single-use ways in."""

import hashlib
import secrets

from django.contrib.auth.hashers import check_password, make_password
from django.contrib.auth.models import AbstractUser
from django.core.validators import MinLengthValidator, RegexValidator
from django.db import models
from django.http import HttpRequest
from django.utils import timezone
from django.utils.crypto import salted_hmac

LONGEST_NAME = 60
A_NAME = RegexValidator(
    r"^[^\W_](?:[\w .@'+-]*[\w.])?$",
    "A name begins with a letter or a figure and holds letters, figures, spaces and . @ ' + -",
)


class Person(AbstractUser):
    """Somebody of the shop. A technician writes on slips; a reader reads them; a keeper says who is who."""

    class Role(models.TextChoices):
        TECHNICIAN = "technician"
        READER = "reader"

    username = models.CharField(
        max_length=LONGEST_NAME,
        unique=True,
        validators=[MinLengthValidator(2), A_NAME],
        error_messages={"unique": "Somebody of that name is known already."},
    )
    role = models.CharField(max_length=20, choices=Role.choices, default=Role.READER)
    is_keeper = models.BooleanField(default=False)
    pin_hash = models.CharField(max_length=200, blank=True)
    signed_out = models.PositiveIntegerField(default=0)  # how often they were signed out everywhere

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

    def _get_session_auth_hash(self, secret: str | bytes | None = None) -> str:
        """What every session of this person must carry: it changes with the password, and with each signing out
        everywhere."""
        told = f"{self.password}{self.signed_out}"
        return salted_hmac("young_spark.session", told, secret=secret, algorithm="sha256").hexdigest()


def token_hash(token: str) -> str:
    """What is stored of a token: never the token itself."""
    return hashlib.sha256(token.encode()).hexdigest()


class TrustedBrowser(models.Model):
    """A browser that was trusted once by password: the names that whoever trusted it may offer can be tapped on it."""

    token_sha256 = models.CharField(max_length=64, unique=True)
    trusted_by = models.ForeignKey(Person, on_delete=models.CASCADE)
    trusted_at = models.DateTimeField(default=timezone.now)
    seen_at = models.DateTimeField(default=timezone.now)
    seen_from = models.CharField(max_length=60, blank=True)
    calls_itself = models.CharField(max_length=200, blank=True)  # as the browser says

    @classmethod
    def trust(cls, person: Person, *, seen_from: str, calls_itself: str) -> tuple["TrustedBrowser", str]:
        """Trust a browser; returns it and the token for its cookie."""
        token = secrets.token_urlsafe(32)
        browser = cls.objects.create(
            token_sha256=token_hash(token),
            trusted_by=person,
            seen_from=seen_from[:60],
            calls_itself=calls_itself[:200],
        )
        return browser, token


class WrongTry(models.Model):
    """Wrong PINs or passwords for one name on one trusted browser: they lock nobody out anywhere else."""

    browser = models.ForeignKey(TrustedBrowser, on_delete=models.CASCADE, related_name="wrong_tries")
    name = models.CharField(max_length=150)
    is_pin = models.BooleanField()
    count = models.PositiveSmallIntegerField(default=0)
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["browser", "name", "is_pin"], name="wrong_tries_once_a_name")]


class WayIn(models.Model):
    """A single-use, short-lived address that opens signed in: what the start prints."""

    token_sha256 = models.CharField(max_length=64, unique=True)
    person = models.ForeignKey(Person, on_delete=models.CASCADE)
    expires_at = models.DateTimeField()


class SignedIn(HttpRequest):
    """A request of somebody who is signed in: the API lets nobody else as far as an endpoint."""

    user: Person
