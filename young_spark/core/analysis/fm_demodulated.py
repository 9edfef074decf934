"""A band in frequency modulation as its phase: line, tone, harmonics and hum fitted together."""

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from young_spark.core.analysis.band import Band, fast_length
from young_spark.core.analysis.envelope import AUDIO_HZ, MOST_HARMONICS, tone_for
from young_spark.core.analysis.options import Options
from young_spark.core.analysis.periodic import Extremes, Periodic, extremes, fit_periodic, tone_near
from young_spark.core.analysis.steadiness import HOLDS, Steadiness, steadiness
from young_spark.core.analysis.stretches import Stretches, stretches
from young_spark.core.analysis.turns import Turns
from young_spark.core.captures import Complex, Real

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
AUDIO_FROM_HZ = 50.0
HUM_HZ = (20.0, 500.0)
MOST_HUM_LINES = 4
JUST_OVER = 1.001  # a harmonic on the edge of the audio limits is inside
SMALLEST_HZ = 20.0  # a deviation below this is no tone
WRAPS = 1.5  # rad
SUBTONES_HZ = (65.0, 256.0)
LEAST_TONE_HZ, MOST_TONE_HZ = 300.0, 4_000.0
SECOND_TONE = 0.12  # of the low line
OWN_HARMONICS = 5  # of a low tone: what stands higher is another
MAINS_HZ = (50.0, 60.0)


@dataclass(frozen=True)
class Demodulated:
    """Phase of a band in rad about its centre, the audio limits in Hz, and where the tone stands."""

    band: Band
    phase: Real
    audio_hz: tuple[float, float]
    parts: Stretches
    tone: Periodic | None  # of the phase
    hum: tuple[Periodic, ...]  # lines that do not go with the tone, of the phase
    steady: Steadiness = HOLDS  # of the tone

    @cached_property
    def peaks(self) -> Extremes | None:
        """Highest and lowest frequency of tone, harmonics and hum in Hz, about the mean; None without a tone."""
        tone = self.tone
        if tone is None:
            return None
        k = np.arange(1, len(tone.coefficients) + 1)
        inside = k * tone.tone_hz <= self.audio_hz[1] * JUST_OVER
        heard = [h for h in self.hum if h.tone_hz >= self.audio_hz[0] / JUST_OVER and not is_subtone(h)]
        hum = [(float(h.amplitudes[0]) * h.tone_hz, float(h.amplitude_u[0]) * h.tone_hz) for h in heard]
        return extremes(swing_of(np.where(inside, tone.kept, 0), tone), tone.amplitude_u * k * tone.tone_hz, hum)

    @cached_property
    def audio(self) -> Real:
        """Instantaneous frequency in Hz about its mean, inside the audio limits; one value for each sample of the
        phase."""
        swing = np.gradient(self.phase) * self.band.rate_hz / (2 * math.pi)
        n = fast_length(len(swing))
        there = np.fft.rfft(swing[:n] - swing.mean())
        frequency = np.fft.rfftfreq(n, 1 / self.band.rate_hz)
        there[(frequency < self.audio_hz[0] / JUST_OVER) | (frequency > self.audio_hz[1] * JUST_OVER)] = 0
        return np.asarray(np.fft.irfft(there, n))


def demodulate(band: Band, options: Options) -> Demodulated:
    """Phase, stretches, tone and hum of a band."""
    phase = unwrapped(band)
    high = min(AUDIO_HZ, 0.45 * band.rate_hz)
    audio = options.audio_band_hz or (AUDIO_FROM_HZ, high)
    audio = (audio[0], min(audio[1], 0.45 * band.rate_hz))
    swing = np.diff(phase) * band.rate_hz / (2 * math.pi)
    tone_hz = _above_a_subtone(swing, band.rate_hz, tone_for(swing, band.rate_hz, options, audio), options)
    whole = Stretches(slice(0, len(phase)), None)
    bare = Demodulated(band, phase, audio, whole, None, ())
    if tone_hz is None:
        return bare
    parts = stretches(_smoothed(swing, band.rate_hz, 2.5 * tone_hz), band.rate_hz, tone_hz)
    toned = slice(parts.toned.start, parts.toned.stop)
    count = max(1, min(MOST_HARMONICS, int(audio[1] / tone_hz * JUST_OVER)))
    if parts.quiet is not None:
        tone_hz = tone_near(swing[toned], band.rate_hz, 0.9 * tone_hz, 1.1 * tone_hz) or tone_hz
    tone, hum = _fit(band, phase, toned, tone_hz, count)
    if float(np.abs(swing_of(tone.coefficients[:1], tone))[0]) < max(
        SMALLEST_HZ, 6 * float(tone.amplitude_u[0]) * tone.tone_hz
    ):
        return bare
    steady = steadiness(phase[toned] - tone.trend * np.arange(toned.stop - toned.start) / band.rate_hz,
                        band.rate_hz, tone.tone_hz, tone.sigma)  # fmt: skip
    return Demodulated(band, phase, audio, parts, tone, hum, steady)


def _above_a_subtone(swing: Real, rate_hz: float, tone_hz: float | None, options: Options) -> float | None:
    """The tone, where the strongest line is as low as subtones are and another stands above them."""
    if tone_hz is None or tone_hz > SUBTONES_HZ[1] or options.tones_hz:
        return tone_hz
    above = tone_near(swing, rate_hz, LEAST_TONE_HZ, min(MOST_TONE_HZ, 0.4 * rate_hz))
    if above is None:
        return tone_hz
    times = round(above / tone_hz)
    if times <= OWN_HARMONICS and abs(above - times * tone_hz) < 3 * rate_hz / len(swing):
        return tone_hz
    low, high = (abs(complex(Turns(len(swing), rate_hz, hz, 1).sums(swing)[1])) for hz in (tone_hz, above))
    return above if high > SECOND_TONE * low else tone_hz


def unwrapped(band: Band) -> Real:
    """Phase of a band's samples, in rad."""
    return np.asarray(np.unwrap(np.angle(band.samples)), np.float64)


def _smoothed(values: Real, rate_hz: float, high_hz: float) -> Real:
    """A series without what lies above a frequency: a running mean is enough to see where it swings."""
    size = max(1, round(rate_hz / (2 * high_hz)))
    return np.convolve(values, np.ones(size) / size, mode="same")


def _fit(band: Band, phase: Real, part: slice, tone_hz: float, count: int) -> tuple[Periodic, tuple[Periodic, ...]]:
    """Line, tone and harmonics with hum, fitted to the samples turned still: no click of the unwrapped phase stays
    in it."""
    z, rate, start = band.samples[part], band.rate_hz, part.start / band.rate_hz
    rough = fit_periodic(phase[part], rate, tone_hz, min(count, 3), start_s=start, density=band.density, trend=True)
    model = rough.along(len(z), rate, start)
    still = z * np.exp(-1j * model)
    left = np.asarray(np.angle(still * np.exp(-1j * np.angle(still.sum()))), np.float64)
    whole = phase[part] - model
    if float((whole - whole.mean()).std()) > WRAPS:  # hum of a large index turns it round and round
        left = whole - whole.mean()
    hum = _hum_lines(left, rate, start, band.density, rough.tone_hz)
    for line in hum:
        left = left - line.along(len(z), rate, start)
    tone = fit_periodic(
        model + left, rate, rough.tone_hz, count, start_s=start, density=band.density, trend=True, refined=True
    )
    return tone, hum


def _hum_lines(left: Real, rate_hz: float, start_s: float, density: float, tone_hz: float) -> tuple[Periodic, ...]:
    lines: list[Periodic] = []
    for _ in range(MOST_HUM_LINES):
        at = tone_near(left, rate_hz, *HUM_HZ)
        if at is None or abs(at / tone_hz - round(at / tone_hz)) * tone_hz < 3 * rate_hz / len(left):
            break
        seen = Turns(len(left), rate_hz, at, 1).sums(left)[1]
        if 2 * abs(complex(seen)) / len(left) < 3 * float(left.std()) * math.sqrt(2 * density / len(left)):
            break  # not worth a fit
        line = fit_periodic(left, rate_hz, at, 1, start_s=start_s, density=density)
        if line.amplitudes[0] < 5 * line.amplitude_u[0] or not HUM_HZ[0] * 0.9 <= line.tone_hz <= HUM_HZ[1] * 1.1:
            break
        lines.append(replace(line, mean=0.0))
        left = left - line.along(len(left), rate_hz, start_s)
    return tuple(lines)


def is_subtone(line: Periodic) -> bool:
    """Whether a line beside the tone is a subtone: among their frequencies, and no multiple of a mains frequency."""
    near = min(abs(line.tone_hz / hz - round(line.tone_hz / hz)) * hz for hz in MAINS_HZ)
    return SUBTONES_HZ[0] < line.tone_hz < SUBTONES_HZ[1] and near > 0.25 + 3 * line.tone_u


def swing_of(coefficients: Complex, tone: Periodic) -> Complex:
    """Coefficients of the frequency in Hz from those of the phase in rad."""
    return 1j * tone.tone_hz * np.arange(1, len(coefficients) + 1) * coefficients


def mean_frequency(demodulated: Demodulated) -> tuple[float, float]:
    """Mean frequency against the band's centre, and its standard deviation, in Hz."""
    rate = demodulated.band.rate_hz
    choices = []
    if demodulated.tone is not None:
        choices.append((demodulated.tone.trend / (2 * math.pi), demodulated.tone.trend_u / (2 * math.pi)))
    still = (
        demodulated.phase
        if demodulated.tone is None
        else demodulated.phase[demodulated.parts.quiet]
        if demodulated.parts.quiet
        else None
    )
    if still is not None and len(still) > 16:
        times = np.arange(len(still)) / rate
        times = times - times.mean()
        slope = float(times @ still) / float(times @ times)
        left = still - still.mean() - slope * times
        sigma = math.sqrt(float(left @ left) / len(left) * demodulated.band.density)
        choices.append((slope / (2 * math.pi), sigma / math.sqrt(float(times @ times)) / (2 * math.pi)))
    return min(choices, key=lambda pair: pair[1])
