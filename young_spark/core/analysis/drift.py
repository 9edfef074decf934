"""Does it move? A carrier's drift within a record is found and taken off, so that it costs no power and no depth.

First the line is followed from part to part, outwards from the middle; then the phase of what is left is looked at in
short blocks, and a polynomial is fitted to it. The frequency of the record is that at its middle."""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from young_spark.core.analysis.band import fast_length, strongest
from young_spark.core.analysis.turns import hann
from young_spark.core.captures import Complex, Real

PARTS = (16, 64)  # a fast drift is followed in short parts, a weak line in long ones
THIN_S = 0.0005  # what is seen of the line is 1 kHz to each side of it
BLOCK_S = 0.008
DEGREES = (2, 3, 5, 8)  # of the phase: no more of it is taken off than helps
NEARLY = 0.998  # of the best line that any of them gives
LEAST_TURNS = 0.08  # of a cycle that the drift bends the phase by, from middle to end: less costs nothing
GAIN = 1.002  # of the carrier's line, at least, for a drift to be believed
SURE = 5.0  # standard deviations of a slope of frequency modulation
SEGMENTS = 8


@dataclass(frozen=True)
class Drift:
    """Hz per second at the middle of a record, and the record with its drift taken off."""

    hz_per_s: float
    samples: Complex
    widened: float = 1.0  # times less well the frequency is known for it

    @property
    def words(self) -> str:
        """What a reader must know of it."""
        return (
            f"the carrier drifts by {self.hz_per_s:+.3g} Hz/s: the frequency is that at the middle of the record, and "
            "neither power nor modulation lost by it"
        )


def drift_of_line(samples: Complex, rate_hz: float, offset_hz: float, *, whole: bool) -> Drift | None:
    """The drift of the line near `offset_hz`, against the record's centre; None where it does not move. A line that
    stands out of the `whole` record moves little: there a short look is enough."""
    n = len(samples)
    times = (np.arange(n) - (n - 1) / 2) / rate_hz
    if whole and _stands_still(samples, rate_hz, times, offset_hz):
        return None
    before = _height(_thinned(samples, rate_hz, times, 0.0, offset_hz)[0])
    tried = [bent for parts in PARTS for bent in _tries(samples, rate_hz, times, offset_hz, parts)]
    highest = max(t.height for t in tried)
    if highest < GAIN * before:
        return None
    best = next(t for t in tried if t.height >= NEARLY * highest)
    rate = best.slope + float(best.bend[2]) / math.pi
    if abs(rate) * (n / rate_hz) ** 2 / 8 < LEAST_TURNS and best.widened <= 1:
        return None
    phase = math.pi * best.slope * times**2
    for power, coefficient in enumerate(best.bend[2:], start=2):
        phase += coefficient * times**power
    return Drift(rate, samples * np.exp(-1j * phase), best.widened)


@dataclass(frozen=True)
class _Bent:
    """A slope in Hz/s, what bends the phase beside it, and how high the line stands once both are taken off."""

    slope: float
    bend: Real
    widened: float
    height: float


def _tries(samples: Complex, rate_hz: float, times: Real, offset_hz: float, parts: int) -> list[_Bent]:
    slope, middle = _followed(samples, rate_hz, offset_hz, parts)
    thin, at, rate = _thinned(samples, rate_hz, times, slope, middle)
    tries = []
    for degree in DEGREES:
        bend, widened = _bend(thin, rate, at, degree)
        phase = sum(c * at**k for k, c in enumerate(bend[2:], start=2))
        tries.append(_Bent(slope, bend, widened, _height(thin * np.exp(-1j * phase))))
    return tries


def _thinned(samples: Complex, rate_hz: float, times: Real, slope: float, middle: float) -> tuple[Complex, Real, float]:
    """The record about its line, turned still as far as that is known, at a lower rate; with its times and rate."""
    still = samples * np.exp(-1j * math.pi * times * (slope * times + 2 * middle))
    size = max(1, round(THIN_S * rate_hz))
    count = len(still) // size
    thin = still[: count * size].reshape(count, size).mean(axis=1)
    return thin, times[: count * size].reshape(count, size).mean(axis=1), rate_hz / size


def _stands_still(samples: Complex, rate_hz: float, times: Real, offset_hz: float) -> bool:
    """Whether neither the parts nor the phase of a line show it to move."""
    slope, middle = _followed(samples, rate_hz, offset_hz, PARTS[0])
    if slope != 0:
        return False
    thin, at, rate = _thinned(samples, rate_hz, times, 0.0, middle)
    bend, _ = _bend(thin, rate, at, DEGREES[1])
    scale = float(times[-1])
    return float(np.abs(bend[2:] * scale ** np.arange(2, len(bend))).max()) < 2 * math.pi * LEAST_TURNS


def _followed(samples: Complex, rate_hz: float, offset_hz: float, parts: int) -> tuple[float, float]:
    """Slope in Hz/s and frequency at the middle in Hz of a line, followed from part to part."""
    size = fast_length(len(samples) // parts)
    if size < 32:
        return 0.0, offset_hz
    reach = max(4 * rate_hz / size, 25.0)
    window = hann(size)
    spectra = [np.fft.fft(samples[k * size : (k + 1) * size] * window) for k in range(parts)]
    found = np.zeros(parts)
    begin = max(range(parts), key=lambda k: _near(spectra[k], rate_hz, offset_hz, 8 * reach)[1])
    found[begin] = _near(spectra[begin], rate_hz, offset_hz, 8 * reach)[0]
    for steps in (range(begin + 1, parts), range(begin - 1, -1, -1)):
        last, speed = float(found[begin]), 0.0
        for k in steps:
            found[k] = _near(spectra[k], rate_hz, last + speed, reach)[0]
            speed = 0.5 * (speed + float(found[k]) - last)
            last = float(found[k])
    at = (np.arange(parts) - (parts - 1) / 2) * size / rate_hz
    apart = parts // 4
    slopes = [(found[j] - found[i]) / (at[j] - at[i]) for i in range(parts) for j in range(i + apart, parts)]
    slope = float(np.quantile(slopes, 0.5))  # one part that was lost does not turn it
    middle = float(np.quantile(found - slope * at, 0.5))
    if abs(slope) * len(samples) / rate_hz < 0.2 * rate_hz / size:
        return 0.0, middle  # within what the parts tell
    return slope, middle


def _near(spectrum: Complex, rate_hz: float, hz: float, within_hz: float) -> tuple[float, float]:
    """The strongest line of a part near a frequency, and its height."""
    n = len(spectrum)
    at = strongest(spectrum, rate_hz, hz, min(within_hz, 0.45 * rate_hz))
    return at, float(np.abs(spectrum[round(at * n / rate_hz) % n]))


def _bend(still: Complex, rate_hz: float, times: Real, degree: int) -> tuple[Real, float]:
    """Coefficients of the phase left in a record, in rad / s^k about its middle; and how many times less well the
    frequency is known for that more than a line was fitted."""
    size = max(4, round(BLOCK_S * rate_hz))
    count = max(2 * degree + 3, len(still) // size)
    if len(still) < count:  # too short to tell how its phase bends
        return np.zeros(degree + 1), 1.0
    edges = np.linspace(0, len(still), count + 1).astype(int)
    sums = np.add.reduceat(still, edges[:-1]) / np.diff(edges)
    weight = np.abs(sums)
    if float(weight.max()) <= 0:
        return np.zeros(degree + 1), 1.0
    scale = float(times[-1])
    middles = np.array([(times[a] + times[b - 1]) / 2 for a, b in pairwise(edges)]) / scale
    rows = np.stack([middles**k for k in range(degree + 1)], axis=1) * weight[:, None]
    solved = np.linalg.lstsq(rows, np.unwrap(np.angle(sums)) * weight, rcond=None)[0]
    of_a_line = np.linalg.pinv(rows[:, :2].T @ rows[:, :2])[1, 1]
    of_all = np.linalg.pinv(rows.T @ rows)[1, 1]
    return np.asarray(solved / scale ** np.arange(degree + 1)), math.sqrt(max(1.0, float(of_all / of_a_line)))


def _height(samples: Complex) -> float:
    """The highest line of a record."""
    cut = samples[: fast_length(len(samples))]
    return float(np.abs(np.fft.fft(cut)).max())


def drift_of_fm(samples: Complex, rate_hz: float) -> Drift | None:
    """The drift of a transmission in frequency modulation, from the mean of its instantaneous frequency; None where
    it is not sure to move."""
    n = len(samples)
    size = n // SEGMENTS
    if size < 256:
        return None
    turned = samples[1:] * np.conj(samples[:-1])
    hz = np.angle(turned) * rate_hz / (2 * math.pi)
    window = hann(size)
    window = window / window.sum()
    means = np.array([float(hz[k * size : (k + 1) * size][: len(window)] @ window[: len(hz[k * size : (k + 1) * size])])
                      for k in range(SEGMENTS)])  # fmt: skip
    at = (np.arange(SEGMENTS) - (SEGMENTS - 1) / 2) * size / rate_hz
    slope = float(at @ means) / float(at @ at)
    left = means - means.mean() - slope * at
    doubt = math.sqrt(float(left @ left) / (SEGMENTS - 2) / float(at @ at))
    if abs(slope) < SURE * doubt or abs(slope) * (n / rate_hz) ** 2 / 8 < LEAST_TURNS:
        return None
    times = (np.arange(n) - (n - 1) / 2) / rate_hz
    return Drift(slope, samples * np.exp(-1j * math.pi * slope * times**2))
