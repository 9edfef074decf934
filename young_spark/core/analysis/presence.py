"""Is there a carrier at all? A line is believed only where it stands out of the record's own floor beside it.

Noise alone gives each bin of a transform an exponential power; the highest of n bins is above ln(n / FALSE_ALARM) times
their mean once in 1 / FALSE_ALARM records. The mean is taken beside the bin, since real floors have humps."""

import math
from dataclasses import dataclass

import numpy as np

from young_spark.core.analysis.band import fast_length
from young_spark.core.analysis.turns import hann
from young_spark.core.captures import Complex, Real

FALSE_ALARM = 1e-3
BESIDE = 48  # bins that make the floor of those among them
FLOOR_DOUBT = 1.6  # what so few bins may be wrong by
LEAST_PART = 64  # samples
AROUND = 2  # bins on each side that make the floor too, where there are few parts
SHORT, LONG = 64, 8  # parts of a record: a carrier that moves stands out in a short one
CONSTANT = 0.08  # variance of the size over its mean square: noise has 0.27, frequency modulation none
OWN_SPIKE_TURNS = 0.02  # of a cycle over the record: what stands as still at nothing is the receiver's
MANY = 30_000  # samples tell it
GONE_ROUND = 0.5  # of the radius: a mean farther from nothing is of an arc
CLEAN = 0.02  # variance of the size over its mean square, at most: in more noise no centre shows
MIRRORED = 0.25  # of the power of a sideband: its sister is as high
OWN_SPIKE = 0.1  # of full scale: a receiver's own spike is seldom larger
WEAK = 0.03  # of what stands at the centre: a line below that is no second carrier


@dataclass(frozen=True)
class Line:
    """The strongest line that is believed: where, against the record's centre in Hz, and how far above the
    floor of the whole record in dB; 0 where only a part of it shows it: it moves."""

    offset_hz: float
    over_floor_db: float


def stands_out(power: Real, searched: int | None = None) -> tuple[int, float] | None:
    """The highest bin of a power spectrum among those that stand out of their floor, and its ratio to that; None where
    noise alone may have made them. `searched` counts all bins that were looked through."""
    ratio = power / floor_of(power)
    least = FLOOR_DOUBT * math.log(max(searched or len(power), 16) / FALSE_ALARM)
    out = ratio > least
    if not out.any():
        return None
    peak = int(np.argmax(np.where(out, power, 0)))
    return peak, float(ratio[peak])


def floor_of(power: Real) -> Real:
    """Mean power of noise beside each bin: the middle of so many bins, over ln 2."""
    n = len(power)
    count = max(1, n // BESIDE)
    size = n // count
    blocks = power[: count * size].reshape(count, size)
    levels = np.partition(blocks, size // 2, axis=1)[:, size // 2] / math.log(2)
    levels = np.maximum(levels, 1e-300 + 1e-12 * float(power.mean()))
    middles = (np.arange(count) + 0.5) * size - 0.5
    return np.asarray(np.exp(np.interp(np.arange(n), middles, np.log(levels))))


def line_in(samples: Complex, rate_hz: float) -> Line | None:
    """The line of a record that stands out of its floor, in the whole of it or in a part; None where there is none."""
    n = fast_length(len(samples))
    power = np.abs(np.fft.fft(samples[:n] * hann(n))) ** 2
    top = stands_out(power)
    if top is not None:
        return Line(_signed(top[0], n) * rate_hz / n, 10 * math.log10(top[1]))
    for parts in (LONG, SHORT):
        moving = _in_parts(samples, rate_hz, parts)
        if moving is not None:
            return moving
    return None


def _in_parts(samples: Complex, rate_hz: float, parts: int) -> Line | None:
    """A line that moves: in one part it stands out of what the same bins hold in the others."""
    size = fast_length(len(samples) // parts)
    if size < LEAST_PART:
        return None
    window = hann(size)
    power = np.stack([np.abs(np.fft.fft(samples[k * size : (k + 1) * size] * window)) ** 2 for k in range(parts)])
    around = np.concatenate([np.roll(power, s, axis=1) for s in range(-AROUND, AROUND + 1)])
    floor = np.quantile(around, 0.5, axis=0) / math.log(2) + 1e-12 * float(power.mean())
    ratio = power / floor
    part, peak = np.unravel_index(int(np.argmax(ratio)), ratio.shape)
    if ratio[part, peak] < FLOOR_DOUBT * math.log(2 * power.size / FALSE_ALARM):
        return None
    return Line(_signed(int(peak), size) * rate_hz / size, 0.0)


def _signed(peak: int, n: int) -> int:
    return peak if peak < n / 2 else peak - n


def is_constant(samples: Complex) -> bool:
    """Whether the size of the samples hardly varies, as that of a transmission in frequency modulation."""
    size = np.abs(samples)
    return float(size.var()) < CONSTANT * float((size**2).mean())


def circle_centre(samples: Complex) -> complex:
    """About which point samples of constant size turn, by least squares of |z|² = 2·Re(c*·z) + k: the receiver's own
    spike beside a transmission in frequency modulation. 0 where they do not go round far enough to tell."""
    size = np.abs(samples[:MANY])
    noise = float(np.diff(size, 2).var()) / 6  # of each part: it goes with x and y on both sides of the equations
    samples = samples[:: max(1, len(samples) // MANY)]
    x, y = samples.real, samples.imag
    rows = np.stack([2 * x, 2 * y, np.ones(len(x))])
    size = np.abs(samples)
    square = float((size**2).mean())
    if abs(complex(samples.mean())) > GONE_ROUND * math.sqrt(square) or float(size.var()) > CLEAN * square:
        return 0j
    gram, right = rows @ rows.T, rows @ size**2
    gram[0, 0] -= 4 * noise * len(x)
    gram[1, 1] -= 4 * noise * len(x)
    right -= noise * np.array([8 * x.sum(), 8 * y.sum(), 2 * len(x)])
    found = np.linalg.solve(gram, right)
    return complex(found[0], found[1])


def is_mirrored(samples: Complex, rate_hz: float, line: Line) -> bool:
    """Whether a line has one as high on the other side of the centre: sidebands of a carrier that stands there."""
    n = fast_length(len(samples))
    power = np.abs(np.fft.fft(samples[:n] * hann(n))) ** 2
    at = round(line.offset_hz * n / rate_hz)
    high, other = (float(power[np.arange(b - 2, b + 3) % n].max()) for b in (at, -at))
    return other > MIRRORED * high


def is_at_rest(samples: Complex, rate_hz: float, line: Line) -> bool:
    """Whether a line stands at the receiver's very centre and still over the whole record, as its own spike does."""
    if abs(line.offset_hz) > 2 * rate_hz / len(samples):
        return False
    halves = samples[: len(samples) // 2].mean(), samples[len(samples) // 2 :].mean()
    turned = abs(float(np.angle(halves[1] * np.conj(halves[0])))) / math.pi  # cycles over the record
    return turned < OWN_SPIKE_TURNS


def height_of(samples: Complex, rate_hz: float, line: Line) -> float:
    """Amplitude of a line."""
    n = fast_length(len(samples))
    at = round(line.offset_hz * n / rate_hz)
    near = np.fft.fft(samples[:n] * hann(n))[np.arange(at - 1, at + 2) % n]
    return float(np.abs(near).max()) * 2 / n
