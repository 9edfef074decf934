"""Frequency modulation in a record of complex baseband: line, tone and harmonics fitted to the phase together."""

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from young_spark.core.analysis.band import Band, band_about, fast_length, spectrum_of
from young_spark.core.analysis.envelope import AUDIO_HZ, MOST_HARMONICS, distortion, tone_for, tone_frequency
from young_spark.core.analysis.figures import K95, baseband_scale, decibels, estimate, frequencies, normal, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.periodic import Extremes, Periodic, extremes, fit_periodic, tone_near
from young_spark.core.analysis.steadiness import HOLDS, Steadiness, steadiness
from young_spark.core.analysis.stretches import Stretches, stretches
from young_spark.core.analysis.turns import Turns, hann, turning
from young_spark.core.captures import Baseband, Complex, Real
from young_spark.core.figure import Measured

METHOD = "baseband"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 22_000.0
CLUSTER_HZ = 2_500.0
BOX_PARTS = 16
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
SPEECH = 0.5  # of the swing left when the tone is taken out: more is no tone
EXCEEDED = 0.001
DEVIATIONS = ("fm_deviation_positive", "fm_deviation_negative", "fm_deviation")
LONGEST_PLOT, CYCLES_SHOWN = 4000, 10
BEAT_FROM_HZ, BEAT_BOX_HZ = 3_500.0, 200.0
BEATEN = 12.0  # times the middle of all boxes
SMALLEST_BEAT = 0.003  # of the carrier
NARROWEST_HZ = 4_500.0
POWER_PARTS = 32
KEYED = 0.5  # of the usual size
SHORT_OF_IT = 0.85  # of the way to a neighbour
OF_A_NEIGHBOUR = 0.01  # of a deviation
ONE_SIDED, SURELY_ONE_SIDED = 0.25, 0.6  # of what stands on both sides
FARTHEST_TONE_HZ, LEFT_OUT = 4_500.0, 0.6  # a tone above that is seldom sent; of the way to a neighbour
EDGE = 0.03  # of the record's rate, at each edge
SPILT = 0.002  # of its power: more there is the transmission itself


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
        return extremes(_swing(np.where(inside, tone.kept, 0), tone), tone.amplitude_u * k * tone.tone_hz, hum)

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


def analyse_fm(capture: Baseband, options: Options) -> Analysis:
    """Power, carrier frequency, deviations, tone, hum and noise of an FM record."""
    spectrum = spectrum_of(capture.samples)
    if _fills(spectrum):
        return _too_wide(capture, options)
    found, beside = _alone(capture, options, spectrum)
    offset, offset_u = _carrier(found)
    remarks = [
        f"deviation is that of the tone, its harmonics and hum from {found.audio_hz[0]:g} Hz to "
        f"{found.audio_hz[1]:g} Hz"
    ]
    if beside:
        remarks.append("a neighbouring channel is in the record: its beat is not counted")
    if found.band.spikes:
        remarks.append(f"{found.band.spikes} samples with spikes were left out")
    return Analysis(
        "baseband", "fm",
        (
            _power(found.band, options),
            *frequencies(options, capture.centre_hz + found.band.offset_hz + offset, offset_u, method=METHOD),
            *(_beside(r) if beside else r for r in _deviations(found)),
            *_tone(found, options),
            *_subtone(found),
            _hum(found, options),
        ),
        tuple(remarks),
        _plot(found),
    )  # fmt: skip


def _fills(spectrum: Complex) -> bool:
    """Whether a transmission reaches both edges of what the record's rate holds: what lies beyond is folded into it."""
    n, wide = len(spectrum), max(1, round(EDGE * len(spectrum)))
    power = np.square(spectrum.real)
    power += np.square(spectrum.imag)
    edges = power[n // 2 - wide : n // 2 + wide]
    floor = float(np.quantile(power[::5], 0.25)) / math.log(4 / 3)  # of an exponential scatter
    total = float(power.sum()) - floor * n
    return total > 0 and float(edges.sum()) - floor * len(edges) > SPILT * total


def _too_wide(capture: Baseband, options: Options) -> Analysis:
    """What such a record still tells: its power, and no more."""
    why = f"it is wider than the {capture.rate_hz / 1e3:.4g} kHz of the record: take it at a higher rate"
    none = ("carrier_frequency", "frequency_error", *DEVIATIONS, "audio_frequency", "audio_distortion", "hum_and_noise")
    figures = [nothing(name, why, method=METHOD) for name in none]
    whole = Band(capture.samples, capture.rate_hz, 0.0, 0.0, 1.0)
    return Analysis("baseband", "fm", (_power(whole, options), *figures), (why,))


def fm_band(capture: Baseband, options: Options, spectrum: Complex) -> Band:
    """The band about the strongest transmission, or the one near the assigned frequency."""
    n, rate = len(spectrum), capture.rate_hz
    power = np.square(spectrum.real)
    power += np.square(spectrum.imag)
    floor = float(np.quantile(power[::5], 0.5)) / math.log(2)  # white noise: its mean is its middle over ln 2
    above = np.maximum(np.subtract(power, floor, out=power), 0, out=power)
    # some bins at a time: where a box of power is highest need not be known to a bin
    group = max(1, round(CLUSTER_HZ * n / rate / BOX_PARTS))
    summed = np.add.reduceat(above, np.arange(0, n, group))
    wide = min(len(summed), max(1, round(CLUSTER_HZ * n / rate / group)))
    total = np.concatenate([[0.0], np.cumsum(np.concatenate([summed, summed[:wide]]))])
    box = total[wide : wide + len(summed)] - total[: len(summed)]
    middles = (np.arange(len(summed)) + wide / 2) * group * rate / n
    middles = (middles + rate / 2) % rate - rate / 2
    if options.nominal_hz is not None and abs(options.nominal_hz - capture.centre_hz) < 0.5 * rate:
        box = np.where(np.abs(middles - (options.nominal_hz - capture.centre_hz)) < 2 * CLUSTER_HZ, box, 0)
    centre = round(float(middles[int(np.argmax(box))]) * n / rate)
    reach = min(n // 2 - 1, math.ceil(2 * CLUSTER_HZ * n / rate))
    away = np.arange(-reach, reach + 1)
    near = above[(centre + away) % n]
    offset = (centre + float(away @ near) / max(float(near.sum()), 1e-300)) * rate / n
    return band_about(capture.samples, rate, offset, min(HALF_WIDTH_HZ, 0.45 * rate), spectrum)


def _alone(capture: Baseband, options: Options, spectrum: Complex) -> tuple[Demodulated, bool]:
    """The record demodulated in the widest band that holds nothing else, and whether something lies beside it."""
    band = fm_band(capture, options, spectrum)
    demodulated = demodulate(band, options)
    width = _width_without_a_neighbour(demodulated)
    if width is None:
        return demodulated, False
    centre = band.offset_hz + _carrier(demodulated)[0]
    return demodulate(band_about(capture.samples, capture.rate_hz, centre, width), options), True


def _width_without_a_neighbour(demodulated: Demodulated) -> float | None:
    """Half the width of the band that holds no neighbour in Hz; None where there is none."""
    band, tone = demodulated.band, demodulated.tone
    high = tone.tone_hz if tone is not None and tone.tone_hz > FARTHEST_TONE_HZ else None
    beat_hz = _beat(band.samples, band.rate_hz)
    if high is None and beat_hz is None:
        return None
    still = band.samples * turning(-2 * math.pi * _carrier(demodulated)[0] / band.rate_hz, len(band.samples))
    if high is not None and _one_sided(still, band.rate_hz, high, 2 * BEAT_BOX_HZ, SURELY_ONE_SIDED):
        return LEFT_OUT * high  # what looks like a tone is the beat with it
    if beat_hz is None or not _one_sided(still, band.rate_hz, beat_hz, CLUSTER_HZ, ONE_SIDED):
        return None
    swing = float(np.quantile(np.abs(demodulated.audio), 0.5)) * 1.5  # of a tone; a beat hardly moves the middle
    tone_hz = min(tone.tone_hz if tone else 1000.0, 3000.0)
    wanted = max(NARROWEST_HZ, swing + 3 * tone_hz)
    return min(band.rate_hz / 2.3, wanted, max(SHORT_OF_IT * beat_hz, swing + tone_hz))


def _beat(samples: Complex, rate_hz: float) -> float | None:
    """Where the size of the samples swings faster than a tone's remains do, in Hz: two carriers beat, one of FM does
    not. None where it does not."""
    n = fast_length(len(samples))
    size = np.abs(samples[:n])
    power = np.abs(np.fft.rfft((size - size.mean()) * hann(n))) ** 2
    wide = max(4, round(BEAT_BOX_HZ * n / rate_hz))
    first, last = round(BEAT_FROM_HZ * n / rate_hz), round(HALF_WIDTH_HZ * 0.8 * n / rate_hz)
    last = min(last, len(power))
    if last - first < 4 * wide:
        return None
    boxes = power[first : first + (last - first) // wide * wide].reshape(-1, wide).sum(axis=1)
    share = float(boxes.max()) / (n * float((size**2).sum()) * 0.375)
    beats = float(boxes.max()) > BEATEN * float(np.median(boxes)) and share > SMALLEST_BEAT**2
    return (first + (int(np.argmax(boxes)) + 0.5) * wide) * rate_hz / n if beats else None


def _one_sided(samples: Complex, rate_hz: float, at_hz: float, reach_hz: float, share: float) -> bool:
    """Whether more stands on one side of the band's middle than on the other: noise of a receiver's filter does not."""
    n = fast_length(len(samples))
    power = np.abs(np.fft.fft(samples[:n] * hann(n))) ** 2
    hz = np.fft.fftfreq(n, 1 / rate_hz)
    above, below = (float(power[np.abs(s * hz - at_hz) < reach_hz].sum()) for s in (1, -1))
    return abs(above - below) > share * (above + below)


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
    if float(np.abs(_swing(tone.coefficients[:1], tone))[0]) < max(
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


def _subtone(demodulated: Demodulated) -> list[Measured]:
    lines = [h for h in demodulated.hum if is_subtone(h)]
    if not lines:
        return []
    line = max(lines, key=lambda h: float(h.amplitudes[0]) * h.tone_hz)
    return [
        estimate("subtone_frequency", line.tone_hz, line.tone_u, method=METHOD, working="line beside the tone"),
        estimate(
            "subtone_deviation", float(line.amplitudes[0]) * line.tone_hz, float(line.amplitude_u[0]) * line.tone_hz,
            method=METHOD, working=f"{float(line.amplitudes[0]):.4g} rad × {line.tone_hz:.4g} Hz",
        ),
    ]  # fmt: skip


def _swing(coefficients: Complex, tone: Periodic) -> Complex:
    """Coefficients of the frequency in Hz from those of the phase in rad."""
    return 1j * tone.tone_hz * np.arange(1, len(coefficients) + 1) * coefficients


def _carrier(demodulated: Demodulated) -> tuple[float, float]:
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


def _power(band: Band, options: Options) -> Measured:
    size = np.abs(band.samples)
    size = size[size > KEYED * float(np.quantile(size, 0.5))]  # the edge of a key-down is not of its level
    noise = float(size.var())
    square = float((size**2).mean()) - 2 * noise
    parts = np.array([float((part**2).mean()) for part in np.array_split(size, POWER_PARTS)])
    white = 2 * math.sqrt(max(square, 0.0) * noise * band.density / len(size))
    standard = max(white, float(parts.std()) / math.sqrt(POWER_PARTS))  # noise of any colour
    return baseband_scale(options).power("carrier_power", normal(square, standard), method=METHOD)


def _speech(demodulated: Demodulated) -> Real | None:
    """The demodulated audio where no tone explains it, else None."""
    audio = demodulated.audio[demodulated.parts.toned]
    tone = demodulated.tone
    if tone is None:
        swings = float(audio.std()) > max(SMALLEST_HZ, 2 * _noise_swing(demodulated))
        return audio if swings and demodulated.parts.quiet is None else None
    explained = float((np.abs(_swing(tone.coefficients, tone)) ** 2).sum()) / 2
    explained += sum((float(h.amplitudes[0]) * h.tone_hz) ** 2 for h in demodulated.hum) / 2
    edge = len(audio) // 20
    total = float(audio[edge : len(audio) - edge].var())
    return audio if total - explained > SPEECH**2 * total + 2 * _noise_swing(demodulated) ** 2 else None


def _noise_swing(demodulated: Demodulated) -> float:
    """Rms in Hz that the record's white noise gives to the audio: from how much the size of the samples varies."""
    size = np.abs(demodulated.band.samples)
    per_hz = float(size.var()) / float((size**2).mean()) * demodulated.band.density / demodulated.band.rate_hz * 2
    return math.sqrt(per_hz * demodulated.audio_hz[1] ** 3 / 3)


def _deviations(demodulated: Demodulated) -> list[Measured]:
    spoken = _speech(demodulated)
    if spoken is not None:
        return _spoken_deviations(spoken)
    peaks = demodulated.peaks
    if peaks is None:
        return [
            nothing(name, "no tone is in the record", method=METHOD, reason="invalid_conditions") for name in DEVIATIONS
        ]
    if demodulated.steady.words is not None:
        return [
            nothing(name, demodulated.steady.words, method=METHOD, reason="invalid_conditions") for name in DEVIATIONS
        ]
    words = "highest of tone, harmonics and hum against the mean"
    more = demodulated.steady.half * max(peaks.high, peaks.low) / K95
    values = tuple(
        (value, math.hypot(doubt, more))
        for value, doubt in ((peaks.high, peaks.high_u), (peaks.low, peaks.low_u), (peaks.larger, peaks.larger_u))
    )
    hum = tuple(
        f"a subtone of {h.tone_hz:.1f} Hz is not in it" if is_subtone(h) else f"hum at {h.tone_hz:.0f} Hz is in it"
        for h in demodulated.hum
    )
    return [
        estimate(name, v, u, method=METHOD, working=words, remarks=hum)
        for name, (v, u) in zip(DEVIATIONS, values, strict=True)
    ]


def _beside(deviation: Measured) -> Measured:
    """A deviation with what a neighbour that was left out may still do to it."""
    if deviation.value is None or deviation.uncertainty is None:
        return deviation
    more = OF_A_NEIGHBOUR * deviation.value
    return deviation.model_copy(update={"uncertainty": math.hypot(deviation.uncertainty, more), "interval": None})


def _spoken_deviations(audio: Real) -> list[Measured]:
    high, low = float(np.quantile(audio, 1 - EXCEEDED)), -float(np.quantile(audio, EXCEEDED))
    spread = [
        float(np.std([np.quantile(p, q) for p in np.array_split(audio, 8)])) / math.sqrt(8)
        for q in (1 - EXCEEDED, EXCEEDED)
    ]
    larger = max((high, spread[0]), (low, spread[1]))
    remark = ("speech or no steady tone: the value exceeded 0.1 % of the time",)
    values = ((high, spread[0]), (low, spread[1]), larger)
    return [
        estimate(n, v, u, method=METHOD, working="exceeded 0.1 % of the time", remarks=remark)
        for n, (v, u) in zip(DEVIATIONS, values, strict=True)
    ]


def _tone(demodulated: Demodulated, options: Options) -> list[Measured]:
    tone = demodulated.tone
    if tone is None or _speech(demodulated) is not None:
        why = "no tone is in the record" if tone is None else "speech or no steady tone"
        return [
            nothing(n, why, method=METHOD, reason="invalid_conditions") for n in ("audio_frequency", "audio_distortion")
        ]
    k = np.arange(1, len(tone.coefficients) + 1)
    weights = np.where(k * tone.tone_hz <= demodulated.audio_hz[1] * JUST_OVER, k * tone.tone_hz, 0.0)
    frequency = tone_frequency(tone, demodulated.steady, METHOD, "tone of the phase")
    if demodulated.steady.words is not None:
        why = demodulated.steady.words
        return [frequency, nothing("audio_distortion", why, method=METHOD, reason="invalid_conditions")]
    return [
        frequency,
        distortion(tone, METHOD, weights * _deemphasis(k * tone.tone_hz, options)),
    ]


def _deemphasis(frequency_hz: Real, options: Options) -> Real:
    """Gain of the de-emphasis 1/(1 + i·2πf·τ) at a frequency."""
    return np.asarray(1 / np.sqrt(1 + (2 * math.pi * frequency_hz * (options.deemphasis_s or 0.0)) ** 2))


def _hum(demodulated: Demodulated, options: Options) -> Measured:
    if options.reference_deviation_hz is None:
        return nothing(
            "hum_and_noise", "it needs the deviation to compare with [reference_deviation_hz]", method=METHOD
        )
    still, rate = _still_phase(demodulated, options)
    if still is None:
        why = "the record has no unmodulated stretch of 50 ms beside the tone [unmodulated]"
        return nothing("hum_and_noise", why, method=METHOD)
    rms, count = _swing_rms(still, rate, demodulated.audio_hz, options)
    level = decibels(rms * math.sqrt(2) / options.reference_deviation_hz)
    return estimate(
        "hum_and_noise",
        level,
        8.686 / (2 * math.sqrt(count)),
        method=METHOD,
        working=f"20·log10({rms:.3g} Hz rms / ({options.reference_deviation_hz:g} Hz/√2))",
        remarks=(
            f"against a deviation of {options.reference_deviation_hz:g} Hz, {demodulated.audio_hz[0]:g} Hz "
            f"to {demodulated.audio_hz[1]:g} Hz",
        ),
    )


def _still_phase(demodulated: Demodulated, options: Options) -> tuple[Real | None, float]:
    if isinstance(options.unmodulated, Baseband):
        band = fm_band(options.unmodulated, options, spectrum_of(options.unmodulated.samples))
        return unwrapped(band), band.rate_hz
    rate = demodulated.band.rate_hz
    if demodulated.tone is None:
        return demodulated.phase, rate
    return (demodulated.phase[demodulated.parts.quiet] if demodulated.parts.quiet else None), rate


def _swing_rms(phase: Real, rate_hz: float, audio_hz: tuple[float, float], options: Options) -> tuple[float, float]:
    """Rms of the frequency in Hz inside the audio limits, and of how many independent parts it is the sum."""
    n = len(phase)
    times = np.arange(n) / rate_hz
    bent = phase - np.polyval(np.polyfit(times, phase, 1), times)
    window = hann(n)
    power = 2 * np.abs(np.fft.rfft(bent * window)) ** 2 / (n * float((window**2).sum()))
    frequency = np.fft.rfftfreq(n, 1 / rate_hz)
    inside = (frequency >= audio_hz[0]) & (frequency <= audio_hz[1])
    parts = (power * (frequency * _deemphasis(frequency, options)) ** 2)[inside]
    total = float(parts.sum())
    return math.sqrt(total), max(4.0, total * total / max(float((parts**2).sum()), 1e-300) / 2)


def _plot(demodulated: Demodulated) -> Plot:
    audio = demodulated.audio
    start = demodulated.parts.toned.start
    cycles = (
        LONGEST_PLOT
        if demodulated.tone is None
        else max(64, round(CYCLES_SHOWN * demodulated.band.rate_hz / demodulated.tone.tone_hz))
    )
    shown = audio[start : start + min(LONGEST_PLOT, cycles)]
    at = 1e3 * (start + np.arange(len(shown))) / demodulated.band.rate_hz
    peaks = demodulated.peaks
    marks = (PlotMark("up", float(at[0]), peaks.high), PlotMark("down", float(at[0]), -peaks.low)) if peaks else ()
    return Plot(
        "time, ms", "deviation, Hz", (PlotLine("demodulated", tuple(at.tolist()), tuple(shown.tolist())),), marks
    )
