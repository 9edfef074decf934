"""A figure as typed, in the unit of its quantity, with the sign that the quantity has."""

import math
import re

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Ground, Item
from young_spark.core.entry.wording.vocabulary import vocabulary

OHMS = 50.0
EMF_DB = 20 * math.log10(2)  # the EMF of a generator is twice what it gives into its load
LEAST_IF_KHZ = 100.0  # an intermediate frequency: 455 is in kHz
MOST_COUNTED_MHZ = 1300.0
COUNTED_IN_MHZ = 4  # decimals: 450.0125 are no kilohertz
LEAST_KHZ = 1000.0  # a bare counter figure above this is in kHz
MOST_KILOVOLTS = 10.0
LEAST_BARE_MA = 2.0
OF_AMPS = 2  # decimals of a current in amps
MOST_BARE_DBM = -20.0  # of a level at a receiver; above it a bare figure is microvolts
DOWNWARDS = {"spurious_worst", "adjacent_channel_ratio", "power_step", "hum_and_noise"}
WITH_A_SIDE = {"frequency_error", "power_step", "carrier_shift", "power_fade", "frequency_drift"}
POSITIVE = {
    "return_loss",
    "imd3",
    "imd5",
    "imd7",
    "carrier_suppression",
    "opposite_sideband_suppression",
    "image_rejection",
    "adjacent_channel_selectivity",
    "insertion_loss",
    "squelch_hysteresis",
}
WITHOUT_SIGN = {"fm_deviation_negative", "fm_deviation_positive", "am_depth_negative", "fm_deviation"}
PREFIXES = {"k": 1e3, "M": 1e6, "m": 1e-3, "u": 1e-6}
MOST_SUBTONE_KHZ = 2.0  # that it deviates by; bare, a larger figure is in hertz
FREQUENCIES = {"frequency_error", "carrier_frequency", "stage_frequency"}


def in_unit(item: Item, fact: Fact, quantity: str, ground: Ground) -> float:
    """The figure in the quantity's unit."""
    value, unit = _as_it_was(fact, ground) if quantity == "frequency_error" else (fact.value, fact.unit)
    if unit is None:
        value, unit = _bare(fact, quantity, ground)
    if unit == "ppm" or (unit == "%" and quantity == "frequency_error"):
        value, unit = _share_of_the_carrier(value, unit, item, ground), "Hz"
    value = _converted(value, unit, UNIT_OF.get(quantity, ""))
    if "emf" in item.marks and fact.unit == "uV":
        value -= EMF_DB
    return _signed(value, item, quantity)


def plain_number(fact: Fact, quantity: str) -> float:
    """What one of the figure's unit is in the quantity's; 0 where the two are not proportional."""
    wanted = UNIT_OF.get(quantity, "")
    if fact.unit in {None, "k", "m"}:
        told = vocabulary().file.quantity.get(quantity)
        bare = told.bare if told is not None and fact.unit is None else None
        if fact.unit == "m":
            return 1e6 if wanted in {"Hz", "Ω"} else 1e-3
        return PREFIXES[bare[0]] if bare and len(bare) > 1 and bare[0] in PREFIXES and bare != "uV" else 1.0
    return 1.0 if fact.unit == wanted or {fact.unit, wanted} == {"dB", "dBc"} else 0.0


def _as_it_was(fact: Fact, ground: Ground) -> tuple[float, str | None]:
    """'+3.1' behind an error of +2.4 kHz: the same unit; nobody reads tenths of a hertz."""
    quantity, value = ground.last or ("", 0.0)
    again = quantity == "frequency_error" and fact.unit is None and fact.decimals > 0
    if again and 1 / FARTHEST < abs(fact.value * 1e3 / (value or math.inf)) < FARTHEST:
        return fact.value * 1e3, "Hz"
    return fact.value, fact.unit


FARTHEST = 10.0  # times what was read last


def _share_of_the_carrier(value: float, unit: str, item: Item, ground: Ground) -> float:
    """ppm or % of the frequency that the figure stands at; NaN where that is not known."""
    channel = item.address.get("channel", ground.hand.get("channel"))
    hz = item.address.get("frequency_hz", ground.hand.get("frequency_hz"))
    known = ground.channel_hz.get(int(float(str(channel)))) if channel is not None else hz
    known = known if known is not None else _where_errors_are_wanted(ground)
    known = ground.read_at[-1] if known is None and ground.read_at else known
    return math.nan if known is None else value * float(str(known)) * (1e-6 if unit == "ppm" else 1e-2)


def _where_errors_are_wanted(ground: Ground) -> float | None:
    """The one frequency that the open lines want an error at, or None where they want it at several, or at none."""
    lines = [line for line in ground.lines if line.get("quantity") == "frequency_error"]
    channels = (ground.channel_hz.get(int(float(str(line["channel"])))) for line in lines if "channel" in line)
    wanted = {*(float(str(line["frequency_hz"])) for line in lines if "frequency_hz" in line), *channels} - {None}
    return wanted.pop() if len(wanted) == 1 else None


def _bare(fact: Fact, quantity: str, ground: Ground) -> tuple[float, str | None]:
    """A figure without its unit: as hands leave it out for this quantity."""
    if quantity in FREQUENCIES:
        return _bare_frequency(fact, quantity, ground)
    told = vocabulary().file.quantity.get(quantity)
    bare = told.bare if told is not None else None
    if bare is None:
        return fact.value, None
    if UNIT_OF.get(quantity) == "dBm" and fact.value < MOST_BARE_DBM:
        return fact.value, "dBm"
    if _is_whole(fact, quantity, ground):
        return fact.value, UNIT_OF[quantity]
    if quantity == "subtone_deviation" and 0 < fact.value < MOST_SUBTONE_KHZ:
        return fact.value * 1e3, "Hz"  # 'tone dev 0.4'
    if quantity == "plate_voltage" and ground.high_voltage and fact.decimals and 0 < fact.value < MOST_KILOVOLTS:
        return fact.value * 1e3, "V"  # 'ht 2.41'
    if quantity == "plate_voltage" and re.fullmatch(r"\d{1,3},\d{3}", fact.text):
        return fact.value * 1e3, "V"  # no high tension is that low
    return _with_prefix(fact.value, bare)


def _is_whole(fact: Fact, quantity: str, ground: Ground) -> bool:
    """Whether a figure is in volts or amps where hands leave out milli: 'idle .15', 'ig .118', 'ht 281 ripple 0.8'. No
    stage idles at so few milliamps, and no high tension is as clean as millivolts."""
    if quantity in {"idle_current", "plate_current"}:
        return 0 < fact.value < LEAST_BARE_MA and fact.decimals > 0
    if quantity == "ripple":
        return ground.high_voltage or (fact.decimals > 0 and fact.value < 1)
    return quantity == "grid_current" and 0 < fact.value < 1 and fact.decimals >= OF_AMPS


def _bare_frequency(fact: Fact, quantity: str, ground: Ground) -> tuple[float, str | None]:
    """MHz near a line or a channel, kHz of a counter or an intermediate frequency; else as hands leave it out."""
    if (hz := ground.as_carrier(fact)) is not None:
        return hz, "Hz"
    if fact.decimals >= COUNTED_IN_MHZ - 1 and 1 < fact.value < MOST_COUNTED_MHZ:
        return fact.value * 1e6, "Hz"
    least = LEAST_IF_KHZ if quantity == "stage_frequency" else LEAST_KHZ
    if fact.value >= least and fact.decimals < COUNTED_IN_MHZ:
        return fact.value * 1e3, "Hz"
    told = vocabulary().file.quantity[quantity].bare
    return (fact.value, None) if told is None else _with_prefix(fact.value, told)


def _with_prefix(value: float, bare: str) -> tuple[float, str]:
    if len(bare) > 1 and bare[0] in PREFIXES and bare != "uV":
        return value * PREFIXES[bare[0]], bare[1:]
    return value, bare


def _converted(value: float, unit: str | None, wanted: str) -> float:
    if unit == "m":
        return value * (1e6 if wanted in {"Hz", "Ω"} else 1e-3)
    if (unit, wanted) == ("uV", "dBm"):
        return 20 * math.log10(value * 1e-6 / math.sqrt(OHMS * 1e-3)) if value > 0 else -math.inf
    if unit == "k":
        return value
    if (unit, wanted) == ("%", "dB"):  # hum as a share of the carrier
        return 20 * math.log10(value / 100) if value > 0 else -math.inf
    if (unit, wanted) == ("dBw", "W"):
        return float(10 ** (value / 10))
    if (unit, wanted) == ("Vp", "W"):
        return value * value / (2 * OHMS)
    if (unit, wanted) == ("Vrms", "W"):
        return value * value / OHMS
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
    return abs(value) if quantity in WITHOUT_SIGN | POSITIVE else value
