"""Is it cut off? A flat share at either extreme of a record, whatever its cause: no converter and no wave makes one.
Noise that came on top of it after the cut makes it broader, and no less flat: it is looked for at several widths."""

import math

import numpy as np

from young_spark.core.analysis.converter import step_of
from young_spark.core.captures import Mask, Real

FINE = 1e-3  # of the range: closer than that is the same level, unless the converter's steps are wider
BROADER = tuple(1.4**k for k in range(14))  # times that width, for the noise that lies on a flat top
WIDEST = 1 / 12  # of the range
BESIDE = 3  # times as wide a band below the extreme; a sine has about as much in it as at its tip
OF_THE_TIP = 3.0  # times as many at the extreme as there: it is flat
LEAST_SHARE = 1e-3
LEAST_COUNT = 8
# where a carrier rests without its tone for so many parts of the record, that is its highest level, and no cut
PARTS, MOSTLY, FOR_A_WHILE = 16, 0.5, 3
FEW_LEVELS = 24  # a record of so few levels tells nothing of its shape
SPARSE = 0.5  # of its levels in use: it repeats itself, and a gap below its tip is no sign
OF_A_LEVEL = 1.5  # times as many as at each of its levels
OF_A_SINE = 3.0  # times as many at the tip of such a record as a sine has there
FEW_POINTS = 0.02  # of the samples at the tip: fewer may be a point or two of each cycle
SHORT_RUN, FEW_GAPS = 3.0, 8  # samples: single ones at the tip, ever as far apart, are one point of a cycle


def flat_share(values: Real) -> float:
    """The share of samples at a flat top or bottom, 0 where neither is flat."""
    return sum(flat_ends(values))


def flat_ends(values: Real) -> tuple[float, float]:
    """The shares of samples at a flat top and at a flat bottom, each 0 where it is not flat."""
    low, high = float(values.min()), float(values.max())
    span = high - low
    if span <= 0:
        return 0.0, 0.0
    width = max(FINE * span, 1.01 * _step(values, span))
    if span / width < FEW_LEVELS:
        return 0.0, 0.0
    shares = [0.0, 0.0]
    for wide in (times * width for times in BROADER if times * width <= WIDEST * span):
        found = [_flat(below, wide) for below in (high - values, values - low)]
        if any(found):
            least = _least_of_a_sparse(np.unique(np.floor((values - low) / wide)), wide / span)
            shares = [old or (new if new > least else 0.0) for old, new in zip(shares, found, strict=True)]
    return shares[0], shares[1]


def _flat(below: Real, width: float) -> float:
    """The share at an extreme that stands out of what lies just below it."""
    tip = below < width
    count = int(tip.sum())
    beside = int((below < (1 + BESIDE) * width).sum()) - count
    if count <= OF_THE_TIP * beside + LEAST_COUNT or count <= LEAST_SHARE * len(below):
        return 0.0
    share = count / len(below)
    return 0.0 if _is_at_rest(tip) or (share < FEW_POINTS and _is_one_point(tip)) else share


def _is_at_rest(tip: Mask) -> bool:
    """Whether the samples at a tip stand where the record has few others for a while: a level that is held."""
    parts = np.array([(part.sum(), len(part)) for part in np.array_split(tip, PARTS)], np.float64)
    held = parts[:, 0] > MOSTLY * parts[:, 1]
    long = float(_runs(held).max(initial=0)) >= FOR_A_WHILE
    return long and float(parts[held, 0].sum()) > MOSTLY * float(tip.sum())


def _is_one_point(tip: Mask) -> bool:
    """Whether the samples at a tip are single ones that come again after as many samples: one point of each cycle."""
    gaps = np.unique(np.diff(np.flatnonzero(tip)))
    return float(_runs(tip).mean()) < SHORT_RUN and len(gaps) <= FEW_GAPS


def _runs(there: Mask) -> Real:
    """Lengths of the runs in samples."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(int)))
    return np.asarray(edges[1::2] - edges[::2], np.float64)


def _of_a_sine(width: float) -> float:
    """The share of a sine's time within a width of one tip, the width as a share of its whole swing."""
    return math.acos(1 - 2 * width) / math.pi


def _least_of_a_sparse(levels: Real, width: float) -> float:
    """The share that a tip must have to be flat, in a record that repeats itself and so is at few levels; 0 where it is
    at most of them. A wave of so few samples a cycle has two of them at one level at its tip as elsewhere."""
    if len(levels) >= SPARSE / width:
        return 0.0
    apart = 1 + int((np.diff(levels) > 1).sum())
    return max(OF_A_SINE * _of_a_sine(width), OF_A_LEVEL / max(1, apart - 1))


def _step(values: Real, span: float) -> float:
    """The converter's step, from the levels nearest to the top; 0 where they are as close as they like."""
    top = np.unique(values[values > values.max() - 0.05 * span])
    if len(top) <= 2:  # few samples are near the top, or it is flat: by the grid of all levels, where they have one
        return step_of(values) or 0.0
    return float(np.quantile(np.diff(top), 0.5))
