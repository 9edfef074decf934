"""Which quantity a figure is: by the name beside it, once its unit and its side are looked at; else by its unit, its
place and what the slip wants."""

import re
from collections.abc import Callable, Sequence
from dataclasses import replace

from young_spark.core.entry.facts.bare_beside import ASKED, LEAST_KHZ, is_counted_at
from young_spark.core.entry.facts.by_unit import LEAST_HT_V, SIDEBANDS, by_unit, is_of_power, place_of, power_there
from young_spark.core.entry.facts.in_unit import MOST_SUBTONE_KHZ
from young_spark.core.entry.facts.said import UNIT_OF, Ground, Item
from young_spark.core.entry.naming.bare_figure import bare, in_hertz
from young_spark.core.entry.naming.parallel import in_parallel

LEAST_SUPPLY_V, MOST_SUPPLY_V = 5.0, 60.0
LEAST_WATTS_AN_AMP, MOST_AT_REST_A = 2.76, 2.0  # a fifth of 13.8 V comes out at least
MOST_SAG = 0.6
LEAST_HFE = 10.0
LEAST_OF_A_SWING_HZ = 400.0  # 'dev 1.9, +10hz': one side of a deviation is no such little of it
LEAST_BARE_MA = 30.0
LEAST_SUPPRESSED_DB = 20.0
MOST_SUBTONE_HZ = 300.0
LEAST_SINAD_DB = -40.0
LEAST_BARE_SINAD = 3.0  # dB; so little is a level in microvolts
ON_A_COUNTER = 2  # decimals of a MHz that a hand says where it is; more are read
ELECTRODES_WITH: dict[str, dict[str, str]] = {
    "screen_voltage": {"V": "screen_voltage", "A": "screen_current"},
    "screen_current": {"V": "screen_voltage", "A": "screen_current"},
    "plate_voltage": {"V": "plate_voltage", "A": "plate_current"},
    "plate_current": {"V": "plate_voltage", "A": "plate_current"},
}
ELECTRODE_OF: dict[str, dict[str, str]] = {
    "plate_current": {"V": "plate_voltage", "A": "plate_current", "k": "plate_voltage"},
    "plate_voltage": {"V": "plate_voltage", "A": "plate_current", "k": "plate_voltage"},
    "screen_voltage": {"V": "screen_voltage", "A": "screen_current"},
    "grid_current": {"V": "bias_voltage", "A": "grid_current"},
    "bias_voltage": {"V": "bias_voltage", "A": "idle_current"},
}
# a name with a unit of another quantity is that one
OTHER_BY_UNIT = {
    ("hum_and_noise", "V"): "ripple", ("audio_power", "V"): "ac_voltage",
    ("audio_power", "Vrms"): "ac_voltage", ("audio_power", "Vpp"): "ac_voltage", ("drive_power", "1"): "input_swr",
    ("leakage_current", "Ω"): "resistance", ("leakage_current", "k"): "resistance",
    ("input_swr", "W"): "drive_power",
    ("am_depth", "Hz"): "fm_deviation", ("am_depth", "k"): "fm_deviation",
}  # fmt: skip
PEAKS = {
    "fm_deviation": ("fm_deviation_positive", "fm_deviation_negative"),
    "am_depth": ("am_depth_positive", "am_depth_negative"),
}
OF_AN_ELECTRODE = {"bias_voltage", "screen_voltage", "screen_current", "grid_current"}
OF_THE_UNIT = {"plate_voltage", "ripple", "filament_voltage"}  # where no place is said
WITHOUT_BIAS = ("cathode", "anode", "collector", "emitter", "drain", "source")
ALONE = {"drive_power", "forward_power", "reflected_power"}  # names that hold for their own figure only
LEAST_TEST_V, MOST_LEAK_A = 60.0, 1e-3
CURRENTS = {"supply_current", "plate_current", "dc_current"}
LIKE_UNITS = {"uV": "dBm", "dBm": "dBm", "k": "Hz"}


def unnamed(item: Item, ground: Ground, items: Sequence[Item]) -> str | None:
    """The quantity of a figure that no word names; None where several would do."""
    if item.fact.unit is None and _is_a_count_beside_others(item, ground, items):
        item.address.pop("place", None)  # 'driver cathode 14v 14.20003': of the carrier, and of no point
        return in_hertz(item, 1e6)
    if item.fact.unit is None:
        return _other_peak(item, items) or in_parallel(item, items) or bare(item, ground, items)
    found = _named_beside(item, items) or by_unit(item, ground)
    found = _of_a_test_or_a_bias(found, item, items) or found
    if item.fact.unit == "%" and any(i.quantity == "audio_power" for i in items):
        return "audio_distortion"  # 'audio 2.1w 5% at 1khz'
    if found == "dc_voltage" and "place" not in item.address and _is_of_a_whole_unit(items):
        return "supply_voltage"
    return _at_rest_or_keyed(found, item, items)


def _is_a_count_beside_others(item: Item, ground: Ground, items: Sequence[Item]) -> bool:
    """Whether a counter's megahertz stand beside figures that all carry their units, and at no oscillator."""
    others = [i for i in items if i is not item]
    in_units = bool(others) and all(i.fact.unit is not None for i in others)
    return in_units and ground.is_a_count(item.fact) and not is_counted_at(place_of(item))


def _at_rest_or_keyed(found: str | None, item: Item, items: Sequence[Item]) -> str | None:
    """'standing 45ma' is no grid's; '4w in 96w out 11.8a': nothing idles while it sends."""
    if found == "grid_current" and item.address.get("setting") == "off load":
        del item.address["setting"]
        return "idle_current"
    names = {i.quantity for i in items}
    if found == "drive_power" and "drive_power" in names:
        return "carrier_power"  # '305w 15w in' where the drive is wanted
    watts = any(i.fact.unit == "W" for i in items) or any(is_of_power(name) for name in names)
    sends = any(i.fact.unit == "W" and i.clause == item.clause for i in items)
    keyed = found == "idle_current" and watts and (sends or "bias_voltage" not in names)
    return "supply_current" if keyed else found


def _is_of_a_whole_unit(items: Sequence[Item]) -> bool:
    """'108w out 15.1a 28v': watts and amps in one row, wherever the hand was."""
    units = {i.fact.unit for i in items}
    if units == {"A", "V"} and len(items) == 2 and not any(i.quantity for i in items):
        return any(i.fact.unit == "V" and FEEDS_V[0] <= i.fact.value <= FEEDS_V[1] for i in items)  # '13.8v 2.1a'
    return "A" in units and ("W" in units or any(is_of_power(i.quantity) for i in items))


FEEDS_V = (12.0, 14.4)  # a bench supply or a vehicle's


def _of_a_test_or_a_bias(found: str | None, item: Item, items: Sequence[Item]) -> str | None:
    """'1000p ok at 3kv 2ua', 'bias 2.9v 150ma each'."""
    if found not in CURRENTS or item.fact.unit != "A":
        return None
    tester = float(str(item.address.get("supply_v") or 0.0)) >= LEAST_TEST_V and item.fact.value < MOST_LEAK_A
    if tester:
        return "leakage_current"
    sends = any(i.fact.unit == "W" and i.clause == item.clause for i in items)  # 'bias up to 2.3, 4.8w 0.72a'
    return "idle_current" if any(i.quantity == "bias_voltage" for i in items) and not sends else None


def _other_peak(item: Item, items: Sequence[Item]) -> str | None:
    """'mod +90 -88 thd 4.5%': the other side of what was named just before."""
    before = next((i for i in items if i.at == item.at - 1), None)
    signs = before is not None and before.fact.signed and item.fact.signed and before.fact.value * item.fact.value < 0
    return before.quantity if before is not None and signs and before.quantity in PEAKS else None


def _named_beside(item: Item, items: Sequence[Item]) -> str | None:
    """'sens ch1 .3 ch40 .5uv', 'fm dev +2.0 -1.8 khz', 'screen 210v 8ma': the one name of the line holds on."""
    named = {i.quantity for i in items if i.quantity and i is not item}
    if len(named) != 1 or named <= ALONE:
        return None
    name = next(iter(named))
    if _is_of_a_carrier(name, item):
        return None
    if name in ELECTRODES_WITH and item.fact.unit in {"V", "A"} and not place_of(item):
        return ELECTRODES_WITH[name].get(item.fact.unit)
    same_unit = LIKE_UNITS.get(item.fact.unit or "", item.fact.unit) == UNIT_OF.get(name)
    return name if same_unit and _goes_on(name, item, items) else None


def _goes_on(name: str, item: Item, items: Sequence[Item]) -> bool:
    """Whether a name holds for another figure: at another point, or for the other peak of a deviation."""
    if name in OF_AN_ELECTRODE and place_of(item).endswith(WITHOUT_BIAS):
        return False
    if name in OF_THE_UNIT and _is_at_a_point_of_its_own(name, item, items):
        return False
    if name == "supply_voltage" and A_PART.match(place_of(item)):
        return False  # 'supply 13.2v tp3 4.1v'
    if name == "ripple" and item.at < min(i.at for i in items if i.quantity == name):
        return False  # 'rail 13.9v ripple 12mv'
    if name == "fm_deviation" and item.fact.signed:
        return abs(item.fact.value) >= LEAST_OF_A_SWING_HZ
    return any(i.quantity == name and i.address != item.address for i in items)


def _is_at_a_point_of_its_own(name: str, item: Item, items: Sequence[Item]) -> bool:
    """'b+ 251v v3 cathode 2.1v': volts of that point, where the name was said of the unit."""
    placed = any(place_of(i) for i in items if i.quantity == name)
    return bool(place_of(item)) and (not placed or place_of(item).endswith(WITHOUT_HIGH_TENSION))


A_PART = re.compile(r"[A-Z]{1,3}\d")
WITHOUT_HIGH_TENSION = ("cathode", "emitter", "base", "gate", "source")


def _is_of_a_carrier(name: str, item: Item) -> bool:
    """'am 14w ssb 31 pep': a mode with a carrier has no part in another's peak envelope."""
    return name == "peak_envelope_power" and item.address.get("mode") in {"am", "fm", "cw"}


# a figure that is named -----------------------------------------------------------------------------------------------


def by_its_unit(quantity: str, item: Item, ground: Ground) -> str:
    """What a named figure is once its unit is looked at: an electrode's volts or amps, a carrier and no error."""
    unit = item.fact.unit or ""
    if unit in ELECTRODE_OF.get(quantity, {}):
        alternates = unit == "V" and (item.is_rf or item.form == "ac")
        return "ac_voltage" if alternates else ELECTRODE_OF[quantity][unit]
    if quantity == "hum_and_noise" and unit == "V" and not place_of(item):
        return ASKED  # of the supply, or of the audio
    if (quantity, unit) in OTHER_BY_UNIT:
        return OTHER_BY_UNIT[quantity, unit]
    named = NAMED.get(quantity)
    return (named(item, ground) if named is not None else None) or quantity


def _fade(item: Item, ground: Ground) -> str | None:
    return ground.last[0] if ground.last is not None and _is_of_the_volts_before(item, ground) else None


def _audio(item: Item, ground: Ground) -> str | None:
    """'q8 collector 0.0 af': volts, inside."""
    return "ac_voltage" if item.fact.unit is None and place_of(item) not in {"", "speaker"} else None


def _high_tension(item: Item, ground: Ground) -> str | None:
    """'b+ 13.6' of a set without valves."""
    return "supply_voltage" if not ground.high_voltage and _is_of_a_bench(item) else None


def _is_of_the_volts_before(item: Item, ground: Ground) -> bool:
    """'sag now 26.5 -> 25.1' behind what the supply sagged to."""
    name, value = ground.last or ("", 0.0)
    volts = UNIT_OF.get(name) == "V" and item.fact.unit is None
    return volts and abs(item.fact.value / (value or 1.0) - 1) < MOST_SAG


def _is_of_a_bench(item: Item) -> bool:
    return item.fact.unit in {None, "V"} and LEAST_SUPPLY_V <= item.fact.value <= MOST_SUPPLY_V


def _error(item: Item, ground: Ground) -> str | None:
    """A figure that is called a frequency is a count where no error is wanted, and no channel says what from."""
    if item.fact.unit is None and not item.fact.signed and item.fact.decimals > ON_A_COUNTER and item.fact.value > 1:
        return in_hertz(item, 1e6 if item.fact.value < LEAST_KHZ else 1e3)
    counted = ground.wanted_at_all("carrier_frequency") and not ground.wanted_at_all("frequency_error")
    if counted and item.fact.unit is None and item.fact.value > 0 and not item.fact.signed:
        return in_hertz(item, 1e6 if item.fact.value < LEAST_KHZ else 1e3)
    return "carrier_frequency" if ground.as_carrier(item.fact) is not None else None


def _carrier(item: Item, ground: Ground) -> str | None:
    fact = item.fact
    if ground.as_carrier(fact) is not None and fact.decimals > ON_A_COUNTER:
        return "carrier_frequency"
    said = item.address.get("mode")
    if fact.signed and fact.value > 0 and fact.unit is None and item.address.get("mode") in SIDEBANDS:
        return "frequency_error"  # 'usb carrier +60': nothing is suppressed upwards
    if fact.unit in {"dB", "dBc"} or _is_suppressed(item, ground) or _is_beyond_its_peaks(item, ground):
        return "carrier_suppression"  # no power is said in decibels of nothing
    if said is None and power_there(item.address, ground) == "carrier_power":
        return None  # the mode is the current line's, and its place another
    sideband = (said or ground.mode_sent) in SIDEBANDS
    return "peak_envelope_power" if sideband and fact.unit in {"W", None} else None


def _is_beyond_its_peaks(item: Item, ground: Ground) -> bool:
    """'carrier 48 u, 50 l' of a set of 20 W: how far it is down on each sideband."""
    most, value = ground.greatest_power_w, item.fact.value
    bare = item.fact.unit is None and not item.fact.signed and item.address.get("mode") in SIDEBANDS
    return bare and most is not None and value > most and value >= LEAST_SUPPRESSED_DB


def _is_suppressed(item: Item, ground: Ground) -> bool:
    """Whether decibels of a carrier say how far it is down: in gear with sidebands."""
    if item.fact.unit == "dB" and not SIDEBANDS.isdisjoint(ground.modes):
        return True
    below = item.side == "low" or item.fact.signed
    sideband = ground.wanted_mode_is(SIDEBANDS) or item.address.get("mode") in SIDEBANDS
    far_down = item.fact.value <= -LEAST_SUPPRESSED_DB and not SIDEBANDS.isdisjoint(ground.modes)
    return item.fact.unit in {None, "dB"} and below and (sideband or far_down)


def _gain(item: Item, ground: Ground) -> str | None:
    """A gain without its dB, that no stage has: a transistor's on a tester."""
    bare_number = item.fact.unit is None and not item.fact.signed and item.fact.value >= LEAST_HFE
    bare_number = bare_number and not item.fact.decimals  # a transistor's is told in whole numbers
    of_an_amplifier = ground.wanted_at_all("drive_power")
    if item.fact.unit is None and not place_of(item) and not of_an_amplifier:
        return ASKED  # 'gain 3', 'gain 15': how a control stands, or decibels of a stage
    return "transistor_gain" if bare_number and place_of(item) else None


def _plate(item: Item, ground: Ground) -> str | None:
    """'plate 500' on a sender of 60 W: half an ampere would melt it, and a high tension that sags is what it is."""
    if item.fact.unit is not None:
        return None
    if re.fullmatch(r"V\d", place_of(item)):
        return "plate_voltage"
    most, value = ground.greatest_power_w, item.fact.value
    too_much = most is not None and value >= LEAST_HT_V and value * 1e-3 * LEAST_HT_V > most
    return "plate_voltage" if too_much and ground.wants != "plate_current" else None


def _grid(item: Item, ground: Ground) -> str | None:
    """'grid -14': no current flows out of a grid; its bias is what stands below zero."""
    return "bias_voltage" if item.fact.unit is None and item.fact.value < 0 else None


def _subtone(item: Item, ground: Ground) -> str | None:
    """'ctcss 0.4k', 'ctcss 0.35': no subtone is so high or so low; it deviates by that."""
    kilohertz = item.fact.unit is None and 0 < item.fact.value < MOST_SUBTONE_KHZ
    beyond = item.fact.unit == "k" or item.fact.value > MOST_SUBTONE_HZ
    return "subtone_deviation" if kilohertz or beyond else None


def _draws(item: Item, ground: Ground) -> str | None:
    """'rx current 61': at rest nothing draws so many amps, so that they are milliamps; keyed either may be meant."""
    if item.fact.unit is not None or item.fact.value < LEAST_BARE_MA:
        return None
    most = ground.greatest_power_w
    beyond = most is not None and item.fact.value > most / LEAST_WATTS_AN_AMP + MOST_AT_REST_A
    if not beyond and item.address.get("state") not in {"standby", "receive"}:
        return ASKED
    item.fact = replace(item.fact, unit="A", value=item.fact.value * 1e-3, factor=1e-3)
    if (due := item.besides.get("due")) is not None and due.unit is None:
        item.besides["due"] = replace(due, unit="A", value=due.value * 1e-3, factor=1e-3)
    return None


def _sinad(item: Item, ground: Ground) -> str | None:
    """'sinad -119.5', 'sinad .22uv', 'sinad .22': a level that gives the usual 12 dB."""
    bare = item.fact.unit is None and not item.fact.signed and 0 < item.fact.value < LEAST_BARE_SINAD
    level = bare or item.fact.unit == "uV" or (item.fact.unit in {None, "dBm"} and item.fact.value < LEAST_SINAD_DB)
    return "sensitivity_12db_sinad" if level else None


def _counted(item: Item, ground: Ground) -> str | None:
    return "stage_frequency" if place_of(item) else None


def _depth(item: Item, ground: Ground) -> str | None:
    if item.fact.unit == "%" and ground.modes == ("fm",):
        return ASKED  # of a unit that has no AM
    return "fm_deviation" if ground.modes == ("fm",) else None


def _bandwidth(item: Item, ground: Ground) -> str | None:
    """Of an aerial, or in a mode a filter's; in gear that sends it is asked: that, or what a spectrum occupies."""
    if item.address.get("mode") in {*SIDEBANDS, "cw", "am"} and item.fact.unit == "k":
        return "filter_bandwidth"
    return ASKED if ground.wanted_at_all("carrier_power") else None


def _resonance(item: Item, ground: Ground) -> str | None:
    """'aerial whip resonates 27.4': megahertz say where; a width is asked about as that of a pass band."""
    megahertz = item.fact.unit == "m" or (item.fact.unit is None and item.fact.decimals > 0)
    return None if megahertz and not item.fact.signed else _bandwidth(item, ground)


NAMED: dict[str, Callable[[Item, Ground], str | None]] = {
    "frequency_error": _error, "carrier_power": _carrier, "gain": _gain, "plate_current": _plate,
    "grid_current": _grid, "subtone_frequency": _subtone, "sinad": _sinad, "supply_current": _draws,
    "power_fade": _fade, "audio_power": _audio, "plate_voltage": _high_tension,
    "carrier_frequency": _counted, "am_depth": _depth, "swr_bandwidth": _bandwidth, "resonant_frequency": _resonance,
}  # fmt: skip


def by_its_side(quantity: str, item: Item, items: Sequence[Item]) -> str:
    """Two peaks of a deviation or a depth, told apart by their signs or by up and down."""
    pair = sum(1 for i in items if i.quantity in {None, quantity} or i is item) == 2
    if quantity not in PEAKS or not pair or not (item.fact.signed or item.side):
        return quantity
    return PEAKS[quantity][item.fact.value < 0 or item.side == "low"]
