"""Which quantity a figure without a name is, by its unit, its place, and what the slip wants."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from young_spark.core.entry.facts import Fact
from young_spark.core.entry.said import UNIT_OF, Ground, Item

POWERS = {"carrier_power", "peak_envelope_power", "mean_power", "forward_power", "reflected_power", "drive_power"}
SIDEBANDS = {"usb", "lsb", "ssb"}
LEAST_HT_V = 200.0
SUPPLIES_V = (5.0, 60.0)
DEVIATIONS_HZ = (300.0, 30_000.0)
ELECTRODE_OF: dict[str, dict[str, str]] = {
    "plate_current": {"V": "plate_voltage", "A": "plate_current"},
    "plate_voltage": {"V": "plate_voltage", "A": "plate_current"},
    "screen_voltage": {"V": "screen_voltage", "A": "screen_current"},
    "grid_current": {"V": "bias_voltage", "A": "grid_current"},
    "bias_voltage": {"V": "bias_voltage", "A": "idle_current"},
}


def unnamed(item: Item, ground: Ground, items: Sequence[Item]) -> str | None:
    """The quantity of a figure that no word names; None where several would do."""
    if item.fact.unit is None:
        return _bare(item, ground, items)
    by_unit = BY_UNIT.get(item.fact.unit)
    return by_unit(item, ground) if by_unit is not None else None


def _bare(item: Item, ground: Ground, items: Sequence[Item]) -> str | None:
    if ground.as_carrier(item.fact) is not None:
        item.fact = replace(item.fact, unit="Hz", value=item.fact.value * 1e6)
        return "carrier_frequency"
    others = [i for i in items if i is not item]
    if item.address.get("place"):
        return "dc_voltage" if any(i.fact.unit == "V" for i in others) else None
    named = {o.quantity for o in others if o.quantity}
    if len(named) == 1 and all(o.fact.unit is None or o.quantity for o in others):
        return named.pop()  # 'swr 1.4 ch1 1.2 ch19': one name for all
    with_unit = next((o for o in others if o.fact.unit is not None), None)
    if with_unit is not None:  # 'ch1 3.4 ch19 3.8 ch40 3.3w': the unit that is said once is meant for all
        factor = with_unit.fact.factor
        item.fact = replace(item.fact, unit=with_unit.fact.unit, value=item.fact.value * factor)
        if item.upper is not None:
            item.upper = replace(item.upper, unit=with_unit.fact.unit, value=item.upper.value * factor)
        return with_unit.quantity or unnamed(item, ground, [item])
    return None if named and ground.wants is None else ground.wants


def _watts(item: Item, ground: Ground) -> str | None:
    if item.address.get("audio"):
        return "needle_on_audio"
    if (item.address.get("mode") or ground.hand.get("mode")) in SIDEBANDS:
        return "peak_envelope_power"
    return ground.wants if ground.wants in POWERS and not item.address.get("mode") else "carrier_power"


def _volts(item: Item, ground: Ground) -> str | None:
    if item.is_rf or item.form in {"pp", "rms"}:
        return "ac_voltage"
    if item.address.get("place"):
        return "ac_voltage" if item.form == "ac" else "dc_voltage"
    if (wanted := ground.wants_in("V")) is not None or item.form == "ac":
        return wanted
    if ground.hand.get("place"):
        return "dc_voltage"
    if ground.high_voltage and abs(item.fact.value) >= LEAST_HT_V:
        return "plate_voltage"
    return "supply_voltage" if SUPPLIES_V[0] <= item.fact.value <= SUPPLIES_V[1] else None


def _alternating(item: Item, ground: Ground) -> str | None:
    inside = item.address.get("place") or ground.hand.get("place") or ground.wants == "ac_voltage"
    return "ac_voltage" if inside else "carrier_power" if item.fact.unit == "Vpp" else None


def _amps(item: Item, ground: Ground) -> str | None:
    if item.address.get("place"):
        return "dc_current"
    return ground.wants_in("A") or ("plate_current" if ground.high_voltage else "supply_current")


def _hertz(item: Item, ground: Ground) -> str | None:
    if ground.as_carrier(item.fact) is not None:
        return "stage_frequency" if item.address.get("place") else "carrier_frequency"
    if item.fact.unit == "m":
        return None
    if item.fact.unit == "k" and item.address.get("place"):
        return "resistance"
    if item.side is not None or item.fact.signed or ground.wants == "frequency_error":
        return "frequency_error"
    if DEVIATIONS_HZ[0] <= abs(item.fact.value) <= DEVIATIONS_HZ[1]:
        fm = item.address.get("mode") == "fm" or ground.modes == ("fm",)
        return "fm_deviation" if fm else ground.wants_in("Hz")
    return None


def _level(item: Item, ground: Ground) -> str | None:
    return "rf_level" if item.address.get("place") else ground.wants_in("dBm") or "carrier_power"


def _always(quantity: str) -> Callable[[Item, Ground], str | None]:
    return lambda item, ground: quantity


BY_UNIT: dict[str, Callable[[Item, Ground], str | None]] = {
    "W": _watts, "V": _volts, "Vpp": _alternating, "Vrms": _alternating, "A": _amps, "Hz": _hertz, "k": _hertz,
    "m": _hertz, "dBm": _level, "1": _always("swr"), "Ω": _always("resistance"), "F": _always("capacitance"),
    "°C": _always("temperature"), "H": _always("inductance"),
    "%": lambda item, ground: ground.wants_in("%") or "am_depth",
    "uV": lambda item, ground: ground.wants_in("dBm"),
    "dB": lambda item, ground: ground.wants_in("dB", "dBc"),
    "dBc": lambda item, ground: ground.wants_in("dB", "dBc"),
}  # fmt: skip


def by_its_unit(quantity: str, item: Item, ground: Ground) -> str:
    """What a named figure is once its unit is looked at: an electrode's volts or amps, a carrier and no error."""
    fact = item.fact
    if quantity in ELECTRODE_OF and fact.unit in {"V", "A"}:
        return ELECTRODE_OF[quantity][fact.unit]
    if quantity == "frequency_error" and ground.as_carrier(fact) is not None:
        return "carrier_frequency"
    if quantity == "carrier_frequency" and item.address.get("place"):
        return "stage_frequency"
    if quantity == "am_depth" and (fact.unit in {"Hz", "k"} or ground.modes == ("fm",)):
        return "fm_deviation"
    sideband = (item.address.get("mode") or ground.hand.get("mode")) in SIDEBANDS
    return "peak_envelope_power" if quantity == "carrier_power" and sideband and fact.unit in {"W", None} else quantity


def by_its_side(quantity: str, item: Item, items: Sequence[Item]) -> str:
    """Two peaks of a deviation or a depth, told apart by their signs or by up and down."""
    pair = sum(1 for i in items if (i.quantity or quantity) == quantity) == 2
    if not pair or not (item.fact.signed or item.side):
        return quantity
    down = item.fact.value < 0 or item.side == "low"
    peaks = {
        "fm_deviation": ("fm_deviation_positive", "fm_deviation_negative"),
        "am_depth": ("am_depth_positive", "am_depth_negative"),
    }
    return peaks[quantity][down] if quantity in peaks else quantity


def is_of_power(quantity: str | None) -> bool:
    """Whether a quantity is a power."""
    return quantity in POWERS


def plain_unit(fact: Fact, quantity: str) -> str:
    """The unit of a quantity, for a figure of it."""
    return UNIT_OF.get(quantity, fact.unit or "")
