"""Readings of a breath taken together as one meaning: worked out, judged where each stands, or asked as doubtful."""

from dataclasses import replace

from young_spark.core.entry.believed.nothing_lost import REMARK
from young_spark.core.entry.believed.surety import is_believable
from young_spark.core.entry.facts.meaning import EntryContext, Meaning, Understanding
from young_spark.core.entry.facts.said import Breath
from young_spark.core.entry.facts.verdicts import verdicts_of
from young_spark.core.entry.sums.guard import guard
from young_spark.core.entry.understood.doubtful import is_doubtful
from young_spark.core.entry.understood.one_figure import as_repeated, figure_words
from young_spark.core.entry.understood.several import Placed, placed_readings
from young_spark.core.entry.wording.tokens import Token, Unclear, cut, folded
from young_spark.core.figure import quantity
from young_spark.core.ground import OutOfDomain


def placed_for_sure(breath: Breath, plain: str, context: EntryContext) -> list[Placed] | None:
    """The readings of a breath that may be taken without asking, worked out; None where there are none."""
    if not breath.sure or not is_believable(breath, plain, context):
        return None
    try:
        return placed_readings(breath, context) or None
    except (Unclear, OutOfDomain, OverflowError):
        return None


def taken_for_sure(
    text: str, plain: str, breath: Breath, placed: list[Placed], context: EntryContext
) -> Understanding | None:
    taken = taken_together(text, placed, breath.remark, context)
    return None if is_doubtful(breath, taken, plain, context) else taken


def taken_together(text: str, placed: list[Placed], remark: str, context: EntryContext) -> Understanding:
    """Several readings as one meaning, each judged where it stands; the remark stays with the first of them."""
    first, *others = as_repeated(tuple(p.reading for p in placed), context)
    placed = [replace(p, reading=r) for p, r in zip(placed, (first, *others), strict=True)]
    if remark:
        told = placed[0].reading
        kept = told.model_copy(update={"remarks": (f"{REMARK}{remark}", *told.remarks)})
        placed = [replace(placed[0], reading=kept), *placed[1:]]
    fed_v = _fed_with(placed)
    placed = [_at_its_supply(p, fed_v) for p in placed]
    verdicts = tuple(verdicts_of(p.reading, p.conditions, context, fed_v) for p in placed)
    principal = placed[0]
    meaning = Meaning(
        title=quantity(principal.reading.quantity).name,
        figure=figure_words(principal.reading),
        readings=tuple(p.reading for p in placed),
        verdicts=verdicts,
        conditions=principal.conditions,
        each=tuple(p.conditions for p in placed),
        remark=remark,
    )
    guards = guard(principal.reading, principal.conditions, context, _tokens(text))
    return Understanding(text=text, meanings=(meaning,), chosen=0, guards=guards)


def _fed_with(placed: list[Placed]) -> float | None:
    """The volts that were read at the supply beside the other figures."""
    volts = [p.reading.value for p in placed if p.reading.quantity == "supply_voltage" and p.conditions.place is None]
    return volts[-1] if volts else None


def _at_its_supply(one: Placed, fed_v: float | None) -> Placed:
    """A figure stands at the volts that were read beside it, whatever the plan asks for."""
    if not fed_v or one.reading.quantity == "supply_voltage":
        return one
    return replace(one, conditions=one.conditions.model_copy(update={"supply_v": fed_v}))


def _tokens(text: str) -> list[Token]:
    """The text as the guard looks at it; empty where a number has two readings."""
    try:
        return cut(folded(text))
    except Unclear:
        return []
