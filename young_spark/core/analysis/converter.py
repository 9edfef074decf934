"""How coarse is the converter? Where a signal holds few of its steps and no noise moves it between them, what is read
of it is off by a part of a step, always the same way: no longer record averages that out.

A sine of amplitude A steps, in a converter that rounds to whole steps, has a fundamental that is off by
(2/π)·Σ J₁(2πkA)/k steps; J₁(x) is √(2/(πx)) at most, for large x."""

import math

import numpy as np

from young_spark.core.captures import Complex, Real

LOOKED_AT = 20_000  # samples
MOST_LEVELS = 2_000  # over the whole swing: finer than that costs nothing
LARGEST_SHARE = 0.5  # of 1/√A steps: what the sum above comes to at most, but for rare amplitudes
ON_THE_GRID = 0.1  # of a step: a wave that repeats itself has few levels too, and no grid
MOST_SKIPPED = 5  # a wave that repeats itself may use every other step of it, or fewer
ENOUGH_LEVELS = 12  # by chance no so many levels lie on a finer grid
OWN_NOISE = 1 / 12  # of a converter, in steps²


def converter_error(samples: Complex) -> float:
    """Half-width of what a converter's steps may change an amplitude by, as a share of it; 0 where they are fine."""
    step = step_of(samples.real)
    if step is None:
        return 0.0
    size = np.abs(samples[:LOOKED_AT]) / step
    return share_of(math.sqrt(float((size**2).mean())), float(np.diff(size, 2).var()) / 6)


def step_of(values: Real) -> float | None:
    """The converter's step in a record; None where its levels are as many as they like."""
    levels = np.unique(values[:LOOKED_AT])
    if not 2 < len(levels) <= MOST_LEVELS:
        return None
    least = float(np.diff(levels).min())
    for skipped in range(1, MOST_SKIPPED if len(levels) >= ENOUGH_LEVELS else 2):
        places = (levels - levels[0]) * skipped / least
        if float(np.abs(places - np.round(places)).max()) < ON_THE_GRID:
            return least / skipped
    return None


def share_of(amplitude: float, noise: float) -> float:
    """The same for a sine of so many steps with noise of so many steps² on it, the converter's own counted in."""
    if amplitude * 2 > MOST_LEVELS or amplitude < 1:
        return 0.0 if amplitude >= 1 else 1.0
    moved = max(0.0, noise - OWN_NOISE)  # what moves it between the steps
    return float(LARGEST_SHARE / amplitude**1.5 * math.exp(-2 * math.pi**2 * moved))
