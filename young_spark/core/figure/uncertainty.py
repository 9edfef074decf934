"""Combining what is not known, and the verdict (JCGM 100:2008, 'GUM'; arms kept apart where they differ)."""

import enum
import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field


class Shape(enum.StrEnum):
    """How a term is spread between its limits."""

    NORMAL = "normal"  # half_width is the 95 % half-width
    RECTANGULAR = "rectangular"  # half_width is a hard bound
    ARCSINE = "arcsine"  # half_width is a hard bound, dwelt at most: mismatch


_DIVISOR = {Shape.NORMAL: 1.959964, Shape.RECTANGULAR: math.sqrt(3), Shape.ARCSINE: math.sqrt(2)}
_EXCESS_KURTOSIS = {Shape.NORMAL: 0.0, Shape.RECTANGULAR: -1.2, Shape.ARCSINE: -1.5}

# 95 % coverage factor against minus the excess kurtosis of the sum, from convolving rectangular, arcsine
# and normal terms in every mixture of two; where mixtures disagree (by 0.02 at the most) their mean.
_COVERAGE = (
    (0.0, 1.959964),
    (0.11, 1.948),
    (0.30, 1.917),
    (0.43, 1.893),
    (0.60, 1.878),
    (0.80, 1.822),
    (1.0, 1.752),
    (1.1, 1.700),
    (1.2, 0.95 * math.sqrt(3)),
    (1.35, 1.575),
    (1.44, 1.505),
    (1.5, math.sqrt(2) * math.sin(0.475 * math.pi)),
)


@dataclass(frozen=True, slots=True)
class Term:
    """One contribution to the doubt about one input, in that input's unit."""

    name: str
    half_width: float
    shape: Shape = Shape.RECTANGULAR
    typical: bool = False  # a class default, not this instrument's own figure

    @property
    def standard(self) -> float:
        """Standard uncertainty, in the input's unit."""
        return self.half_width / _DIVISOR[self.shape]

    @property
    def reach_95(self) -> float:
        """Half-width of this term's own 95 % interval, in the input's unit."""
        return self.standard * coverage_factor(_EXCESS_KURTOSIS[self.shape])


@dataclass(frozen=True, slots=True)
class Input:
    """A value that goes into a sum, with the terms of doubt about it (all in its own unit)."""

    value: float
    terms: tuple[Term, ...] = field(default=())


@dataclass(frozen=True, slots=True)
class Spread:
    """A value with the arms of its 95 % interval; `below` and `above` are lengths, >= 0."""

    value: float
    below: float
    above: float

    @property
    def uncertainty(self) -> float:
        """The larger arm."""
        return max(self.below, self.above)

    @property
    def interval(self) -> tuple[float, float]:
        """(low, high)."""
        return self.value - self.below, self.value + self.above

    @property
    def lopsided(self) -> bool:
        """Whether the arms differ by more than a twentieth, so that one half-width would mislead."""
        return abs(self.above - self.below) > 0.05 * self.uncertainty


def coverage_factor(excess_kurtosis: float) -> float:
    """k for 95 %, from the excess kurtosis of a symmetrical sum (-1.5 … 0; outside is clamped)."""
    depth = min(max(-excess_kurtosis, 0.0), 1.5)
    for (x0, k0), (x1, k1) in itertools.pairwise(_COVERAGE):
        if depth <= x1:
            return k0 + (k1 - k0) * (depth - x0) / (x1 - x0)
    return _COVERAGE[-1][1]


def _arm(parts: Sequence[tuple[Term, float, float]]) -> float:
    """Length of one arm from (term, deviation at its 95 % reach, deviation at its full bound)."""
    deviations = [(term, abs(at_95) / (term.reach_95 / term.standard)) for term, at_95, _ in parts]
    variance = sum(u * u for _, u in deviations)
    if variance == 0:
        return 0.0
    kurtosis = sum(_EXCESS_KURTOSIS[term.shape] * u**4 for term, u in deviations) / variance**2
    bounded = sum(abs(full) for term, _, full in parts if term.shape is not Shape.NORMAL)
    normal = math.sqrt(sum(at_95 * at_95 for term, at_95, _ in parts if term.shape is Shape.NORMAL))
    return min(coverage_factor(kurtosis) * math.sqrt(variance), bounded + normal)


def propagate(function: Callable[..., float], inputs: Mapping[str, Input]) -> Spread:
    """The function's value at the inputs and its 95 % interval.

    Every term is moved to its own 95 % reach, up and down, and the deviations are added root sum square,
    each side apart: one term gives its exact interval however curved the function is. The inputs are taken as
    independent. Where the function refuses a moved input (OutOfDomain), that side counts as it stands."""
    values = {name: given.value for name, given in inputs.items()}
    centre = function(**values)

    def moved(name: str, step: float) -> float:
        try:
            return function(**{**values, name: values[name] + step}) - centre
        except ValueError:
            return 0.0

    below: list[tuple[Term, float, float]] = []
    above: list[tuple[Term, float, float]] = []
    for name, given in inputs.items():
        for term in given.terms:
            if term.half_width <= 0:
                continue
            sides = [(moved(name, s * term.reach_95), moved(name, s * term.half_width)) for s in (-1, 1)]
            low, high = min(sides), max(sides)
            below.append((term, min(low[0], 0.0), min(low[1], 0.0)))
            above.append((term, max(high[0], 0.0), max(high[1], 0.0)))
    return Spread(centre, _arm(below), _arm(above))


def worst_of(low: Spread, high: Spread) -> Spread:
    """A figure that bounces between two: centred, reaching to the far end of both."""
    centre = (low.value + high.value) / 2
    return Spread(centre, centre - (low.value - low.below), high.value + high.above - centre)


class Verdict(enum.StrEnum):
    """What a limit says of a reading."""

    PASS = "pass"
    PASS_CLOSE = "pass_close"
    FAIL_CLOSE = "fail_close"
    FAIL = "fail"
    NO_VERDICT = "no_verdict"


VERDICT_WORDS: dict[Verdict, str] = {
    Verdict.PASS: "Within",
    Verdict.PASS_CLOSE: "Within, only just",
    Verdict.FAIL_CLOSE: "Outside, only just",
    Verdict.FAIL: "Outside",
    Verdict.NO_VERDICT: "No verdict",
}
WORST_FIRST = (Verdict.FAIL, Verdict.FAIL_CLOSE, Verdict.PASS_CLOSE, Verdict.PASS, Verdict.NO_VERDICT)


def judge(value: float, *, low: float = -math.inf, high: float = math.inf, below: float, above: float) -> Verdict:
    """Compare a value with a range; all five numbers share one unit, `below` and `above` are the arms of
    the 95 % interval, >= 0. Refusals (bounds, indication only, unknown uncertainty) are the caller's."""
    if not (math.isfinite(value) and low <= high and 0 <= below < math.inf and 0 <= above < math.inf):
        raise ValueError(f"cannot judge {value=} against {low=} {high=} {below=} {above=}")
    if low <= value <= high:
        return Verdict.PASS if low <= value - below and value + above <= high else Verdict.PASS_CLOSE
    reaches_back = value + above > low if value < low else value - below < high
    return Verdict.FAIL_CLOSE if reaches_back else Verdict.FAIL
