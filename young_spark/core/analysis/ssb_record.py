"""Single sideband in a record of complex baseband: one tone, or two."""

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from young_spark.core.analysis.asked import SPIKE_LEFT_OUT
from young_spark.core.analysis.band import Band, band_about, fast_length, spectrum_of, strongest
from young_spark.core.analysis.figures import (
    K95,
    baseband_scale,
    bounded,
    decibels,
    found,
    frequencies,
    normal,
    nothing,
)
from young_spark.core.analysis.lines import SpectralLines, fit_lines
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine
from young_spark.core.analysis.turns import hann
from young_spark.core.captures import Baseband, Real
from young_spark.core.figure import Measured

METHOD = "baseband"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 12_000.0
AUDIO_HZ = (200.0, 4_000.0)
SEEN = 4.0  # an amplitude below so many of its standard deviations is not told from noise
UNEQUAL_DB = 0.5
OTHER_SIDE = 0.25  # of the tone: so near to where the other sideband has it

SPIKE_DOUBT = 6.0  # standard deviations
AT_THE_CENTRE = (
    "the carrier lies so near to the receiver's centre that its own spike may be what is seen: tune the receiver "
    "beside it"
)
SPIKE_APART = 3.0  # turns over the record: nearer than that one line cannot be told from the other
BESIDE_A_TONE_HZ = 130.0  # hum stands so near to it
NEAR_THE_ASSIGNED_HZ = 100.0
NOT_SEEN = "no carrier is seen near the assigned frequency: how far it is off needs the tone that was sent [tone_hz]"
SUPPRESSED = 0.1  # of the tone
CARRIER = 30.0  # times the noise: a line so high is one
UNEXPLAINED = 60.0  # times the noise: a line that nothing accounts for
LEAST_LINE = 1e-3  # of the tone
SUPPRESSIONS = ("carrier_suppression", "opposite_sideband_suppression")


def _band(capture: Baseband) -> tuple[Band, float]:
    spectrum = spectrum_of(capture.samples)
    top = strongest(spectrum, capture.rate_hz)
    width = min(HALF_WIDTH_HZ, 0.45 * capture.rate_hz)
    return band_about(capture.samples, capture.rate_hz, top, width, spectrum), top


def analyse_ssb(capture: Baseband, options: Options) -> Analysis:
    """PEP, suppressions and carrier frequency of one tone on one sideband."""
    band, top = _band(capture)
    side = 1.0 if options.sideband == "usb" else -1.0
    tone, remarks = _tone(capture, options, top, side, band)
    if tone is not None and _is_the_other(capture, options, top, side, tone):
        side = -side
        other = "lower" if side < 0 else "upper"
        remarks += (f"the tone lies on the {other} sideband of the assigned frequency: read as that",)
    if tone is None:
        lines = fit_lines(band, (top,))
        why = "which tone was sent must be known [tones_hz, nominal_hz]"
        rest = [nothing(n, why, method=METHOD) for n in (*SUPPRESSIONS, "carrier_frequency", "frequency_error")]
        return Analysis("baseband", "ssb", (_pep(lines, band, options), *rest), remarks, _plot(capture))
    lines = fit_lines(band, (top,), _tied(side, tone))
    if (unexplained := _unexplained(band, lines)) is not None and not _is_seen(lines):
        own = None if options.tones_hz else _with_its_mirror(band, top, side, lines.offsets_hz[1] + unexplained)
        if own is None:
            return _of_another_tone(lines, band, options, tone, unexplained, _plot(capture))
        tone, lines = own
    if not _is_seen(lines):
        return _of_an_unseen(lines, band, capture, options, remarks)
    band, spike = _without_own_spike(band, top, _tied(side, tone))
    remarks += (SPIKE_LEFT_OUT,) if spike else ()
    lines = fit_lines(band, (top,), _tied(side, tone))
    carrier_hz, carrier_u = lines.offsets_hz[1], lines.offset_u[0]
    free = fit_lines(band, (lines.offsets_hz[0], carrier_hz))  # where the rest of the carrier is, whatever the tone
    if free.offset_u[1] < 0.3 and abs(free.offsets_hz[1] - carrier_hz) < max(5.0, 0.02 * tone):
        if _may_be_the_spike(band, free, carrier_hz):
            return _of_no_known_carrier(lines, band, options, AT_THE_CENTRE, _plot(capture))
        lines = fit_lines(band, free.offsets_hz, ((-1.0, 2.0, 0.0), (2.0, -1.0, 0.0), (3.0, -2.0, 0.0)))
        carrier_hz, carrier_u = lines.offsets_hz[1], lines.offset_u[1]
        seen = side * (lines.offsets_hz[0] - carrier_hz)
        remarks += (f"carrier seen beside the tone of {seen:.1f} Hz",)
    counted = frequencies(options, capture.centre_hz + carrier_hz, carrier_u, method=METHOD)
    return _of_one_tone(lines, band, options, counted, remarks, _plot(capture))


def _of_an_unseen(
    lines: SpectralLines, band: Band, capture: Baseband, options: Options, remarks: tuple[str, ...]
) -> Analysis:
    """A record whose carrier is down in the noise: it stands where the tone that was told puts it, or, where none was,
    anywhere near the assigned frequency."""
    plot = _plot(capture)
    if not options.tones_hz:
        unknown = tuple(nothing(n, NOT_SEEN, method=METHOD) for n in ("carrier_frequency", "frequency_error"))
        return _of_one_tone(lines, band, options, unknown, (*remarks, NOT_SEEN), plot, NEAR_THE_ASSIGNED_HZ)
    told = (
        f"carrier worked out from the tone of {options.tones_hz[0]:g} Hz as told: how far that is out is not in the "
        "spread"
    )
    at_hz = capture.centre_hz + lines.offsets_hz[1]
    counted = frequencies(options, at_hz, lines.offset_u[0], method=METHOD)
    return _of_one_tone(lines, band, options, counted, (*remarks, told), plot)


def _of_one_tone(
    lines: SpectralLines, band: Band, options: Options, counted: tuple[Measured, ...], remarks: tuple[str, ...],
    plot: Plot, nearby_hz: float = 0.0,
) -> Analysis:  # fmt: skip
    """PEP, suppressions and what was counted; `nearby_hz`: how far from its place the carrier may stand."""
    readings = (
        _pep(lines, band, options),
        _suppression("carrier_suppression", lines, 1, band, nearby_hz),
        _suppression("opposite_sideband_suppression", lines, 2, band, 2 * nearby_hz),
        *counted,
    )
    return Analysis("baseband", "ssb", readings, remarks, plot)


def _tied(side: float, tone: float) -> tuple[tuple[float, float], ...]:
    """Where carrier, opposite sideband, second and third harmonic stand, by where the tone does."""
    return tuple((1.0, times * side * tone) for times in (-1, -2, 1, 2))


def _with_its_mirror(band: Band, top: float, side: float, carrier_hz: float) -> tuple[float, SpectralLines] | None:
    """A line as the carrier, however far it is off the assigned frequency, where the opposite sideband stands as far to
    its other side as the tone to this: the tone's frequency and the lines by it; None where it does not."""
    tone = side * (top - fit_lines(band, (top, carrier_hz)).offsets_hz[1])
    if not AUDIO_HZ[0] <= tone <= AUDIO_HZ[1]:
        return None
    lines = fit_lines(band, (top,), _tied(side, tone))
    mirrored = bool(abs(lines.amplitudes[2]) > 8 * lines.amplitude_u[2])
    if abs(lines.amplitudes[1]) > SUPPRESSED * abs(lines.amplitudes[0]):
        return None  # so high it is another tone
    return (tone, lines) if _is_seen(lines) and mirrored else None


def _is_seen(lines: SpectralLines) -> bool:
    """Whether the carrier, the second of the lines, stands out of the noise."""
    return bool(abs(lines.amplitudes[1]) > 8 * lines.amplitude_u[1])


def _may_be_the_spike(band: Band, free: SpectralLines, told_hz: float) -> bool:
    """Whether what is seen so near to the receiver's centre is not where the tone puts the carrier."""
    near = abs(told_hz) * len(band.samples) / band.rate_hz < SPIKE_APART
    return near and abs(free.offsets_hz[1] - told_hz) > SPIKE_DOUBT * math.hypot(free.offset_u[1], free.offset_u[0])


def _without_own_spike(band: Band, top: float, tied: tuple[tuple[float, float], ...]) -> tuple[Band, bool]:
    """The band without the receiver's own spike at its very centre, where one stands out and the carrier, the first of
    the `tied` lines, stands far enough from it to be told from it."""
    if abs(top + tied[0][1]) * len(band.samples) / band.rate_hz < SPIKE_APART:
        return band, False
    lines = fit_lines(band, (top,), (*tied, (0.0, 0.0)))
    if abs(lines.amplitudes[-1]) < 8 * lines.amplitude_u[-1]:
        return band, False
    times = band.start_s + np.arange(len(band.samples)) / band.rate_hz
    spike = lines.amplitudes[-1] * np.exp(-2j * math.pi * band.offset_hz * times)
    return replace(band, samples=band.samples - spike), True


def _unexplained(band: Band, lines: SpectralLines) -> float | None:
    """How far from where the carrier should be another line stands, in Hz, where that is nearer to it than the tone;
    None where none stands out of the noise."""
    times = band.start_s + np.arange(len(band.samples)) / band.rate_hz
    found = zip(lines.amplitudes, lines.offsets_hz, strict=True)
    left = band.samples - sum(a * np.exp(2j * math.pi * (f - band.offset_hz) * times) for a, f in found)
    n = fast_length(len(left))
    power = np.abs(np.fft.fft(left[:n] * hann(n))) ** 2
    away = np.fft.fftfreq(n, 1 / band.rate_hz) + band.offset_hz - lines.offsets_hz[1]
    reach = abs(lines.offsets_hz[0] - lines.offsets_hz[1]) - BESIDE_A_TONE_HZ
    searched = np.where(np.abs(away) < reach, power, 0.0)
    peak = int(np.argmax(searched))
    noise = float(np.quantile(power, 0.5)) / math.log(2)
    height = math.sqrt(float(searched[peak])) * 2 / n
    least = LEAST_LINE * float(abs(lines.amplitudes[0]))
    return float(away[peak]) if searched[peak] > UNEXPLAINED * noise and height > least else None


def _of_another_tone(
    lines: SpectralLines, band: Band, options: Options, tone: float, other: float, plot: Plot
) -> Analysis:
    """A record whose carrier stands elsewhere than the tone that was told puts it."""
    why = (
        f"no carrier stands where a tone of {tone:g} Hz puts it, and a line {other:+.0f} Hz from there: which tone was "
        "sent? [tone_hz]"
    )
    return _of_no_known_carrier(lines, band, options, why, plot)


def _of_no_known_carrier(lines: SpectralLines, band: Band, options: Options, why: str, plot: Plot) -> Analysis:
    """What a record still tells without its carrier: its power, and no more."""
    rest = [nothing(n, why, method=METHOD) for n in (*SUPPRESSIONS, "carrier_frequency", "frequency_error")]
    return Analysis("baseband", "ssb", (_pep(lines, band, options), *rest), (why,), plot)


def _tone(
    capture: Baseband, options: Options, top: float, side: float, band: Band
) -> tuple[float | None, tuple[str, ...]]:
    if options.tones_hz:
        return options.tones_hz[0], ()
    if options.nominal_hz is None:
        return None, ()
    away = side * (capture.centre_hz + top - options.nominal_hz)
    if not AUDIO_HZ[0] <= away <= AUDIO_HZ[1]:
        return None, (f"the strongest line is {away:+.0f} Hz from the assigned frequency: no tone of this sideband",)
    nearby = np.fft.fft(
        band.samples
        * np.exp(2j * math.pi * (band.offset_hz - top + side * away) * np.arange(len(band.samples)) / band.rate_hz)
    )
    line = strongest(nearby, band.rate_hz, 0.0, NEAR_THE_ASSIGNED_HZ)
    power = np.abs(nearby) ** 2
    if float(power[round(line * len(nearby) / band.rate_hz)]) < CARRIER * float(np.median(power)) / math.log(2):
        return away, ()  # nothing but noise is there
    return away - side * line, ()


def _is_the_other(capture: Baseband, options: Options, top: float, side: float, tone: float) -> bool:
    """Whether the strongest line lies where the tone of the other sideband would."""
    if options.nominal_hz is None:
        return False
    away = capture.centre_hz + top - options.nominal_hz
    return abs(away + side * tone) < OTHER_SIDE * tone < abs(away - side * tone)


def _pep(lines: SpectralLines, band: Band, options: Options) -> Measured:
    crest = lines.crest(band.rate_hz, len(band.samples))
    doubt = float(np.sqrt((lines.amplitude_u**2).sum()))  # every line is in the crest
    return baseband_scale(options).power("peak_envelope_power", normal(crest**2, 2 * crest * doubt), method=METHOD)


def _suppression(name: str, lines: SpectralLines, index: int, band: Band, nearby_hz: float) -> Measured:
    """How far a line lies below the tone, or at least how far: where it may stand anywhere within some Hz, by the
    highest that stands there."""
    if nearby_hz > 0:
        most = _highest(band, lines.offsets_hz[index], nearby_hz) + K95 * float(lines.amplitude_u[index])
        why = f"where it stands is not seen: no line within {nearby_hz:g} Hz of its place is higher"
        return bounded(name, -decibels(most / float(abs(lines.amplitudes[0]))), "lower", why, method=METHOD)
    return _below(name, float(abs(lines.amplitudes[0])), float(lines.amplitude_u[0]), lines, (index,), "below the tone")


def _highest(band: Band, offset_hz: float, within_hz: float) -> float:
    """The highest amplitude within some Hz of an offset; the tone's own foot is taken with a window, that it is not
    it."""
    n = fast_length(len(band.samples))
    lines = np.abs(np.fft.fft(band.samples[:n] * hann(n), 2 * n)) * 2 / n
    away = np.fft.fftfreq(2 * n, 1 / band.rate_hz) + band.offset_hz - offset_hz
    return float(lines[np.abs(away) <= within_hz].max(initial=0.0))


def _below(
    name: str, reference: float, reference_u: float, lines: SpectralLines, indices: Sequence[int], words: str
) -> Measured:
    """The strongest of some lines in dB below a reference amplitude, positive; a bound where none stands out of the
    noise."""
    sizes = [(float(abs(lines.amplitudes[i])), float(lines.amplitude_u[i]), lines.offsets_hz[i]) for i in indices]
    size, u, _ = max(sizes)
    if size < SEEN * u:
        most = max(s + K95 * w for s, w, _ in sizes)
        return bounded(
            name,
            -decibels(most / reference),
            "lower",
            f"not above the noise of the record: at least this far {words}",
            method=METHOD,
        )
    size = math.sqrt(max(size**2 - u**2, u**2))  # noise adds to the square
    return found(
        name,
        lambda a, b: -decibels(max(b, 1e-12) / a),
        {"a": normal(reference, reference_u), "b": normal(size, u)},
        method=METHOD,
        working=f"20·log10({reference:.4g}/{size:.3g}), {words}",
    )


def analyse_two_tone(capture: Baseband, options: Options) -> Analysis:
    """PEP, mean power and intermodulation of two tones."""
    band, top = _band(capture)
    second = _second(band, top, options)
    names = ("peak_envelope_power", "mean_power", "imd3", "imd5", "imd7")
    if second is None:
        rest = tuple(
            nothing(n, "only one tone is in the record", method=METHOD, reason="invalid_conditions") for n in names
        )
        return Analysis("baseband", "two-tone", rest, (), _plot(capture))
    low, high = sorted((top, second))
    room = band.rate_hz / 2.3
    orders = [
        n
        for n in (2, 3, 4)
        if abs(n * high - (n - 1) * low - band.offset_hz) < room
        and abs(n * low - (n - 1) * high - band.offset_hz) < room
    ]
    tied = tuple(row for n in orders for row in ((n, 1.0 - n, 0.0), (1.0 - n, n, 0.0)))
    lines = fit_lines(band, (low, high), tied)
    sizes = np.abs(lines.amplitudes[:2])
    one = float(np.sqrt((sizes**2).mean()))
    u = float(lines.amplitude_u[0]) / math.sqrt(2)
    apart = abs(decibels(float(sizes[0] / sizes[1])))
    remarks: tuple[str, ...] = ("products are below ONE tone; below PEP they are 6 dB more",)
    if apart > UNEQUAL_DB:
        remarks += (f"the tones differ by {apart:.1f} dB: make them equal",)
    readings = [_pep(lines, band, options), _mean(lines, options)]
    for n, name in ((2, "imd3"), (3, "imd5"), (4, "imd7")):
        if n in orders:
            at = 2 + 2 * orders.index(n)
            readings.append(_below(name, one, u, lines, (at, at + 1), "below one tone"))
        else:
            readings.append(nothing(name, "the record does not reach so far beside the tones", method=METHOD))
    return Analysis("baseband", "two-tone", tuple(readings), remarks, _plot(capture))


def _mean(lines: SpectralLines, options: Options) -> Measured:
    sizes = np.abs(lines.amplitudes)
    square = float((sizes**2).sum())
    u = float(np.sqrt(((2 * sizes * lines.amplitude_u) ** 2).sum()))
    return baseband_scale(options).power("mean_power", normal(square, u), method=METHOD)


def _second(band: Band, top: float, options: Options) -> float | None:
    """The other tone: at the distance that was told, else the strongest line of the audio band beside the first."""
    first = fit_lines(band, (top,))
    times = band.start_s + np.arange(len(band.samples)) / band.rate_hz
    left = band.samples - first.amplitudes[0] * np.exp(2j * math.pi * (first.offsets_hz[0] - band.offset_hz) * times)
    spectrum = np.fft.fft(left)
    middle = first.offsets_hz[0] - band.offset_hz
    if len(options.tones_hz) == 2:
        gap = abs(options.tones_hz[1] - options.tones_hz[0])
        choices = [strongest(spectrum, band.rate_hz, middle + s * gap, max(10.0, 0.03 * gap)) for s in (-1, 1)]
    else:
        choices = [strongest(spectrum, band.rate_hz, middle, min(AUDIO_HZ[1], 0.4 * band.rate_hz))]
    n = len(spectrum)
    heights = [float(np.abs(spectrum[round(f * n / band.rate_hz) % n])) / n for f in choices]
    best = int(np.argmax(heights))
    if heights[best] < 0.1 * float(abs(first.amplitudes[0])):
        return None
    return choices[best] + band.offset_hz


def _plot(capture: Baseband) -> Plot:
    """The spectrum of the record, in dB below full scale."""
    n = min(len(capture.samples), 65536)
    cut = capture.samples[:n] * np.blackman(n)
    level: Real = 20 * np.log10(np.abs(np.fft.fftshift(np.fft.fft(cut))) / (0.42 * n) + 1e-15)
    hz = capture.centre_hz + np.fft.fftshift(np.fft.fftfreq(n, 1 / capture.rate_hz))
    keep = np.abs(hz - hz[int(np.argmax(level))]) < HALF_WIDTH_HZ
    return Plot(
        "frequency, Hz",
        "level, dB below full scale",
        (PlotLine("spectrum", tuple(hz[keep].tolist()), tuple(level[keep].tolist())),),
    )
