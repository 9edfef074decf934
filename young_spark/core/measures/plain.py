"""Figures read straight off an instrument: supply, bias, heat, audio levels, parts."""

from young_spark.core.figure import Instrument, Measured, format_value, measured, propagate, quantity
from young_spark.core.measures.accuracy import origin_remarks, read_by


def direct(
    quantity_id: str, value: float, instrument: Instrument, function: str, *, step: float = 0.0, words: str = ""
) -> Measured:
    """The figure as read, in the quantity's own unit, with the accuracy of the instrument's function."""
    given = read_by(instrument, function, value, full_scale=abs(value), step=step)
    shown = format_value(value, quantity(quantity_id).unit)
    return measured(
        quantity_id,
        propagate(lambda value: value, {"value": given}),
        method=instrument.name.lower(),
        working=f"{shown} {words or 'as read'}",
        remarks=origin_remarks(instrument),
        known=bool(given.terms),
    )
