"""Frequency modulation in a record of complex baseband: power, frequency, deviations, tone, subtone, hum and noise."""

import math

import numpy as np

from young_spark.core.analysis.band import Band, spectrum_of
from young_spark.core.analysis.envelope import distortion, tone_frequency
from young_spark.core.analysis.figures import K95, baseband_scale, decibels, estimate, frequencies, normal, nothing
from young_spark.core.analysis.fm_band import fills, fm_band
from young_spark.core.analysis.fm_demodulated import (
    JUST_OVER,
    SMALLEST_HZ,
    Demodulated,
    is_subtone,
    mean_frequency,
    swing_of,
    unwrapped,
)
from young_spark.core.analysis.fm_neighbour import alone
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.turns import hann
from young_spark.core.captures import Baseband, Real
from young_spark.core.figure import Measured

METHOD = "baseband"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
SPEECH = 0.5  # of the swing left when the tone is taken out: more is no tone
EXCEEDED = 0.001
DEVIATIONS = ("fm_deviation_positive", "fm_deviation_negative", "fm_deviation")
OF_THE_WIDTH = (
    "carrier_frequency", "frequency_error", *DEVIATIONS, "audio_frequency", "audio_distortion", "hum_and_noise",
)  # fmt: skip
LONGEST_PLOT, CYCLES_SHOWN = 4000, 10
POWER_PARTS = 32
KEYED, SILENT = 0.5, 0.1  # of the usual size
OF_A_NEIGHBOUR = 0.01  # of a deviation
BEATEN = 0.7  # of its usual size, from a tenth to nine tenths of the time: two carriers, or one near to its noise


def analyse_fm(capture: Baseband, options: Options) -> Analysis:
    """Power, carrier frequency, deviations, tone, hum and noise of an FM record."""
    spectrum = spectrum_of(capture.samples)
    if fills(spectrum):
        return _too_wide(capture, options)
    found, beside = alone(capture, options, spectrum)
    if found.tone is not None and (why := _beaten(found.band)) is not None:
        return Analysis("baseband", "fm", _none_of("carrier_power", *OF_THE_WIDTH, why=why), (why,), _plot(found))
    offset, offset_u = mean_frequency(found)
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


def _too_wide(capture: Baseband, options: Options) -> Analysis:
    """What such a record still tells: its power, and no more."""
    why = f"it is wider than the {capture.rate_hz / 1e3:.4g} kHz of the record: take it at a higher rate"
    whole = Band(capture.samples, capture.rate_hz, 0.0, 0.0, 1.0)
    return Analysis("baseband", "fm", (_power(whole, options), *_none_of(*OF_THE_WIDTH, why=why)), (why,))


def _none_of(*names: str, why: str) -> tuple[Measured, ...]:
    return tuple(nothing(name, why, method=METHOD) for name in names)


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


def _keyed_size(band: Band) -> Real:
    """The size of the samples; the edge of a key-down is not of its level."""
    size = np.abs(band.samples)
    return size[size > KEYED * float(np.quantile(size, 0.5))]


def _beaten(band: Band) -> str | None:
    """Why no level and no deviation is of one carrier; None where its size holds as that of FM does."""
    low, usual, high = (float(q) for q in np.quantile(np.abs(band.samples), (0.1, 0.5, 0.9)))
    if low < SILENT * usual or high - low < BEATEN * usual:
        return None
    return (
        f"its size swings from {100 * low / usual:.0f} % to {100 * high / usual:.0f} % of the usual: another carrier "
        "beats with it, or noise is as near"
    )


def _power(band: Band, options: Options) -> Measured:
    size = _keyed_size(band)
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
    explained = float((np.abs(swing_of(tone.coefficients, tone)) ** 2).sum()) / 2
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
