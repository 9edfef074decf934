"""Amplitude modulation in a record of complex baseband."""

import math
from dataclasses import replace

import numpy as np

from young_spark.core.analysis.band import Band, band_about, spectrum_of, strongest
from young_spark.core.analysis.carrier import Carrier, carrier_of
from young_spark.core.analysis.envelope import (
    DEPTHS,
    Envelope,
    depth_readings,
    fit_envelope,
    hum_reading,
    tone_readings,
    with_unmodulated,
)
from young_spark.core.analysis.figures import Scale, baseband_scale, bounded, frequencies, normal, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.periodic import Periodic, fit_periodic
from young_spark.core.analysis.presence import stands_out
from young_spark.core.analysis.second_carrier import MIRRORED, SecondCarrier, second_carrier
from young_spark.core.analysis.stretches import stretches
from young_spark.core.analysis.turns import Turns
from young_spark.core.captures import Baseband, Complex, Mask, Real
from young_spark.core.figure import Input, Measured

METHOD = "baseband"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 16_000.0
NEAR_HZ = 5_000.0
ALIKE, FAINT = 0.7, 0.03  # of the strongest line: no sideband is as high, and no carrier that was meant as low
WELL_PLACED_HZ = 500.0  # off the assigned frequency: a weaker line is only a sender's own so near to it
IMAGE_BINS = 3
HEARD = 0.05  # of the carrier: a second one that moves its envelope
LEFT_OUT = 0.45  # of the way to it
LONGEST_PLOT = 4000
POWERS = ("carrier_power", "peak_envelope_power", "mean_power")
CYCLES_SHOWN = 10
ROUNDS = 3
SURELY_OWN = 2  # harmonics that are looked at as they stand: above, a neighbour may stand among them
TURNED, SURE = 0.003, 6.0  # of the carrier, and standard deviations: a phase that goes with the tone
EMPTY = 0.15  # of the carrier: an envelope that low shows no phase, and takes that beside it


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


def fitted_envelope(
    band: Band, carrier: Carrier, options: Options, second: SecondCarrier | None = None
) -> tuple[Envelope, Carrier]:
    """The envelope as it is fitted, without the phase that goes with its tone and without what stands on one side
    only, and the carrier with its tone taken off; as it stands where the tone is the beat with a `second` carrier."""
    envelope = _fit(band, carrier, options)
    if envelope.tone is None or carrier.phase_only or (second is not None and second.beats_at(envelope.tone.tone_hz)):
        return envelope, carrier
    beside = np.arange(len(envelope.tone.coefficients)) >= SURELY_OWN
    taken_off = False
    for _ in range(ROUNDS):
        still = _phase_taken_off(carrier, band, envelope.tone, beside)
        if still is None:
            break
        band, carrier, taken_off = *_turned_on(band, still, envelope), True
        envelope = _fit(band, carrier, options)
        if envelope.tone is None:
            return envelope, carrier
        beside = neighbours(carrier, band, envelope.tone)
    if not taken_off and envelope.tone is not None:
        beside = neighbours(carrier, band, envelope.tone)
    if beside.any():
        envelope = _fit(band, carrier, options, beside)
    if envelope.tone is not None and not taken_off and not envelope.from_quiet:
        carrier = carrier_of(band, envelope.tone.along(len(band.samples), band.rate_hz))
    return envelope, carrier


def _fit(band: Band, carrier: Carrier, options: Options, one_sided: Mask | None = None) -> Envelope:
    return fit_envelope(
        carrier.envelope, band.rate_hz, options, density=band.density, across=carrier.across, one_sided=one_sided
    )


def _turned_on(band: Band, still: Carrier, envelope: Envelope) -> tuple[Band, Carrier]:
    """The band with that phase taken off, and its carrier found anew: the phase of a tone that was cut short had bent
    its line."""
    band = replace(band, samples=still.envelope + 1j * still.across, offset_hz=still.offset_hz)
    if envelope.from_quiet or envelope.tone is None:
        return band, still
    found = carrier_of(band, envelope.tone.along(len(band.samples), band.rate_hz))
    return band, replace(found, wanders=still.wanders, offset_u=math.hypot(found.offset_u, still.offset_u))


def _phase_taken_off(carrier: Carrier, band: Band, tone: Periodic, beside: Mask) -> Carrier | None:
    """The carrier without the phase that goes with its tone, as a sender's supply or its modulator turns it: only what
    is left of that is the envelope. None where no such phase stands out."""
    part = stretches(carrier.envelope, band.rate_hz, tone.tone_hz).toned
    series, start = carrier.across[part], part.start / band.rate_hz
    count = len(tone.coefficients)
    seen = Turns(len(series), band.rate_hz, tone.tone_hz, 1).sums(series)[1]
    if 2 * abs(complex(seen)) < TURNED * tone.mean * len(series):
        return None  # not worth a fit
    turned = fit_periodic(
        series, band.rate_hz, tone.tone_hz, count, start_s=start, density=band.density, trend=True, refined=True
    )
    coefficients = np.where(beside[:count], 0, turned.kept)
    first = float(np.abs(coefficients[0]))
    along = tone.along(len(series), band.rate_hz, start)
    if first < max(TURNED * tone.mean, SURE * float(turned.amplitude_u[0])):
        return None
    across = replace(turned, coefficients=coefficients).along(len(series), band.rate_hz, start)
    still = carrier.envelope + 1j * carrier.across
    there = np.flatnonzero(along > EMPTY * tone.mean)
    phase = np.interp(np.arange(len(along)), there, np.arctan2(across, along)[there])
    still[part] *= np.exp(-1j * phase)
    return replace(carrier, envelope=still.real, across=still.imag)


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


def carrier_band(capture: Baseband, options: Options, half_width_hz: float = HALF_WIDTH_HZ) -> Band:
    """The band about the strongest carrier, or about the one near the assigned frequency."""
    spectrum = spectrum_of(capture.samples)
    near = None if options.nominal_hz is None else options.nominal_hz - capture.centre_hz
    if near is not None and abs(near) > 0.5 * capture.rate_hz:
        near = None  # the record does not reach there: what it holds is read, and the error says how far off it is
    within = min(NEAR_HZ, 0.4 * capture.rate_hz)
    if near is not None and not _is_near(spectrum, capture.rate_hz, near, within):
        near = None  # it is looked for in the whole record: the error says how far off it is
    offset = strongest(spectrum, capture.rate_hz, near, within)
    width = min(half_width_hz, 0.45 * capture.rate_hz)
    return band_about(capture.samples, capture.rate_hz, offset, width, spectrum)


def _is_near(spectrum: Complex, rate_hz: float, near_hz: float, within_hz: float) -> bool:
    """Whether a line near the assigned frequency is a carrier's: out of the floor, not faint beside the strongest of
    the record, none of its sidebands, and not the receiver's own at its centre."""
    n = len(spectrum)
    low, high = (math.floor((near_hz + s * within_hz) * n / rate_hz) for s in (-1, 1))
    bins = np.arange(low, high + 1)
    if stands_out(np.abs(spectrum[bins % n]) ** 2) is None:
        return False
    size, top = np.abs(spectrum), round(strongest(spectrum, rate_hz) * n / rate_hz)
    line = int(bins[np.argmax(size[bins % n])])
    height = float(size[line % n])
    if height >= ALIKE * float(size[top % n]):
        return True
    image = float(size[(2 * top - line + np.arange(-IMAGE_BINS, IMAGE_BINS + 1)) % n].max())
    at_rest = abs(line) <= IMAGE_BINS
    well_placed = abs(line * rate_hz / n - near_hz) < WELL_PLACED_HZ and not at_rest
    return height > FAINT * float(size[top % n]) and image < MIRRORED * height and well_placed


def neighbours(carrier: Carrier, band: Band, tone: Periodic) -> Mask:
    """Harmonics of the tone whose place is held by something on one side of the carrier only: no envelope makes
    that."""
    still: Complex = carrier.envelope + 1j * carrier.across
    times: Real = np.arange(len(still)) / band.rate_hz
    turn = np.exp(-2j * math.pi * tone.tone_hz * times)
    beside = np.zeros(len(tone.coefficients), bool)
    power = np.ones_like(turn)
    for k in range(1, len(beside) + 1):
        power = power * turn
        if k >= 3 and tone.coefficients[k - 1] != 0:
            above, below = abs(complex((still * power).mean())), abs(complex((still / power).mean()))
            beside[k - 1] = min(above, below) < 0.4 * max(above, below)
    return beside


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
