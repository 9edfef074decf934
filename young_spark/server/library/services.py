"""What the shop has to measure with, and to judge by."""

from functools import lru_cache

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from young_spark.core.figure import Instrument
from young_spark.core.gear import Model
from young_spark.core.ground import BadKnowledge, parse
from young_spark.core.judging import Profile, profiles
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.library.models import ShopInstrument, ShopProfile
from young_spark.server.problems import Refused


def shop_instruments() -> dict[str, Instrument]:
    """The shop's instruments by id, as the core knows them."""
    today = timezone.now().date()
    rows = ShopInstrument.objects.order_by("name").prefetch_related("checks")
    return {row.id: row.as_instrument(today) for row in rows}


def profiles_of(model: Model | None) -> dict[str, Profile]:
    """The limit profiles a model is judged by; none without a model. A copy of this shop stands in its original's place."""
    names = model.profiles if model else ()
    known = profiles() | (own_profiles() if names else {})
    return {name: known[name] for name in names if name in known}


def own_profiles() -> dict[str, Profile]:
    """This shop's copies that judge now, by the shipped profile whose place each has. One that this version of the program does
    not understand (`not_understood`) leaves the judging to the shipped one."""
    found = {name: _understood(row) for name, row in _newest().items()}
    return {name: copy for name, copy in found.items() if isinstance(copy, Profile)}


def not_understood() -> dict[str, str]:
    """Why a copy of this shop does not judge, by the profile whose place it would have."""
    found = {name: _understood(row) for name, row in _newest().items()}
    return {name: why for name, why in found.items() if isinstance(why, str)}


def _newest() -> dict[str, ShopProfile]:
    rows = ShopProfile.objects.filter(withdrawn_at=None)  # in order: the last of each stays
    return {row.of: row for row in rows if row.of in profiles()}


def _understood(row: ShopProfile) -> Profile | str:
    try:
        return _read(row.text, row.of, row.number)
    except BadKnowledge as refusal:
        return str(refusal)


@lru_cache(maxsize=256)
def _read(text: str, name: str, number: int) -> Profile:
    """A copy as a profile; its version says which of the shop's it is."""
    made = parse(text, name, Profile)
    return made.model_copy(update={"version": f"{made.version}, shop {number}"})


@transaction.atomic
def keep_profile(*, actor: Person, name: str, text: str) -> None:
    """Judge by this text from now on in the place of a shipped profile. Raises Refused with line and row of each problem."""
    require_technician(actor)
    shipped = profiles()[name]
    try:
        made = parse(text, name, Profile)
    except BadKnowledge as refusal:
        raise Refused(str(refusal)) from refusal
    if made.kind != shipped.kind:
        raise Refused(f"{name}: kind is {made.kind!r}; a copy stays what its original is, {shipped.kind!r}.")
    newest = ShopProfile.objects.filter(of=name, withdrawn_at=None).last()
    if newest is None or newest.text != text:
        last = ShopProfile.objects.filter(of=name).aggregate(last=Max("number"))["last"] or 0
        ShopProfile.objects.create(of=name, number=last + 1, text=text, by=actor)


@transaction.atomic
def withdraw_profile(*, actor: Person, name: str) -> None:
    """Judge by the shipped profile again; the copies stay to be read, what they judged keeps their version."""
    require_technician(actor)
    ShopProfile.objects.filter(of=name, withdrawn_at=None).update(withdrawn_at=timezone.now())
