"""Lines of known or sought frequency in complex samples, by least squares."""

import math
from dataclasses import dataclass

import numpy as np

from young_spark.core.analysis.band import Band
from young_spark.core.captures import Complex, Real

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
ROUNDS = 6
OVER, MOST_POINTS = 8, 400_000  # the crest lies between samples


@dataclass(frozen=True)
class SpectralLines:
    """Complex amplitudes of lines in a band; `amplitude_u` is the standard deviation of each real and imaginary
    part."""

    offsets_hz: tuple[float, ...]  # against the record's centre
    offset_u: tuple[float, ...]
    amplitudes: Complex
    amplitude_u: Real
    sigma: float

    def crest(self, rate_hz: float, count: int) -> float:
        """The highest point of the sum of all lines over so many samples."""
        fine = max(1, min(OVER, MOST_POINTS // max(1, count)))
        times = np.arange(count * fine) / (rate_hz * fine)
        total = sum(a * np.exp(2j * math.pi * f * times) for a, f in zip(self.amplitudes, self.offsets_hz, strict=True))
        return float(np.abs(total).max())


def fit_lines(band: Band, free_hz: tuple[float, ...], tied: "tuple[tuple[float, ...], ...]" = ()) -> SpectralLines:
    """Fit lines at `free_hz` (against the record's centre), their frequencies refined, and lines `tied` to them:
    each a row of weights, one for each free line and one of an offset in Hz at the end."""
    z, rate = band.samples, band.rate_hz
    times = band.start_s + np.arange(len(z)) / rate
    middle = float(times.mean())
    away = times - middle
    free = np.array(free_hz) - band.offset_hz
    count = len(free)
    for _ in range(ROUNDS):
        where = np.concatenate([free, _tied(free + band.offset_hz, tied) - band.offset_hz])
        rows = np.exp(2j * math.pi * np.outer(where, away))
        solved = _solve(rows, z)
        slopes = 2j * math.pi * away * rows[:count] * solved[:count, None]
        left = z - solved @ rows
        joint = np.vstack([rows, slopes])
        step = np.linalg.lstsq(_real_gram(joint, count), _real_side(joint, left, count), rcond=1e-12)[0][-count:]
        free = free + step
        if float(np.abs(step).max()) * (away[-1] - away[0]) < 1e-6:
            break
    where = np.concatenate([free, _tied(free + band.offset_hz, tied) - band.offset_hz])
    rows = np.exp(2j * math.pi * np.outer(where, away))
    solved = _solve(rows, z)
    left = z - solved @ rows
    sigma = math.sqrt(float(np.vdot(left, left).real) / (2 * max(1, len(z) - len(rows))))
    joint = np.vstack([rows, 2j * math.pi * away * rows[:count] * solved[:count, None]])
    doubt = sigma * math.sqrt(band.density) * np.sqrt(np.abs(np.diag(np.linalg.pinv(_real_gram(joint, count)))))
    turned = solved * np.exp(-2j * math.pi * where * middle)
    n = len(where)
    return SpectralLines(
        tuple(float(f) + band.offset_hz for f in where),
        tuple(float(u) for u in doubt[-count:]),
        turned,
        (doubt[:n] + doubt[n : 2 * n]) / 2,
        sigma,
    )


def _tied(free: Real, tied: "tuple[tuple[float, ...], ...]") -> Real:
    return np.array([float(np.dot(row[:-1], free)) + row[-1] for row in tied])


def _solve(rows: Complex, z: Complex) -> Complex:
    return np.asarray(np.linalg.lstsq(rows.conj() @ rows.T, rows.conj() @ z, rcond=1e-12)[0])


def _real_gram(joint: Complex, count: int) -> Real:
    """Normal matrix of real unknowns: real and imaginary part of each amplitude, then each free frequency."""
    lines = len(joint) - count
    g = joint.conj() @ joint.T
    top = g[:lines, :lines]
    side = g[:lines, lines:]
    return np.block(
        [
            [top.real, -top.imag, side.real],
            [top.imag, top.real, side.imag],
            [side.real.T, side.imag.T, g[lines:, lines:].real],
        ]
    )


def _real_side(joint: Complex, left: Complex, count: int) -> Real:
    lines = len(joint) - count
    b = joint.conj() @ left
    return np.concatenate([b[:lines].real, b[:lines].imag, b[lines:].real])
