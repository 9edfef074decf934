"""Who is at the bench: signing in, tapping a name, signing out."""

from django.contrib.auth import logout
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import csrf_protect
from ninja import Field, Router, Schema, Status
from ninja.decorators import decorate_view

from young_spark.server.accounts import services
from young_spark.server.accounts.models import Person, SignedIn
from young_spark.server.bulletin import bulletin

router = Router(tags=["accounts"])


class PersonOut(Schema):
    id: int
    name: str
    role: str
    has_pin: bool


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
    pin: str = Field("", pattern=r"^(\d{4,8})?$")


def _out(person: Person) -> PersonOut:
    return PersonOut(id=person.pk, name=person.display_name, role=person.role, has_pin=bool(person.pin_hash))


def _me(request: HttpRequest, person: Person | None) -> Me:
    event = bulletin.newest if person else ""
    trusted = person is not None or services.trusted_browser(request) is not None
    people = [_out(p) for p in Person.objects.filter(is_active=True).order_by("first_name")] if trusted else []
    return Me(person=_out(person) if person else None, trusted=trusted, people=people, event=event)


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
    logout(request)
    return _me(request, None)


@router.post("/pin", response={204: None}, operation_id="set_pin")
def set_pin(request: SignedIn, data: PinSent) -> Status[None]:
    """Set one's own PIN (four to eight digits), or take it away with an empty one."""
    services.set_pin(request.user, data.pin)
    return Status(204, None)
