"""The shop's own channel plans, instrument definitions and words: as text, checked, followed by another version or
withdrawn."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from django.http import Http404
from ninja import Field, Router, Schema

from young_spark.core.judging import channel_plans
from young_spark.core.live import definitions
from young_spark.server.accounts.models import SignedIn
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import bulletin
from young_spark.server.library.models import OwnText, ShopInstrument
from young_spark.server.library.own_models import known_models
from young_spark.server.library.own_texts import NAME, OwnTexts
from young_spark.server.library.services import OWN_DEFINITIONS, OWN_PLANS, OWN_WORDS, THE_WORDS
from young_spark.server.problems import Refused
from young_spark.server.writing import writing

router = Router(tags=["library"])
TextKind = Literal["channels", "definitions", "words"]
FIRST_WORDS = '# What we say, and which word of the program it stands for.\n[words]\n# wobble = "drift"\n'


@dataclass(frozen=True)
class _Kept:
    """One kind: its own texts, the titles of what ships, and the text that a first one begins with."""

    texts: OwnTexts[Any]
    begin: str = ""

    def shipped(self) -> Mapping[str, str]:
        """What ships, by name, with its title."""
        if self.texts is OWN_PLANS:
            return {name: plan.title for name, plan in channel_plans().items()}
        if self.texts is OWN_DEFINITIONS:
            return {name: asked.title for name, asked in definitions().items()}
        return {}


KEPT: dict[str, _Kept] = {
    "channels": _Kept(OWN_PLANS),
    "definitions": _Kept(OWN_DEFINITIONS),
    "words": _Kept(OWN_WORDS, FIRST_WORDS),
}


class OwnTextRow(Schema):
    """One text of a kind; `changed`: what ships in its place is not what it was copied from."""

    id: str
    title: str
    ours: bool
    changed: bool
    not_understood: str


class OwnTextVersion(Schema):
    number: int
    at: datetime
    by: str
    text: str


class OwnTextOut(Schema):
    """A text as it is edited; `changed` says line by line what ships differently since it was copied."""

    id: str
    text: str
    ours: bool
    shipped: bool
    changed: str
    versions: list[OwnTextVersion]


class OwnTextIn(Schema):
    text: str = Field(max_length=200_000)


def _title(kept: _Kept, row: OwnText) -> str:
    value = None if kept.texts.why_not(row) else kept.texts.value(row)
    return getattr(value, "title", "") or row.name


def _rows(kept: _Kept) -> list[OwnTextRow]:
    standing, shipped = kept.texts.standing(), kept.shipped()
    rows = [
        OwnTextRow(id=name, title=title, ours=False, changed=False, not_understood="")
        for name, title in shipped.items()
        if name not in standing
    ]
    rows += [
        OwnTextRow(
            id=name,
            title=_title(kept, row),
            ours=True,
            changed=kept.texts.changed(row),
            not_understood=kept.texts.why_not(row),
        )
        for name, row in standing.items()
    ]
    return sorted(rows, key=lambda row: row.title.lower())


def _text(kept: _Kept, name: str) -> OwnTextOut:
    own, shipped = kept.texts.newest(name), kept.texts.shipped(name)
    if own is None and not shipped and not kept.begin:
        raise Http404
    return OwnTextOut(
        id=name,
        text=own.text if own is not None else shipped or kept.begin,
        ours=own is not None,
        shipped=bool(shipped),
        changed=kept.texts.difference(own) if own is not None else "",
        versions=[
            OwnTextVersion(number=v.number, at=v.at, by=v.by.display_name, text=v.text)
            for v in kept.texts.versions(name)
        ],
    )


def _name(kind: TextKind, name: str) -> str:
    """The name that a text may be kept under. Raises Refused."""
    if kind == "words" and name != THE_WORDS:
        raise Refused("A shop has one list of words.")
    if not NAME.fullmatch(name):
        raise Refused("A name is small letters, figures and dashes.")
    return name


def _kept_to_by(plan: str) -> str:
    """A model that keeps to a channel plan, or an empty string."""
    return next((model.title for model in known_models().values() if model.channel_plan == plan), "")


def _must_not_be_used(kind: TextKind, name: str) -> None:
    """Raises Refused where something would be left without what is taken away."""
    if kind == "channels" and (by := _kept_to_by(name)):
        raise Refused(f"{by} keeps to that plan: it would be left without channels.")
    asked = (
        ShopInstrument.objects.filter(definition=name).exclude(address="").first() if kind == "definitions" else None
    )
    if asked is not None:
        raise Refused(f"{asked.name} is asked by that file: choose another for it first.")


def _told(kind: TextKind, name: str) -> None:
    """Tell whoever talks to instruments that one is asked in another way from now on."""
    if kind == "definitions":
        bulletin.publish("definitions", {"name": name})


@router.get("/texts/{kind}", response=list[OwnTextRow], operation_id="texts")
def texts(request: SignedIn, kind: TextKind) -> list[OwnTextRow]:
    """Every channel plan, every definition file, or the shop's words."""
    return _rows(KEPT[kind])


@router.get("/texts/{kind}/{name}", response=OwnTextOut, operation_id="text")
def text(request: SignedIn, kind: TextKind, name: str) -> OwnTextOut:
    """One as text, to be corrected or copied."""
    return _text(KEPT[kind], name)


@router.put("/texts/{kind}/{name}", response=OwnTextOut, operation_id="text_keep")
def text_keep(request: SignedIn, kind: TextKind, name: str, data: OwnTextIn) -> OwnTextOut:
    """Keep this text from now on; refused with the line where it is not understood."""
    require_technician(request.user)
    kept, named = KEPT[kind], _name(kind, name)
    kept.texts.checked(named, data.text)
    with writing():
        kept.texts.add(named, data.text, request.user)
    _told(kind, named)
    return _text(kept, named)


@router.post("/texts/{kind}/{name}/withdraw", response=list[OwnTextRow], operation_id="text_withdraw")
def text_withdraw(request: SignedIn, kind: TextKind, name: str) -> list[OwnTextRow]:
    """Have what ships stand again, or take away what the shop wrote itself; its versions stay to be read."""
    require_technician(request.user)
    kept = KEPT[kind]
    if kept.texts.newest(name) is None:
        raise Http404
    if not kept.texts.shipped(name):
        _must_not_be_used(kind, name)
    with writing():
        kept.texts.withdraw(name)
    _told(kind, name)
    return _rows(kept)
