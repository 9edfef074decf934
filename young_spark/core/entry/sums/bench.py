"""What every family of figures needs: the context with this line's conditions, and the figures in their roles."""

from dataclasses import dataclass

from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.entry.sums.expression import Expression
from young_spark.core.entry.wording.tokens import Figure, NotOneFigure, Unclear
from young_spark.core.figure import Conditions, Measured, quantity


@dataclass(frozen=True, slots=True)
class Draft:
    """Readings of one sense of the text, the principal first, and the conditions as the text changed them."""

    readings: tuple[Measured, ...]
    conditions: Conditions


@dataclass(frozen=True, slots=True)
class Bench:
    """The context with the conditions of this line."""

    context: EntryContext
    conditions: Conditions

    def set(self, **changes: object) -> "Bench":
        """The same bench with some chips changed for this line."""
        conditions = self.conditions.model_copy(update=changes)
        return Bench(self.context.model_copy(update={"conditions": conditions}), conditions)

    def draft(self, *readings: Measured) -> Draft:
        """The readings under this line's conditions."""
        return Draft(readings, self.conditions)


FUNCTION_OF_UNIT = {
    "W": "power", "V": "voltage", "A": "current", "Ω": "resistance", "F": "capacitance", "°C": "temperature",
    "dBm": "level", "%": "depth", "Hz": "frequency",
}  # fmt: skip


FUNCTION_OF = {
    "esr": "esr",
    "transistor_gain": "gain",
    "ripple": "ripple",
    "sinad": "sinad",
    "signal_to_noise": "audio_level",
    "audio_distortion": "distortion",
    "hum_and_noise": "audio_level",
    "carrier_suppression": "relative_level",
    "opposite_sideband_suppression": "relative_level",
    "power_step": "relative_level",
    "power_flatness": "relative_level",
    "power_fade": "relative_level",
    "return_loss": "relative_level",
    "insertion_loss": "relative_level",
    "gain": "relative_level",
    "imd3": "relative_level",
    "imd5": "relative_level",
    "imd7": "relative_level",
    "fm_deviation": "deviation",
    "efficiency": "none",
    "carrier_shift": "depth",
}


MHZ = 1e6


def function_of(quantity_id: str) -> str:
    """The instrument function that reads a quantity."""
    return FUNCTION_OF.get(quantity_id) or FUNCTION_OF_UNIT.get(quantity(quantity_id).unit, "none")


def single(expression: Expression, what: str) -> Figure:
    """The one figure there must be; raises Unclear otherwise."""
    if len(expression.figures) > 1:
        raise NotOneFigure(f"{what}: one figure is wanted.")
    if not expression.figures:
        raise Unclear(f"{what}: what figure?")
    return expression.figures[0]


def as_hertz(figure: Figure, assigned_hz: float | None) -> Figure:
    """A figure read as a frequency in Hz: a bare one is MHz where it can only be a carrier. Raises Unclear for other
    units."""
    if figure.unit == "Hz":
        return figure
    if figure.unit == "k":
        return figure.in_unit("Hz", 1e3)
    if figure.unit == "m":
        return figure.in_unit("Hz", MHZ)
    if figure.unit is None:
        mhz = figure.value * MHZ
        near = assigned_hz is not None and abs(mhz / assigned_hz - 1) < 0.02
        if near or (assigned_hz is None and figure.step < 0.02 and 1 < figure.value < 1300):
            return figure.in_unit("Hz", MHZ)
        return figure.in_unit("Hz")
    raise Unclear(f"{figure.text}: a frequency in MHz, or an error in Hz?")


def own_meter_not_judged(reading: Measured, bench: Bench) -> Measured:
    """A figure of the unit's own meter is an indication, and held against no limit."""
    if bench.context.instrument_for(function_of(reading.quantity)).indication_only:
        return reading.model_copy(update={"not_judged": "indication only: the unit's own meter"})
    return reading
