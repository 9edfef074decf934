"""The chains of this shop: those that ship, its corrected copies of them, and those it drew itself."""

import re

from django.db.models import Count, QuerySet

from young_spark.core.trace import Chain, chain_from, chain_names, shipped_chain
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.library.models import OwnText
from young_spark.server.library.own_texts import OwnTexts
from young_spark.server.problems import Refused
from young_spark.server.tracing.models import Trace
from young_spark.server.writing import writing

NAME = re.compile(r"[a-z][a-z0-9-]{1,59}")


OWN_CHAINS = OwnTexts(OwnText.Kind.CHAINS, lambda text, name: chain_from(text, name, name))


def chain_of(name: str) -> tuple[Chain, int]:
    """A chain as this shop has it, and which of its own versions that is (0: as shipped). An own text that this
    version of the program does not understand gives way to the shipped one. Raises UnknownName, and BadKnowledge
    where nothing else is there."""
    return as_it_stands(name, OWN_CHAINS.newest(name))


def as_it_stands(name: str, own: OwnText | None) -> tuple[Chain, int]:
    """The same, where the shop's own text is at hand."""
    if own is None or (name in chain_names() and OWN_CHAINS.why_not(own)):
        return shipped_chain(name), 0
    return OWN_CHAINS.value(own), own.number


def teaching(name: str) -> QuerySet[Trace]:
    """The closed traces of a chain whose proven cause adds to its weights."""
    return Trace.objects.filter(chain=name, closed_at__isnull=False, teaches=True).exclude(proven="")


def learnt_by_chain() -> dict[str, int]:
    """How many closed traces teach, by chain; a chain that none taught is not there."""
    closed = Trace.objects.filter(closed_at__isnull=False, teaches=True).exclude(proven="")
    return dict(closed.values_list("chain").annotate(count=Count("pk")))


@writing()
def forget(*, actor: Person, name: str) -> None:
    """Trace along a chain as it was written, without what the jobs closed so far taught; they stay as they are."""
    require_technician(actor)
    teaching(name).update(teaches=False)


def keep_chain(*, actor: Person, name: str, text: str) -> None:
    """Trace along this text from now on. Raises Refused with the line of each problem."""
    require_technician(actor)
    if not NAME.fullmatch(name):
        raise Refused("A chain's name is small letters, figures and dashes.")
    OWN_CHAINS.checked(name, text)
    with writing():
        OWN_CHAINS.add(name, text, actor)


@writing()
def withdraw_chain(*, actor: Person, name: str) -> None:
    """Back to the shipped chain. One that was drawn here stays as long as a trace goes along it."""
    require_technician(actor)
    if name not in chain_names() and Trace.objects.filter(chain=name).exists():
        raise Refused("A trace goes along that chain: it is corrected, not taken away.")
    OWN_CHAINS.withdraw(name)
