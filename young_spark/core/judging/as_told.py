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
LESS = frozenset({"hum_and_noise"})  # which is told by its end alone: nobody meets it to a decibel
EITHER_SIDE = frozenset({"frequency_error"})
NO_LESS = frozenset({"insulation_resistance", "efficiency", "valve_emission"})


class Due(Frozen):
    """What a hand said of a point, in the quantity's own unit: a figure that it should be, `at_most` or `at_least`, or
    anything from it up `to` another."""

    value: float
    at_most: bool = False
    at_least: bool = False
    to: float | None = None

    @property
    def is_an_end(self) -> bool:
        """Whether it says how much and how little is well, and no figure to be met."""
        return self.at_most or self.at_least or self.to is not None

    def ends(self, quantity: str) -> tuple[float, float]:
        """(low, high) of what is well, ±inf where open."""
        if self.to is not None:
            return min(self.value, self.to), max(self.value, self.to)
        if self.at_most or (
            self.at_least and (_is_a_level(quantity) or quantity in LESS)
        ):  # '-44, at least -50' counts downwards
            return -math.inf if quantity not in EITHER_SIDE else -abs(self.value), self.value
        if self.at_least:
            return self.value, math.inf
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
    others = [line for line in lines if due.is_an_end or line.profile != TYPICAL]
    if not due.value or not _can_be_told(reading, due):
        return tuple(others)
    told = _line(reading, due)
    if due.at_most and reading.quantity in FALL_SHORT and all(line.low is None for line in others):
        told = only_under(told)
    return tuple(sorted((told, *others), key=lambda line: WORST_FIRST.index(line.verdict)))


def _line(reading: Measured, due: Due) -> VerdictLine:
    low, high = due.ends(reading.quantity)
    verdict, reason = judge_against(reading, low, high)
    shown = (low if math.isfinite(low) else None, high if math.isfinite(high) else None)
    said = f"{format_value(due.value, reading.unit)} was said to be due"
    if due.is_an_end:
        said = "the limit, as it was said"
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


def _can_be_told(reading: Measured, due: Due) -> bool:
    if due.is_an_end and (reading.unit in {"dB", "dBm", "°C"} or reading.quantity in EITHER_SIDE):
        return True
    return reading.unit in UNITS or reading.quantity in WIDTHS or _is_a_level(reading.quantity)
