"""Who is at the bench: signing in, tapping a name, signing out; and for the shop's keeper, who may."""

from datetime import datetime
from typing import Literal

from django.contrib.auth import logout
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.csrf import csrf_protect
from ninja import Field, Router, Schema, Status
from ninja.decorators import decorate_view

from young_spark.server.accounts import keeping_people, services
from young_spark.server.accounts.keeping_people import require_keeper
from young_spark.server.accounts.models import LONGEST_NAME, Person, SignedIn, TrustedBrowser
from young_spark.server.bulletin import bulletin

router = Router(tags=["accounts"])
Password = Field("", max_length=200)
A_PIN_OR_NONE = r"^(\d{4,8})?$"
Pin = Field("", pattern=A_PIN_OR_NONE)


class PersonOut(Schema):
    id: int
    name: str
    role: str
    has_pin: bool
    is_keeper: bool


class Me(Schema):
    person: PersonOut | None
    trusted: bool
    people: list[PersonOut]
    event: str  # the newest one before this was answered: a page follows events from here on


class SignIn(Schema):
    name: str = Field(max_length=150)
    password: str = Field(max_length=200)


class Tap(Schema):
    person_id: int
    pin: str = Field("", max_length=12)


class PinSent(Schema):
    pin: str = Pin


class NewPerson(Schema):
    name: str = Field(max_length=LONGEST_NAME)
    role: Literal["technician", "reader"] = "technician"
    is_keeper: bool = False
    password: str = Password
    pin: str = Pin


class PersonChange(Schema):
    name: str | None = Field(None, max_length=LONGEST_NAME)
    role: Literal["technician", "reader"] | None = None
    is_keeper: bool | None = None
    is_active: bool | None = None
    password: str | None = Field(None, max_length=200)  # empty: none any more
    pin: str | None = Field(None, pattern=A_PIN_OR_NONE)


class KeptPerson(PersonOut):
    is_active: bool
    has_password: bool
    last_in: datetime | None


class BrowserOut(Schema):
    id: int
    trusted_by: str
    offers: str  # whose names can be tapped on it
    trusted_at: datetime
    seen_at: datetime
    seen_from: str
    calls_itself: str
    is_this: bool


class People(Schema):
    people: list[KeptPerson]
    browsers: list[BrowserOut]


def _out(person: Person) -> PersonOut:
    return PersonOut(
        id=person.pk,
        name=person.display_name,
        role=person.role,
        has_pin=bool(person.pin_hash),
        is_keeper=person.is_keeper,
    )


def _me(request: HttpRequest, person: Person | None) -> Me:
    event = bulletin.newest if person else ""
    browser = services.trusted_browser(request)
    people = [_out(p) for p in services.offered(browser)]
    return Me(person=_out(person) if person else None, trusted=browser is not None, people=people, event=event)


@router.get("/me", response=Me, auth=None, operation_id="me")
def me(request: HttpRequest) -> Me:
    """Who is signed in; the names to tap only on a trusted browser."""
    return _me(request, request.user if isinstance(request.user, Person) else None)


@router.post("/sign-in", response=Me, auth=None, operation_id="sign_in")
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, data: SignIn, response: HttpResponse) -> Me:
    """Sign in with a password; the browser is trusted from then on."""
    return _me(request, services.sign_in(request, response, data.name, data.password))


@router.post("/tap", response=Me, auth=None, operation_id="tap_name")
@decorate_view(csrf_protect)
def tap(request: HttpRequest, data: Tap) -> Me:
    """Change who is at the bench, on a trusted browser."""
    return _me(request, services.tap_name(request, data.person_id, data.pin))


@router.post("/sign-out", response=Me, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Me:
    """Leave the bench; the browser stays trusted."""
    session = request.session.session_key
    logout(request)
    bulletin.end(lambda followed_by: followed_by.session == session)
    return _me(request, None)


@router.post("/pin", response={204: None}, operation_id="set_pin")
def set_pin(request: SignedIn, data: PinSent) -> Status[None]:
    """Set one's own PIN (four to eight digits), or take it away with an empty one."""
    services.set_pin(request.user, data.pin)
    return Status(204, None)


def _people(request: SignedIn) -> People:
    this = services.trusted_browser(request)
    people = [
        KeptPerson(
            **_out(p).model_dump(), is_active=p.is_active, has_password=p.has_usable_password(), last_in=p.last_login
        )
        for p in Person.objects.order_by("-is_active", "first_name")
    ]
    browsers = [
        BrowserOut(
            id=b.pk,
            trusted_by=b.trusted_by.display_name,
            offers=_offers(b),
            trusted_at=b.trusted_at,
            seen_at=b.seen_at,
            seen_from=b.seen_from,
            calls_itself=b.calls_itself,
            is_this=b == this,
        )
        for b in TrustedBrowser.objects.select_related("trusted_by").order_by("-seen_at")
    ]
    return People(people=people, browsers=browsers)


def _offers(browser: TrustedBrowser) -> str:
    if not browser.trusted_by.is_active:
        return "nobody"
    return "everybody" if browser.trusted_by.role == Person.Role.TECHNICIAN else "readers"


@router.get("/people", response=People, operation_id="people")
def people(request: SignedIn) -> People:
    """Everybody of the shop, and every browser that is trusted: for its keeper."""
    require_keeper(request)
    return _people(request)


@router.post("/people", response=People, operation_id="person_add")
def person_add(request: SignedIn, data: NewPerson) -> People:
    """Add a person to the shop."""
    require_keeper(request)
    keeping_people.add_person(**data.model_dump())
    return _people(request)


@router.patch("/people/{person_id}", response=People, operation_id="person_change")
def person_change(request: SignedIn, person_id: int, data: PersonChange) -> People:
    """Rename, give or refuse a password or PIN, disable or let in again, make a keeper."""
    require_keeper(request)
    person = get_object_or_404(Person, pk=person_id)
    keeping_people.change_person(person, data.model_dump(exclude_none=True))
    return _people(request)


@router.post("/people/{person_id}/sign-out", response=People, operation_id="person_sign_out")
def person_sign_out(request: SignedIn, person_id: int) -> People:
    """Sign a person out everywhere."""
    require_keeper(request)
    keeping_people.sign_out_everywhere(get_object_or_404(Person, pk=person_id))
    return _people(request)


@router.delete("/browsers/{browser_id}", response=People, operation_id="browser_withdraw")
def browser_withdraw(request: SignedIn, browser_id: int) -> People:
    """Trust a browser no more."""
    require_keeper(request)
    keeping_people.withdraw_browser(get_object_or_404(TrustedBrowser, pk=browser_id))
    return _people(request)
