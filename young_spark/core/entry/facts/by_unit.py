"""Which quantity a figure that only carries its unit is: by the place it was read at, and by what the slip wants."""

import re
from collections.abc import Callable, Mapping

from young_spark.core.entry.facts.said import UNIT_OF, Ground, Item

Rule = Callable[[Item, Ground], str | None]
POWERS = {"carrier_power", "peak_envelope_power", "mean_power", "forward_power", "reflected_power", "drive_power"}
SENT = {"carrier_power", "peak_envelope_power"}
SIDEBANDS = {"usb", "lsb", "ssb"}
LEAST_TEST_V = 50.0
LEAST_OF_A_STAGE_HZ = 20e3  # less than that a crystal is off, and does not run at
MOST_OF_A_SPEAKER_OHM = 16.0
LEAST_DECIMALS = 2  # of MHz: '5m' may be anything
LEAST_HT_V = 200.0
MILLI = 1e-3
MOST_HEARD_DBM = -60.0
SUPPLIES_V = (5.0, 60.0)
DEVIATIONS_HZ = (300.0, 30_000.0)
OF_OHMS = re.compile(r"(?:across )?R\d+[A-Z]?|shunt|VR\d+.*|RV\d+.*")
COUNTED_AT = re.compile(
    r"X\d+|XTAL.*|Y\d+|crystal.*|.*osc.*|VCO|PLL|IF|.*multiplier.*|.*doubler.*|.*mixer.*", re.IGNORECASE
)
OF_A_PART = re.compile(r"(?!TP)[A-Z]{1,3}\d+\b.*")
OF_A_FILTER = re.compile(r"notch|trap|filter|duplexer|cavity", re.IGNORECASE)
OF_A_COIL = re.compile(r"bleeder|shunt|choke|relay coil|relay|VR.*")
OF_A_VALVE = re.compile(r"V\d+")
ALTERNATING_THERE = {"volume wiper", "speaker", "mains", "variac"}
# what a stage gives or takes is its signal, where that is millivolts; what regulates or follows a loop gives none
SIGNAL_AT = re.compile(
    r"(?!.*(?:regulator|supply|rail|battery|charger|loop|PLL|phase|ALC|AGC|bias|zener|lock|rev|fwd|forward|reverse|"
    r"reference|sensor|rectifier|bridge|converter|inverter)).+ (?:output|input)",
    re.IGNORECASE,
)
# what the mains may drive, of 12 or 24 V it is one of DC; and what they go through, up to a rectifier
OF_THE_MAINS = re.compile(
    r"(?:.* )?(?:fan|blower|motor)|mains (?:fuse|switch|transformer|filter|inlet|lead|plug|socket)", re.IGNORECASE
)
LEAST_MAINS_V, MOST_MAINS_V = 90.0, 500.0
# between two parts a track or a joint is read; between windings, or at a tester's megohms, what insulates them
MOST_JOINED_OHM = 1e5
JOINED = re.compile(r".+ to (?:[A-Z]{1,3}\d+.*|base|collector|emitter|gate|drain|source|anode|cathode|grid|screen)")
SIDES_OF_A_PAIR = {"left", "right"}
# places whose volts have a name of their own
VOLTS_AT = {
    "grid 1": "bias_voltage",
    "bias zener": "bias_voltage",
    "before the fuse": "supply_voltage",
    "after the fuse": "supply_voltage",
    "power socket": "supply_voltage",
}


def by_unit(item: Item, ground: Ground) -> str | None:
    """The quantity of a figure with its unit; None where several would do."""
    rules = BY_UNIT.get(item.fact.unit or "", ())
    return next((found for rule in rules if (found := rule(item, ground)) is not None), None)


def place_of(item: Item) -> str:
    """The place that a figure was read at, or an empty string."""
    return str(item.address.get("place") or "")


# watts ---------------------------------------------------------------------------------------------------------------


def _on_audio(item: Item, ground: Ground) -> str | None:
    audio = item.address.get("audio")
    modulated = item.address.get("modulation") == "on" and not audio and not item.address.get("detector")
    return "needle_on_audio" if modulated or audio not in {None, "two tones"} else None


def _of_a_sideband(item: Item, ground: Ground) -> str | None:
    mode = item.address.get("mode") or ground.mode_sent
    return "peak_envelope_power" if mode in SIDEBANDS else None


def _of_a_receiver(item: Item, ground: Ground) -> str | None:
    """Watts of what sends none are its audio's, and so are watts into a speaker."""
    sends = ground.greatest_power_w is not None or any(line.get("quantity") in POWERS for line in ground.lines)
    into = float(str(item.address.get("load_ohm") or 0.0))
    return "audio_power" if 0 < into <= MOST_OF_A_SPEAKER_OHM or (ground.lines and not sends) else None


def _into_an_aerial(item: Item, ground: Ground) -> str | None:
    return "forward_power" if item.address.get("item") == "aerial" else None


def _out_of_an_amplifier(item: Item, ground: Ground) -> str | None:
    """'cold 78w' of an amplifier of 80 W, where its drive is wanted: nothing drives it with what it gives."""
    most = ground.greatest_power_w
    much = most is not None and item.fact.unit == "W" and item.fact.value > MUCH_OUT * most
    return "carrier_power" if much and ground.wants == "drive_power" else None


MUCH_OUT = 0.3  # of what it gives at most


def _power(item: Item, ground: Ground) -> str | None:
    said = item.address.get("mode") not in {None, ground.current_mode}
    return ground.wants if ground.wants in POWERS and not said else "carrier_power"


def _of_the_line_there(item: Item, ground: Ground) -> str | None:
    """Where the hand says another channel or band than the current line's, it is the power that is wanted there."""
    return power_there(item.address, ground) if item.address.get("mode") is None else None


def power_there(address: Mapping[str, object], ground: Ground) -> str | None:
    """The one power that open lines want at a place that the current line is not at; None where none or several do."""
    said = {key: address[key] for key in ("channel", "frequency_hz") if key in address}
    if str(band := address.get("band") or "").rstrip("m").isdigit():
        said["frequency_hz"] = ground.frequency_of_band(str(band))
    current = ground.current or {}
    if not said or all(current.get(key) == value for key, value in said.items()):
        return None
    there = {
        str(line["quantity"])
        for line in ground.lines
        if line.get("quantity") in SENT and all(line.get(key) == value for key, value in said.items())
    }
    return there.pop() if len(there) == 1 else None


OF_THE_UNIT: tuple[Rule, ...] = (_of_the_line_there, _of_a_sideband, _into_an_aerial, _out_of_an_amplifier, _power)


def _as_read_there(item: Item, ground: Ground) -> str | None:
    """'20m 104w' once more, where a peak power is wanted there too: what the band or the channel is named for is read
    as it was read before."""
    said = {key: item.address[key] for key in ("channel", "frequency_hz") if key in item.address}
    if str(band := item.address.get("band") or "").rstrip("m").isdigit():
        said["frequency_hz"] = ground.frequency_of_band(str(band))
    if not said or item.address.get("mode") is not None:
        return None
    there = [(p.quantity, p.at) for p in ground.powers if all(p.at.get(key) == value for key, value in said.items())]
    name, at = there[-1] if there else (None, {})
    otherwise = next((found for rule in OF_THE_UNIT if (found := rule(item, ground)) is not None), None)
    if at.get("mode") is None or name == otherwise:
        return None
    item.address["mode"] = at["mode"]
    return name


WATTS: tuple[Rule, ...] = (_of_a_receiver, _on_audio, _as_read_there, *OF_THE_UNIT)


def watts(item: Item, ground: Ground) -> str | None:
    """The power that a figure in watts is."""
    return next((found for rule in WATTS if (found := rule(item, ground)) is not None), None)


# volts ---------------------------------------------------------------------------------------------------------------


def _alternates(item: Item, ground: Ground) -> str | None:
    seen = item.is_rf or item.form in {"pp", "rms"} or item.address.get("instrument") == "rf_probe"
    return "ac_voltage" if seen else None


def _at_a_place(item: Item, ground: Ground) -> str | None:
    place = place_of(item)
    if not place:
        return None
    if place in {"mains", "variac"} and ground.high_voltage and item.fact.value > MOST_MAINS_V:
        del item.address["place"]
        return "plate_voltage"  # 'full mains 1570v no tubes'
    if place in VOLTS_AT:
        return VOLTS_AT[place]
    if item.address.get("direction"):
        return "junction_voltage"
    return "ac_voltage" if _alternates_at(place, item, ground) else "dc_voltage"


def _alternates_at(place: str, item: Item, ground: Ground) -> bool:
    if item.form == "ac" or place in ALTERNATING_THERE:
        return True
    if "dc" in item.marks:
        return False
    asked = place == ground.place_wanted and ground.wants == "ac_voltage"
    signal = item.fact.factor == MILLI and SIGNAL_AT.fullmatch(place) is not None
    mains = LEAST_MAINS_V <= item.fact.value < MOST_MAINS_V and OF_THE_MAINS.fullmatch(place) is not None
    return asked or signal or mains


def _volts_wanted(item: Item, ground: Ground) -> str | None:
    at_a_point = ground.hand.get("place") and item.address.get("item") != "battery"
    return ground.wants_in("V") or ("dc_voltage" if at_a_point and item.form != "ac" else None)


def _over_channels(item: Item, ground: Ground) -> str | None:
    """'vco 1.2v ch1, 3.4 ch40': what moves over channels there are the volts that tune it."""
    tunes = place_of(item) == "VCO" and item.form is None and 0 < item.fact.value < SUPPLIES_V[1]
    return "control_voltage" if tunes and "channel" in item.address else None


def _supply(item: Item, ground: Ground) -> str | None:
    if item.form == "ac":
        return None
    if ground.high_voltage and abs(item.fact.value) >= LEAST_HT_V:
        return "plate_voltage"
    if item.address.get("item") == "battery":
        return "supply_voltage"
    return "supply_voltage" if SUPPLIES_V[0] <= item.fact.value <= SUPPLIES_V[1] else None


def _across_the_load(item: Item, ground: Ground) -> str | None:
    return "carrier_power" if item.address.get("item") == "load" else None


def _inside(item: Item, ground: Ground) -> str | None:
    here = place_of(item) or ground.hand.get("place") or ground.wants == "ac_voltage"
    return "ac_voltage" if here else None


def _on_the_scope(item: Item, ground: Ground) -> str | None:
    return "carrier_power" if item.fact.unit in {"Vpp", "Vp"} else None


# amps ----------------------------------------------------------------------------------------------------------------


def _high_tension(item: Item, ground: Ground) -> str | None:
    """Hundreds of volts in valve gear are its high tension, whatever else is wanted just now."""
    wanted = ground.wants in {"plate_voltage", "screen_voltage"}
    return "plate_voltage" if ground.high_voltage and item.fact.value >= LEAST_HT_V and not wanted else None


def _amps_at_a_place(item: Item, ground: Ground) -> str | None:
    place = place_of(item)
    if ground.high_voltage and item.address.get("setting") == "dip":
        return "plate_current"  # 'finals 52ma idle, 295ma at dip'
    if place == "drain":  # of no transistor: what the unit draws
        del item.address["place"]
        return "supply_current"
    if place == "power socket":
        return "supply_current"  # 'at terminals 12.9 tx at 14.8a'
    if place in SIDES_OF_A_PAIR:
        return ground.wants_in("A") or "plate_current"
    if ground.high_voltage and OF_A_VALVE.fullmatch(place):
        return "plate_current"
    return "dc_current" if place else None


def _amps(item: Item, ground: Ground) -> str | None:
    if ground.wants == "idle_current" and item.address.get("state") == "transmit" and not ground.high_voltage:
        return "supply_current"  # 'tx 13.2v 14.8a' where the bias is wanted
    return ground.wants_in("A") or ("plate_current" if ground.high_voltage else "supply_current")


# hertz, and the letters k and m that are ohms too ---------------------------------------------------------------------


OF_A_CONTACT = re.compile(r"\b(?:line|switch|contacts?|plug|socket|relay|button|winding|lead|wire|fuse)\b")


def _ohms_by_letter(item: Item, ground: Ground) -> str | None:
    place, kilo = place_of(item), item.fact.unit == "k"
    part = kilo and OF_A_PART.fullmatch(place) and not COUNTED_AT.fullmatch(place)
    if OF_OHMS.fullmatch(place) or (kilo and OF_A_COIL.fullmatch(place)) or part:
        return "resistance"
    if kilo and (OF_A_CONTACT.search(place) or " to " in place):
        return "resistance"  # 'ptt switch open 20k'
    if item.fact.unit == "m" and " to " in place:
        return "insulation_resistance"
    return "resistance" if kilo and not place and ground.wants == "resistance" else None


def _counted(item: Item, ground: Ground) -> str | None:
    place = place_of(item)
    if item.fact.unit == "m" and item.fact.decimals < LEAST_DECIMALS and not place:
        return None  # MHz, or milli of something
    if ground.as_carrier(item.fact) is not None and not item.fact.signed:
        return "stage_frequency" if place else "carrier_frequency"
    off = item.side is not None or item.fact.signed or item.fact.value < LEAST_OF_A_STAGE_HZ
    return "stage_frequency" if place and item.fact.unit != "m" and not off else None


def _error(item: Item, ground: Ground) -> str | None:
    fact = item.fact
    if fact.unit == "m":
        return None
    if ground.wants == "fm_deviation" and fact.unit == "k" and not fact.signed and item.side is None:
        return "fm_deviation"
    bounded = item.bound is not None and ground.wanted_at_all("frequency_error")
    told = item.side is not None or fact.signed or bounded or ground.wants == "frequency_error"
    return "frequency_error" if told else None


def _deviation(item: Item, ground: Ground) -> str | None:
    if item.fact.unit == "m" or not DEVIATIONS_HZ[0] <= abs(item.fact.value) <= DEVIATIONS_HZ[1]:
        return None
    fm = item.address.get("mode") == "fm" or ground.modes == ("fm",)
    return "fm_deviation" if fm else ground.wants_in("Hz")


# the rest ------------------------------------------------------------------------------------------------------------


def _heard(item: Item, ground: Ground) -> str | None:
    """'2m fine -123 dbm': no unit sends so little; it is what its receiver hears."""
    return _planned_level(item, ground) if item.fact.value < MOST_HEARD_DBM else None


def _level(item: Item, ground: Ground) -> str | None:
    return "rf_level" if place_of(item) else ground.wants_in("dBm") or "carrier_power"


def _ohms(item: Item, ground: Ground) -> str | None:
    tested = float(str(item.address.get("supply_v") or 0.0)) >= LEAST_TEST_V
    joined = item.fact.value < MOST_JOINED_OHM and JOINED.fullmatch(place_of(item)) is not None
    of_a_winding = OF_A_WINDING.search(place_of(item)) is not None
    kept_apart = of_a_winding or item.fact.value >= LEAST_INSULATING_OHM
    between = " to " in place_of(item) and kept_apart and not joined and place_of(item) != "end to end"
    return "insulation_resistance" if tested or between else "resistance"


LEAST_INSULATING_OHM = 100e3
OF_A_WINDING = re.compile(r"\b(?:primary|secondary|pri|sec|winding|heater|filament|screen|anode|plate)\b")


def _decibels(item: Item, ground: Ground) -> str | None:
    if place_of(item):
        return "insertion_loss" if OF_A_FILTER.search(place_of(item)) else "gain"
    step = "power_step" if ground.wanted_at_all("power_step") and item.side == "low" and not item.address else None
    return ground.wants_in("dB", "dBc") or step


def _biased(item: Item, ground: Ground) -> str | None:
    """'idle 50ma at -51v': in valve gear nothing but a grid stands below zero."""
    return "bias_voltage" if ground.high_voltage and item.fact.value < 0 and not place_of(item) else None


def _another_of_the_last(item: Item, ground: Ground) -> str | None:
    """'lsb 52 db' behind 'usb carrier down 54': the same again on another sideband."""
    moved = {"mode", "channel", "frequency_hz", "band"} & item.address.keys()
    last = ground.last[0] if ground.last else ""
    return last if moved and UNIT_OF.get(last) in {"dB", "dBc"} else None


def _percent(item: Item, ground: Ground) -> str | None:
    am = "am" in ground.modes or "am" in {item.address.get("mode"), ground.hand.get("mode")}
    return ground.wants_in("%") or ("am_depth" if am else None)


def _seconds(item: Item, ground: Ground) -> str | None:
    return "switching_delay" if place_of(item) == "soft start" else None


def _as_before(item: Item, ground: Ground) -> str | None:
    """'lsb .22uv' behind 'usb sens .2uv': the same again in another mode, or on another channel."""
    moved = {"mode", "channel", "frequency_hz", "band"} & item.address.keys()
    last = ground.last[0] if ground.last else ""
    if last.startswith("s_meter") and item.fact.value < LEAST_OF_A_METER_UV and ground.heard:
        return None  # 'usb .3uv lsb .3uv' behind 's9 usb 800uv': no needle moves for so little
    return last if moved and last.startswith(("sensitivity_", "squelch_", "s_meter")) else None


LEAST_OF_A_METER_UV = 2.0


def _heard_there(item: Item, ground: Ground) -> str | None:
    """'usb .3uv lsb .3uv' where a squelch is wanted that goes by no mode and no band: what was heard there before."""
    there = {key: item.address[key] for key in ("mode", "frequency_hz") if key in item.address}
    if not there:
        return None
    if (ground.wants or "").startswith("squelch_") and any(
        there.keys() & line.keys() for line in ground.lines if str(line["quantity"]).startswith("squelch_")
    ):
        return None
    return next((name for name, at in reversed(ground.heard) if there.items() <= at.items()), None)


def _wanted_level(item: Item, ground: Ground) -> str | None:
    wanted = ground.wants_in("dBm")
    again = wanted is not None and wanted.startswith("sensitivity_") and "mode" not in item.address
    return ground.sensitivity or wanted if again else wanted


def _planned_level(item: Item, ground: Ground) -> str | None:
    """Microvolts of a receiver that the plan asks one sensitivity of."""
    asked = {str(line["quantity"]) for line in ground.lines if str(line.get("quantity")).startswith("sensitivity_")}
    return asked.pop() if len(asked) == 1 and not place_of(item) else None


def _wanted_ratio(item: Item, ground: Ground) -> str | None:
    return ground.wants_in("dB", "dBc")


def _always(quantity: str) -> tuple[Rule, ...]:
    return (lambda item, ground: quantity,)


def _of_audio(item: Item, ground: Ground) -> str | None:
    """'mic preamp out 40mv': millivolts of what a microphone feeds are its audio."""
    feeds = item.address.get("item") == "microphone" and place_of(item).endswith(("output", "input"))
    return "ac_voltage" if feeds and item.fact.factor == MILLI and "dc" not in item.marks else None


def _rippled_there(item: Item, ground: Ground) -> str | None:
    """'c201 new 8mv' behind 'ripple 340mv at c201': the ripple there, once more."""
    there = place_of(item) or ground.hand.get("place")
    again = there in ground.rippled and item.fact.factor == MILLI and "dc" not in item.marks
    return "ripple" if again else None


VOLTS: tuple[Rule, ...] = (
    _over_channels,
    _alternates,
    _of_audio,
    _rippled_there,
    _biased,
    _at_a_place,
    _high_tension,
    _volts_wanted,
    _supply,
)
ALTERNATING: tuple[Rule, ...] = (_across_the_load, _inside, _on_the_scope)
HERTZ: tuple[Rule, ...] = (_ohms_by_letter, _counted, _error, _deviation)
LEVELS: tuple[Rule, ...] = (_as_before, _heard_there, _wanted_level, _planned_level)
BY_UNIT: dict[str, tuple[Rule, ...]] = {
    "W": WATTS, "V": VOLTS, "Vpp": ALTERNATING, "Vp": ALTERNATING, "Vrms": ALTERNATING, "A": (_amps_at_a_place, _amps),
    "Hz": HERTZ, "k": HERTZ, "m": HERTZ, "ppm": _always("frequency_error"), "dBw": _always("carrier_power"),
    "dBm": (_heard, _level), "uV": LEVELS, "dB": (_another_of_the_last, _decibels),
    "dBc": (_wanted_ratio,), "%": (_percent,),
    "1": _always("swr"), "Ω": (_ohms,), "F": _always("capacitance"), "H": _always("inductance"),
    "°C": _always("temperature"), "s": (_seconds,),
}  # fmt: skip


def is_of_power(quantity: str | None) -> bool:
    """Whether a quantity is a power."""
    return quantity in POWERS


def unit_of(quantity: str | None) -> str:
    """The unit of a quantity; an empty string for none."""
    return UNIT_OF.get(quantity or "", "")
