"""AM depth from crest, trough and carrier level, from a meter, or from a needle by its detector."""

from young_spark.core.figure import (
    Conditions,
    Input,
    Instrument,
    Measured,
    Spread,
    format_value,
    measured,
    propagate,
    sums,
)
from young_spark.core.ground import OutOfDomain
from young_spark.core.measures.accuracy import origin_remarks, read_by
from young_spark.core.measures.power import DETECTOR_WORDS
from young_spark.core.measures.quick_sums import explain_swing

CUT_OFF = "trough reaches zero: overmodulated"


def _check_heights(maximum: float, minimum: float, carrier: float | None) -> None:
    sums.depth_from_max_min(maximum, minimum)
    if carrier is not None and not minimum <= carrier <= maximum:
        raise OutOfDomain(
            "carrier level",
            carrier,
            "",
            f"between trough {minimum:g} and crest {maximum:g}; order is crest / trough / carrier",
        )


def from_heights(maximum: float, minimum: float, carrier: float | None, scope: Instrument) -> tuple[Measured, ...]:
    """Depths in % from the heights of crest, trough and unmodulated carrier on one screen (any one unit).

    m+ = (Vmax − C)/C, m− = (C − Vmin)/C, depth their mean. Without C only the symmetrical formula
    (Vmax − Vmin)/(Vmax + Vmin) is left, and it says so. A trough at zero is overmodulation, however the mean reads."""
    _check_heights(maximum, minimum, carrier)
    height = read_by(scope, "screen_height", maximum, full_scale=maximum).terms
    high, low = Input(maximum, height), Input(minimum, height)
    cut = (CUT_OFF,) if minimum == 0 else ()
    origin = cut + origin_remarks(scope)
    if carrier is None:
        spread = propagate(lambda high, low: 100 * (high - low) / (high + low), {"high": high, "low": low})
        words = f"({maximum:g} − {minimum:g}) / ({maximum:g} + {minimum:g})"
        remark = "symmetrical envelope assumed: no carrier level given"
        return (_depth("am_depth", spread, words, (remark, *origin), bool(height)),)
    level = Input(carrier, height)
    positive = propagate(lambda high, c: 100 * (high - c) / c, {"high": high, "c": level})
    negative = propagate(lambda low, c: 100 * (c - low) / c, {"low": low, "c": level})
    mean = propagate(lambda high, low, c: 50 * (high - low) / c, {"high": high, "low": low, "c": level})
    return (
        _depth("am_depth", mean, f"({maximum:g} − {minimum:g}) / (2 × {carrier:g})", origin, bool(height)),
        _depth("am_depth_positive", positive, f"({maximum:g} − {carrier:g}) / {carrier:g}", origin, bool(height)),
        _depth("am_depth_negative", negative, f"({carrier:g} − {minimum:g}) / {carrier:g}", origin, bool(height)),
    )


def _depth(quantity_id: str, spread: Spread, words: str, remarks: tuple[str, ...], known: bool) -> Measured:
    working = f"{words} = {format_value(spread.value, '%', figures=3)}"
    return measured(
        quantity_id, spread, method="crest and trough on the scope", working=working, remarks=remarks, known=known
    )


def from_meter(quantity_id: str, percent: float, meter: Instrument) -> Measured:
    """A depth in % read from a modulation meter. A trough beyond 100 % cannot be."""
    if quantity_id == "am_depth_negative" and percent > 100:
        raise OutOfDomain("trough depth", percent, "%", "0 to 100 %: a trough cannot go below nothing")
    given = read_by(meter, "depth", percent, full_scale=100.0)
    spread = propagate(lambda percent: percent, {"percent": given})
    cut = (CUT_OFF,) if quantity_id == "am_depth_negative" and percent >= 100 else ()
    remarks = cut + origin_remarks(meter)
    return measured(
        quantity_id,
        spread,
        method="modulation meter",
        working=f"{percent:g} % on the meter",
        remarks=remarks,
        known=bool(given.terms),
    )


def from_needle(carrier_w: float, needle_w: float, meter: Instrument, conditions: Conditions) -> tuple[Measured, ...]:
    """What a wattmeter needle says when it goes from `carrier_w` to `needle_w` W on audio, by its detector.

    An unknown detector gives no depth: the working then shows what it would mean on each (the explainer)."""
    detector = conditions.detector or meter.detector
    falling = ("falls with audio: downward modulation, look at regulation, drive, hum",) if needle_w < carrier_w else ()
    explained = "; ".join(f"{line.name}: {line.working}" for line in explain_swing(carrier_w, needle_w))
    element = conditions.element_w or max(carrier_w, needle_w)
    inputs = {
        "carrier_w": read_by(meter, "power", carrier_w, full_scale=element),
        "needle_w": read_by(meter, "power", needle_w, full_scale=element),
    }
    forms = {
        "peak": ("am_depth_positive", sums.depth_from_peak_needle),
        "true_mean": ("am_depth", sums.depth_from_mean_needle),
        "average_envelope": ("carrier_shift", sums.shift_from_average_needle),
    }
    if detector not in forms or (falling and detector == "true_mean"):
        remark = (
            "the meter's detector is not known: no depth" if detector not in forms else "a falling needle has no depth"
        )
        return (
            Measured(
                quantity="am_depth",
                value=None,
                unit="%",
                reason="not_supported",
                method="needle",
                working=explained,
                remarks=(remark, *falling),
            ),
        )
    quantity_id, formula = forms[detector]
    spread = propagate(formula, inputs)
    known = all(i.terms for i in inputs.values())
    remarks = (*falling, *origin_remarks(meter))
    if detector == "average_envelope":
        remarks = ("this meter reads the mean envelope: the depth is unknown", *remarks)
    return (
        measured(
            quantity_id,
            spread,
            method=f"needle of a {DETECTOR_WORDS[detector]}",
            working=explained,
            remarks=remarks,
            known=known,
        ),
    )
