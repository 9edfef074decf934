"""A figure as typed, in the unit of its quantity, with the sign that the quantity has."""

import math

from young_spark.core.entry.facts import Fact
from young_spark.core.entry.said import UNIT_OF, Ground, Item
from young_spark.core.entry.vocabulary import vocabulary

OHMS = 50.0
DOWNWARDS = {"spurious_worst", "imd3", "imd5", "imd7", "power_step", "hum_and_noise"}
WITH_A_SIDE = {"frequency_error", "power_step", "carrier_shift", "power_fade", "frequency_drift"}
WITHOUT_SIGN = {"fm_deviation_negative", "fm_deviation_positive", "am_depth_negative", "fm_deviation"}
PREFIXES = {"k": 1e3, "M": 1e6, "m": 1e-3, "u": 1e-6}
FREQUENCIES = {"frequency_error", "carrier_frequency", "stage_frequency"}


def in_unit(item: Item, fact: Fact, quantity: str, ground: Ground) -> float:
    """The figure in the quantity's unit."""
    value, unit = fact.value, fact.unit
    if unit is None:
        value, unit = _bare(fact, quantity, ground)
    return _signed(_converted(value, unit, UNIT_OF.get(quantity, "")), item, quantity)


def _bare(fact: Fact, quantity: str, ground: Ground) -> tuple[float, str | None]:
    """A figure without its unit: as hands leave it out for this quantity."""
    if quantity in FREQUENCIES and (hz := ground.as_carrier(fact)) is not None:
        return hz, "Hz"
    told = vocabulary().file.quantity.get(quantity)
    if told is None or told.bare is None:
        return fact.value, None
    if UNIT_OF.get(quantity) == "dBm" and fact.value < -20:
        return fact.value, "dBm"
    bare = told.bare
    if len(bare) > 1 and bare[0] in PREFIXES and bare != "uV":
        return fact.value * PREFIXES[bare[0]], bare[1:]
    return fact.value, bare


def _converted(value: float, unit: str | None, wanted: str) -> float:
    if unit == "m":
        return value * (1e6 if wanted in {"Hz", "Ω"} else 1e-3)
    if (unit, wanted) == ("uV", "dBm"):
        return 20 * math.log10(value * 1e-6 / math.sqrt(OHMS * 1e-3)) if value > 0 else -math.inf
    if (unit, wanted) == ("dBm", "W"):
        return float(10 ** ((value - 30) / 10))
    if (unit, wanted) == ("Vpp", "W"):
        return value * value / (8 * OHMS)
    return value


def _signed(value: float, item: Item, quantity: str) -> float:
    if UNIT_OF.get(quantity) == "dBc" or quantity in DOWNWARDS:
        return -abs(value)
    if quantity in WITH_A_SIDE and item.side is not None:
        return -abs(value) if item.side == "low" else abs(value)
    return abs(value) if quantity in WITHOUT_SIGN else value
