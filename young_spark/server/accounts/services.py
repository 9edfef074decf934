"""Signing in: by password once a browser, then by a tap on one's name."""

import secrets
from datetime import timedelta

from django.contrib.auth import authenticate, login
from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from young_spark.server.accounts.models import Person, TrustedBrowser, WayIn, token_hash
from young_spark.server.problems import NotSignedIn, TooMany

COOKIE = "bench"
COOKIE_AGE = 365 * 24 * 3600
WRONG_PINS_ALLOWED = 5
BACKEND = "django.contrib.auth.backends.ModelBackend"


def require_technician(actor: object) -> Person:
    """The actor as a technician; anyone else is refused. No actor never means allowed."""
    if not isinstance(actor, Person) or not actor.is_active or actor.role != Person.Role.TECHNICIAN:
        raise PermissionDenied("Readers may look, not write. Ask a technician.")
    return actor


def trusted_browser(request: HttpRequest) -> TrustedBrowser | None:
    """The trusted browser of the request's cookie, or None."""
    token = request.COOKIES.get(COOKIE, "")
    return TrustedBrowser.objects.filter(token_sha256=token_hash(token)).first() if token else None


def trust_browser(response: HttpResponse, request: HttpRequest, person: Person) -> None:
    """Trust this browser from now on, unless it is already."""
    if trusted_browser(request) is None:
        token = TrustedBrowser.trust(person)
        response.set_cookie(
            COOKIE, token, max_age=COOKIE_AGE, httponly=True, samesite="Lax", secure=request.is_secure()
        )


def sign_in(request: HttpRequest, response: HttpResponse, name: str, password: str) -> Person:
    """Sign in by password and trust the browser. Raises NotSignedIn, or TooMany after five wrong tries in a quarter
    hour."""
    person = authenticate(request, username=name, password=password)
    if getattr(request, "axes_locked_out", False):
        raise TooMany("Too many wrong passwords. Wait a quarter of an hour, or ask someone who is signed in.")
    if not isinstance(person, Person):
        raise NotSignedIn("Name or password is not right.")
    login(request, person)
    trust_browser(response, request, person)
    return person


def tap_name(request: HttpRequest, person_id: int, pin: str) -> Person:
    """Sign in on a trusted browser by a tap. After five wrong PINs the browser is trusted no more."""
    browser = trusted_browser(request)
    if browser is None:
        raise NotSignedIn("This browser is not trusted yet: sign in with a password once.")
    person = Person.objects.filter(pk=person_id, is_active=True).first()
    if person is None:
        raise NotSignedIn("Nobody of that name works here.")
    if not person.pin_fits(pin):
        browser.wrong_pins += 1
        browser.save()
        if browser.wrong_pins >= WRONG_PINS_ALLOWED:
            browser.delete()
            raise TooMany("Five wrong PINs: this browser is trusted no more. Sign in with a password.")
        raise NotSignedIn("That PIN is not right." if pin else "This name has a PIN.")
    if browser.wrong_pins:
        browser.wrong_pins = 0
        browser.save()
    login(request, person, backend=BACKEND)
    return person


def make_way_in(person: Person, *, minutes: int = 10) -> str:
    """A token for one entry within so many minutes; older ones of the person end."""
    token = secrets.token_urlsafe(24)
    WayIn.objects.filter(person=person).delete()
    WayIn.objects.create(
        token_sha256=token_hash(token), person=person, expires_at=timezone.now() + timedelta(minutes=minutes)
    )
    return token


@transaction.atomic
def use_way_in(request: HttpRequest, response: HttpResponse, token: str) -> bool:
    """Use a way in, once; False when it was used, has expired or never was."""
    way_in = WayIn.objects.select_related("person").filter(token_sha256=token_hash(token)).first()
    if way_in is None:
        return False
    person, fresh = way_in.person, way_in.expires_at > timezone.now()
    way_in.delete()
    if fresh:
        login(request, person, backend=BACKEND)
        trust_browser(response, request, person)
    return fresh


def set_pin(actor: Person, pin: str) -> None:
    """Set or take away one's own PIN."""
    actor.set_pin(pin)
    actor.save()
