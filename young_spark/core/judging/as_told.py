"""A figure held against what a hand said is due there: 'stby 210ma should be 45', 'dev 2.3, limit 2'."""

import math

from young_spark.core.figure import WORST_FIRST, Measured, format_value
from young_spark.core.ground import Frozen
from young_spark.core.judging.limits import FALL_SHORT, TOLD, TYPICAL, VerdictLine, judge_against, only_under
from young_spark.core.judging.profile import limit_words

SOURCE = "as it was typed"
NEAR = 0.1  # of what is due: nobody who writes what a point should read means it closer
NEAR_DB = 1.0
UNITS = frozenset({"W", "V", "A", "Ω", "F", "H", "%", "s", "1"})
WIDTHS = frozenset({"fm_deviation", "subtone_deviation"})  # other hertz are judged by millionths, not by tenths
NO_MORE = frozenset({"swr", "input_swr", "swr_minimum", "ripple", "leakage_current", "esr", "reflected_power"})
NO_LESS = frozenset({"insulation_resistance", "efficiency", "valve_emission"})


class Due(Frozen):
    """What a hand said of a point, in the quantity's own unit: a figure that it should be, or `at_most`."""

    value: float
    at_most: bool = False

    def ends(self, quantity: str) -> tuple[float, float]:
        """(low, high) of what is well, ±inf where open."""
        if self.at_most:
            return -math.inf, self.value
        if _is_a_level(quantity):
            return -math.inf, self.value + NEAR_DB
        low, high = sorted((self.value * (1 - NEAR), self.value * (1 + NEAR)))
        return -math.inf if quantity in NO_MORE else low, math.inf if quantity in NO_LESS else high


def judged_as_told(reading: Measured, lines: tuple[VerdictLine, ...], due: Due | None) -> tuple[VerdictLine, ...]:
    """The verdicts of a reading where a hand said what is due, the worst first: what is typical of a kind gives way
    to a figure that it should be; rules and makers' sheets stand. Where neither a tenth nor a decibel says anything of
    the quantity, nothing is called well or bad by it, and nothing by what is typical either."""
    if due is None:
        return lines
    others = [line for line in lines if due.at_most or line.profile != TYPICAL]
    if not due.value or not _can_be_told(reading):
        return tuple(others)
    told = _line(reading, due)
    if due.at_most and reading.quantity in FALL_SHORT and all(line.low is None for line in others):
        told = only_under(told)
    return tuple(sorted((told, *others), key=lambda line: WORST_FIRST.index(line.verdict)))


def _line(reading: Measured, due: Due) -> VerdictLine:
    low, high = due.ends(reading.quantity)
    verdict, reason = judge_against(reading, low, high)
    shown = (low if math.isfinite(low) else None, high if math.isfinite(high) else None)
    said = "the limit, as it was said" if due.at_most else f"{format_value(due.value, reading.unit)} was said to be due"
    return VerdictLine(
        kind="specification",
        row=TOLD,
        words=f"{said}: {limit_words(*shown, reading.unit)}",
        low=shown[0],
        high=shown[1],
        unit=reading.unit,
        verdict=verdict,
        reason=reason,
        source=SOURCE,
        confidence="stated",
        profile=TOLD,
        version="",
    )


def _is_a_level(quantity: str) -> bool:
    """Harmonics, what a receiver needs: the less of it the better."""
    return quantity.startswith(("harmonic_", "spurious_", "sensitivity_", "minimum_discernible"))


def _can_be_told(reading: Measured) -> bool:
    return reading.unit in UNITS or reading.quantity in WIDTHS or _is_a_level(reading.quantity)
