"""Figures that nobody names, of a size with what was read last: 'after that 1.2', 'with my lead 1.3 on ch1'."""

from collections.abc import Sequence

from young_spark.core.entry.fact import Fact
from young_spark.core.entry.meaning import EntryContext
from young_spark.core.figure import quantity

FARTHEST = 10.0  # times what was read last
LONGEST = 12  # facts; more of them tell of something else
NAMING = {"quantity", "result"}


def as_before(facts: Sequence[Fact], plain: str, context: EntryContext) -> str | None:
    """The text under the name of what was read last, where its bare figures may be the same again; None where they
    count or name something."""
    last = context.earlier[-1] if context.earlier else None
    figures = [f for f in facts if f.kind == "figure"]
    if last is None or not figures or len(facts) > LONGEST or any(f.kind in NAMING for f in facts):
        return None
    if "?" in plain or not all(_may_be_as(f, last.value) for f in figures):
        return None
    return f"{quantity(last.quantity).name.lower()} {plain}"


def _may_be_as(fact: Fact, last: float) -> bool:
    """Whether a bare figure was read rather than counted, and is of a size with the one before."""
    read = fact.unit is None and (fact.decimals > 0 or fact.signed)
    return read and last != 0 and 1 / FARTHEST < abs(fact.value / last) < FARTHEST
