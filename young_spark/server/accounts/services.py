"""Signing in: by password once a browser, then by a tap on one's name."""

import secrets
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta

from django.contrib.auth import authenticate, login
from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from young_spark.server.accounts.models import Person, TrustedBrowser, WayIn, WrongTry, token_hash
from young_spark.server.problems import NotSignedIn, TooMany

COOKIE = "bench"
COOKIE_AGE = 365 * 24 * 3600
WRONG_ALLOWED = 5
WRONG_FOR = timedelta(minutes=15)  # as long as AXES_COOLOFF_TIME
BACKEND = "django.contrib.auth.backends.ModelBackend"
SESSION_BROWSER = "browser"  # in a session: the trusted browser that it was begun on
SESSION_TAPPED = "tapped"  # in a session: that nothing but a tap on a name began it
# hashing takes a third of a second of one core: so many at once, and live values still come through
_hashing = threading.BoundedSemaphore(2)
HASHING_WAIT_S = 8.0


@contextmanager
def hashing() -> Iterator[None]:
    """A turn to hash a password or a PIN. Raises TooMany where too many want one."""
    if not _hashing.acquire(timeout=HASHING_WAIT_S):
        raise TooMany("Too many are signing in just now. Try again in a moment.")
    try:
        yield
    finally:
        _hashing.release()


def require_technician(actor: object) -> Person:
    """The actor as a technician; anyone else is refused. No actor never means allowed."""
    if not isinstance(actor, Person) or not actor.is_active or actor.role != Person.Role.TECHNICIAN:
        raise PermissionDenied("Readers may look, not write. Ask a technician.")
    return actor


def trusted_browser(request: HttpRequest) -> TrustedBrowser | None:
    """The trusted browser of the request's cookie, or None. Who trusted it must still be of the shop."""
    token = request.COOKIES.get(COOKIE, "")
    if not token:
        return None
    known = TrustedBrowser.objects.select_related("trusted_by")
    return known.filter(token_sha256=token_hash(token), trusted_by__is_active=True).first()


def offered(browser: TrustedBrowser | None) -> QuerySet[Person]:
    """Whom a browser offers to be tapped: nobody who may do more than the one whose password trusted it."""
    if browser is None:
        return Person.objects.none()
    people = Person.objects.filter(is_active=True)
    if browser.trusted_by.role != Person.Role.TECHNICIAN:
        people = people.filter(role=Person.Role.READER)
    return people.order_by("first_name")


def trust_browser(response: HttpResponse, request: HttpRequest, person: Person) -> None:
    """Trust this browser from now on for what the person may do; one that was trusted for more stays so."""
    browser = trusted_browser(request)
    if browser is None:
        agent = request.headers.get("User-Agent", "")
        browser, token = TrustedBrowser.trust(person, seen_from=address_of(request), calls_itself=agent)
        response.set_cookie(
            COOKIE, token, max_age=COOKIE_AGE, httponly=True, samesite="Lax", secure=request.is_secure()
        )
    elif browser.trusted_by.role != Person.Role.TECHNICIAN and person.role == Person.Role.TECHNICIAN:
        browser.trusted_by, browser.trusted_at = person, timezone.now()
        browser.save(update_fields=["trusted_by", "trusted_at"])
    request.session[SESSION_BROWSER] = browser.pk
    request.session[SESSION_TAPPED] = False


def address_of(request: HttpRequest) -> str:
    """Where a request came from. A proxy's word for it counts only where the operator said that there is one."""
    return str(request.META.get("REMOTE_ADDR", ""))


def counts_for_itself(request: HttpRequest, credentials: object = None) -> bool:
    """Whether wrong passwords count for this browser alone: it is a trusted one, so no guesser elsewhere locks it
    out."""
    return trusted_browser(request) is not None


def sign_in(request: HttpRequest, response: HttpResponse, name: str, password: str) -> Person:
    """Sign in by password and trust the browser. Raises NotSignedIn, or TooMany after five wrong tries in a quarter
    hour: of this name anywhere, or on this browser where it is a trusted one."""
    browser = trusted_browser(request)
    if browser is not None and _is_used_up(browser, name, is_pin=False):
        raise TooMany("Too many wrong passwords for this name here. Wait a quarter of an hour.")
    with hashing():
        person = authenticate(request, username=name, password=password)
    if getattr(request, "axes_locked_out", False):
        raise TooMany("Too many wrong passwords. Wait a quarter of an hour, or ask someone who is signed in.")
    if not isinstance(person, Person):
        if browser is not None:
            _was_wrong(browser, name, is_pin=False)
        raise NotSignedIn("Name or password is not right.")
    if browser is not None:
        browser.wrong_tries.filter(name=name).delete()
    login(request, person)
    trust_browser(response, request, person)
    return person


def tap_name(request: HttpRequest, person_id: int, pin: str) -> Person:
    """Sign in on a trusted browser by a tap. After five wrong PINs that name needs its password on this browser."""
    browser = trusted_browser(request)
    if browser is None:
        raise NotSignedIn("This browser is not trusted yet: sign in with a password once.")
    person = offered(browser).filter(pk=person_id).first()
    if person is None:
        raise NotSignedIn("That name is not offered on this browser: sign in with its password.")
    if _is_used_up(browser, person.username, is_pin=True):
        raise TooMany("Five wrong PINs: this name needs its password here.")
    with hashing():
        fits = person.pin_fits(pin)
    if not fits:
        _was_wrong(browser, person.username, is_pin=True)
        if _is_used_up(browser, person.username, is_pin=True):
            raise TooMany("Five wrong PINs: this name needs its password here.")
        raise NotSignedIn("That PIN is not right." if pin else "This name has a PIN.")
    browser.wrong_tries.filter(name=person.username, is_pin=True).delete()
    login(request, person, backend=BACKEND)
    request.session[SESSION_BROWSER] = browser.pk
    request.session[SESSION_TAPPED] = not person.pin_hash
    return person


def _is_used_up(browser: TrustedBrowser, name: str, *, is_pin: bool) -> bool:
    """Whether a name has no try left here; PINs stay so until the password was right, passwords for a quarter hour."""
    tries = browser.wrong_tries.filter(name=name, is_pin=is_pin, count__gte=WRONG_ALLOWED)
    return (tries if is_pin else tries.filter(at__gt=timezone.now() - WRONG_FOR)).exists()


@transaction.atomic
def _was_wrong(browser: TrustedBrowser, name: str, *, is_pin: bool) -> None:
    tries, _ = WrongTry.objects.get_or_create(browser=browser, name=name[:150], is_pin=is_pin)
    now = timezone.now()
    tries.count = 1 if not is_pin and now - tries.at > WRONG_FOR else tries.count + 1
    tries.at = now
    tries.save()


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
    if fresh and person.is_active:
        login(request, person, backend=BACKEND)
        trust_browser(response, request, person)
    return fresh and person.is_active


def set_pin(actor: Person, pin: str) -> None:
    """Set or take away one's own PIN."""
    with hashing():
        actor.set_pin(pin)
    actor.save(update_fields=["pin_hash"])
    WrongTry.objects.filter(name=actor.username, is_pin=True).delete()
