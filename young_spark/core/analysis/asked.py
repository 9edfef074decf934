"""What a record is asked before it may give a figure: is there a carrier, when, does it move, is it cut off. Each
answer stands in the remarks; a figure that an answer does not support is none, or a bound."""

import math
from dataclasses import dataclass, replace

import numpy as np

from young_spark.core.analysis.clipping import flat_ends, flat_share
from young_spark.core.analysis.converter import converter_error, share_of, step_of
from young_spark.core.analysis.drift import Drift, drift_of_fm, drift_of_line
from young_spark.core.analysis.figures import nothing
from young_spark.core.analysis.keyed import keyed_on_a_scope, keyed_stretch
from young_spark.core.analysis.options import Analysis, Options
from young_spark.core.analysis.presence import (
    OWN_SPIKE,
    WEAK,
    Line,
    circle_centre,
    height_of,
    is_at_rest,
    is_constant,
    is_mirrored,
    line_in,
    stands_out,
)
from young_spark.core.analysis.turns import hann
from young_spark.core.analysis.which_carrier import which_is_meant
from young_spark.core.captures import Baseband, Capture, Complex, Real, Waveform
from young_spark.core.figure import Measured

NO_CARRIER = "no carrier in this record: no line stands out of its noise"
ONLY_ITS_OWN = "no carrier in this record but the receiver's own spike at its centre"
WHICH = (
    "a line stands at the receiver's very centre, as its own spike would, and another beside it: which of them is the "
    "carrier cannot be told; tune the receiver beside the carrier"
)
SPIKE_LEFT_OUT = "the receiver's own spike at its centre was left out"
LEAST_SAMPLES = 64
OF_ONE_LINE = 0.25  # of what the steps do to an amplitude: the rest is spread over other lines
TELLING = 0.001  # of the carrier: less is not worth a word
CUT_ENDS = 3  # of the four of I and Q
ROUNDER = 0.97  # of how much its size swings: without its spike a circle is rounder, and a carrier with hum is not
MIDDLE_S = 1e-5  # how well the middle of a record is known
MIDDLE_OF_A_KEY_S = 0.004  # of a stretch whose edges are known to a block or two
COUPLED = 0.1  # of its top: an envelope that goes below zero by more has lost its zero
UPSIDE = 0.1
# what a cut-off record can still say: of these at least, of those at most, and of the rest nothing
AT_LEAST = {
    "carrier_power", "peak_envelope_power", "mean_power", "am_depth_positive", "sinad", "carrier_suppression",
    "opposite_sideband_suppression",
}  # fmt: skip
AT_MOST = {"audio_distortion"}
# of what is cut off the phase is wrong as well: its deviation is not told, as I and Q are each cut for themselves
STANDS = {"carrier_frequency", "frequency_error", "audio_frequency", "subtone_frequency"}
DEVIATIONS = {"fm_deviation", "fm_deviation_positive", "fm_deviation_negative"}  # the size of what is recorded as sound
FREQUENCIES = {"carrier_frequency", "frequency_error"}


@dataclass(frozen=True)
class Asked:
    """A capture as it may be analysed, with what was found out about it; `nothing` says why no figure is in it."""

    capture: Capture
    remarks: tuple[str, ...] = ()
    nothing: str | None = None
    flat: float = 0.0  # share of the samples that are cut off
    widened: float = 1.0  # times less well the frequency is known, for a drift that was taken off
    middle_hz: float = 0.0  # half-width of what the middle of the record may be off by, as the drift turns it into Hz
    coarse: float = 0.0  # half-width of what the converter's steps change an amplitude by, as a share of it


def asked(capture: Capture, options: Options) -> Asked:
    """The questions to a record of samples; what is swept has questions of its own."""
    if isinstance(capture, Baseband):
        return _of_baseband(capture, options)
    found = _of_waveform(capture) if isinstance(capture, Waveform) else Asked(capture)
    return replace(found, remarks=(*capture.remarks, *found.remarks))


def answered(analysis: Analysis, found: Asked) -> Analysis:
    """The figures of an analysis as far as the record supports them."""
    readings = analysis.readings
    if found.nothing is not None:
        readings = tuple(nothing(r.quantity, found.nothing, method=r.method) for r in readings)
    elif found.flat > 0:
        why = f"cut off for {100 * found.flat:.2g} % of the record"
        at_least = AT_LEAST | DEVIATIONS if analysis.kind == "audio" else AT_LEAST
        readings = tuple(_of_a_cut_record(r, why, at_least) for r in readings)
    if found.widened > 1 or found.middle_hz > 0:
        readings = tuple(_widened(r, found.widened, found.middle_hz) for r in readings)
    if found.coarse > 0:
        readings = tuple(_of_a_coarse_record(r, found.coarse, readings) for r in readings)
    more = analysis.remarks if found.nothing is None else ()
    return replace(analysis, readings=readings, remarks=(*found.remarks, *more))


def _widened(reading: Measured, times: float, middle_hz: float) -> Measured:
    if reading.quantity not in FREQUENCIES or reading.uncertainty is None:
        return reading
    return reading.model_copy(
        update={"uncertainty": math.hypot(reading.uncertainty * times, middle_hz), "interval": None}
    )


def _of_a_coarse_record(reading: Measured, share: float, readings: tuple[Measured, ...]) -> Measured:
    """A figure with what the converter's steps may do to it: to a power twice their share, to a depth their part of the
    carrier, to a deviation their part of a turn at the tone's rate."""
    if reading.value is None or reading.uncertainty is None:
        return reading
    if reading.unit == "dB":
        return _of_a_coarse_line(reading, share)
    tone_hz = next((r.value for r in readings if r.quantity == "audio_frequency" and r.value is not None), 1000.0)
    per_share = {"W": 2 * reading.value, "%": 150.0, "Hz": 2 * tone_hz if "deviation" in reading.quantity else 0.0}
    more = share * per_share.get(reading.unit, 0.0)
    wider = math.hypot(reading.uncertainty, more)
    return reading.model_copy(update={"uncertainty": wider, "interval": None}) if more > 0 else reading


def _of_a_coarse_line(reading: Measured, share: float) -> Measured:
    """How far a line lies below another, with what the converter's steps may put in its place."""
    value = reading.value or 0.0
    steps = OF_ONE_LINE * share / 10 ** (-value / 20)  # over the line itself
    if steps > 1:
        most = -20 * math.log10(10 ** (-value / 20) + OF_ONE_LINE * share)
        why = "the converter's steps are coarse for this level: at least"
        return reading.model_copy(
            update={
                "value": most, "bound": "lower", "uncertainty": None, "interval": None, "ends": None,
                "remarks": (why, *reading.remarks),
            }
        )  # fmt: skip
    wider = math.hypot(reading.uncertainty or 0.0, 8.686 * steps)
    return reading.model_copy(update={"uncertainty": wider, "interval": None})


def _of_a_cut_record(reading: Measured, why: str, at_least: set[str]) -> Measured:
    name = reading.quantity
    if reading.value is None or reading.bound is not None or name in STANDS:
        return reading
    bound = "lower" if name in at_least else "upper" if name in AT_MOST else None
    if bound is None:
        return nothing(name, f"{why}: it cannot be told", method=reading.method)
    least = reading.value
    return reading.model_copy(
        update={
            "value": least, "bound": bound, "uncertainty": None, "interval": None, "ends": None,
            "remarks": (f"{why}: at {'least' if bound == 'lower' else 'most'}", *reading.remarks),
        }
    )  # fmt: skip


def _of_baseband(capture: Baseband, options: Options) -> Asked:
    samples, rate = capture.samples, capture.rate_hz
    if len(samples) < LEAST_SAMPLES:
        return Asked(capture)
    keyed = keyed_stretch(samples, rate)
    remarks = [keyed.words] if keyed.words else []
    samples, line, why = _without_own_spike(
        samples[keyed.part], rate,
        constant_counts=options.mode == "fm", one_carrier=options.mode in {"am", "cw"},
    )  # fmt: skip
    if why in {NO_CARRIER, ONLY_ITS_OWN, WHICH}:
        return Asked(capture, (why,), why)
    remarks += [why] if why else []
    if options.mode in {"am", "cw"}:
        unsure = which_is_meant(replace(capture, samples=samples), options.nominal_hz)
        if unsure is not None:
            return Asked(capture, (unsure,), unsure)
    coarse = converter_error(samples)
    if coarse > TELLING:
        remarks.append(f"the converter's steps are coarse for this level: amplitudes are known to {100 * coarse:.1g} %")
    flat = _cut_share(samples)
    if flat > 0:
        remarks.append(f"clipped: the record is cut off at full scale for {100 * flat:.2g} % of it")
    samples, spike = _round_its_centre(samples, options)
    remarks += [spike] if spike else []
    moved = _moved(samples, rate, line, options)
    if moved is None:
        return Asked(replace(capture, samples=samples), tuple(remarks), None, flat, coarse=coarse)
    middle_s = MIDDLE_S if keyed.whole else MIDDLE_OF_A_KEY_S
    return Asked(
        replace(capture, samples=moved.samples), (*remarks, moved.words), None, flat, moved.widened,
        abs(moved.hz_per_s) * middle_s, coarse,
    )  # fmt: skip


def _cut_share(samples: Complex) -> float:
    """The share of a record that is cut off. One of constant size that stands near the middle dwells where its phase
    turns back: only a cut leaves three of its four ends flat."""
    flat = flat_share(np.concatenate([samples.real, samples.imag]))
    if flat == 0 or not is_constant(samples):
        return flat
    ends = (*flat_ends(samples.real), *flat_ends(samples.imag))
    return flat if sum(end > 0 for end in ends) >= CUT_ENDS else 0.0


def _round_its_centre(samples: Complex, options: Options) -> tuple[Complex, str]:
    """The samples of a transmission of constant size about the point that they turn round, and what is to be said."""
    if options.mode != "fm" or not is_constant(samples):
        return samples, ""
    centre = circle_centre(samples)
    rounder = float(np.abs(samples - centre).std()) < ROUNDER * float(np.abs(samples).std())
    if abs(centre) < TELLING * float(np.abs(samples).mean()) or not rounder:
        return samples, ""
    return samples - centre, SPIKE_LEFT_OUT


def _without_own_spike(
    samples: Complex, rate: float, *, constant_counts: bool, one_carrier: bool
) -> tuple[Complex, Line | None, str]:
    """The samples without the receiver's own spike where it would be taken for a carrier, the line that is believed,
    and what is to be said of it; a constant size is a carrier too where it counts."""
    line = line_in(samples, rate)
    constant = constant_counts and is_constant(samples)
    if line is None and not constant:
        return samples, None, NO_CARRIER
    if line is None or constant or not is_at_rest(samples, rate, line):
        return samples, line, ""
    size = abs(complex(samples.mean()))
    rest = samples - samples.mean()
    beside = line_in(rest, rate)
    if beside is not None and is_mirrored(rest, rate, beside):
        return samples, line, ""  # its sidebands say that it is a carrier
    if size >= OWN_SPIKE:  # large for a spike, and still for a carrier
        second = beside is not None and height_of(rest, rate, beside) > WEAK * size
        return samples, line, WHICH if second and one_carrier else ""
    return (samples, None, ONLY_ITS_OWN) if beside is None else (rest, beside, SPIKE_LEFT_OUT)


def _moved(samples: Complex, rate: float, line: Line | None, options: Options) -> Drift | None:
    if options.mode == "fm":
        return drift_of_fm(samples, rate)
    return None if line is None else drift_of_line(samples, rate, line.offset_hz, whole=line.over_floor_db > 0)


def _of_waveform(capture: Waveform) -> Asked:
    values = capture.values
    if len(values) < LEAST_SAMPLES:
        return Asked(capture)
    if capture.kind == "audio":
        keyed_words: tuple[str, ...] = ()
    else:
        keyed = keyed_on_a_scope(values, capture.rate_hz)
        values = values[keyed.part]
        keyed_words = (keyed.words,) if keyed.words else ()
    if capture.kind != "envelope" and not _has_a_line(values):
        why = "no carrier in this record: no line stands out of its noise"
        return Asked(capture, (why,), why if capture.kind == "scope" else "no tone stands out of the noise")
    if capture.kind == "envelope":
        values, words, no_envelope = _of_an_envelope(values)
        keyed_words = (*keyed_words, *words)
        if no_envelope is not None:
            return Asked(capture, (*keyed_words, no_envelope), no_envelope)
    flat = max(flat_share(values), capture.overload)
    cut = (f"cut off at an extreme for {100 * flat:.2g} % of the record: clipped",) if flat > 0 else ()
    coarse = 0.0 if capture.kind == "audio" else _coarse_on_a_scope(values)
    return Asked(replace(capture, values=values), (*keyed_words, *cut), None, flat, coarse=coarse)


def _coarse_on_a_scope(values: Real) -> float:
    """What the steps of a scope do to an amplitude, as a share of it."""
    step = step_of(values)
    return 0.0 if step is None else share_of(float(values.std()) * math.sqrt(2) / step, 0.0)


def _of_an_envelope(values: Real) -> tuple[Real, tuple[str, ...], str | None]:
    """An envelope the right way up, what was done for it, and why it is none after all."""
    low, high, mean = float(values.min()), float(values.max()), float(values.mean())
    if low < 0 and high < UPSIDE * -low:
        return -values, ("the detector is upside down: it was turned",), None
    if low < -COUPLED * high and abs(mean) < 0.5 * high:
        why = (
            "it is coupled through a capacitor: an envelope whose mean is at nothing shows no carrier, and no depth; "
            "take it with the scope coupled for DC"
        )
        return values, (), why
    return values, (), None


def _has_a_line(values: Real) -> bool:
    power = np.abs(np.fft.rfft((values - values.mean()) * hann(len(values)))) ** 2
    return stands_out(power) is not None
