"""Figures that nobody names, of a size with what was read last: 'after that 1.2', 'with my lead 1.3 on ch1'."""

import re
from collections.abc import Sequence
from dataclasses import replace

from young_spark.core.entry.fact import Fact
from young_spark.core.entry.meaning import EntryContext
from young_spark.core.entry.repairs import MONEY

FARTHEST = 10.0  # times what was read last
LONGEST = 12  # facts; more of them tell of something else
NAMING = {"quantity", "result"}


def may_be_as_before(facts: Sequence[Fact], plain: str, context: EntryContext) -> bool:
    """Whether the bare figures of a text may be of what was read last; not where they count or name something."""
    last = context.earlier[-1] if context.earlier else None
    figures = [f for f in facts if f.kind == "figure"]
    if last is None or not figures or len(facts) > LONGEST or any(f.kind in NAMING for f in facts):
        return False
    return "?" not in plain and all(_may_be_as(f, last.value) for f in figures)


LEFT_BARE = re.compile(r"(?<![\w.,£$€/-])(?P<word>[a-z]+) (?P<figure>[+-]?\d*\.?\d+)(?P<now> now)?$")
OF_A_PART = {"fuse", "resistor", "cap", "capacitor", "element", "pin", "valve", "crystal", "xtal", "type", "ohm", "of"}


def as_before_in(plain: str, context: EntryContext) -> str | None:
    """The bare figure that ends a line of words and may be what was read last, once more: 'new plug 1.4' behind an SWR
    of 4.1. None where it is rather what a part is called by, or cost."""
    found, last = LEFT_BARE.search(plain), context.earlier[-1] if context.earlier else None
    if found is None or last is None or found["word"] in OF_A_PART or MONEY.search(plain):
        return None
    fact = Fact(
        "figure", found["figure"], value=float(found["figure"]), decimals=len(found["figure"].partition(".")[2])
    )
    read = _may_be_as(replace(fact, signed=fact.text[0] in "+-" or bool(found["now"])), last.value)
    return found["figure"] if read else None


def _may_be_as(fact: Fact, last: float) -> bool:
    """Whether a bare figure was read rather than counted, and is of a size with the one before."""
    read = fact.unit is None and (fact.decimals > 0 or fact.signed)
    return read and last != 0 and 1 / FARTHEST < abs(fact.value / last) < FARTHEST
