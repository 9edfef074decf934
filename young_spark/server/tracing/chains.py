"""The chains of this shop: those that ship, its corrected copies of them, and those it drew itself."""

import re
from functools import lru_cache

from django.db import transaction
from django.db.models import Max, QuerySet
from django.utils import timezone

from young_spark.core.ground import CoreError
from young_spark.core.trace import Chain, chain_from, chain_names, shipped_chain
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.problems import Refused
from young_spark.server.tracing.models import ShopChain, Trace

NAME = re.compile(r"[a-z][a-z0-9-]{1,59}")


def standing() -> dict[str, ShopChain]:
    """The newest own text of each chain that has one and was not withdrawn."""
    return {row.name: row for row in ShopChain.objects.filter(withdrawn_at=None)}  # in order: the last of each stays


def chain_of(name: str) -> tuple[Chain, int]:
    """A chain as this shop has it, and which of its own versions that is (0: as shipped). An own text that this version of the
    program does not understand gives way to the shipped one. Raises UnknownName, and BadKnowledge where nothing else is there."""
    own = ShopChain.objects.filter(name=name, withdrawn_at=None).last()
    if own is None or (name in chain_names() and not_understood(own)):
        return shipped_chain(name), 0
    return _read(own.text, name), own.number


def not_understood(own: ShopChain) -> str:
    """Why an own text cannot be traced along, or an empty string."""
    try:
        _read(own.text, own.name)
    except CoreError as refusal:
        return str(refusal)
    return ""


@lru_cache(maxsize=64)
def _read(text: str, name: str) -> Chain:
    return chain_from(text, name, name)


def names() -> list[str]:
    """Every chain that can be traced along, in order of name."""
    return sorted({*chain_names(), *standing()})


def teaching(name: str) -> QuerySet[Trace]:
    """The closed traces of a chain whose proven cause adds to its weights."""
    return Trace.objects.filter(chain=name, closed_at__isnull=False, teaches=True).exclude(proven="")


@transaction.atomic
def forget(*, actor: Person, name: str) -> None:
    """Trace along a chain as it was written, without what the jobs closed so far taught; they stay as they are."""
    require_technician(actor)
    teaching(name).update(teaches=False)


@transaction.atomic
def keep_chain(*, actor: Person, name: str, text: str) -> None:
    """Trace along this text from now on. Raises Refused with the line of each problem."""
    require_technician(actor)
    if not NAME.fullmatch(name):
        raise Refused("A chain's name is small letters, figures and dashes.")
    try:
        chain_from(text, name, name)
    except CoreError as refusal:
        raise Refused(str(refusal)) from refusal
    newest = ShopChain.objects.filter(name=name, withdrawn_at=None).last()
    if newest is None or newest.text != text:
        add_chain(name, text, actor)


def add_chain(name: str, text: str, by: Person) -> None:
    """Write down the next version of an own chain, whose text was checked."""
    last = ShopChain.objects.filter(name=name).aggregate(last=Max("number"))["last"] or 0
    ShopChain.objects.create(name=name, number=last + 1, text=text, by=by)


@transaction.atomic
def withdraw_chain(*, actor: Person, name: str) -> None:
    """Back to the shipped chain. One that was drawn here stays as long as a trace goes along it."""
    require_technician(actor)
    if name not in chain_names() and ShopChain.used(name):
        raise Refused("A trace goes along that chain: it is corrected, not taken away.")
    ShopChain.objects.filter(name=name, withdrawn_at=None).update(withdrawn_at=timezone.now())
