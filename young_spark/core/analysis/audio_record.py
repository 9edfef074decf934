"""A recorded tone: its frequency, SINAD and distortion, and the deviation it stands for."""

import math

import numpy as np

from young_spark.core.analysis.band import fast_length
from young_spark.core.analysis.converter import share_of, step_of
from young_spark.core.analysis.envelope import MOST_HARMONICS, distortion, tone_for, tone_frequency
from young_spark.core.analysis.figures import bounded, estimate, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.periodic import Periodic, extremes, fit_periodic, tone_near
from young_spark.core.analysis.steadiness import steadiness
from young_spark.core.captures import Real, Waveform
from young_spark.core.figure import Measured

METHOD = "audio"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
TONE_HZ = (30.0, 15_000.0)
LEAST_SECOND_HZ = 250.0
SECOND = 0.3  # of the tone
DEVIATIONS = ("fm_deviation_positive", "fm_deviation_negative", "fm_deviation")
TELLING, MOSTLY = 0.001, 0.5  # of a distortion: what the converter's steps make of it
LONGEST_PLOT, CYCLES_SHOWN = 4000, 10


def analyse_audio(capture: Waveform, options: Options) -> Analysis:
    """Tone, SINAD and distortion of a recording; with its scale the deviation too."""
    values = _limited(capture, options)
    tone_hz = tone_for(values, capture.rate_hz, options, TONE_HZ)
    names = ("audio_frequency", "sinad", "audio_distortion", *(DEVIATIONS if options.hz_per_unit else ()))
    if tone_hz is None or float(values.std()) == 0:
        return Analysis(
            "audio",
            None,
            tuple(nothing(n, "no tone is in the record", method=METHOD, reason="invalid_conditions") for n in names),
        )
    count = max(1, min(MOST_HARMONICS, int(0.49 * capture.rate_hz / tone_hz)))
    fit = fit_periodic(values, capture.rate_hz, tone_hz, count)
    if fit.amplitudes[0] < 5 * fit.amplitude_u[0]:
        return Analysis(
            "audio",
            None,
            tuple(
                nothing(n, "no tone stands out of the noise", method=METHOD, reason="invalid_conditions") for n in names
            ),
        )
    steady = steadiness(values, capture.rate_hz, fit.tone_hz, fit.sigma)
    other = None if steady.words else _second_tone(values, capture.rate_hz, fit)
    why = f"a second tone of {other:.0f} Hz is in it: one tone is needed" if other is not None else steady.words or ""
    coarse = _coarse(capture.values, fit)
    readings = [
        _by_its_clock(tone_frequency(fit, steady, METHOD, "tone of the record"), options),
        nothing("sinad", why, method=METHOD) if why else _sinad(len(values), fit),
        nothing("audio_distortion", why, method=METHOD) if why else _distortion(fit, coarse),
        *(_deviations(fit, options) if not steady.words else _no_deviations(steady.words, options)),
    ]
    shown = values[: min(LONGEST_PLOT, max(64, round(CYCLES_SHOWN * capture.rate_hz / fit.tone_hz)))]
    at = 1e3 * np.arange(len(shown)) / capture.rate_hz
    plot = Plot(
        "time, ms",
        "amplitude",
        (PlotLine("sound", tuple(at.tolist()), tuple(shown.tolist())),),
        (PlotMark("tone", 0.0, float(fit.amplitudes[0])),),
    )
    return Analysis("audio", None, tuple(readings), (), plot)


def _by_its_clock(tone: Measured, options: Options) -> Measured:
    """The tone's frequency with what the clock of the recorder may be off."""
    if tone.value is None or not options.reference_ppm:
        return tone
    remark = f"its clock is taken as right to {options.reference_ppm:g} ppm"
    wider = tone.widened(tone.value * options.reference_ppm / 1e6)
    return wider.model_copy(update={"remarks": (*tone.remarks, remark)})


def _limited(capture: Waveform, options: Options) -> Real:
    """The samples about their mean, inside the audio limits where they were told."""
    values: Real = capture.values - capture.values.mean()
    if options.audio_band_hz is None:
        return values
    n = fast_length(len(values))
    there = np.fft.rfft(values[:n])
    frequency = np.fft.rfftfreq(n, 1 / capture.rate_hz)
    there[(frequency < options.audio_band_hz[0]) | (frequency > options.audio_band_hz[1])] = 0
    return np.asarray(np.fft.irfft(there, n))


def _second_tone(values: Real, rate_hz: float, fit: Periodic) -> float | None:
    """Frequency of another tone beside the fitted one and its harmonics, None where there is none; hum is none."""
    left = values - fit.along(len(values), rate_hz)
    at = tone_near(left, rate_hz, LEAST_SECOND_HZ, min(TONE_HZ[1], 0.4 * rate_hz))
    if at is None or abs(at / fit.tone_hz - round(at / fit.tone_hz)) * fit.tone_hz < 3 * rate_hz / len(values):
        return None
    size = float(fit_periodic(left, rate_hz, at, 1).amplitudes[0])
    return at if size > SECOND * float(fit.amplitudes[0]) else None


def _coarse(values: Real, fit: Periodic) -> float:
    """Half-width of what the converter's steps do to an amplitude, as a share of the tone's."""
    step = step_of(values)
    return 0.0 if step is None else share_of(float(fit.amplitudes[0]) / step, (fit.sigma / step) ** 2)


def _distortion(fit: Periodic, coarse: float) -> Measured:
    """The distortion with what the converter's steps add to it; at most that much where they make most of it."""
    reading = distortion(fit, METHOD)
    more = 100 * coarse
    if reading.value is None or reading.bound is not None or more < TELLING * reading.value:
        return reading
    why = f"the converter's steps are coarse for this level: they alone may make {more:.2g} %"
    if more > MOSTLY * reading.value:
        most = reading.value + (reading.uncertainty or 0.0) + more
        return bounded("audio_distortion", most, "upper", why, method=METHOD)
    wider = math.hypot(reading.uncertainty or 0.0, more)
    return reading.model_copy(update={"uncertainty": wider, "interval": None, "remarks": (why, *reading.remarks)})


def _sinad(n: int, fit: Periodic) -> Measured:
    """Everything against everything but the tone: (S + N + D)/(N + D)."""
    signal = float(fit.amplitudes[0]) ** 2 / 2
    noise = max(fit.sigma**2, 1e-30)
    harmonics = float((np.abs(fit.kept[1:]) ** 2).sum()) / 2
    rest = noise + harmonics
    spread = math.hypot(noise * math.sqrt(2 / n), 2 * math.sqrt(harmonics / 2) * fit.sigma * math.sqrt(2 / n))
    spread = math.hypot(
        spread, signal * 2 * float(fit.amplitude_u[0]) / float(fit.amplitudes[0]) * rest / (signal + rest)
    )
    value = 10 * math.log10((signal + rest) / rest)
    return estimate(
        "sinad",
        value,
        4.343 * spread / rest,
        method=METHOD,
        working=f"10·log10(({signal:.3g} + {rest:.3g})/{rest:.3g})",
    )


def _no_deviations(why: str, options: Options) -> list[Measured]:
    names = DEVIATIONS if options.hz_per_unit is not None else ()
    return [nothing(name, why, method=METHOD, reason="invalid_conditions") for name in names]


def _deviations(fit: Periodic, options: Options) -> list[Measured]:
    if options.hz_per_unit is None:
        return []
    peaks = extremes(fit.kept, fit.amplitude_u)
    k = options.hz_per_unit
    values = (
        (peaks.high, peaks.high_u),
        (peaks.low, peaks.low_u),
        (peaks.larger, peaks.larger_u),
    )
    remark = ("how well the scale is known is not in the spread",)
    return [
        estimate(name, v * k, u * k, method=METHOD, working=f"{v:.4g} × {k:g} Hz", remarks=remark)
        for name, (v, u) in zip(DEVIATIONS, values, strict=True)
    ]
