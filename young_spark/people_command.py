"""./spark person …: who is of the shop, from the terminal of the machine that it runs on."""

import getpass
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from young_spark.starting import ROOT, migrated, refuse, use_data

if TYPE_CHECKING:
    from young_spark.server.accounts.models import Person

app = typer.Typer(help="Who is of the shop: add, change, disable, sign out; which browsers are trusted.")
Data = Annotated[Path | None, typer.Option(help="Folder that holds everything entered.")]
Role = Annotated[str, typer.Option(help="technician or reader")]
Keeper = Annotated[bool, typer.Option("--keeper", help="Whether they keep the shop's people.")]


@contextmanager
def _people(data: Path | None) -> Iterator[None]:
    """The shop's data file, ready; a refusal ends the command with its sentence."""
    folder = (data or ROOT / "data" / "shop").resolve()
    use_data(folder)
    migrated(folder)
    from young_spark.server.problems import Refused

    try:
        yield
    except Refused as refusal:
        raise typer.Exit(refuse(refusal.sentence)) from refusal


def _known(name: str) -> "Person":
    from young_spark.server.accounts.models import Person
    from young_spark.server.problems import Refused

    person = Person.objects.filter(username__iexact=name).first()
    if person is None:
        raise Refused(f"nobody is called {name}; './spark person list' shows who is known")
    return person


def asked_password() -> str:
    """The password of YOUNG_SPARK_PASSWORD, or one asked for."""
    return os.environ.get("YOUNG_SPARK_PASSWORD") or getpass.getpass("Password: ")


def _change(of: str, data: Path | None, words: str, **changes: Any) -> None:
    with _people(data):
        from young_spark.server.accounts.keeping_people import change_person

        person = change_person(_known(of), changes)
        print(f"{person.display_name} {words}.")


@app.command("list")
def list_people(data: Data = None) -> None:
    """Print who is known, and which browsers are trusted."""
    with _people(data):
        from young_spark.server.accounts.models import Person, TrustedBrowser

        for person in Person.objects.order_by("-is_active", "first_name"):
            told = [person.role, *(["keeper"] if person.is_keeper else [])]
            told += [] if person.has_usable_password() else ["no password"]
            told += ["PIN"] if person.pin_hash else ["no PIN"]
            told += [] if person.is_active else ["disabled"]
            print(f"{person.display_name}: {', '.join(told)}")
        for browser in TrustedBrowser.objects.select_related("trusted_by").order_by("pk"):
            print(
                f"browser {browser.pk}: trusted by {browser.trusted_by.display_name}, last seen "
                f"{browser.seen_at:%Y-%m-%d %H:%M} UTC from {browser.seen_from or 'nowhere yet'}"
            )


@app.command()
def add(name: str, role: Role = "technician", keeper: Keeper = False, data: Data = None) -> None:
    """Add a person; asks for the password, or takes YOUNG_SPARK_PASSWORD."""
    with _people(data):
        from young_spark.server.accounts.keeping_people import add_person

        add_person(name, role=role, password=asked_password(), is_keeper=keeper)
        print(f"{name} is of the shop.")


@app.command()
def rename(name: str, new_name: str, data: Data = None) -> None:
    """Give a person another name."""
    _change(name, data, "it is from now on", name=new_name)


@app.command()
def password(
    name: str,
    none: Annotated[
        bool, typer.Option("--none", help="No password any more: only a tap on a trusted browser.")
    ] = False,
    data: Data = None,
) -> None:
    """Give a person a new password, or none; whoever is signed in with the old one is signed out."""
    _change(
        name, data, "has a new password" if not none else "has no password", password="" if none else asked_password()
    )


@app.command()
def pin(
    name: str,
    new_pin: Annotated[str, typer.Argument(help="Four to eight digits; nothing takes it away.")] = "",
    data: Data = None,
) -> None:
    """Give a person a PIN, or take it away."""
    _change(name, data, "has a new PIN" if new_pin else "has no PIN", pin=new_pin)


@app.command()
def role(name: str, role: str, data: Data = None) -> None:
    """Make a person a technician or a reader."""
    _change(name, data, f"is a {role}", role=role)


@app.command()
def keeper(
    name: str, data: Data = None, no: Annotated[bool, typer.Option("--no", help="Keeper no more.")] = False
) -> None:
    """Let a person keep the shop's people, or no more."""
    _change(name, data, "keeps the shop" if not no else "keeps the shop no more", is_keeper=not no)


@app.command()
def disable(name: str, data: Data = None) -> None:
    """Let a person in no more; their lines stay, the browsers that they trusted are trusted no more."""
    _change(name, data, "is let in no more", is_active=False)


@app.command()
def enable(name: str, data: Data = None) -> None:
    """Let a person in again."""
    _change(name, data, "is let in again", is_active=True)


@app.command("sign-out")
def sign_out(name: str, data: Data = None) -> None:
    """Sign a person out everywhere."""
    with _people(data):
        from young_spark.server.accounts.keeping_people import sign_out_everywhere

        sign_out_everywhere(_known(name))
        print(f"{name} is signed out everywhere, within ten seconds.")


@app.command()
def withdraw(browser: int, data: Data = None) -> None:
    """Trust a browser no more: its number is in './spark person list'."""
    with _people(data):
        from young_spark.server.accounts.keeping_people import withdraw_browser
        from young_spark.server.accounts.models import TrustedBrowser
        from young_spark.server.problems import Refused

        known = TrustedBrowser.objects.filter(pk=browser).first()
        if known is None:
            raise Refused(f"there is no browser {browser}; './spark person list' shows which are trusted")
        withdraw_browser(known)
        print(f"Browser {browser} is trusted no more.")
