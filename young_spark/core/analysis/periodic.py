"""A tone with its harmonics in a real series, by least squares with the tone's frequency in the fit."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from young_spark.core.analysis.band import fast_length
from young_spark.core.analysis.turns import Turns, hann
from young_spark.core.captures import Complex, Real

DRAWS = 200  # of the fitted coefficients, to learn what noise does to a peak
BELIEF = 0.5  # how well what noise adds is known, as a share of it
CALM = 3.0  # how hard a coefficient near the noise is pressed down for that
SIGNIFICANT = 3.5  # an amplitude below this many of its own standard deviations is noise
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
LEAST_BESIDE = 16  # bins on each side that tell the noise there
TRUSTED = 8
ROUNDS = 8
FEW = 3  # lines that the tone's frequency is refined with
CLOSE = 1e-3  # of a cycle over the record: the last step is made with every line


@dataclass(frozen=True)
class Periodic:
    """value(t) = mean + Re Σ coefficients[k-1]·exp(i·k·2π·tone·t), with the standard deviations of what was fitted.

    `sigma` is the standard deviation of one sample of the residual."""

    tone_hz: float
    tone_u: float
    mean: float
    mean_u: float
    coefficients: Complex  # (k,)
    amplitude_u: Real  # (k,), of each real and imaginary part
    sigma: float
    trend: float = 0.0  # per s, with its standard deviation
    trend_u: float = 0.0

    @property
    def amplitudes(self) -> Real:
        """Peak amplitude of the tone and of each harmonic."""
        return np.abs(self.coefficients)

    @property
    def kept(self) -> Complex:
        """The tone, and harmonics up to twice the highest that stands out of the noise: those between belong to its
        shape."""
        there = np.flatnonzero(self.amplitudes > SIGNIFICANT * self.amplitude_u)
        highest = int(there[-1]) + 1 if len(there) else 1
        order = np.arange(1, len(self.coefficients) + 1)
        return np.where(order <= (1 if highest < 2 else 2 * highest), self.coefficients, 0)

    def along(self, n: int, rate_hz: float, start_s: float = 0.0) -> Real:
        """The fitted series at `n` evenly spaced times, the first at `start_s`."""
        turns = Turns(n, rate_hz, self.tone_hz, len(self.coefficients))
        middle = start_s + (n - 1) / 2 / rate_hz
        to_there = np.exp(2j * math.pi * self.tone_hz * middle * np.arange(1, len(self.coefficients) + 1))
        line = self.mean + self.trend * (middle + turns.times)
        return np.asarray(line + turns.wave(self.coefficients * to_there))


@dataclass(frozen=True)
class Extremes:
    """Highest and lowest point of a wave of mean 0, what noise adds to them taken off, with standard deviations."""

    high: float
    high_u: float
    low: float  # a magnitude
    low_u: float
    larger: float
    larger_u: float
    half: float  # of the way from lowest to highest: what moves both the same way moves it as much
    half_u: float


def tone_near(values: Real, rate_hz: float, low_hz: float, high_hz: float) -> float | None:
    """Frequency in Hz of the strongest line between two; None where the series is too short to hold one."""
    n = len(values)
    centred = (values - values.mean()) * hann(n)
    size = 1 << max(12, math.ceil(math.log2(n)))
    power = np.abs(np.fft.rfft(centred, size))
    step = rate_hz / size
    first, last = (
        max(1, math.ceil(max(low_hz, 1.5 * rate_hz / n) / step)),
        min(len(power) - 2, math.floor(high_hz / step)),
    )
    if last <= first:
        return None
    peak = first + int(np.argmax(power[first : last + 1]))
    a, b, c = (math.log(float(p) + 1e-300) for p in power[peak - 1 : peak + 2])
    bend = a - 2 * b + c
    return (peak + (0.5 * (a - c) / bend if bend < 0 else 0.0)) * step


def fit_periodic(
    series: Real,
    rate_hz: float,
    tone_hz: float,
    harmonics: int,
    *,
    start_s: float = 0.0,
    density: float = 1.0,
    trend: bool = False,
    refined: bool = False,
) -> Periodic:
    """Tone, harmonics and mean of a series by least squares. `start_s` is the time of its first sample, `density`
    that of its noise against white (band.py); with `trend` a straight line is fitted too: `mean` is then its
    height at time 0. A tone that was `refined` before needs only the last step."""
    n, count = len(series), max(1, harmonics)
    middle = start_s + (n - 1) / 2 / rate_hz
    if not refined:
        tone_hz = _refined(series, rate_hz, tone_hz, min(count, FEW), trend)
    system = _System(Turns(n, rate_hz, tone_hz, count), series, trend)
    gram, right = system.with_slope(system.swing)
    inverse = np.linalg.pinv(gram, hermitian=True)
    solved = inverse @ right
    residual = system.left(solved)
    sigma = math.sqrt(float(residual @ residual) / max(1, n - len(solved) - 1))
    beside = noise_beside(residual, rate_hz, tone_hz * np.arange(count + 1), density)
    each = np.concatenate([beside[:1], beside[1:], beside[1:], beside[:1] if trend else [], beside[1:2]])
    doubt = sigma * np.sqrt(each * np.abs(np.diag(inverse)))
    found_hz = tone_hz + float(solved[-1])
    turned = _swing(solved, count) * np.exp(-2j * math.pi * found_hz * middle * np.arange(1, count + 1))
    return Periodic(
        tone_hz=found_hz,
        tone_u=float(doubt[-1]),
        mean=float(solved[0] - (solved[-2] * middle if trend else 0)),
        mean_u=float(doubt[0]),
        coefficients=turned,
        amplitude_u=np.sqrt((doubt[1 : 1 + count] ** 2 + doubt[1 + count : 1 + 2 * count] ** 2) / 2),
        sigma=sigma,
        trend=float(solved[-2]) if trend else 0.0,
        trend_u=float(doubt[-2]) if trend else 0.0,
    )


def noise_beside(residual: Real, rate_hz: float, at_hz: Real, density: float) -> Real:
    """Density of the noise beside each frequency, over its mean: what white noise's variance is multiplied by there.
    `density` is what is expected; it is trusted as a few bins are."""
    n = fast_length(len(residual))
    power = np.abs(np.fft.rfft(residual[:n])) ** 2
    total = float(power.mean())
    reach = max(LEAST_BESIDE, len(power) // 200)
    if len(power) < 4 * reach or total <= 0:
        return np.full(len(at_hz), density)
    summed = np.concatenate([[0.0], np.cumsum(power)])
    middle = np.round(np.asarray(at_hz) * n / rate_hz).astype(int)
    low, high = np.clip(middle - reach, 1, len(power) - reach), np.clip(middle + reach, reach + 1, len(power))
    seen = (summed[high] - summed[low]) / (high - low) / total
    return np.asarray((seen * reach + density * TRUSTED) / (reach + TRUSTED))


def _refined(series: Real, rate_hz: float, tone_hz: float, count: int, trend: bool) -> float:
    """The tone's frequency from its few strongest lines, round by round."""
    for _ in range(ROUNDS):
        system = _System(Turns(len(series), rate_hz, tone_hz, count), series, trend)
        gram, right = system.with_slope(system.swing)
        rest = np.linalg.lstsq(gram[:-1, :-1], gram[:-1, -1], rcond=1e-12)[0]
        free = float(gram[-1, -1] - gram[-1, :-1] @ rest)  # of the slope, what no other row can make
        step = float(right[-1] - rest @ right[:-1]) / free if free > 0 else 0.0
        tone_hz += step
        if abs(step) * (len(series) - 1) / rate_hz < CLOSE:
            break
    return tone_hz


class _System:
    """The normal equations of 1, cos(kθ) …, sin(kθ) … and t for a trend against a series; each is a row of the fit."""

    def __init__(self, turns: Turns, series: Real, trend: bool) -> None:
        self.turns, self.series, self.trend = turns, series, trend
        self.count = turns.harmonics
        self.moments = turns.moments()
        sums = turns.sums(series)
        self.right = np.concatenate([sums[:1].real, sums[1:].real, sums[1:].imag])
        if trend:
            self.right = np.append(self.right, float(turns.times @ series))

    def _moment(self, p: int, order: npt.NDArray[np.int_]) -> Complex:
        """Σ t^p·e^(ikθ) for orders of either sign."""
        found = self.moments[p][np.abs(order)]
        return np.asarray(np.where(order < 0, found.conj(), found))

    def gram(self) -> Real:
        """Products of the rows with each other."""
        k = np.arange(1, self.count + 1)
        above, beside = self._moment(0, k[:, None] + k), self._moment(0, k[:, None] - k)
        cos_sin = (above.imag - beside.imag) / 2
        one = self._moment(0, np.arange(self.count + 1))
        size = 1 + 2 * self.count + self.trend
        made = np.empty((size, size))
        cos, sin = slice(1, 1 + self.count), slice(1 + self.count, 1 + 2 * self.count)
        made[0, 0] = one[0].real
        made[0, cos] = made[cos, 0] = one[1:].real
        made[0, sin] = made[sin, 0] = one[1:].imag
        made[cos, cos], made[sin, sin] = (above.real + beside.real) / 2, (beside.real - above.real) / 2
        made[cos, sin], made[sin, cos] = cos_sin, cos_sin.T
        if self.trend:
            timed = self._moment(1, np.arange(self.count + 1))
            made[-1, :-1] = made[:-1, -1] = np.concatenate([timed[:1].real, timed[1:].real, timed[1:].imag])
            made[-1, -1] = self.moments[2][0].real
        return made

    @property
    def swing(self) -> Complex:
        """The rows fitted as they are: coefficients of the tone and its harmonics."""
        return _swing(np.linalg.lstsq(self.gram(), self.right, rcond=1e-12)[0], self.count)

    def with_slope(self, swing: Complex) -> tuple[Real, Real]:
        """The equations with one more row: how the wave of these coefficients changes with the tone's frequency, per
        Hz."""
        k = np.arange(1, self.count + 1)
        self.slope = 2j * math.pi * k * swing  # times t, each
        above, beside = self._moment(1, k[:, None] + k), self._moment(1, k[:, None] - k)
        with_cos = (self.slope @ (above + beside)).real / 2
        with_sin = (self.slope @ (above - beside)).imag / 2
        with_one = float((self.slope @ self._moment(1, k)).real)
        across = np.concatenate([[with_one], with_cos, with_sin])
        if self.trend:
            across = np.append(across, float((self.slope @ self._moment(2, k)).real))
        above2, beside2 = self._moment(2, k[:, None] + k), self._moment(2, k[:, None] - k)
        itself = float((self.slope @ above2 @ self.slope + self.slope @ beside2 @ self.slope.conj()).real) / 2
        gram = np.block([[self.gram(), across[:, None]], [across[None, :], np.array([[itself]])]])
        timed = self.turns.sums(self.series * self.turns.times)[1:]
        return gram, np.append(self.right, float((self.slope @ timed).real))

    def left(self, solved: Real) -> Real:
        """The series without what was fitted, the slope's part included (n,)."""
        times = self.turns.times
        fitted = solved[0] + self.turns.wave(_swing(solved, self.count))
        fitted += times * self.turns.wave(float(solved[-1]) * self.slope)
        return np.asarray(self.series - fitted - (solved[-2] * times if self.trend else 0.0))


def _swing(solved: Real, count: int) -> Complex:
    return np.asarray(solved[1 : 1 + count] - 1j * solved[1 + count : 1 + 2 * count])


def extremes(coefficients: Complex, doubt: Real, extra: Sequence[tuple[float, float]] = ()) -> Extremes:
    """Crest and trough of a wave, less what noise in its coefficients adds to a highest point.

    `doubt` is the standard deviation of each real and imaginary part. `extra` are (amplitude, its standard
    deviation) of lines that do not go with the tone: their crests meet its own sooner or later."""
    count = len(coefficients)
    points = max(128, 16 * count)
    turns = np.exp(2j * math.pi * np.outer(np.arange(1, count + 1), np.arange(points)) / points)
    there = np.abs(coefficients) > 0
    curve = (coefficients @ turns).real
    # what noise adds is learnt on a calmer curve: on one with its noise in, a flat top would look less flat than it is
    size2 = np.maximum(np.abs(coefficients) ** 2, 1e-300)
    calm = ((coefficients * np.clip(1 - CALM * 2 * doubt**2 / size2, 0, 1)) @ turns).real
    dice = np.random.default_rng(1)
    noise = (dice.standard_normal((DRAWS, count)) + 1j * dice.standard_normal((DRAWS, count))) * np.where(
        there, doubt, 0
    )
    drawn = calm + (noise @ turns).real
    tops, lows = drawn.max(axis=1), -drawn.min(axis=1)
    high, low = _top(curve), _top(-curve)
    more, more_u = sum(a for a, _ in extra), math.sqrt(sum(u * u for _, u in extra))

    def less_noise(base: float, tried: Real, quiet: float) -> tuple[float, float]:
        added = float(tried.mean()) - quiet
        return base - added + more, math.hypot(float(tried.std()), BELIEF * added, more_u)

    # the larger of two that are alike is larger than either by noise alone: it has a bias of its own
    return Extremes(
        *less_noise(high, tops, float(calm.max())), *less_noise(low, lows, float(-calm.min())),
        *less_noise(max(high, low), np.maximum(tops, lows), float(np.abs(calm).max())),
        *less_noise((high + low) / 2, (tops + lows) / 2, float(calm.max() - calm.min()) / 2),
    )  # fmt: skip


def _top(curve: Real) -> float:
    """Highest point of a closed curve, between its samples too."""
    peak = int(np.argmax(curve))
    a, b, c = float(curve[peak - 1]), float(curve[peak]), float(curve[(peak + 1) % len(curve)])
    bend = a - 2 * b + c
    return b - (a - c) ** 2 / (8 * bend) if bend < 0 else b
