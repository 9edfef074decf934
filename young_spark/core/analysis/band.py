"""Cutting a band about a carrier out of a long record: one transform, spikes taken out, noise known."""

import math
from bisect import bisect_left, bisect_right
from dataclasses import dataclass
from functools import cache

import numpy as np

from young_spark.core.analysis.turns import turning
from young_spark.core.captures import Complex, Mask, Real

EDGE = 0.15  # share of the band's half-width over which it rolls off
SPIKE = 6.0  # times the middle of what lies outside of the band: noise comes there once in 10 million samples
SMALLEST_SPIKE = 0.05  # of the record's own size: a smaller one does no harm
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
MOST_SPIKES = 0.05
EVEN = 1.6  # a record whose highest sample is less than this times its middle holds no spike that matters
FEW = 5  # every so many samples tell a middle well enough
TRIM = 24  # samples at each end that ring where the record was cut


@dataclass(frozen=True)
class Band:
    """A record about one frequency, at a lower rate; `offset_hz` is that frequency against the record's centre.

    `density` is what white noise of the record's samples is multiplied by: a parameter fitted to `samples` as if their
    residual were white has its variance wrong by this factor."""

    samples: Complex  # (m,), turned down to about 0 Hz
    rate_hz: float
    offset_hz: float
    start_s: float  # of the first sample, against the first of the record
    density: float
    spikes: int = 0


@cache
def _quick_lengths(most: int) -> list[int]:
    """Every length up to `most` whose transform is quick: no prime factor above 7."""
    lengths = {1}
    for factor in (2, 3, 5, 7):
        for length in tuple(lengths):
            while (length := length * factor) <= most:
                lengths.add(length)
    return sorted(lengths)


def fast_length(n: int) -> int:
    """The longest length up to `n` whose transform is quick."""
    quick = _quick_lengths(1 << n.bit_length())
    return quick[bisect_right(quick, n) - 1]


def spectrum_of(samples: Complex | Real) -> Complex:
    """The transform of a record, cut to a quick length."""
    return np.asarray(np.fft.fft(samples[: fast_length(len(samples))]))


def strongest(spectrum: Complex, rate_hz: float, near_hz: float | None = None, within_hz: float = 0.0) -> float:
    """Frequency in Hz (signed) of the strongest line of a transform, better than a bin by its neighbours; near a
    frequency where one is given."""
    n = len(spectrum)
    power = np.abs(spectrum)
    if near_hz is None:
        peak = int(np.argmax(power))
    else:
        low, high = (math.floor((near_hz + s * within_hz) * n / rate_hz) for s in (-1, 1))
        bins = np.arange(low, high + 1) % n
        peak = int(bins[np.argmax(power[bins])])
    # of a record cut anywhere the two highest bins stand to each other as the distances to the line (sinc)
    left, middle, right = float(power[peak - 1]), float(power[peak]), float(power[(peak + 1) % n])
    side, step = (right, 1.0) if right >= left else (left, -1.0)
    place = (peak + step * side / (middle + side) if middle + side > 0 else peak) % n
    return float((place if place < n / 2 else place - n) * rate_hz / n)


def band_about(
    samples: Complex, rate_hz: float, offset_hz: float, half_width_hz: float, spectrum: Complex | None = None
) -> Band:
    """The band of ± `half_width_hz` about a frequency, spikes replaced by what the band has in their place."""
    n = fast_length(len(samples))
    cut = samples[:n]
    spectrum = spectrum_of(cut) if spectrum is None else spectrum
    band = _spikes(cut, spectrum, rate_hz, offset_hz, half_width_hz)
    if band is not None:
        return _cut(np.asarray(np.fft.fft(band[0])), rate_hz, offset_hz, half_width_hz, band[1])
    return _cut(spectrum, rate_hz, offset_hz, half_width_hz, 0)


def _spikes(
    cut: Complex, spectrum: Complex, rate_hz: float, offset_hz: float, half_width_hz: float
) -> tuple[Complex, int] | None:
    """The record without its spikes and how many there were; None where there are none, or too many to be spikes."""
    n = len(cut)
    size = np.abs(cut)
    usual = np.quantile(size[::FEW], 0.5)  # np.median would load masked arrays, at each start of the command
    if half_width_hz > 0.4 * rate_hz or float(size.max()) < EVEN * float(usual):
        return None
    bins = np.fft.fftfreq(n, 1 / rate_hz)
    away = np.abs((bins - offset_hz + rate_hz / 2) % rate_hz - rate_hz / 2) > half_width_hz
    outside = np.abs(np.fft.ifft(np.where(away, spectrum, 0)))
    # a band cut out of noise leaves it complex Gaussian; its middle grows by no more than the few that are spikes
    least = SMALLEST_SPIKE * math.sqrt(float(np.vdot(cut, cut).real) / n)
    high = outside > max(least, SPIKE * float(np.median(outside[::FEW])) / math.sqrt(2 * math.log(2)))
    ends = max(4, round(2 * rate_hz / half_width_hz), n // 100)
    high[:ends] = high[-ends:] = False  # where the record was cut it rings
    high = _peaks(outside, high, math.ceil(rate_hz / half_width_hz))
    count = int(high.sum())
    if not 0 < count < MOST_SPIKES * n:
        return None
    clean = np.array(cut)
    good = np.flatnonzero(~high)
    turn = turning(-2 * math.pi * offset_hz / rate_hz, n)
    still = clean * turn
    for part in ("real", "imag"):
        values = getattr(still, part)
        values[high] = np.interp(np.flatnonzero(high), good, values[good])
    return np.asarray(still / turn), count


def _peaks(outside: Real, high: Mask, reach: int) -> Mask:
    """Of the samples that stand out, those that are no mere echo of a higher one: a band cut out of a spike rings."""
    at = np.flatnonzero(high)
    size, top = outside[at], outside[at]
    for step in range(1, 3 * reach):
        top = np.maximum(top, np.maximum(outside[at - step], outside[(at + step) % len(outside)]))
    peaks = np.zeros(len(outside), bool)
    peaks[at[size > 0.4 * top]] = True
    return peaks


def _cut(spectrum: Complex, rate_hz: float, offset_hz: float, half_width_hz: float, spikes: int) -> Band:
    n = len(spectrum)
    middle = round(offset_hz * n / rate_hz)
    reach = math.ceil(half_width_hz * (1 + EDGE) * n / rate_hz)
    m = min(n, _fast_at_least(2 * reach + 2))
    bins = np.arange(m) - m // 2
    distance = np.abs(bins) * rate_hz / n
    shape = np.ones(m)
    if 2 * reach + 2 < n:
        edge = distance > half_width_hz
        falls = np.clip((half_width_hz * (1 + EDGE) - distance[edge]) / (half_width_hz * EDGE), 0, 1)
        shape[edge] = np.sin(falls * math.pi / 2) ** 2
    piece = spectrum[(bins + middle) % n] * shape
    narrow = np.fft.ifft(np.fft.ifftshift(piece)) * (m / n)
    new_rate = rate_hz * m / n
    narrow = narrow * turning(-2 * math.pi * (offset_hz - middle * rate_hz / n) / new_rate, m)
    trim = min(TRIM, m // 8) if m < n else 0
    return Band(
        np.ascontiguousarray(narrow[trim : m - trim], dtype=np.complex128),
        new_rate,
        offset_hz,
        trim / new_rate,
        float(m / (shape**2).sum()),
        spikes,
    )


def _fast_at_least(n: int) -> int:
    """The shortest quick length that holds `n`."""
    quick = _quick_lengths(1 << n.bit_length())
    return quick[bisect_left(quick, n)]
