"""The terms of doubt that an instrument brings to one figure read from it."""

import math

from young_spark.core.figure import Accuracy, Input, Instrument, Term

STANDARD_ELEMENTS_W = (1.0, 2.5, 5.0, 10.0, 25.0, 50.0, 100.0, 250.0, 500.0, 1000.0, 2500.0)
TYPICAL_PAD_BOUND_DB = 0.2


def element_for(reading_w: float, elements_w: tuple[float, ...] = ()) -> float:
    """The smallest element, in W, that holds the reading: what a careful hand would have fitted."""
    fitting = [e for e in elements_w or STANDARD_ELEMENTS_W if e >= reading_w]
    return min(fitting) if fitting else reading_w


def best_element(reading_w: float, elements_w: tuple[float, ...] = ()) -> float | None:
    """The element, in W, that puts the reading into the upper two thirds of its scale; None if none does."""
    fitting = [e for e in elements_w or STANDARD_ELEMENTS_W if e / 3 <= reading_w <= e]
    return min(fitting) if fitting else None


def accuracy_terms(
    accuracy: Accuracy, value: float, *, full_scale: float | None = None, step: float = 0.0, typical: bool = False
) -> tuple[Term, ...]:
    """Bounds, in the reading's own unit, from an accuracy statement.

    `full_scale` is needed for a share of full scale; `step` is the last digit as typed, counted when digital.
    An accuracy in dB counts as it stands, for figures that are in dB themselves; around
    a figure in linear units it is the caller's (`decibel_error`), since its arms differ."""
    found = (
        ("share of full scale", accuracy.percent_of_full_scale / 100 * (full_scale or 0.0)),
        ("share of reading", accuracy.percent_of_reading / 100 * abs(value)),
        ("accuracy", accuracy.absolute or accuracy.db),
        ("reference", accuracy.ppm * 1e-6 * abs(value)),
        ("last digit", step / 2 if accuracy.digital else 0.0),
    )
    return tuple(Term(name, width, typical=typical) for name, width in found if width > 0)


def read_by(
    instrument: Instrument, function: str, value: float, *, full_scale: float | None = None, step: float = 0.0
) -> Input:
    """A value with the terms of the instrument's function; no terms where it states none (then no spread)."""
    accuracy = instrument.functions.get(function)
    if accuracy is None:
        return Input(value)
    return Input(value, accuracy_terms(accuracy, value, full_scale=full_scale, step=step, typical=instrument.typical))


def decibel_error(instrument: Instrument, function: str) -> Input:
    """An error of 0 dB with the bound the instrument's function states in dB."""
    accuracy = instrument.functions.get(function)
    if accuracy is None or accuracy.db == 0:
        return Input(0.0)
    return Input(0.0, (Term("level accuracy", accuracy.db, typical=instrument.typical),))


def pad(pad_db: float, bound_db: float | None) -> Input:
    """A loss in dB with how well it is known (dB); a typical 0.2 dB for each 20 dB or part where it is not said."""
    if pad_db == 0:
        return Input(0.0)
    typical = TYPICAL_PAD_BOUND_DB * max(1, math.ceil(abs(pad_db) / 20))
    return Input(pad_db, (Term("path loss", bound_db if bound_db is not None else typical, typical=bound_db is None),))


def origin_remarks(
    instrument: Instrument, *, pad_db: float = 0.0, pad_bound_db: float | None = None
) -> tuple[str, ...]:
    """What a reader must know about where the doubt comes from."""
    remarks = []
    if instrument.typical:
        article = "an" if instrument.name[:1].lower() in "aeiou" else "a"
        remarks.append(f"accuracy is typical of {article} {instrument.name.lower()}")
    if instrument.overdue:
        remarks.append(f"{instrument.name}: calibration overdue")
    if instrument.cold:
        remarks.append(f"{instrument.name}: not warm yet")
    if instrument.drifted:
        remarks.append(f"{instrument.name}: outside its accuracy at the last quick check")
    if pad_db and pad_bound_db is None:
        remarks.append("path loss as marked, typical bound")
    return tuple(remarks)
