"""What the sources of a model say against each other: its due figure, its limits and what its units left with. Nothing
is resolved here: who reads the sheet decides whom to believe."""

from collections.abc import Sequence
from itertools import combinations

from young_spark.core.figure import format_value
from young_spark.core.ground import Frozen
from young_spark.core.judging.limits import VerdictLine

LEAST_UNITS = 2  # of the shop's own: one alone may be the odd one
SPREADS = 3.0  # of half the middle half of them, and at least
LEAST_SHARE, LEAST_DB = 0.2, 3.0  # of what is due, or so many decibels
DECIBELS = {"dB", "dBc", "dBm"}


class Healthy(Frozen):
    """What units of a model left with: the median, half the spread of the middle half, and how many they are."""

    median: float
    half_spread: float | None
    units: int


def contradictions(
    due: float | None, unit: str, limits: Sequence[VerdictLine], healthy: Healthy | None
) -> tuple[str, ...]:
    """Each pair of sources that cannot both be right for one line of a plan, as one sentence each; `due` and the
    figures of `healthy` are in `unit`, the quantity's own."""
    told = [] if due is None else [_outside(due, unit, line) for line in limits]
    told += [_nothing_between(*pair) for pair in combinations(limits, 2)]
    if due is not None and healthy is not None:
        told.append(_left_otherwise(due, unit, healthy))
    return tuple(dict.fromkeys(sentence for sentence in told if sentence))


def _outside(due: float, unit: str, line: VerdictLine) -> str:
    below = line.low is not None and due < line.low
    above = line.high is not None and due > line.high
    if not below and not above:
        return ""
    return f"Due {format_value(due, unit, figures=3)}, against {line.words} ({line.source})."


def _nothing_between(one: VerdictLine, other: VerdictLine) -> str:
    """Two limits that no figure meets."""
    for low, high in ((one, other), (other, one)):
        if low.low is not None and high.high is not None and low.low > high.high:
            return f"No figure meets both {low.words} ({low.source}) and {high.words} ({high.source})."
    return ""


def _left_otherwise(due: float, unit: str, healthy: Healthy) -> str:
    reach = LEAST_DB if unit in DECIBELS else LEAST_SHARE * abs(due)
    if healthy.half_spread is not None:
        reach = max(reach, SPREADS * healthy.half_spread)
    if healthy.units < LEAST_UNITS or unit == "Hz" or abs(healthy.median - due) <= reach:
        return ""
    read = format_value(healthy.median, unit, figures=3)
    return f"Due {format_value(due, unit, figures=3)}, against {read} that {healthy.units} units left here with."
