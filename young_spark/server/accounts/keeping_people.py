"""Who is of the shop, by the hand of its keeper: people added, renamed, given or refused a password or a PIN, disabled,
signed out everywhere; browsers trusted no more."""

from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import PermissionDenied, ValidationError
from django.core.validators import RegexValidator
from django.db import transaction

from young_spark.server.accounts.models import Person, SignedIn, TrustedBrowser, WrongTry
from young_spark.server.accounts.services import SESSION_TAPPED, hashing
from young_spark.server.bulletin import bulletin
from young_spark.server.problems import Refused

A_PIN = RegexValidator(r"^\d{4,8}$", "A PIN has four to eight digits.")


def require_keeper(request: SignedIn) -> Person:
    """Who asks, as a keeper who proved it; anyone else is refused. A name that was tapped proves nothing by itself."""
    if not request.user.is_active or not request.user.is_keeper:
        raise PermissionDenied("Only a keeper of the shop may do that.")
    if request.session.get(SESSION_TAPPED):
        raise PermissionDenied("Your name was only tapped: sign in with your password, or have a PIN, to keep people.")
    return request.user


def add_person(name: str, *, role: str, password: str = "", pin: str = "", is_keeper: bool = False) -> Person:
    """A new person. Without a password they can only be tapped, on a browser that is trusted. Raises Refused."""
    person = Person(username=name.strip(), role=role, is_keeper=is_keeper)
    person.set_unusable_password()
    return _kept(person, {"password": password, "pin": pin, "name": name})


def change_person(person: Person, changes: dict[str, Any]) -> Person:
    """Change a person: `name`, `role`, `is_keeper`, `is_active`, `password` and `pin` (empty: none any more). Raises
    Refused, and when nobody would be left who keeps the shop."""
    with transaction.atomic():
        person.refresh_from_db()
        for name in ("role", "is_keeper", "is_active"):
            if name in changes:
                setattr(person, name, changes[name])
        kept = Person.objects.filter(is_active=True, is_keeper=True).exclude(pk=person.pk)
        if not (person.is_active and person.is_keeper) and not kept.exists():
            raise Refused("Somebody must keep the shop: make another keeper first.")
    made = _kept(person, changes)
    if not person.is_active or "password" in changes or "role" in changes:
        end_streams(person)
    return made


def _kept(person: Person, changes: dict[str, Any]) -> Person:
    """Store a person once everything about them holds; hashing happens before anything is written."""
    try:
        if "name" in changes:
            person.username = person.first_name = str(changes["name"]).strip()
            alike = Person.objects.filter(username__iexact=person.username).exclude(pk=person.pk)
            if alike.exists():
                raise Refused(f"{person.username} is known already.")
        if changes.get("password"):
            validate_password(changes["password"], person)
        if changes.get("pin"):
            A_PIN(changes["pin"])
        with hashing():
            if "password" in changes:
                person.set_password(changes["password"] or None)
            if "pin" in changes:
                person.set_pin(changes["pin"])
        person.full_clean(exclude=["password"])
    except ValidationError as problem:
        raise Refused(" ".join(problem.messages)) from problem
    person.save()
    if "pin" in changes or "password" in changes:
        WrongTry.objects.filter(name=person.username).delete()
    return person


def sign_out_everywhere(person: Person) -> None:
    """End every session of a person, wherever it is."""
    with transaction.atomic():
        person.refresh_from_db()
        person.signed_out += 1
        person.save(update_fields=["signed_out"])
    end_streams(person)


def withdraw_browser(browser: TrustedBrowser) -> None:
    """Trust a browser no more; what is signed in on it is signed out with its next request."""
    number = browser.pk
    browser.delete()
    bulletin.end(lambda followed_by: followed_by.browser == number)


def end_streams(person: Person) -> None:
    """End what a person's pages follow; those that are still signed in come back by themselves."""
    number = person.pk
    bulletin.end(lambda followed_by: followed_by.person == number)
