"""Where a reading stands: what is said, then the current line's where it is of this quantity, then the hand's; an open
line of the quantity adds what both leave open. Nothing is lent from a line of another quantity."""

from young_spark.core.entry.said import Ground, Item

OF_A_PART = {
    "dc_voltage", "ac_voltage", "resistance", "capacitance", "esr", "temperature", "transistor_gain", "rf_level",
    "stage_frequency", "dc_current", "junction_voltage", "inductance", "insulation_resistance", "leakage_current",
    "valve_emission",
}  # fmt: skip
AT_A_PLACE = OF_A_PART - {"temperature", "transistor_gain", "valve_emission"}
WITH_STATE = {
    "dc_voltage", "ac_voltage", "rf_level", "dc_current", "plate_current", "grid_current", "plate_voltage",
    "screen_voltage", "screen_current", "modulator_current",
}  # fmt: skip
OF_A_SUPPLY = {"supply_current", "supply_voltage"}
KEYED_FROM_A = 0.6  # no set draws as much at rest


def filled(quantity: str, item: Item, ground: Ground, *, others: list[Item]) -> dict[str, object]:
    """The whole address of a reading; `others` are the figures of the same breath."""
    address = _said(item, ground)
    for key, value in _base(quantity, ground).items():
        if not _is_said_otherwise(key, address) and _concerns(key, quantity):
            address.setdefault(key, value)
    _from_an_open_line(quantity, address, ground)
    if quantity.startswith(("fm_deviation", "subtone")):
        address["mode"] = "fm"
    if address.get("audio"):
        address["modulation"] = "on"
    if item.form in {"pp", "rms"} and quantity in {"ac_voltage", "ripple"}:
        address["form"] = item.form
    if quantity in OF_A_SUPPLY:
        _of_a_supply(quantity, item, address, ground, others)
    return address


def _said(item: Item, ground: Ground) -> dict[str, object]:
    address = dict(item.address)
    setting = address.pop("setting_word", None)
    if setting in ground.power_settings:
        address["power_setting"] = setting
    if (band := address.pop("band", None)) is not None:
        address["frequency_hz"] = ground.frequency_of_band(str(band))
    if isinstance(address.get("channel"), float):
        address["channel"] = int(float(str(address["channel"])))
    return address


def _base(quantity: str, ground: Ground) -> dict[str, object]:
    current = ground.current or {}
    if current.get("quantity") == quantity:
        return {**ground.hand, **{k: v for k, v in current.items() if k not in {"id", "quantity"}}}
    return ground.hand


def _is_said_otherwise(key: str, address: dict[str, object]) -> bool:
    """Channel and frequency stand for each other: one that is said leaves no room for the other of the hand."""
    return key in {"channel", "frequency_hz"} and bool({"channel", "frequency_hz"} & address.keys())


def _concerns(key: str, quantity: str) -> bool:
    if key == "place":
        return quantity in AT_A_PLACE
    if key == "state":
        return quantity in WITH_STATE | OF_A_SUPPLY
    return quantity not in OF_A_PART


def _from_an_open_line(quantity: str, address: dict[str, object], ground: Ground) -> None:
    for line in ground.lines:
        if line.get("quantity") == quantity and all(str(address[k]) == str(v) for k, v in line.items() if k in address):
            for key, value in line.items():
                if key not in {"id", "quantity"} and not _is_said_otherwise(key, address):
                    address.setdefault(key, value)
            return


def _of_a_supply(quantity: str, item: Item, address: dict[str, object], ground: Ground, others: list[Item]) -> None:
    """Volts and amps of the supply stand at a state, not at a channel; beside watts, or many amps, that is transmit."""
    for key in ("channel", "frequency_hz", "mode", "power_setting", "place"):
        if key not in item.address:
            address.pop(key, None)
    if "state" in item.address:
        return
    amps = [i.fact.value for i in (item, *others) if i.fact.unit == "A"]
    if any(i.fact.unit == "W" for i in others) or any(a > KEYED_FROM_A for a in amps):
        address["state"] = "transmit"
    elif ground.wants != quantity:
        address.pop("state", None)
