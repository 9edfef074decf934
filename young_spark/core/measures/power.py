"""Power from what a hand types: wattmeter, level behind pads, oscilloscope."""

import math

from young_spark.core.figure import (
    Conditions,
    Input,
    Instrument,
    Measured,
    format_value,
    measured,
    propagate,
    quantity,
    sums,
)
from young_spark.core.measures.accuracy import best_element, decibel_error, element_for, origin_remarks, pad, read_by

DETECTOR_WORDS = {
    "peak": "peak-reading meter",
    "true_mean": "true-mean meter",
    "average_envelope": "average-envelope meter",
    "unknown": "detector not known",
}


def element_in_use(reading_w: float, stated_w: float | None, instrument: Instrument) -> tuple[float, tuple[str, ...]]:
    """The element, in W, whose full scale bounds the error, with a remark where it had to be assumed."""
    if stated_w is not None:
        return stated_w, ()
    assumed = element_for(reading_w, instrument.elements_w)
    return assumed, (f"element not stated: {format_value(assumed, 'W')} assumed",)


def path_words(conditions: Conditions) -> str:
    """The loss that is added, and what makes it up where the path of the bench says: '+ 50.1 dB path (pad 20 dB,
    …)'."""
    sign = "+" if conditions.pad_db > 0 else "−"
    made_of = f" ({conditions.path})" if conditions.path else ""
    return f"{sign} {abs(conditions.pad_db):.4g} dB path{made_of}"


def _scale_words(reading_w: float, where: str, conditions: Conditions, total_w: float) -> str:
    multiplier, pad_db = conditions.multiplier, conditions.pad_db
    at_meter = f"{format_value(reading_w, 'W', figures=6)} {where}"
    parts = [at_meter if multiplier == 1 else f"{reading_w:g} on the scale × {multiplier:g}"]
    if pad_db:
        parts.append(path_words(conditions))
    if parts == [at_meter]:
        return parts[0]
    return f"{' '.join(parts)} = {format_value(total_w, 'W', figures=3)}"


def wattmeter(quantity_id: str, reading_w: float, instrument: Instrument, conditions: Conditions) -> Measured:
    """Power in W from a wattmeter reading in W on its scale, times the multiplier, before the pad.

    The error is a share of the full scale of the element fitted (bench practice: often ±5 %)."""
    on_element = reading_w * conditions.multiplier
    accuracy = instrument.functions.get("power")
    has_elements = accuracy is None or accuracy.percent_of_full_scale > 0
    element, remarks = element_in_use(on_element, conditions.element_w, instrument) if has_elements else (math.inf, ())
    inputs = {
        "power_w": read_by(instrument, "power", on_element, full_scale=element if has_elements else None),
        "loss_db": pad(conditions.pad_db, conditions.pad_bound_db),
    }
    spread = propagate(lambda power_w, loss_db: sums.through_loss(max(power_w, 0.0), loss_db), inputs)
    better = best_element(on_element, instrument.elements_w)
    if has_elements and better is not None and on_element < element / 3 and better < element:
        remarks += (f"a {format_value(better, 'W')} element would read this in its upper two thirds",)
    origin = origin_remarks(instrument, pad_db=conditions.pad_db, pad_bound_db=conditions.pad_bound_db)
    reading = measured(
        quantity_id,
        spread,
        method="wattmeter",
        working=_scale_words(
            reading_w,
            "on its own meter" if instrument.indication_only else "at the meter",
            conditions,
            spread.value,
        ),
        remarks=remarks + origin,
        known=bool(inputs["power_w"].terms),
        read_as="needle",
    )
    if on_element > element:
        return reading.model_copy(update={"not_judged": f"beyond the {format_value(element, 'W')} element's scale"})
    return reading


def level(quantity_id: str, level_dbm: float, instrument: Instrument, conditions: Conditions) -> Measured:
    """Power in W from a level in dBm behind the pad: 1 mW · 10^((level + loss)/10)."""
    error = decibel_error(instrument, "level")
    inputs = {
        "level_dbm": Input(level_dbm),
        "error_db": error,
        "loss_db": pad(conditions.pad_db, conditions.pad_bound_db),
    }
    spread = propagate(lambda level_dbm, error_db, loss_db: sums.watts_from_dbm(level_dbm + error_db + loss_db), inputs)
    start = f"{level_dbm:+g} dBm".replace("-", "−")
    path = f" {path_words(conditions)}" if conditions.pad_db else ""
    at_unit = f" = {level_dbm + conditions.pad_db:+.4g} dBm".replace("-", "−") if path else ""
    return measured(
        quantity_id,
        spread,
        method="level behind pads" if path else "level",
        working=f"{start}{path}{at_unit} = {format_value(spread.value, 'W', figures=3)}",
        remarks=origin_remarks(instrument, pad_db=conditions.pad_db, pad_bound_db=conditions.pad_bound_db),
        known=bool(error.terms),
    )


def scope_volts(quantity_id: str, volts_pp: float, scope: Instrument, conditions: Conditions) -> Measured:
    """Power in W of a sine from volts peak to peak across 50 Ω: Vpp²/(8R)."""
    inputs = {
        "volts_pp": read_by(scope, "voltage_rf", volts_pp),
        "loss_db": pad(conditions.pad_db, conditions.pad_bound_db),
    }
    spread = propagate(
        lambda volts_pp, loss_db: sums.through_loss(sums.watts_from_peak_to_peak(volts_pp), loss_db), inputs
    )
    path = f" {path_words(conditions)}" if conditions.pad_db else ""
    return measured(
        quantity_id,
        spread,
        method="oscilloscope across the load",
        working=f"({format_value(volts_pp, 'V')} p-p)² / (8 × 50 Ω){path} = "
        f"{format_value(spread.value, 'W', figures=3)}",
        remarks=("probe loading and bandwidth are part of it", *origin_remarks(scope)),
        known=bool(inputs["volts_pp"].terms),
    )


def pep_from_scope(carrier_w: Input, crest: float, carrier: float, scope: Instrument) -> Measured:
    """PEP in W from a known carrier (W) on the same scope: Pc·(Vcrest/Vcarrier)². The scope's gain error cancels;
    reading the two heights to half a hundredth of the crest does not."""
    height = read_by(scope, "screen_height", crest, full_scale=crest)
    inputs = {"carrier_w": carrier_w, "crest": height, "carrier": Input(carrier, height.terms)}
    spread = propagate(sums.pep_from_scope_ratio, inputs)
    return measured(
        "peak_envelope_power",
        spread,
        method="oscilloscope ratio",
        working=f"{format_value(carrier_w.value, 'W')} × ({crest:g} / {carrier:g})² = "
        f"{format_value(spread.value, 'W', figures=3)}",
        remarks=origin_remarks(scope),
        known=bool(carrier_w.terms) and bool(height.terms),
    )


def two_tone(needle_w: float, instrument: Instrument, conditions: Conditions) -> Measured:
    """PEP in W of two equal tones from a wattmeter, by its detector: PEP, PEP/2 or 0.405 PEP."""
    detector = conditions.detector or instrument.detector
    needle = wattmeter("mean_power", needle_w, instrument, conditions)
    if needle.value is None or detector not in sums.TWO_TONE_SHARE:
        return needle.model_copy(
            update={
                "quantity": "peak_envelope_power",
                "value": None,
                "uncertainty": None,
                "interval": None,
                "reason": "not_supported",
                "remarks": ("the meter's detector is not known: two tones give no PEP",),
            }
        )
    share = sums.TWO_TONE_SHARE[detector]
    return needle.model_copy(
        update={
            "quantity": "peak_envelope_power",
            "value": needle.value / share,
            "uncertainty": None if needle.uncertainty is None else needle.uncertainty / share,
            "interval": None if needle.interval is None else (needle.interval[0] / share, needle.interval[1] / share),
            "method": f"two tones on a {DETECTOR_WORDS[detector]}",
            "working": f"{needle.working} / {share:.3g} = {format_value(needle.value / share, 'W', figures=3)} PEP",
        }
    )


def step(low_w: float, high_w: float, instrument: Instrument, conditions: Conditions) -> Measured:
    """Low power relative to high in dB (below is negative): 10·log10(low/high), each power in W on its own element."""
    elements = (
        conditions.reflected_element_w or element_for(low_w, instrument.elements_w),
        conditions.element_w or element_for(high_w, instrument.elements_w),
    )
    given = [read_by(instrument, "power", w, full_scale=e) for w, e in zip((low_w, high_w), elements, strict=True)]
    spread = propagate(
        lambda low, high: sums.dbm_from_watts(low) - sums.dbm_from_watts(high), {"low": given[0], "high": given[1]}
    )
    return measured(
        "power_step",
        spread,
        method="two powers on the wattmeter",
        working=f"10·log10({format_value(low_w, 'W')} / {format_value(high_w, 'W')}) = "
        f"{format_value(spread.value, 'dB', figures=3)}",
        remarks=origin_remarks(instrument),
        known=bool(given[0].terms),
    )


def nothing_seen(quantity_id: str, instrument: Instrument, function: str, conditions: Conditions) -> Measured:
    """'None' is a reading: at most the instrument's floor, or of the element that is fitted, corrected by the path."""
    accuracy = instrument.functions.get(function)
    floor: float | None = None
    words = "the instrument's floor is not known"
    if accuracy is not None and accuracy.floor_percent_of_full_scale is not None:
        scale = conditions.element_w or min(instrument.elements_w, default=5.0)
        floor = accuracy.floor_percent_of_full_scale / 100 * scale
        words = f"least that a {format_value(scale, 'W')} scale shows"
    elif accuracy is not None and accuracy.floor is not None:
        floor = accuracy.floor
        words = f"least that a {instrument.name.lower()} shows"
    if floor is not None and conditions.pad_db and function == "power":
        floor = sums.through_loss(floor, conditions.pad_db)
    return Measured(
        quantity=quantity_id,
        value=floor,
        unit=quantity(quantity_id).unit,
        bound="upper" if floor is not None and math.isfinite(floor) else None,
        reason=None if floor is not None else "not_supported",
        method="nothing seen",
        read_as="nothing",
        working=words,
        remarks=("nothing seen: a bound, not a figure", *origin_remarks(instrument)),
    )
