"""When was it keyed? Levels of one stretch are taken from that stretch, and not over the silence beside it."""

from dataclasses import dataclass

import numpy as np

from young_spark.core.captures import Complex, Mask, Real

BLOCK_S = 0.002
SMOOTH = 5  # blocks
OFF = 10 ** (-12 / 10)  # of the highest level: not keyed
SHORTEST_OFF_S, SHORTEST_AT_AN_END_S = 0.025, 0.01  # less is the trough of a slow tone
MARGIN = 3  # blocks at each edge that may hold the ramp
NEARLY_ALL = 0.99
BLOCKS_OF_A_SCOPE = 200
OFF_ON_A_SCOPE = 0.03  # of the highest: a trough of a modulated carrier is seldom as low


@dataclass(frozen=True)
class Keyed:
    """Samples of the longest key-down, how many there were, and of how long a record in s; `whole` where all is."""

    part: slice
    count: int
    whole: bool
    rate_hz: float

    @property
    def words(self) -> str | None:
        """What a reader must know of it, or None."""
        if self.whole:
            return None
        begins, ends = self.part.start / self.rate_hz, self.part.stop / self.rate_hz
        more = f", the longest of {self.count} key-downs" if self.count > 1 else ""
        return f"keyed from {begins:.3g} s to {ends:.3g} s of the record{more}: the figures are of that stretch"


def keyed_stretch(samples: Complex, rate_hz: float) -> Keyed:
    """The longest key-down in complex samples."""
    n, size = len(samples), max(8, round(BLOCK_S * rate_hz))
    count = n // size
    whole = Keyed(slice(0, n), 1, True, rate_hz)
    if count < 3 * SMOOTH:
        return whole
    power = (np.abs(samples[: count * size]) ** 2).reshape(count, size).mean(axis=1)
    smooth = np.convolve(np.pad(power, SMOOTH // 2, mode="edge"), np.ones(SMOOTH) / SMOOTH, mode="valid")
    off = _without_short(smooth < OFF * float(smooth.max()))
    runs = runs_of(~off)
    if not runs or sum(b - a for a, b in runs) > NEARLY_ALL * count:
        return whole
    first, last = max(runs, key=lambda run: run[1] - run[0])
    margin = min(MARGIN, (last - first) // 5)
    begin = 0 if first == 0 else (first + margin) * size
    end = n if last == count else (last - margin) * size
    return Keyed(slice(begin, end), len(runs), False, rate_hz)


def keyed_on_a_scope(values: Real, rate_hz: float) -> Keyed:
    """The one stretch of a scope's record where there is anything; the whole of it where there are several, which
    may as well be the crests of a modulated carrier."""
    n, size = len(values), max(4, len(values) // BLOCKS_OF_A_SCOPE)
    count = n // size
    whole = Keyed(slice(0, n), 1, True, rate_hz)
    swing = np.ptp(values[: count * size].reshape(count, size), axis=1)
    level = np.abs(values[: count * size]).reshape(count, size).mean(axis=1)
    there = np.maximum(swing, level)
    runs = runs_of(there > OFF_ON_A_SCOPE * float(there.max()))
    if len(runs) != 1 or runs[0][1] - runs[0][0] > NEARLY_ALL * count:
        return whole
    first, last = runs[0]
    margin = 2 if last - first > 20 else 1
    begin = 0 if first == 0 else (first + margin) * size
    end = n if last == count else (last - margin) * size
    return Keyed(slice(begin, end), 1, False, rate_hz) if end - begin > 4 * size else whole


def runs_of(there: Mask) -> list[tuple[int, int]]:
    """Begin and end of each run of True."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(int)))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _without_short(off: Mask) -> Mask:
    """The runs of True that are long enough; at an end of the record a shorter one is."""
    kept = np.zeros(len(off), bool)
    for begin, end in runs_of(off):
        least = SHORTEST_AT_AN_END_S if begin == 0 or end == len(off) else SHORTEST_OFF_S
        if end - begin >= round(least / BLOCK_S):
            kept[begin:end] = True
    return kept
