"""Amplitude modulation in a record of complex baseband."""

import math

import numpy as np

from young_spark.core.analysis.am_envelope import fitted_envelope
from young_spark.core.analysis.band import Band
from young_spark.core.analysis.carrier import Carrier, carrier_of
from young_spark.core.analysis.carrier_band import carrier_band
from young_spark.core.analysis.envelope import (
    DEPTHS,
    Envelope,
    depth_readings,
    hum_reading,
    tone_readings,
    with_unmodulated,
)
from young_spark.core.analysis.figures import Scale, baseband_scale, bounded, frequencies, normal, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.second_carrier import SecondCarrier, second_carrier
from young_spark.core.captures import Baseband, Real
from young_spark.core.figure import Input, Measured

METHOD = "baseband"
HEARD = 0.05  # of the carrier: a second one that moves its envelope
LEFT_OUT = 0.45  # of the way to it
LONGEST_PLOT = 4000
POWERS = ("carrier_power", "peak_envelope_power", "mean_power")
CYCLES_SHOWN = 10


def analyse_am(capture: Baseband, options: Options) -> Analysis:
    """Powers, carrier frequency, depths, carrier shift, tone, hum and noise of an AM record."""
    band = carrier_band(capture, options)
    carrier = carrier_of(band)
    second = second_carrier(capture.samples, capture.rate_hz, carrier.offset_hz)
    second = second if second is not None and second.share > HEARD else None
    if second is not None and second.is_next_channel:
        band = carrier_band(capture, options, LEFT_OUT * abs(second.hz))
        carrier = carrier_of(band)
    envelope, carrier = fitted_envelope(band, carrier, options, second)
    remarks = record_remarks(band, carrier)
    if second is not None and envelope.tone is not None and second.beats_at(envelope.tone.tone_hz):
        return _beaten(capture, options, carrier, second, remarks)
    if isinstance(options.unmodulated, Baseband):
        still_band = carrier_band(options.unmodulated, options)
        envelope = with_unmodulated(envelope, carrier_of(still_band).envelope, still_band.density)
    return Analysis(
        "baseband", "am",
        (
            *power_readings(envelope, options),
            *frequencies(options, capture.centre_hz + carrier.offset_hz, carrier.offset_u, method=METHOD),
            *depth_readings(envelope, METHOD),
            *tone_readings(envelope.tone, envelope.steady, METHOD, "tone of the envelope"),
            hum_reading(envelope, options, band.rate_hz, METHOD),
        ),
        remarks + _beside(second),
        plot_of(carrier.envelope, band, envelope),
    )  # fmt: skip


def _beside(second: SecondCarrier | None) -> tuple[str, ...]:
    """What a reader must know of another carrier."""
    if second is None:
        return ()
    if second.is_next_channel:
        reach = f"what modulates is read up to {LEFT_OUT * abs(second.hz) / 1e3:.1f} kHz"
        return (f"{second.words}: left out, {reach}",)
    return (f"{second.words}: its beat is not counted",)


def _beaten(
    capture: Baseband, options: Options, carrier: Carrier, beside: SecondCarrier, remarks: tuple[str, ...]
) -> Analysis:
    """A record whose envelope is the beat of two carriers: its frequency is told, and no depth."""
    why = f"{beside.words}: the envelope is their beat, and no modulation"
    none = (
        "carrier_power", "peak_envelope_power", "mean_power", *DEPTHS, "carrier_shift", "audio_frequency",
        "audio_distortion", "hum_and_noise",
    )  # fmt: skip
    figures = [nothing(name, why, method=METHOD, reason="invalid_conditions") for name in none]
    counted = frequencies(options, capture.centre_hz + carrier.offset_hz, carrier.offset_u, method=METHOD)
    return Analysis("baseband", "am", (*figures[:3], *counted, *figures[3:]), (why, *remarks))


def power_readings(envelope: Envelope, options: Options) -> list[Measured]:
    """Carrier, peak envelope and mean power."""
    scale = baseband_scale(options)
    level = normal(envelope.level**2, 2 * envelope.level * envelope.level_u)
    more = envelope.remarks
    if envelope.no_level is not None:
        return [nothing(name, envelope.no_level, method=METHOD, reason="invalid_conditions") for name in POWERS]
    if envelope.spoken is not None:
        return _spoken_powers(scale, level, envelope)
    if envelope.tone is None or envelope.peaks is None:
        same = "no modulation in the record: the same as the carrier"
        return [
            scale.power("carrier_power", level, method=METHOD, more=more),
            scale.power("peak_envelope_power", level, method=METHOD, more=(same,)),
            scale.power("mean_power", level, method=METHOD, more=(same,)),
        ]
    crest_u = math.hypot(envelope.tone.mean_u, envelope.peaks.high_u)
    mean_square = envelope.tone.mean**2 + float((envelope.tone.amplitudes**2).sum()) / 2
    mean_u = math.hypot(
        2 * envelope.tone.mean * envelope.tone.mean_u, float(envelope.tone.amplitudes[0] * envelope.tone.amplitude_u[0])
    )
    carrier = scale.power("carrier_power", level, method=METHOD, more=more)
    if (why := envelope.steady.words) is not None:
        return [carrier, *(nothing(name, why, method=METHOD, reason="invalid_conditions") for name in POWERS[1:])]
    return [
        carrier,
        scale.power("peak_envelope_power", normal(envelope.crest**2, 2 * envelope.crest * crest_u), method=METHOD),
        scale.power("mean_power", normal(mean_square, mean_u), method=METHOD),
    ]


def _spoken_powers(scale: Scale, level: Input, envelope: Envelope) -> list[Measured]:
    """Of speech the highest that was seen is no more than a bound."""
    high = envelope.spoken[0] if envelope.spoken else envelope.level
    most = scale.power("peak_envelope_power", normal(high**2, 0.0), method=METHOD)
    if most.value is not None:
        most = bounded("peak_envelope_power", most.value, "lower", "speech: exceeded 0.1 % of the time", method=METHOD)
    mean = nothing("mean_power", "speech: it changes from word to word", method=METHOD)
    return [scale.power("carrier_power", level, method=METHOD, more=envelope.remarks), most, mean]


def record_remarks(band: Band, carrier: Carrier) -> tuple[str, ...]:
    """What a reader must know of the record."""
    remarks = []
    if band.spikes:
        remarks.append(f"{band.spikes} samples with spikes were left out")
    if carrier.phase_only:
        remarks.append(
            "its phase moves and its size does not: frequency modulation, whose deviation is read as such [mode fm]"
        )
    if carrier.wanders:
        remarks.append("the carrier's phase wanders more than noise makes it: it is in the spread of its frequency")
    return tuple(remarks)


def plot_of(series: Real, band: Band, envelope: Envelope) -> Plot:
    """The envelope with the fit over it, and crest, trough and C."""
    shown, rate = shown_of(series, band.rate_hz, envelope)
    at = 1e3 * np.arange(len(shown)) / rate
    lines = [PlotLine("envelope", tuple(at.tolist()), tuple(shown.tolist()))]
    marks = [PlotMark("C", 0.0, envelope.level)]
    if envelope.tone is not None and envelope.peaks is not None:
        marks += [
            PlotMark("crest", 0.0, envelope.crest),
            PlotMark("trough", 0.0, max(0.0, envelope.tone.mean - envelope.peaks.low)),
        ]
    return Plot("time, ms", "envelope", tuple(lines), tuple(marks))


def shown_of(series: Real, rate_hz: float, envelope: Envelope | None) -> tuple[Real, float]:
    """What of an envelope is drawn: a few cycles of its tone, or all of it with points left out; and the rate of
    that."""
    if envelope is not None and envelope.tone is not None:
        return series[: min(LONGEST_PLOT, max(64, round(CYCLES_SHOWN * rate_hz / envelope.tone.tone_hz)))], rate_hz
    step = max(1, len(series) // LONGEST_PLOT)
    return series[::step], rate_hz / step
