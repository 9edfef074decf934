"""Records of an oscilloscope: RF across the load, or its envelope."""

import math
from dataclasses import replace

import numpy as np

from young_spark.core.analysis.am_envelope import fitted_envelope
from young_spark.core.analysis.am_record import LONGEST_PLOT, shown_of
from young_spark.core.analysis.band import band_about, fast_length
from young_spark.core.analysis.carrier import carrier_of
from young_spark.core.analysis.envelope import DEPTHS, Envelope, depth_readings, fit_envelope, with_unmodulated
from young_spark.core.analysis.figures import Scale, normal, nothing, volts_scale
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.periodic import fit_periodic
from young_spark.core.analysis.ssb_record import analyse_two_tone
from young_spark.core.analysis.turns import hann
from young_spark.core.captures import Baseband, Complex, Real, Waveform
from young_spark.core.figure import Measured

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
FEWEST_CYCLES = 3.0
HALF_WIDTH_HZ = 16_000.0
MODULATED = 0.02
CYCLES_OF_A_BLOCK, BLOCKS = 8, 32
CHANGES = 0.03
CYCLES_TRIED = (0.7, 2.0, 53)
LEAST_CYCLES = 0.95
MISFIT = 0.05  # of the swing: more is no sine


def analyse_envelope(capture: Waveform, options: Options) -> Analysis:
    """Depths and carrier shift of an envelope in volts; its own zero is taken as zero."""
    envelope = fit_envelope(capture.values, capture.rate_hz, options)
    if isinstance(options.unmodulated, Waveform):
        envelope = with_unmodulated(envelope, options.unmodulated.values, 1.0)
    return Analysis(
        "envelope",
        None,
        tuple(depth_readings(envelope, "envelope")),
        (),
        _plot(capture.values, capture.rate_hz, envelope),
    )


def analyse_scope(capture: Waveform, options: Options) -> Analysis:
    """Carrier power of an RF record, and PEP and depths where it is modulated."""
    values = capture.values - capture.values.mean()
    carrier_hz, cycles = _carrier(values, capture.rate_hz)
    if cycles < FEWEST_CYCLES:
        why = f"the record holds {cycles:.1f} cycles of RF; at least {FEWEST_CYCLES:g} are needed"
        return Analysis(
            "scope",
            None,
            tuple(nothing(n, why, method="scope") for n in ("carrier_power", "peak_envelope_power", *DEPTHS)),
        )
    scale = volts_scale(options, carrier_hz)
    remarks: tuple[str, ...] = ()
    if carrier_hz > 0.4 * capture.rate_hz:
        remarks = ("fewer than 2.5 samples a cycle: is the carrier folded back from above?",)
    if options.mode == "two-tone":
        return _two_tones(values, capture.rate_hz, carrier_hz, options)
    envelope, series, rate = _envelope(values, capture.rate_hz, carrier_hz, options)
    if envelope is None or envelope.tone is None:
        envelope = _of_one_cycle(series, rate, options) or envelope
    if (envelope is None or envelope.tone is None) and _changes(values, capture.rate_hz, carrier_hz):
        why = "its level changes inside the record, and no cycle of a tone is in it: take a longer one"
        names = ("carrier_power", "peak_envelope_power", *DEPTHS)
        return Analysis("scope", None, tuple(nothing(n, why, method="scope") for n in names), remarks,
                        _plot(series, rate, None))  # fmt: skip
    if envelope is None:
        remarks += ("too short to hold a cycle of a tone: if it was modulated, this is the power of that moment",)
    if envelope is None or envelope.tone is None or envelope.tone.amplitudes[0] < MODULATED * envelope.level:
        return Analysis(
            "scope", None, (_bare(values, capture.rate_hz, carrier_hz, scale),), remarks, _plot(series, rate, None)
        )
    readings = [*_powers(envelope, scale), *depth_readings(envelope, "scope")[:3]]
    return Analysis("scope", None, tuple(readings), remarks, _plot(series, rate, envelope))


def _powers(envelope: Envelope, scale: Scale) -> list[Measured]:
    """Carrier and peak envelope power of a modulated record."""
    level = normal(envelope.level**2, 2 * envelope.level * envelope.level_u)
    carrier = scale.power("carrier_power", level, method="scope", more=envelope.remarks)
    if envelope.steady.words is not None:
        moves = nothing("peak_envelope_power", envelope.steady.words, method="scope", reason="invalid_conditions")
        return [carrier, moves]
    crest_u = math.hypot(envelope.tone.mean_u if envelope.tone else 0, envelope.peaks.high_u if envelope.peaks else 0)
    crest = normal(envelope.crest**2, 2 * envelope.crest * crest_u)
    return [carrier, scale.power("peak_envelope_power", crest, method="scope")]


def _of_one_cycle(series: Real, rate_hz: float, options: Options) -> Envelope | None:
    """The envelope of a record that holds about one cycle of its tone, by least squares; None where no sine fits it."""
    times = np.arange(len(series)) / rate_hz
    span = float(times[-1]) if len(times) else 0.0
    if span <= 0 or len(series) < 16:
        return None
    best: tuple[float, float, float] | None = None
    for cycles in np.linspace(*CYCLES_TRIED):
        turn = 2 * math.pi * cycles / span * times
        rows = np.stack([np.ones(len(times)), np.cos(turn), np.sin(turn)], axis=1)
        solved = np.linalg.lstsq(rows, series, rcond=None)[0]
        left = float(np.sqrt(np.mean((series - rows @ solved) ** 2)))
        if best is None or left < best[0]:
            best = (left, float(cycles), float(np.hypot(solved[1], solved[2])))
    if best is None or best[1] < LEAST_CYCLES or best[0] > MISFIT * best[2]:
        return None
    told = replace(options, tones_hz=(best[1] / span,))
    found = fit_envelope(series, rate_hz, told, most_harmonics=1)
    words = f"{best[1]:.2f} cycles of the tone are in the record: a sine was fitted to them"
    return replace(found, remarks=(*found.remarks, words)) if found.tone is not None else None


def _changes(values: Real, rate_hz: float, carrier_hz: float) -> bool:
    """Whether the level of RF changes along a record, by more than noise does."""
    size = max(round(CYCLES_OF_A_BLOCK * rate_hz / carrier_hz), len(values) // BLOCKS, 4)
    count = len(values) // size
    if count < 4:
        return False
    blocks = values[: count * size].reshape(count, size)
    level = np.sqrt(2 * (blocks**2).mean(axis=1))
    usual = float(level.mean())
    neighbours = float(np.abs(np.diff(level)).mean())
    return float(np.ptp(level)) > max(CHANGES * usual, 4 * neighbours)


def _two_tones(values: Real, rate_hz: float, carrier_hz: float, options: Options) -> Analysis:
    """Two tones across the load, turned down to complex baseband: a peak of 1 V is the full scale of that."""
    turned: Complex = 2 * values * np.exp(-2j * math.pi * carrier_hz * np.arange(len(values)) / rate_hz)
    width = min(HALF_WIDTH_HZ, 0.45 * carrier_hz)
    band = band_about(turned, rate_hz, 0.0, width)
    loss = options.loss_db(carrier_hz) or 0.0
    watts = options.probe_ratio**2 / (2 * options.load_ohm) * 10 ** (loss / 10)
    found = analyse_two_tone(
        Baseband(band.rate_hz, carrier_hz, band.samples), replace(options, full_scale_dbm=10 * math.log10(watts * 1e3))
    )
    return replace(found, kind="scope")


def _carrier(values: Real, rate_hz: float) -> tuple[float, float]:
    """Frequency of the strongest line in Hz, and how many of its cycles the record holds."""
    n = fast_length(len(values))
    power = np.abs(np.fft.rfft(values[:n] * hann(n)))
    peak = 1 + int(np.argmax(power[1:]))
    return peak * rate_hz / n, float(peak * len(values) / n)


def _bare(values: Real, rate_hz: float, carrier_hz: float, scale: Scale) -> Measured:
    """A sine fitted to the samples themselves (four parameters, IEEE 1057)."""
    fit = fit_periodic(values, rate_hz, carrier_hz, 1)
    size, u = float(fit.amplitudes[0]), float(fit.amplitude_u[0])
    return scale.power("carrier_power", normal(size**2 - u**2, 2 * size * u), method="scope")


def _envelope(values: Real, rate_hz: float, carrier_hz: float, options: Options) -> tuple[Envelope | None, Real, float]:
    """The fitted envelope, the envelope itself and its rate; None where the record is too short to hold a tone."""
    duration = len(values) / rate_hz
    if duration * carrier_hz < 40:
        return None, values[:LONGEST_PLOT], rate_hz
    turned: Complex = 2 * values * np.exp(-2j * math.pi * carrier_hz * np.arange(len(values)) / rate_hz)
    width = min(max(HALF_WIDTH_HZ, 8 / duration), 0.45 * carrier_hz)
    band = band_about(turned, rate_hz, 0.0, width)
    carrier = carrier_of(band)
    if duration * (options.tones_hz[0] if options.tones_hz else 3_000.0) <= 1.2:
        return None, carrier.envelope, band.rate_hz
    envelope, carrier = fitted_envelope(band, carrier, options)
    return envelope, carrier.envelope, band.rate_hz


def _plot(series: Real, rate_hz: float, envelope: Envelope | None) -> Plot:
    shown, rate = shown_of(series, rate_hz, envelope)
    at = 1e3 * np.arange(len(shown)) / rate
    marks = []
    if envelope is not None:
        marks.append(PlotMark("C", 0.0, envelope.level))
        if envelope.tone is not None and envelope.peaks is not None:
            marks += [
                PlotMark("crest", 0.0, envelope.crest),
                PlotMark("trough", 0.0, max(0.0, envelope.tone.mean - envelope.peaks.low)),
            ]
    return Plot("time, ms", "volts", (PlotLine("envelope", tuple(at.tolist()), tuple(shown.tolist())),), tuple(marks))
