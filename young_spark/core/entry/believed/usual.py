"""How usual a figure is of a quantity on this unit: by what was read of it before, by what is due on the current line,
by what such figures are on any bench."""

import math
from functools import cache

from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.entry.facts.said import UNIT_OF, Said
from young_spark.core.ground import SHIPPED, Frozen, load

DECIBELS = {"dB", "dBc", "dBm"}
A_DECADE_DB = 20.0  # of levels: as far apart as a factor of ten of other figures
A_DECADE = 1.0
FARTHEST = 2.0  # decades: beyond them one is as unusual as another
OUT_OF_RANGE = 1.0  # decades that it counts for, besides how far

NEAR_DUE = 3.0  # times what is due: as usual as that
LESS = 0.5  # of how far it is from what was read before: faults move figures

Range = tuple[float, float]


class _Usual(Frozen):
    """The data file: the least and the greatest of each, without its sign."""

    of_the_power: dict[str, Range]
    absolute: dict[str, Range]


@cache
def _usual() -> _Usual:
    return load(SHIPPED / "entry" / "usual.toml", _Usual)


def how_far(said: Said, context: EntryContext) -> float:
    """How far a figure is from what is usual, in decades: 0 where it is what was read before or is due."""
    return how_far_is(said.quantity or "", said.value if said.value is not None else said.high, context)


def how_far_is(quantity: str, value: float | None, context: EntryContext) -> float:
    """How far a value, in its quantity's unit, is from what is usual, in decades."""
    if value is None:
        return 0.0
    outside = _outside(quantity, abs(value), context)
    beyond = outside + OUT_OF_RANGE if outside else 0.0
    known = min((_apart(quantity, value, near) for near in _known(quantity, context)), default=0.0)
    return min(FARTHEST, beyond + LESS * known)


def _outside(quantity: str, value: float, context: EntryContext) -> float:
    """How far a figure is out of its usual range, in decades; 0 inside, and where nobody knows."""
    most, share = context.greatest_power_w, _usual().of_the_power.get(quantity)
    if most is not None and share is not None:
        low, high = share[0] * most, share[1] * most
    elif quantity in _usual().absolute:
        low, high = _usual().absolute[quantity]
    else:
        return 0.0
    due = _due(quantity, context)
    if due is not None:  # a low setting is due at less than the unit usually gives
        low, high = min(low, due / NEAR_DUE), max(high, due * NEAR_DUE)
    nearest = min(max(value, low), high)
    return _apart(quantity, value, nearest)


def _known(quantity: str, context: EntryContext) -> list[float]:
    """What it was last, and what is due on the current line."""
    last, due = context.last(quantity), _due(quantity, context)
    return [near for near in (None if last is None else last.value, due) if near is not None]


def _due(quantity: str, context: EntryContext) -> float | None:
    wanted = context.expected
    return wanted.expected if wanted is not None and wanted.quantity == quantity else None


def _apart(quantity: str, value: float, other: float) -> float:
    """How far two figures are apart, in decades; hertz of an error and what is nothing are as far as any."""
    if value == other:
        return 0.0
    if UNIT_OF.get(quantity) in DECIBELS:
        return abs(value - other) / A_DECADE_DB
    if quantity == "frequency_error" or not value or not other:
        return 0.0 if quantity == "frequency_error" else A_DECADE
    return abs(math.log10(abs(value / other)))
