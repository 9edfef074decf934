"""Where a reading stands: what is said, then the current line's where it is of this quantity, then the hand's; an open
line of the quantity adds what both leave open. Nothing is lent from a line of another quantity."""

import math
from collections.abc import Collection, Sequence

from young_spark.core.entry.facts.said import UNIT_OF, Ground, Item, PowerRead

OF_A_PART = {
    "dc_voltage", "ac_voltage", "resistance", "capacitance", "esr", "temperature", "transistor_gain", "rf_level",
    "stage_frequency", "dc_current", "junction_voltage", "inductance", "insulation_resistance", "leakage_current",
    "valve_emission", "audio_power", "filter_bandwidth", "control_voltage", "alc_voltage", "readability",
}  # fmt: skip
NOT_AT_A_CHANNEL = {
    "plate_voltage", "filament_voltage", "bias_voltage", "idle_current", "resonant_frequency", "swr_minimum",
    "swr_bandwidth", "clarifier_range", "alc_voltage", "insertion_loss", "compression_1db_power", "inrush_current",
    "switching_delay", "ripple", "ripple_frequency",
}  # fmt: skip
AT_A_PLACE = OF_A_PART - {
    "temperature", "transistor_gain", "valve_emission", "audio_power", "filter_bandwidth", "control_voltage",
    "alc_voltage", "readability",
}  # fmt: skip
WITH_STATE = {
    "dc_voltage", "ac_voltage", "rf_level", "dc_current", "plate_current", "grid_current", "plate_voltage",
    "screen_voltage", "screen_current", "modulator_current", "inrush_current",
}  # fmt: skip
AT_ITS_SOCKET = "power socket"
OF_A_SUPPLY = {"supply_current", "supply_voltage"}
OF_WHAT_IS_SENT = {"channel", "frequency_hz", "band", "mode", "power_setting", "place"}
FREQUENCY_KEYS = {"channel", "channels", "frequency_hz", "band"}
SAID_WITH_STATE = {"ripple", "control_voltage", "input_swr", "bias_voltage", "condition", "temperature", "alc_voltage"}
UNDER_TEST = {"insulation_resistance", "leakage_current", "capacitance"}  # the volts beside them are the tester's
WITHOUT_MODE = {"swr", "input_swr", "return_loss", "gain", "efficiency", "drive_power"}
GO_BY_SETTINGS = {"supply_current", "fm_deviation", "swr", "temperature"}
SIDEBANDS = {"usb", "lsb", "ssb"}
FORMS = {("ac_voltage", "pp"), ("ac_voltage", "rms"), ("ripple", "rms")}  # ripple is peak to peak unless it is said
OF_A_SIDEBAND = {"carrier_suppression", "opposite_sideband_suppression", "imd3", "imd5", "imd7"}
WATTS_AN_AMP_AT_REST = 20.0
DRIVEN_WITH = {"two tones", "whistle"}  # a sender; voice may be what a receiver gives
KEYED_FROM_A = 0.6  # no set draws as much at rest


def filled(
    quantity: str, item: Item, ground: Ground, *, others: list[Item], not_lent: Collection[str] = ()
) -> dict[str, object]:
    """The whole address of a reading; `others` are the figures of the same breath, `not_lent` the parts of an address
    that one of those says for itself."""
    address = _said(item, ground)
    said = set(address)
    _channel_counted(quantity, item, address, ground)
    said_where = bool(FREQUENCY_KEYS & address.keys())  # channel and frequency stand for each other
    for key, value in _base(quantity, item, ground).items():
        of_another = key == "place" and item.address.get("item") == "battery"  # it is at no point of the board
        if not (said_where and key in FREQUENCY_KEYS) and not of_another and _concerns(key, quantity):
            address.setdefault(key, value)
    if quantity == "ripple" and ground.hand.get("place") in ground.rippled:
        address.setdefault("place", ground.hand["place"])  # where it was read before
    _not_as_lent(quantity, item, address, ground)
    _soaked(quantity, item, address, ground)
    _at_the_setting_that_gives_it(quantity, item, address, ground)
    from_an_open_line(quantity, address, ground)
    for key in set(not_lent) - item.address.keys():
        address.pop(key, None)
    _mode_of(quantity, item, address, ground, others)
    _mode_modulated_in(quantity, address, others, ground)
    _how(quantity, item, address)
    _without_what_is_of_another(quantity, address)
    if quantity in OF_A_SUPPLY:
        for key in OF_WHAT_IS_SENT - said:
            address.pop(key, None)
        _of_a_supply(quantity, item, address, ground, others)
    _at_rest_or_off_load(quantity, address, said)
    _assigned_beside_its_count(quantity, item, address)
    _where_it_was_counted(quantity, item, address, ground)
    return address


def _where_it_was_counted(quantity: str, item: Item, address: dict[str, object], ground: Ground) -> None:
    """'98w 14.20003' with the hand on 3.7 MHz: no carrier is counted on another band."""
    counted = ground.as_carrier(item.fact) if quantity == "carrier_frequency" else None
    lent = address.get("frequency_hz") if "frequency_hz" not in item.address else None
    if counted is not None and isinstance(lent, float) and abs(counted / lent - 1) > OF_ANOTHER_BAND:
        address["frequency_hz"] = ground.frequency_of(counted)


OF_ANOTHER_BAND = 0.1  # away


def _assigned_beside_its_count(quantity: str, item: Item, address: dict[str, object]) -> None:
    """'446.00618 err -70': the count and its error, which together say what is assigned: 446.00625 MHz."""
    counted = address.get("frequency_hz")
    if quantity != "frequency_error" or not isinstance(counted, float) or counted % SPACING_HZ == 0:
        return
    assigned = counted - item.fact.value * (1e3 if item.fact.unit == "k" else 1.0)
    channel = SPACING_HZ * round(assigned / SPACING_HZ)
    if abs(assigned - channel) <= A_COUNT_HZ:
        address["frequency_hz"] = channel


SPACING_HZ, A_COUNT_HZ = 1250.0, 10.0  # what channels are a multiple of; how far a count is rounded


def _at_rest_or_off_load(quantity: str, address: dict[str, object], said: Collection[str]) -> None:
    """'rx 320ma and 7.8a on high power', 'supply 13.8 no load 13.5 at 20a': what does not send has no such setting."""
    off_load = address.get("setting") == "off load"
    if off_load or address.get("state") in AT_REST:
        address.pop("power_setting", None)
    if off_load and "state" not in said and quantity == "supply_voltage":
        address.pop("state", None)


AT_REST = {"receive", "standby", "off"}
CONTROL_LINES = {"PTT line", "key line", "AGC line", "ALC line"}


def _without_what_is_of_another(quantity: str, address: dict[str, object]) -> None:
    """What is read at the socket stands at no point inside, and a heater at its pins is where the plan wants it. What
    comes out while a control line works is not of that line."""
    if address.get("place") in CONTROL_LINES and UNIT_OF.get(quantity) == "W":
        del address["place"]
    at_its_socket = address.get("place") == AT_ITS_SOCKET and quantity not in {*OF_A_SUPPLY, "dc_voltage"}
    at_its_pins = quantity == "filament_voltage" and address.get("place") in {"socket pins", "base"}
    if at_its_socket or at_its_pins:
        del address["place"]


def _soaked(quantity: str, item: Item, address: dict[str, object], ground: Ground) -> None:
    """'20 min soak 99w': of where the hand was last, and not of the next line that wants watts."""
    if quantity not in {p.quantity for p in ground.powers} or "after_s" not in item.address:
        return
    if not FREQUENCY_KEYS & item.address.keys() and "mode" not in item.address:
        newest = [p.at for p in reversed(ground.powers) if p.quantity == quantity]
        there = [at for at in newest if ground.read_at and at.get("frequency_hz") == ground.read_at[-1]]
        at = (there or newest)[0]
        address.update({key: value for key, value in at.items() if value is not None})


def _at_the_setting_that_gives_it(quantity: str, item: Item, address: dict[str, object], ground: Ground) -> None:
    """'ch6 24 ch16 24.5' behind 24.5 W on high, where the low setting is wanted: nobody turned it down."""
    lent, most = address.get("power_setting"), ground.greatest_power_w
    said = {"power_setting", "setting_word"} & item.address.keys() or item.side is not None
    if not is_power(quantity) or lent is None or said or most is None:
        return
    if (tells := _setting_told_by(quantity, item.fact.value, str(lent), ground)) is not None:
        address["power_setting"] = tells
    elif lent != "high" and item.fact.value >= OF_FULL * most:
        _not_turned_down(quantity, item, address, ground)


def _not_turned_down(quantity: str, item: Item, address: dict[str, object], ground: Ground) -> None:
    """Too much for a setting that is only lent: at the one that gave as much before, or at one that nobody said."""
    lent = address["power_setting"]
    before = [p for p in ground.powers if p.quantity == quantity and p.at.get("power_setting") != lent]
    if before and 1 / SAME_AGAIN < item.fact.value / max(before[-1].value, 1e-9) < SAME_AGAIN:
        address["power_setting"] = before[-1].at.get("power_setting")
    elif FREQUENCY_KEYS & item.address.keys() and lent == (ground.current or {}).get("power_setting"):
        del address["power_setting"]  # on another channel, and too much for what is wanted: nobody said which


def _setting_told_by(quantity: str, value: float, lent: str, ground: Ground) -> str | None:
    """'holds 47w' behind 'hi 48.5w mid 24 lo 5.1': the one setting that gave as much, where the hand's did not."""
    gave = {str(p.at["power_setting"]): p.value for p in ground.powers if p.quantity == quantity and _is_set(p)}
    as_much = [setting for setting, watts in gave.items() if 1 / SAME_AGAIN < value / max(watts, 1e-9) < SAME_AGAIN]
    return as_much[0] if lent in gave and lent not in as_much and len(as_much) == 1 else None


def _is_set(power: PowerRead) -> bool:
    return power.at.get("power_setting") is not None


OF_FULL, SAME_AGAIN = 0.3, 1.4  # of the most it gives; times what was read before


def _channel_counted(quantity: str, item: Item, address: dict[str, object], ground: Ground) -> None:
    """A counter on a channel of the plan says which it is, where no hand stands on one."""
    counted = ground.as_carrier(item.fact) if quantity == "carrier_frequency" else None
    stands = {"channel", "frequency_hz"} & (ground.hand.keys() - set(ground.lent))
    if counted is None or stands or FREQUENCY_KEYS & address.keys():
        return
    channel = ground.channel_at(counted)
    if channel is not None:
        address["channel"] = channel


def _mode_of(quantity: str, item: Item, address: dict[str, object], ground: Ground, others: Sequence[Item]) -> None:
    """The mode that follows from the quantity: deviation is of FM, depth of AM, a suppressed carrier of a sideband."""
    if quantity.startswith(("fm_deviation", "subtone")):
        address["mode"] = "fm"
    elif quantity.startswith("am_depth") and "mode" not in item.address and ("mode" in address or ground.modes):
        address["mode"] = "am"
    elif quantity == "peak_envelope_power" and address.get("mode") == "fm":
        del address["mode"]  # 'fm 11w pep 26': no FM has peaks
    elif quantity == "peak_envelope_power" and address.get("mode") == "cw" and "mode" not in item.address:
        del address["mode"]
    elif quantity in OF_A_SIDEBAND and address.get("mode") not in SIDEBANDS:
        _sideband_wanted(quantity, address, ground)
    if not any(other.quantity == "peak_envelope_power" for other in others):
        _sideband_sent_last(quantity, item, address, ground)


def _sideband_wanted(quantity: str, address: dict[str, object], ground: Ground) -> None:
    """What a sideband alone has is of the one that the plan wants it in, and of no other mode."""
    address.pop("mode", None)
    lines = (line.get("mode") for line in ground.lines if line.get("quantity") == quantity)
    if (mode := next(lines, None)) is not None:
        address["mode"] = mode


def _mode_modulated_in(quantity: str, address: dict[str, object], others: list[Item], ground: Ground) -> None:
    """'3.9w ch40 dev 1.8': watts in one breath with a deviation were sent in FM, and with a depth in AM, where nobody
    said a mode."""
    if quantity != "carrier_power" or len(ground.modes) < TWO or any("mode" in other.address for other in others):
        return
    meant = {mode for other in others if (mode := MODULATED_IN.get(other.quantity or "")) in ground.modes}
    if len(meant) == 1:
        address["mode"] = meant.pop()


TWO = 2
MODULATED_IN = {"fm_deviation": "fm", "am_depth": "am"}


def _sideband_sent_last(quantity: str, item: Item, address: dict[str, object], ground: Ground) -> None:
    """'im3 -22' behind the peaks of one sideband is of that, whichever is wanted now."""
    if quantity.startswith("imd") and "mode" not in item.address and ground.powers:
        peaks = ground.powers[-1].at.get("mode")
        address |= {"mode": peaks} if peaks in SIDEBANDS else {}


def _how(quantity: str, item: Item, address: dict[str, object]) -> None:
    """Whose volts, with audio or without, in which form; a state only where it tells something."""
    if (volts := address.pop("supply_v", None)) is not None:
        address["test_v" if quantity in UNDER_TEST else "supply_v"] = volts
    if address.get("audio") or quantity == "needle_on_audio":
        address["modulation"] = "on"
    form = item.form or {"Vpp": "pp", "Vrms": "rms"}.get(item.fact.unit or "")
    if (quantity, form) in FORMS:
        address["form"] = form
    if quantity not in WITH_STATE | OF_A_SUPPLY | SAID_WITH_STATE:
        address.pop("state", None)


def _goes_by_settings(item: Item) -> bool:
    """'heater lo 5.8' is no setting of the power: watts and amps of the whole unit go by it, and what it sends."""
    of = item.quantity
    return of is None or UNIT_OF.get(of) == "W" or of in GO_BY_SETTINGS or of.startswith(("harmonic_", "spurious_"))


def _said(item: Item, ground: Ground) -> dict[str, object]:
    address = dict(item.address)
    if address.get("instrument") == "bench":  # beside the set's own meter: the shop's, as ever
        del address["instrument"]
    if str(address.get("item")).startswith("shop "):
        address["configuration"] = address["item"]
    if item.fact.unit in {"Vrms", "Vpp"} and address.get("item") == "load":
        del address["item"]
    setting = address.pop("setting_word", None)
    if setting in ground.power_settings:
        address["power_setting"] = setting
    elif setting is not None and not ground.power_settings and _goes_by_settings(item):  # nobody listed them
        address.setdefault("power_setting", setting)
    band = str(address.get("band") or "")
    if band.rstrip("m").isdigit():
        address["frequency_hz"] = ground.frequency_of_band(band)
        del address["band"]
    if isinstance(address.get("channel"), float):
        address["channel"] = int(float(str(address["channel"])))
    return address


def _base(quantity: str, item: Item, ground: Ground) -> dict[str, object]:
    current = ground.current or {}
    if current.get("quantity") == quantity:
        if (line := _line_of_another_mode(quantity, item, ground)) is not None:
            left = {k: v for k, v in ground.hand.items() if not (k in FREQUENCY_KEYS and k in ground.lent)}
            return {**left, **{k: v for k, v in line.items() if k not in {"id", "quantity"}}}
        line = {k: v for k, v in current.items() if k not in {"id", "quantity"}}
        if any(
            key in ground.hand and key not in ground.lent and key not in line for key in ("channel", "frequency_hz")
        ):
            line = {k: v for k, v in line.items() if k not in FREQUENCY_KEYS}  # the hand stands elsewhere
        return {**ground.hand, **line}
    # the switch that a line of another quantity wants is no hand's
    return {k: v for k, v in ground.hand.items() if k != "power_setting" or k not in ground.lent}


def _line_of_another_mode(quantity: str, item: Item, ground: Ground) -> dict[str, object] | None:
    """'fm 3.7w' where AM on channel 1 is wanted: the one line of FM that the plan has, on its own channel."""
    asked, said = (ground.current or {}).get("mode"), item.address.get("mode")
    if asked is None or said in {None, asked} or FREQUENCY_KEYS & item.address.keys():
        return None
    lines = [line for line in ground.lines if line.get("quantity") == quantity and line.get("mode") == said]
    return lines[0] if len(lines) == 1 else None


def _not_as_lent(quantity: str, item: Item, address: dict[str, object], ground: Ground) -> None:
    """A mode that only the current line asks for gives way to that of this quantity's own line at the place."""
    if "mode" not in ground.lent or "mode" in item.address or ground.wants == quantity:
        return
    where = {key: address[key] for key in ("channel", "frequency_hz") if key in address}
    here = [line for line in ground.lines if line.get("quantity") == quantity and where.items() <= line.items()]
    if where and here and all(line.get("mode") not in {None, address.get("mode")} for line in here):
        address.pop("mode", None)


def _is_said_otherwise(key: str, address: dict[str, object]) -> bool:
    """Channel and frequency stand for each other: one that is said leaves no room for the other of the hand."""
    return key in FREQUENCY_KEYS and bool(FREQUENCY_KEYS & address.keys())


def _concerns(key: str, quantity: str) -> bool:
    if key == "place":
        return quantity in AT_A_PLACE - UNDER_TEST  # what a tester hung at is said
    if key == "state":
        return quantity in WITH_STATE | OF_A_SUPPLY
    if quantity in NOT_AT_A_CHANNEL or quantity in OF_A_PART:
        return False
    return key != "mode" or quantity not in WITHOUT_MODE


def from_an_open_line(quantity: str, address: dict[str, object], ground: Ground) -> None:
    """What an open line of the quantity adds to what is open after all that was said."""
    like = "frequency_error" if quantity == "carrier_frequency" else quantity  # its sums give the error beside it
    for line in ground.lines:
        if line.get("quantity") in {quantity, like} and all(
            str(address[k]) == str(v) for k, v in line.items() if k in address
        ):
            for key, value in line.items():
                if key not in {"id", "quantity"} and not _is_said_otherwise(key, address):
                    address.setdefault(key, value)
            return


def _of_a_supply(quantity: str, item: Item, address: dict[str, object], ground: Ground, others: list[Item]) -> None:
    """Volts and amps of the supply stand at a state, not at a channel; beside watts, or many amps, that is transmit."""
    if "state" in item.address or _is_at_a_setting(quantity, item, address, others):
        return
    if quantity == "supply_current" and FREQUENCY_KEYS & address.keys():
        address["state"] = "transmit"  # '10m 9.8a': what it draws on a band, it draws while it sends there
        return
    amps = _amps_of_no_other_state(item, others)
    current = ground.current or {}
    if _is_keyed(quantity, item, ground, others) or (quantity == "supply_current" and "mode" in item.address):
        address["state"] = "transmit"
    elif (said := _state_of_the_volts_before(quantity, item, others)) is not None:
        address["state"] = said
    elif ground.wants == quantity or _is_beside_what_is_wanted(others, ground):
        address.setdefault("state", current.get("state"))
    elif any(a > KEYED_FROM_A for a in amps) and any(is_power(str(line.get("quantity"))) for line in ground.lines):
        address["state"] = "transmit"
    else:
        address.pop("state", None)


def _is_beside_what_is_wanted(others: list[Item], ground: Ground) -> bool:
    """Whether volts or amps of the supply, as the current line wants them, stand in the same breath."""
    return ground.wants in OF_A_SUPPLY and any(i.quantity == ground.wants or i.fact.unit == "A" for i in others)


def _is_at_a_setting(quantity: str, item: Item, address: dict[str, object], others: list[Item]) -> bool:
    """Amps at a setting of the power are drawn while it sends."""
    setting = _setting_of_its_watts(item, address, others) if quantity == "supply_current" else None
    address.update({"state": "transmit", "power_setting": setting} if setting else {})
    return bool(setting)


def _setting_of_its_watts(item: Item, address: dict[str, object], others: list[Item]) -> object:
    """'2.4a high power', 'high 24w 5.3a': the setting of the power that is said of the amps, or of the watts directly
    before them."""
    if "power_setting" in address:  # what the current line lends was left behind
        return address["power_setting"]
    watts = next((i for i in others if i.at == item.at - 1 and i.fact.unit == "W"), None)
    return None if watts is None else watts.address.get("power_setting")


def _state_of_the_volts_before(quantity: str, item: Item, others: list[Item]) -> object:
    """'battery 7.9 off 7.3 tx 1.1a': amps directly behind the word that says the state of the volts before them."""
    volts = next((i for i in others if i.at == item.at - 2 and i.fact.unit in {"V", None}), None)
    return volts.address.get("state") if volts is not None and quantity == "supply_current" else None


def _amps_of_no_other_state(item: Item, others: list[Item]) -> list[float]:
    """What was drawn, by this figure and by those beside it that say no state of their own."""
    return [i.fact.value for i in (item, *others) if i.fact.unit == "A" and (i is item or "state" not in i.address)]


def _is_keyed(quantity: str, item: Item, ground: Ground, others: list[Item]) -> bool:
    """Whether it sends: watts stand beside, it is driven with tones, or it draws more than it could at rest."""
    if item.address.get("audio") in DRIVEN_WITH:
        return True
    watts = any(i.fact.unit == "W" or is_power(i.quantity) for i in others) or item.address.get("power_setting")
    drawn = [i for i in (item, *others) if i.fact.unit == "A" and "state" not in i.address]
    switched = any("power_setting" in i.address for i in drawn)  # '13.6v 6.2a hi'
    if quantity != "supply_current" and (switched or any(i.fact.value > _most_at_rest(ground) for i in drawn)):
        return True  # what feeds it stood at that while it drew so much
    return bool(watts) or (quantity == "supply_current" and item.fact.value > _most_at_rest(ground))


def _most_at_rest(ground: Ground) -> float:
    """Amps that a unit without its carrier may draw: a mobile little, a big station a few."""
    most = ground.greatest_power_w
    powers = any(is_power(str(line.get("quantity"))) for line in ground.lines)
    return math.inf if most is None or not powers else KEYED_FROM_A + most / WATTS_AN_AMP_AT_REST


def is_power(quantity: str | None) -> bool:
    """Whether a quantity is read in watts while the unit sends."""
    return UNIT_OF.get(quantity or "") == "W" and quantity != "audio_power"
