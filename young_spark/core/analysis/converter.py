"""How coarse is the converter? Where a signal holds few of its steps and no noise moves it between them, what is read
of it is off by a part of a step, always the same way: no longer record averages that out.

A sine of amplitude A steps, in a converter that rounds to whole steps, has a fundamental that is off by
(2/π)·Σ J₁(2πkA)/k steps; J₁(x) is √(2/(πx)) at most, for large x."""

import math

import numpy as np

from young_spark.core.captures import Complex

LOOKED_AT = 20_000  # samples
MOST_LEVELS = 2_000  # over the whole swing: finer than that costs nothing
LARGEST_SHARE = 0.5  # of 1/√A steps: what the sum above comes to at most, but for rare amplitudes
OWN_NOISE = 1 / 12  # of a converter, in steps²


def converter_error(samples: Complex) -> float:
    """Half-width of what a converter's steps may change an amplitude by, as a share of it; 0 where they are fine."""
    part = samples[:LOOKED_AT]
    values = np.unique(part.real)
    if len(values) < 3 or len(values) > MOST_LEVELS:
        return 0.0
    step = float(np.diff(values).min())
    size = np.abs(part) / max(step, 1e-300)
    amplitude = math.sqrt(float((size**2).mean()))
    if amplitude * 2 > MOST_LEVELS or amplitude < 1:
        return 0.0
    noise = max(0.0, float(np.diff(size, 2).var()) / 6 - OWN_NOISE)  # in steps², of what moves it between them
    return float(LARGEST_SHARE / amplitude**1.5 * math.exp(-2 * math.pi**2 * noise))
