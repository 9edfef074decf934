"""Does the tone hold? Its size and its pitch from part to part of a stretch, beyond what noise makes of them: a figure
of the whole is that of every moment only where it does."""

import math
from dataclasses import dataclass

import numpy as np

from young_spark.core.analysis.turns import turning
from young_spark.core.captures import Real

PARTS = 16
LEAST_CYCLES = 4  # of the tone in a part
FEWEST = 4  # parts
BEYOND = 4.0  # times what noise makes
SMALLEST = 0.02  # of the size: less is the edges of the parts
UNSTEADY = 0.1  # of the size, to each side of the middle: no figure is of the whole stretch
LEAST_WANDER = 0.02  # of a cycle that the phase leaves its line by


@dataclass(frozen=True)
class Steadiness:
    """`low` and `high` are the least and the greatest size of the tone over its mean; `wander_hz` is the standard
    deviation of its pitch from part to part, 0 where it holds."""

    low: float = 1.0
    high: float = 1.0
    wander_hz: float = 0.0

    @property
    def half(self) -> float:
        """Half of the way between them."""
        return (self.high - self.low) / 2

    @property
    def words(self) -> str | None:
        """Why no figure is of the whole stretch, or None."""
        if self.wander_hz > 0:
            return f"the tone's pitch wanders by {2 * self.wander_hz:.2g} Hz: take a stretch in which it holds"
        if self.half > UNSTEADY:
            change = 100 * (self.high / max(self.low, 1e-9) - 1)
            told = f"by {change:.0f} %" if change < 300 else "altogether"
            return f"the tone's size changes {told} within the stretch: take one in which it holds"
        return None


HOLDS = Steadiness()


def steadiness(series: Real, rate_hz: float, tone_hz: float, sigma: float, *, share: bool = False) -> Steadiness:
    """How a tone in Hz holds over a real series whose other samples scatter by `sigma`. With `share` its size is that
    against the mean of each part, as a depth is."""
    n = len(series)
    cycles = max(LEAST_CYCLES, math.floor(n * tone_hz / rate_hz / PARTS))
    size = round(cycles * rate_hz / tone_hz)
    count = n // size if size else 0
    if count < FEWEST:
        return HOLDS
    parts = series[: count * size].reshape(count, size)
    means = parts.mean(axis=1)
    still = (parts - means[:, None]) * turning(-2 * math.pi * tone_hz / rate_hz, count * size).reshape(count, size)
    found = 2 * still.mean(axis=1)
    sizes = np.abs(found) / (means if share and float(means.min()) > 0 else 1.0)
    mean = float(sizes.mean())
    if mean <= 0:
        return HOLDS
    doubt = sigma * math.sqrt(2 / size) / max(float(np.abs(found).mean()), 1e-300)
    sizes = sizes / mean
    changes = float(sizes.std()) > max(SMALLEST / 2, BEYOND * doubt)
    low, high = (float(sizes.min()), float(sizes.max())) if changes else (1.0, 1.0)
    return Steadiness(low, high, _wander(np.angle(found), doubt, size / rate_hz))


def _wander(phases: Real, doubt: float, part_s: float) -> float:
    """Standard deviation in Hz of what the phase of each part turns beside an even turning."""
    phases = np.unwrap(phases)
    at = np.arange(len(phases)) - (len(phases) - 1) / 2
    left = phases - phases.mean() - float(at @ phases) / float(at @ at) * at
    if float(left.std()) < max(2 * math.pi * LEAST_WANDER, BEYOND * doubt):
        return 0.0
    return float(np.diff(left).std()) / (2 * math.pi * part_s)
