"""Where a record is modulated and where it is not."""

from dataclasses import dataclass

import numpy as np

from young_spark.core.captures import Mask, Real

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
BLOCK_S = 0.005
SHORTEST_S = 0.05
MOSTLY = 0.5  # of a record: so much of it is a tone that is let go for a moment, and no syllable
QUIET, TONED = 0.35, 0.6  # of the modulated blocks' own swing


@dataclass(frozen=True)
class Stretches:
    """Sample ranges of a series: `toned` is the whole of it where nothing else is found; `quiet` None where there is
    none."""

    toned: slice
    quiet: slice | None


def stretches(series: Real, rate_hz: float, tone_hz: float) -> Stretches:
    """The longest modulated stretch, and the longest still one of at least 50 ms beside it; a shorter pause is only
    left out."""
    whole = Stretches(slice(0, len(series)), None)
    size = round(max(BLOCK_S, 2 / tone_hz) * rate_hz)
    count = len(series) // size if size else 0
    if count < 6:
        return whole
    swing = series[: count * size].reshape(count, size).std(axis=1)
    usual = float(np.quantile(swing, 0.9))
    quiet = _longest(swing < QUIET * usual)
    if quiet is None:
        return whole
    toned = _longest(swing > TONED * usual)
    if toned is None or toned.stop - toned.start < 3:
        return whole
    inner = slice((quiet.start + 1) * size, (quiet.stop - 1) * size)  # a block at each end may hold the change
    modulated = slice((toned.start + 1) * size, (toned.stop - 1) * size)
    if (inner.stop - inner.start) / rate_hz >= SHORTEST_S - 2 * size / rate_hz:
        return Stretches(modulated, inner)
    return Stretches(modulated, None) if modulated.stop - modulated.start > MOSTLY * len(series) else whole


def _longest(there: Mask) -> slice | None:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(int)))
    runs = list(zip(edges[::2], edges[1::2], strict=True))
    if not runs:
        return None
    start, stop = max(runs, key=lambda run: run[1] - run[0])
    return slice(int(start), int(stop)) if stop - start >= 3 else None
