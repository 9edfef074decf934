"""SWR and return loss from forward and reflected power, directivity included."""

import math

from young_spark.core.figure import (
    Conditions,
    Input,
    Instrument,
    Measured,
    Shape,
    Term,
    format_value,
    measured,
    propagate,
    sums,
)
from young_spark.core.measures.accuracy import origin_remarks, read_by
from young_spark.core.measures.power import element_in_use

TYPICAL_DIRECTIVITY_DB = 25.0


LEAST_TOLD = 1e-3  # reflection coefficient: no coupler of a bench tells less from none


def _seen(forward_w: float, reflected_w: float, leak: float) -> float:
    """Reflection coefficient with the coupler's own leak added, kept inside 0 … just below 1."""
    rho = math.sqrt(min(max(reflected_w, 0.0) / forward_w, 1.0)) + leak
    return min(max(rho, 0.0), 0.999999)


def from_powers(
    forward_w: float, reflected_w: float, meter: Instrument, conditions: Conditions
) -> tuple[Measured, ...]:
    """SWR, return loss and both powers from a directional wattmeter; each power in W on its own element.

    Directivity is an arcsine term on the reflection coefficient: it decides good aerials."""
    rho = sums.reflection_from_powers(forward_w, reflected_w)
    fwd_element, remarks = element_in_use(forward_w, conditions.element_w, meter)
    ref_element = conditions.reflected_element_w or conditions.element_w
    if ref_element is None:  # 0.4 W back is read on an element that shows it, not on that of 25 W forward
        ref_element = element_in_use(reflected_w, None, meter)[0]
    directivity = meter.directivity_db or TYPICAL_DIRECTIVITY_DB
    typical = meter.typical or meter.directivity_db is None
    leak = Input(0.0, (Term("directivity", 10 ** (-directivity / 20), Shape.ARCSINE, typical),))
    forward = read_by(meter, "power", forward_w, full_scale=fwd_element)
    reflected = read_by(meter, "power", reflected_w, full_scale=ref_element)
    remarks += (
        f"seen through {directivity:g} dB of directivity{' (typical)' if typical else ''}",
        *origin_remarks(meter),
    )
    known = bool(forward.terms)
    words = f"ρ = √({format_value(reflected_w, 'W')} / {format_value(forward_w, 'W')}) = {rho:.3g}"
    powers = tuple(
        measured(
            q,
            propagate(lambda w: max(w, 0.0), {"w": given}),
            method="directional wattmeter",
            working="at the meter",
            known=known,
        )
        for q, given in (("forward_power", forward), ("reflected_power", reflected))
    )
    if rho == 1:
        return (_total(words, remarks), *powers)
    inputs = {"forward_w": forward, "reflected_w": reflected, "leak": leak}
    swr = propagate(
        lambda forward_w, reflected_w, leak: sums.swr_from_reflection(_seen(forward_w, reflected_w, leak)), inputs
    )
    reading = measured(
        "swr",
        swr,
        method="directional wattmeter",
        working=f"{words}; (1 + ρ) / (1 − ρ) = {swr.value:.3g}",
        remarks=remarks,
        known=known,
    )
    return (reading, _return_loss(inputs, rho, words, remarks, known), *powers)


def _total(words: str, remarks: tuple[str, ...]) -> Measured:
    return Measured(
        quantity="swr",
        value=None,
        unit="1",
        reason="infinite",
        method="directional wattmeter",
        working=words,
        remarks=("everything comes back: open or short", *remarks),
    )


def _return_loss(inputs: dict[str, Input], rho: float, words: str, remarks: tuple[str, ...], known: bool) -> Measured:
    fewest, most = propagate(_seen, inputs).interval
    if fewest <= LEAST_TOLD:  # the far end of the interval is no reflection at all: only "at least" can be said
        least = sums.return_loss_from_reflection(min(most, 1.0))
        return Measured(
            quantity="return_loss",
            value=least,
            unit="dB",
            bound="lower",
            method="directional wattmeter",
            working=f"{words}; no better can be told through this meter",
            remarks=remarks,
        )
    spread = propagate(
        lambda forward_w, reflected_w, leak: sums.return_loss_from_reflection(
            max(_seen(forward_w, reflected_w, leak), 1e-6)
        ),
        inputs,
    )
    working = f"{words}; −20·log10 ρ = {format_value(spread.value, 'dB', figures=3)}"
    return measured(
        "return_loss", spread, method="directional wattmeter", working=working, remarks=remarks, known=known
    )


def from_meter(swr: float, meter: Instrument) -> Measured:
    """An SWR read straight from a meter's scale (≥ 1)."""
    rho = sums.reflection_from_swr(swr)
    directivity = meter.directivity_db or TYPICAL_DIRECTIVITY_DB
    leak = Input(0.0, (Term("directivity", 10 ** (-directivity / 20), Shape.ARCSINE, typical=True),))
    spread = propagate(lambda leak: sums.swr_from_reflection(min(max(rho + leak, 0.0), 0.999999)), {"leak": leak})
    remarks = (f"seen through {directivity:g} dB of directivity", *origin_remarks(meter))
    return measured("swr", spread, method="SWR meter", working=f"{swr:g} on the meter", remarks=remarks)
