"""This unit beside others: as it came in, a sibling, the last visit, this shop's healthy ones; an address a row, and
what differs by more than both spreads marked in words."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from young_spark.core.figure import Conditions, format_value, quantity
from young_spark.core.ground import Frozen
from young_spark.core.job.history import Ghost
from young_spark.core.job.in_words import where_words
from young_spark.core.job.plans import ReadingFact

OF_THE_UNIT = {None, "load"}  # items that are no other box
OF_A_POINT = (
    "place", "function", "mode", "channel", "channels", "frequency_hz", "band", "state", "power_setting", "setting",
    "heat", "after_s", "instrument",
)  # fmt: skip
IN_DECIBELS = {"W"}  # of a ratio of powers
OF_ITS_OWN = {"Hz", "dB", "dBc", "dBm", "°C"}  # a difference in the unit itself
QUARTILES = 0.6745  # standard deviations from the median of a normal spread
NINETY_FIVE = 1.96

Address = tuple[object, ...]


@dataclass(frozen=True)
class Stood:
    """A figure at an address: its value where it has one, and the half-width of its 95 %."""

    name: str
    where: str
    unit: str
    figure: str
    value: float | None
    spread: float | None
    is_bound: bool = False


@dataclass(frozen=True)
class Beside:
    """A column: whose figures they are, by address."""

    title: str
    figures: Mapping[Address, Stood]


class ComparedCell(Frozen):
    """A figure, and how it differs from that of the first column; empty where both spreads cover the difference."""

    figure: str
    differs: str = ""


class ComparedRow(Frozen):
    name: str
    where: str
    cells: tuple[ComparedCell | None, ...]


class SideBySide(Frozen):
    """Columns beside each other; a row stands where at least two of them have a figure."""

    columns: tuple[str, ...]
    rows: tuple[ComparedRow, ...]


def as_read_last(title: str, facts: Iterable[ReadingFact]) -> Beside:
    """The newest figure at each address."""
    return Beside(title, {address_of(f): _stood(f) for f in facts if _tells(f)})


def as_first_read(title: str, facts: Iterable[ReadingFact]) -> Beside:
    """The first figure at each address, as it came in."""
    return as_read_last(title, reversed([f for f in facts if f.phase == "as_received"]))


def of_other_boxes(facts: Sequence[ReadingFact]) -> list[Beside]:
    """What was read of other boxes on the same slip: a column each, in the order in which they came."""
    named = dict.fromkeys(f.conditions.item for f in facts if f.conditions.item not in OF_THE_UNIT)
    return [as_read_last(str(item), [f for f in facts if f.conditions.item == item]) for item in named]


def of_healthy_ones(title: str, ghosts: Mapping[str, Ghost], facts: Sequence[ReadingFact]) -> Beside:
    """This shop's own figures at the lines of the plan that were read here."""
    found = {}
    for fact in facts:
        known = ghosts.get(fact.plan_row or "")
        if known is not None and _tells(fact):
            spread = None if known.half_spread is None else known.half_spread / QUARTILES * NINETY_FIVE
            own = _stood(fact)
            words = f"{format_value(known.median, own.unit)}, {known.units} unit{'s' if known.units > 1 else ''}"
            found[address_of(fact)] = Stood(own.name, own.where, own.unit, words, known.median, spread)
    return Beside(title, found)


def of_the_unit(facts: Iterable[ReadingFact]) -> list[ReadingFact]:
    """The figures of the unit itself."""
    return [f for f in facts if f.conditions.item in OF_THE_UNIT]


def side_by_side(columns: Sequence[Beside]) -> SideBySide:
    """The columns beside each other, held against the first; one that shares no address with another is left out."""
    columns = [*columns[:1], *(_as_said_in(columns[0], column) for column in columns[1:])]
    order = dict.fromkeys(address for column in columns for address in column.figures)
    shared = [a for a in order if sum(a in column.figures for column in columns) > 1]
    kept = [c for n, c in enumerate(columns) if n == 0 or any(a in c.figures for a in shared)]
    rows = []
    for address in shared:
        stood = [column.figures.get(address) for column in kept]
        there = next(s for s in stood if s is not None)
        cells = tuple(
            None if s is None else ComparedCell(figure=s.figure, differs=_differs(s, stood[0])) for s in stood
        )
        rows.append(ComparedRow(name=there.name, where=there.where, cells=cells))
    return SideBySide(columns=tuple(c.title for c in kept), rows=tuple(rows))


def _as_said_in(known: Beside, column: Beside) -> Beside:
    """The column with its figures at the addresses of another where they left out only the mode: a box that nobody
    described knows none."""
    by_the_rest = {_but_for_the_mode(a): a for a in known.figures}
    there = {by_the_rest.get(_but_for_the_mode(a), a) if a[MODE] is None else a: s for a, s in column.figures.items()}
    return Beside(column.title, there)


MODE = 1 + OF_A_POINT.index("mode")


def _but_for_the_mode(address: Address) -> Address:
    return (*address[:MODE], *address[MODE + 1 :])


def _cell(stood: Stood, held_against: Stood | None) -> ComparedCell:
    return ComparedCell(figure=stood.figure, differs=_differs(stood, held_against))


def address_of(fact: ReadingFact) -> Address:
    """Where a figure was read, whichever box it is of."""
    return (fact.quantity, *(getattr(fact.conditions, name) for name in OF_A_POINT))


def _tells(fact: ReadingFact) -> bool:
    return bool(fact.figure)


def _stood(fact: ReadingFact) -> Stood:
    told = quantity(fact.quantity)
    where = where_words(Conditions.model_validate({**fact.conditions.model_dump(), "item": None}))
    return Stood(told.name, where, told.unit, fact.figure, fact.value, fact.uncertainty, fact.is_bound)


def _differs(one: Stood, other: Stood | None) -> str:
    """'2.1 dB less', '18 % more', '+410 Hz', where neither spread covers it; a word or a bound beside a figure is
    otherwise, and by how much nobody knows."""
    if other is None or one is other:
        return ""
    if one.value is None or other.value is None or one.is_bound or other.is_bound:
        return "" if one.figure == other.figure else "otherwise"
    return _by_how_much(one, one.value, other, other.value)


def _by_how_much(one: Stood, value: float, other: Stood, than: float) -> str:
    by = value - than
    if abs(by) <= math.hypot(one.spread or 0.0, other.spread or 0.0):
        return ""
    more = "more" if by > 0 else "less"
    if one.unit in IN_DECIBELS and min(value, than) > 0:
        return f"{abs(10 * math.log10(value / than)):.1f} dB {more}"
    if one.unit in OF_ITS_OWN or than == 0:
        return format_value(by, one.unit, signed=True, figures=3)
    return f"{abs(100 * by / than):.0f} % {more}"
