"""Is it cut off? A flat share at either extreme of a record, whatever its cause: no converter and no wave makes one."""

import numpy as np

from young_spark.core.captures import Real

FINE = 1e-3  # of the range: closer than that is the same level, unless the converter's steps are wider
BESIDE = 3  # times as wide a band below the extreme; a sine has about as much in it as at its tip
OF_THE_TIP = 3.0  # times as many at the extreme as there: it is flat
LEAST_SHARE = 1e-3
LEAST_COUNT = 8
FEW_LEVELS = 24  # a record of so few levels tells nothing of its shape


def flat_share(values: Real) -> float:
    """The share of samples at a flat top or bottom, 0 where neither is flat."""
    low, high = float(values.min()), float(values.max())
    if high <= low:
        return 0.0
    width = max(FINE * (high - low), 1.01 * _step(values, high - low))
    if (high - low) / width < FEW_LEVELS:
        return 0.0
    shares = [_flat(high - values, width), _flat(values - low, width)]
    return sum(share for share in shares if share > 0)


def _flat(below: Real, width: float) -> float:
    """The share at an extreme that stands out of what lies just below it."""
    tip = int((below < width).sum())
    beside = int(((below >= width) & (below < (1 + BESIDE) * width)).sum())
    flat = tip > OF_THE_TIP * beside + LEAST_COUNT and tip > LEAST_SHARE * len(below)
    return tip / len(below) if flat else 0.0


def _step(values: Real, span: float) -> float:
    """The converter's step, from the levels nearest to the top; 0 where they are as close as they like."""
    top = np.unique(values[values > values.max() - 0.05 * span])
    if len(top) <= 2:  # of few levels at all, or of few samples near the top
        top = np.unique(values)
    return float(np.quantile(np.diff(top), 0.5)) if len(top) > 2 else 0.0
