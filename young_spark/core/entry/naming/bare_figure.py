"""Which quantity a figure without a unit is: by the names and units beside it, by its place, by what the slip wants."""

from collections.abc import Sequence
from dataclasses import replace

from young_spark.core.entry.facts.address import NOT_AT_A_CHANNEL, OF_A_PART, OF_A_SUPPLY
from young_spark.core.entry.facts.bare_beside import (
    ASKED,
    COUNTED_TO,
    LEAST_KHZ,
    MOST_SAG,
    SUPPLY_OF_A_BENCH,
    Beside,
    Rule,
    of_the_one_name,
    whose_unit_is_meant,
    with_the_unit_of,
)
from young_spark.core.entry.facts.by_unit import (
    POWERS,
    SENT,
    SUPPLIES_V,
    by_unit,
    place_of,
    unit_of,
    watts,
)
from young_spark.core.entry.facts.said import AS_WANTED, NEAR, Ground, Item
from young_spark.core.entry.naming.bare_at_a_place import AT_A_PLACE

LEAST_COUNTED = 2
LEAST_DEAF_UV = 2.0
LEAST_ERROR_HZ = 5.0
MOST_NEAR_DB = 20.0
LEAST_ROW = 2
MOST_FALL = 0.6
LEAST_CARRIER = 0.25  # of its peaks
MOST_BARE_A = 30.0
MOST_OVER = 1.5  # of what the unit gives at most
LEAST_EFFICIENCY = 0.2  # of output over what the supply gives: a sender below that would not last a key-down
MOST_AT_REST_A = 2.0
LEAST_VHF_MHZ, MOST_UHF_MHZ = 30.0, 1300.0
MOST_RATIO = 10.0
LEAST_MILLIAMPS = 30.0
FULL = (0.5, 1.3)  # of what the unit gives at most: about its full power
LEAST_SHARE = 0.01  # of the high setting that the low one gives
LEAST_HEARD_DBM, MOST_HEARD_DBM = -145.0, -80.0
LOWEST_DB = 100.0  # below a carrier: no analyser at a bench shows less
LEAST_DEAF_DBM = 60.0  # below a milliwatt: no receiver is as deaf
SIGNED_UNITS = {"dB", "dBc", "dBm", "V", "Hz"}  # of what is read with a sign itself
DEPTHS = (50.0, 130.0)
WARM = (30.0, 150.0)  # a heatsink that is called hot
MOST_BARE_V = 60.0  # of gear without high voltage; more of them may be anything
# names that one line may say for figures at several places
OF_ONE_NAME = {
    "bias_voltage", "filament_voltage", "esr", "swr", "plate_voltage", "screen_voltage", "resistance", "capacitance",
}  # fmt: skip


def bare(item: Item, ground: Ground, items: Sequence[Item]) -> str | None:
    """The quantity of a figure without a unit; None where several would do."""
    others = tuple(i for i in items if i is not item)
    beside = Beside(others, frozenset(o.quantity for o in others if o.quantity))
    found = next((found for rule in RULES if (found := rule(item, ground, beside)) is not None), None)
    return None if found == ASKED else found


# rules, in their order ------------------------------------------------------------------------------------------------


def _at_a_place(item: Item, ground: Ground, beside: Beside) -> str | None:
    if not place_of(item) or (beside.only_name in OF_ONE_NAME and not item.besides):
        return None
    if item.is_rf:
        return "ac_voltage"  # 'b 0.1 rf'
    here = any(o.address.get("place") == place_of(item) for o in beside.others)
    if beside.only_name == "supply_voltage" and here and item.address.get("state"):
        return None  # 'vfo supply 7.92 key up 7.71 down': the same again
    found = (rule(item, ground, beside) for rule in AT_A_PLACE)
    volts = abs(item.fact.value) <= MOST_BARE_V or ground.high_voltage
    return next((f for f in found if f is not None), "dc_voltage" if volts else ASKED)


def _in_another_mode(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'pep usb 4, lsb 4.2': the same again in the mode that is said."""
    before = next((o for o in reversed(beside.others) if o.at < item.at), None)
    if before is None or item.fact.signed or before.fact.unit not in {None, "W"}:
        return None
    modes = {before.address.get("mode"), item.address.get("mode")}
    return before.quantity if len(modes) > 1 and None not in modes else None


def _counted(item: Item, ground: Ground, beside: Beside) -> str | None:
    """A counter's figure; one that may as well say where the hand is would be a false zero error, and is asked."""
    if ground.wants == "carrier_frequency" and not beside.others and _may_be_counted(item):
        return in_hertz(item, 1e6 if item.fact.value < LEAST_KHZ else 1e3)
    if ground.as_carrier(item.fact) is not None:
        few = item.fact.decimals < COUNTED_TO and not item.address.get("heat")
        return ASKED if few else in_hertz(item, 1e6)
    if _is_on_an_unlisted_channel(item, ground):
        return in_hertz(item, 1e6)
    if item.fact.decimals and item.fact.value >= LEAST_KHZ and ground.wants is None:
        return in_hertz(item, 1e3)
    return None


def _is_on_an_unlisted_channel(item: Item, ground: Ground) -> bool:
    """'ch16 156.8003' of a unit whose channels nobody listed."""
    told = "channel" in item.address and item.fact.decimals >= COUNTED_TO and not ground.channel_hz
    return told and LEAST_VHF_MHZ < item.fact.value < MOST_UHF_MHZ


def _may_be_counted(item: Item) -> bool:
    """Whether a figure has the decimals of a counter, or is in kilohertz: '13.5' may be volts as well."""
    return item.fact.decimals >= LEAST_COUNTED or item.fact.value >= LEAST_KHZ


def in_hertz(item: Item, factor: float) -> str:
    """A counter's figure in Hz, and what it then is."""
    item.fact = replace(item.fact, unit="Hz", value=item.fact.value * factor, factor=factor)
    return "carrier_frequency"


def _of_the_one_unit(item: Item, ground: Ground, beside: Beside) -> str | None:
    source = whose_unit_is_meant(item, [o for o in beside.others if o.fact.unit is not None and o.quantity is None])
    if source is None or (source.fact.unit == "°C" and not item.address.get("place")):
        return None  # '3.8 at end case 41c': no degrees of another place
    if source.fact.unit == "W" and _feeds_it(item, ground):
        return "supply_voltage"  # '13.5 keyed, 4.8w'
    if source.fact.unit == "%" and item.at < source.at:
        if ground.wants in SENT and _may_be(item, ground):
            return None  # '3.9 90%': watts and their depth
        if _has_a_carrier(item, ground):
            return watts(item, ground)
    with_the_unit_of(item, source)
    return by_unit(item, ground) or ASKED


def _sent_beside_its_depth(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'am 3.8 with 88% mod': watts in front of what they are modulated by."""
    depth = next((o for o in beside.others if (o.quantity or "").startswith("am_depth")), None)
    led = depth is not None and depth.fact.unit == "%" and item.at < depth.at and not item.fact.signed
    return watts(item, ground) if led and _has_a_carrier(item, ground) else None


def _feeds_it(item: Item, ground: Ground) -> bool:
    """Volts of a bench while it is keyed, and more than it could give in watts."""
    near = abs(item.fact.value / SUPPLY_OF_A_BENCH - 1) < MOST_SAG and item.fact.decimals > 0
    return near and item.address.get("state") == "transmit" and not _may_give(item, ground)


def _has_a_carrier(item: Item, ground: Ground) -> bool:
    """'am 4.1 88%' where something else is wanted."""
    return item.address.get("mode") == "am" and _may_give(item, ground)


def _of_a_battery(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'batt 7.2 on tx': volts of what feeds it."""
    battery = item.address.get("item") == "battery" and 1 < item.fact.value <= SUPPLIES_V[1]
    return "supply_voltage" if battery else None


def _counted_cold_and_hot(item: Item, ground: Ground, beside: Beside) -> str | None:
    heated = ground.wants is None and item.address.get("heat") and item.fact.decimals >= COUNTED_TO - 1
    return in_hertz(item, 1e6) if heated else None


def _where_nothing_is_wanted(item: Item, ground: Ground, beside: Beside) -> str | None:
    if ground.wants is not None:
        return None
    if _is_a_row_of_powers(item, ground, beside):
        return watts(item, ground)
    if beside.names:
        return ASKED
    if item.address.get("state") and item.fact.value < MOST_BARE_A:
        near = abs(item.fact.value / SUPPLY_OF_A_BENCH - 1) < MOST_SAG and item.fact.decimals > 0
        return "supply_voltage" if near and _is_beyond_its_amps(item, ground) else "supply_current"
    return "dc_voltage" if ground.hand.get("place") else ASKED


def _fed_again(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'13.5 on tx now' where amps are wanted, behind 12.9 V: what it is fed with, where it is more than it could draw;
    else asked."""
    state = item.address.get("state") and not beside.others and not item.fact.signed
    if ground.wants != "supply_current" or not state or ground.fed_v is None or not item.fact.decimals:
        return None
    if abs(item.fact.value / ground.fed_v - 1) > MOST_APART_FED:
        return None
    return "supply_voltage" if _is_beyond_its_amps(item, ground) else ASKED


MOST_APART_FED = 0.07  # of what it was fed with just before


def _elsewhere(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'ch1 3.8' where amps or ohms are wanted: those stand at no channel, so that it is what was read before, or what
    is wanted there."""
    said = {key: item.address[key] for key in ("channel", "frequency_hz") if key in item.address}
    if str(band := item.address.get("band") or "").rstrip("m").isdigit():
        said["frequency_hz"] = ground.frequency_of_band(str(band))
    if not said or ground.wants not in OF_A_SUPPLY | NOT_AT_A_CHANNEL | OF_A_PART:
        return None
    there = {str(line["quantity"]) for line in ground.lines if said.items() <= line.items()}
    if _is_a_row_of_powers(item, ground, beside) or _is_rather_full_power(item, ground):
        return watts(item, ground)
    return _as_the_last_there(item, ground, there)


def _as_the_last_there(item: Item, ground: Ground, there: set[str]) -> str:
    last = ground.last[0] if ground.last else None
    if last in COUNTED and not _is_whole_hertz(item):  # 'ch5 4.8, ch40 4.7' behind an error of -40
        return (watts(item, ground) if _may_give(item, ground) else None) or ASKED
    if last is not None and last not in OF_A_SUPPLY | NOT_AT_A_CHANNEL | OF_A_PART:
        return last if last in there or not there else ASKED
    return there.pop() if len(there) == 1 else ASKED


COUNTED = {"frequency_error", "carrier_frequency"}


def _is_whole_hertz(item: Item) -> bool:
    return item.fact.decimals == 0 or item.fact.decimals >= LEAST_COUNTED


def _is_rather_full_power(item: Item, ground: Ground) -> bool:
    """'ch16 24.6' where amps are wanted: more of them than the unit draws, and about the watts that it gives."""
    most, value = ground.greatest_power_w, item.fact.value
    amps = ground.wants == "supply_current" and not item.address.get("state") and not item.fact.signed
    return amps and most is not None and _is_beyond_its_amps(item, ground) and FULL[0] * most < value <= FULL[1] * most


def _sent_beside_its_amps(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'tx 3.8 1.3a mod 95' where the receiver is wanted: watts, between what is drawn and how it is modulated."""
    keyed = item.address.get("state") == "transmit" and any(o.fact.unit == "A" for o in beside.others)
    modulated = any((o.quantity or "").startswith(("am_depth", "fm_deviation")) for o in beside.others)
    return watts(item, ground) if keyed and modulated and not item.fact.signed and _may_give(item, ground) else None


def _of_an_aerial(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'antenna in car 1.7 on 20, 2.4 on 40' where no watts are wanted: what is read of an aerial is its SWR."""
    ratio = 1 <= item.fact.value < MOST_RATIO and item.fact.decimals == 1 and not item.fact.signed
    return "swr" if ratio and item.address.get("item") == "aerial" and unit_of(ground.wants) != "W" else None


def _how_hot(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'hot 66 5min': degrees of a heatsink, after so long."""
    whole = item.fact.decimals == 0 and WARM[0] <= item.fact.value <= WARM[1]
    timed = item.address.get("heat") == "hot" and "after_s" in item.address
    return "temperature" if whole and timed and not beside.others and unit_of(ground.wants) != "W" else None


def _with_another_microphone(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'with shop mic 0 too' behind a depth: the same again."""
    last = ground.last[0] if ground.last else ""
    tried = "microphone" in str(item.address.get("item") or "") and not beside.others and not item.fact.signed
    return last if tried and last.startswith(("am_depth", "fm_deviation")) else None


def _sags(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'car now 13.8 to 12.9': from what a bench or a battery gives to what is left of it."""
    ends = [item.fact] if item.upper is None else [item.fact, item.upper]
    volts = len(ends) > 1 and all(f.decimals and abs(f.value / SUPPLY_OF_A_BENCH - 1) < MOST_SAG for f in ends)
    return "supply_voltage" if volts and unit_of(ground.wants) not in {"W", "V", "1"} else None


def _beside_a_squelch(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'rx 0.22, sq 0.12': microvolts that a receiver hears, beside those that open it."""
    heard = item.address.get("state") == "receive" and not item.fact.signed and 0 < item.fact.value < LEAST_DEAF_UV
    if not heard or beside.names != {"squelch_open"}:
        return None
    asked = {str(line["quantity"]) for line in ground.lines if str(line.get("quantity")).startswith("sensitivity_")}
    del item.address["state"]
    return asked.pop() if len(asked) == 1 else ASKED


def _heard(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'rx .18' where neither amps nor a level is wanted: microvolts that the receiver hears."""
    heard = item.address.get("state") == "receive" or str(item.address.get("setting")).startswith("preamp")
    if heard and LEAST_HEARD_DBM <= item.fact.value <= MOST_HEARD_DBM and not beside.others:
        return _asked_of_a_receiver(item, ground)  # 'preamp off -118'
    small = item.fact.decimals and 0 < item.fact.value < LEAST_DEAF_UV and not item.fact.signed
    alone = item.address.get("state") == "receive" and not beside.others
    if not (small and alone) or ground.wants is None or unit_of(ground.wants) in {"A", "dBm", "V"}:
        return None
    del item.address["state"]
    return _asked_of_a_receiver(item, ground)


def _asked_of_a_receiver(item: Item, ground: Ground) -> str:
    """The sensitivity that was read before in this mode, or the one that the plan asks for."""
    mode = item.address.get("mode") or ground.hand.get("mode")
    if (before := next((name for name, at in reversed(ground.heard) if at.get("mode") == mode), None)) is not None:
        return before
    asked = {str(line["quantity"]) for line in ground.lines if str(line.get("quantity")).startswith("sensitivity_")}
    return asked.pop() if len(asked) == 1 else ASKED


def _at_the_other_setting(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'low 0.9' behind the power on high, where amps are wanted: what is low is the same again."""
    last = ground.last if ground.last is not None and ground.last[0] in SENT else None
    alone = not beside.others and item.side in {"low", "high"} and not item.fact.signed
    if last is None or not alone or ground.wants not in OF_A_SUPPLY or not ground.modes:
        return None
    share = item.fact.value / last[1] if last[1] else 0.0
    if not (LEAST_SHARE < share < 1 if item.side == "low" else 1 < share < 1 / LEAST_SHARE):
        return None
    item.address["power_setting"], item.side = str(item.side), None
    return watts(item, ground)


def _on_the_audio_before(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'voice 3.8 to 4.4' behind a deviation: the same again with other audio."""
    last = ground.last[0] if ground.last else ""
    spoken = item.address.get("audio") in {"voice", "whistle", "tone"} and not item.fact.signed
    modulated = last.startswith(("fm_deviation", "am_depth")) and ground.wants != "carrier_power"
    return last if spoken and modulated else None


def _is_off_frequency(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'usb -655', 'hot +35' where amps are wanted, or behind a frequency: whole hertz with their sign, of a point where
    nothing else that is wanted has a sign."""
    whole = item.fact.signed and not item.fact.decimals and abs(item.fact.value) >= LEAST_ERROR_HZ
    if not whole or item.quantity is not None or beside.names:
        return None
    if _may_have_a_sign(item.fact.value, ground) and not _is_above_and_below(item, beside):
        return None
    errors = ground.wanted_at_all("frequency_error") or ground.wanted_at_all("carrier_frequency")
    if not errors or "place" in item.address or not _may_be_an_error(item, ground):
        return None
    item.fact = replace(item.fact, unit="Hz")
    return "frequency_error"


def _may_be_an_error(item: Item, ground: Ground) -> bool:
    """Whether a signed figure is of another point, behind a frequency, or has a plus where nothing else has one."""
    moved = {"channel", "frequency_hz", "mode", "heat", "after_s"} & item.address.keys()
    behind = ground.last is not None and ground.last[0] in {"frequency_error", "carrier_frequency"}
    return bool(moved) or behind or (item.fact.value > 0 and unit_of(ground.wants) in {"dBm", "dBc"})


def _is_above_and_below(item: Item, beside: Beside) -> bool:
    """'lsb 27.355 -20 usb +15': a plus among the figures of modes, which nothing that is below a carrier has."""
    row = [i.fact for i in (item, *beside.others)]
    plus = any(fact.signed and fact.value > 0 for fact in row)
    return plus and "mode" in item.address and all(fact.signed and fact.unit is None for fact in row)


def _may_have_a_sign(value: float, ground: Ground) -> bool:
    """Whether a signed figure may be what is wanted: no receiver is as deaf, no harmonic as low."""
    unit = unit_of(ground.wants)
    if (ground.wants or "").startswith(("fm_deviation", "subtone")):
        return False
    if unit == "dBm":
        return value <= -LEAST_DEAF_DBM
    return unit in SIGNED_UNITS and not (unit in {"dBc", "dB"} and abs(value) >= LOWEST_DB)


def _once_more(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'3.4' behind '2.9w' and 'tank c peaked': whoever turns something looks at what was read last; after a repair it
    may be that, or what is wanted."""
    last, near = ground.last, {"adjusted": AGAIN, "did": AGAIN_MENDED}.get(ground.newest_words or "")
    if last is None or near is None or beside.others or not _is_plain_figure(item):
        return None
    turned = ground.newest_words == "adjusted" and last[0] == ground.wants
    if (unit_of(last[0]) == unit_of(ground.wants) and not turned) or not last[1] / near < item.fact.value < last[
        1
    ] * near:
        return None
    if ground.newest_words == "did":
        return ASKED
    if ground.powers and last[0] == ground.powers[-1].quantity:
        item.address |= {key: value for key, value in ground.powers[-1].at.items() if value is not None}
    return last[0]


def _is_plain_figure(item: Item) -> bool:
    """Whether a figure with a decimal stands by itself, and nothing says of what or where it is."""
    return _is_read_bare(item) and not item.address and item.side is None


AGAIN, AGAIN_MENDED = 2.0, 5.0  # times what was read last: a knob moves it less than a repair does


def _on_another_channel(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'ch72 4.5' behind 'ch16 4.6w', '10m 55' behind '15m 60', where hertz are wanted: about the watts of before."""
    said, current = {"channel", "frequency_hz", "band"} & item.address.keys(), ground.current or {}
    elsewhere = bool(said) and all(current.get(key) != item.address[key] for key in said) and not beside.others
    bare = _is_read_bare(item) or (not item.fact.decimals and item.fact.value >= LEAST_WHOLE_W)
    if not elsewhere or unit_of(ground.wants) in {"", "W"} or "mode" in item.address or not bare or item.fact.signed:
        return None
    near = [p for p in ground.powers[-NEWEST:] if 1 / AS_MUCH < item.fact.value / max(p.value, 1e-9) < AS_MUCH]
    if near and (setting := near[-1].at.get("power_setting")) is not None:
        item.address["power_setting"] = setting
    return near[-1].quantity if near else None


LEAST_WHOLE_W, NEWEST = 10.0, 5


def _is_read_bare(item: Item) -> bool:
    figure = item.fact
    return figure.unit is None and not figure.signed and figure.decimals > 0 and item.upper is None


AS_MUCH = 1.25  # times the watts of another channel


def _signed(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'145.500 +90' where watts are wanted: no power has a sign, and what has one there is an error."""
    if not item.fact.signed or unit_of(ground.wants) != "W" or item.quantity is not None:
        return None
    where = {"channel", "frequency_hz"} & item.address.keys()
    if not where or beside.others or item.fact.decimals or abs(item.fact.value) < LEAST_ERROR_HZ:
        return ASKED
    item.fact = replace(item.fact, unit="Hz")
    return "frequency_error"


def _heard_in_modes(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'rx am .7 fm .3 ssb .2': what a receiver draws goes by no mode; microvolts that it hears do."""
    modes = {o.address.get("mode") for o in beside.others} | {item.address.get("mode")}
    heard = item.address.get("state") == "receive" and len(modes) > 1 and None not in modes
    return ASKED if heard and unit_of(ground.wants) == "A" else None


def _held_down(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'key down 3 min 505 to 490' where no watts are wanted: what fades is asked about, most likely the power."""
    fades = item.upper is not None and "after_s" in item.address and not item.address.get("place")
    return ASKED if fades and not beside.others and unit_of(ground.wants) != "W" else None


def _is_beyond_its_amps(item: Item, ground: Ground) -> bool:
    """'13.6 keyed' of a set of a few watts: more amps than it could turn into heat."""
    most = ground.greatest_power_w
    return most is not None and item.fact.value > most / (LEAST_EFFICIENCY * SUPPLY_OF_A_BENCH) + MOST_AT_REST_A


def _over_modes(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'lsb 25.5 usb 26' or 'usb 0' where amps or volts are wanted: nothing of a supply goes by modes."""
    if ground.wants not in OF_A_SUPPLY or "mode" not in item.address or item.quantity is not None:
        return None
    nothing = item.fact.value == 0 and item.fact.unit is None and not beside.others
    return watts(item, ground) if nothing or _is_a_row_of_powers(item, ground, beside) else None


def _is_a_row_of_powers(item: Item, ground: Ground, beside: Beside) -> bool:
    """'160m 101 80m 103 40m 102': figures over bands that are about what the unit gives, and no word beside them."""
    most, row = ground.greatest_power_w, (item, *(o for o in beside.others if o.fact.unit != "A"))
    bare = all(i.fact.unit is None and i.quantity is None and not i.fact.signed for i in row)
    over = next((key for key in ("band", "channel", "mode") if all(key in i.address for i in row)), None)
    if most is None or not bare or over is None or len(row) < LEAST_ROW:
        return False
    values = [i.fact.value for i in row]
    may_be = max(values) > most / 4 and all(0 <= value <= MOST_OVER * most for value in values)
    return may_be and _goes_as_powers_do(values, over, wanted=ground.wants is not None)


def _goes_as_powers_do(values: list[float], over: str, *, wanted: bool) -> bool:
    """Over channels a power hardly changes, and loop volts do; two bands are a row where both give most of it, modes
    where a carrier is no less than a quarter of the peaks."""
    if min(values) > (LEAST_CARRIER if over == "mode" else MOST_FALL) * max(values):
        return True
    return (over == "band" and len(values) > LEAST_ROW) or (over == "channel" and wanted)


def _of_a_setting(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'low power 0.35' where another quantity is wanted: the setting names the power."""
    setting = item.address.get("setting_word") or item.address.get("power_setting")
    return "carrier_power" if setting and unit_of(ground.wants) != "W" else None


def _volts_of_the_supply(item: Item, ground: Ground, beside: Beside) -> str | None:
    """13.8 where the current at rest is wanted, or more amps than the unit could turn into heat: it is what a bench
    stands at."""
    if ground.wants != "supply_current":
        return None
    state = item.address.get("state") or (ground.current or {}).get("state")
    elsewhere = {"mode", "channel", "band", "frequency_hz", "power_setting"} & item.address.keys()
    volts = SUPPLIES_V[0] < item.fact.value <= SUPPLIES_V[1]
    if state in {"standby", "receive"}:
        if _is_milliamps_at_rest(item):
            item.fact = replace(item.fact, unit="A", value=item.fact.value * 1e-3, factor=1e-3)
            return "supply_current"
        if volts and (elsewhere or _is_rather_what_it_sends(item, ground)):
            return ASKED  # 'am 20.1': no supply goes by a mode
        return "supply_voltage" if volts else None
    most = ground.greatest_power_w
    if most is None or item.fact.value <= most / (LEAST_EFFICIENCY * SUPPLY_OF_A_BENCH) + MOST_AT_REST_A:
        return None
    near = abs(item.fact.value / SUPPLY_OF_A_BENCH - 1) < MOST_SAG
    return "supply_voltage" if near and item.fact.decimals and not elsewhere else ASKED


def _is_rather_what_it_sends(item: Item, ground: Ground) -> bool:
    """'24' of a set of 25 W that is fed with 13.8 V."""
    most, value = ground.greatest_power_w, item.fact.value
    fed = abs(value / SUPPLY_OF_A_BENCH - 1) < MOST_SAG
    return most is not None and not fed and FULL[0] * most < value <= FULL[1] * most


def _is_milliamps_at_rest(item: Item) -> bool:
    """'standby 58', 'rx 230' on a set: so many volts feed none, nor does any draw so many amps at rest."""
    return bool(item.address.get("state")) and item.fact.decimals == 0 and item.fact.value >= LEAST_MILLIAMPS


def _not_what_is_wanted(item: Item, ground: Ground, beside: Beside) -> str | None:
    """Beyond what can be, a place rather than a figure, or several things at once."""
    if unit_of(ground.wants) == "W" and _is_no_power(item, ground, beside):
        return ASKED
    row = (item, *beside.others)
    ratios = unit_of(ground.wants) == "1" and min(i.fact.value for i in row) > MOST_RATIO
    lone = not beside.others and bool({"band", "frequency_hz"} & item.address.keys()) and _may_give(item, ground)
    if ratios and (_is_a_row_of_powers(item, ground, beside) or lone):
        return watts(item, ground)  # '80m 820 20m 800 10m 690' where an SWR is wanted
    points = [i.address[key] for i in row for key in ("channel", "band") if key in i.address]
    modes = [i.address["mode"] for i in row if "mode" in i.address]
    over_points = any(len(over) == len(row) == len({str(p) for p in over}) > 1 for over in (points, modes))
    if over_points and all(_is_rather_watts(i, ground) or _is_at_full(i, ground) for i in row):
        return watts(item, ground)  # 'ch1 4.0 ch40 3.9' while the receiver is wanted
    cannot_be = (_is_beyond, _is_too_rough, _is_only_counted, _is_rather_watts, _is_a_place)
    return ASKED if any(check(item, ground) for check in cannot_be) else None


def _is_no_power(item: Item, ground: Ground, beside: Beside) -> bool:
    """'tx 4': watts or amps; '30 down': decibels, of what; 'am 90': depth, or watts."""
    alone = not beside.others
    other_am = item.address.get("mode") == "am" and ground.current_mode != "am"
    deep = other_am and DEPTHS[0] <= item.fact.value <= DEPTHS[1]
    return item.side is not None or (alone and (bool(item.address.get("state")) or deep))


def _is_beyond(item: Item, ground: Ground) -> bool:
    return not _may_be(item, ground)


def _is_too_rough(item: Item, ground: Ground) -> bool:
    """A carrier without a counter's decimals; an error to tenths of a hertz, which nobody reads."""
    if ground.wants == "carrier_frequency":
        return not _may_be_counted(item)
    return ground.wants == "frequency_error" and item.fact.decimals > 0 and not item.fact.signed


def _is_rather_watts(item: Item, ground: Ground) -> bool:
    """'ch5 4.8 ch20 5.0' where microvolts or decibels are wanted: no healthy unit needs so many of the one or has so
    few of the other, and it is what this one gives."""
    wants, most, value = ground.wants or "", ground.greatest_power_w, item.fact.value
    deaf = wants.startswith(("sensitivity_", "squelch_")) and value >= LEAST_DEAF_UV
    near = unit_of(wants) in {"dB", "dBc"} and not item.fact.signed and value < MOST_NEAR_DB
    return (deaf or near) and most is not None and 0 < value <= MOST_OVER * most


def _is_at_full(item: Item, ground: Ground) -> bool:
    """'ch 6 24, ch 16 24.1' of a set of 25 W where a deviation or an error is wanted."""
    most, value = ground.greatest_power_w, item.fact.value
    otherwise = ground.wants in {"fm_deviation", "frequency_error"} and not item.fact.signed and item.quantity is None
    return otherwise and most is not None and AT_FULL * most < value <= FULL[1] * most


AT_FULL = 0.3  # of what it can give at most, which is a good deal more than it should


def _is_only_counted(item: Item, ground: Ground) -> bool:
    """7.0302 where amps are wanted: four decimals are a counter's."""
    return item.fact.decimals >= COUNTED_TO and item.fact.value > 1 and unit_of(ground.wants) not in {"Hz", "1"}


def _as_wanted(item: Item, ground: Ground, beside: Beside) -> str | None:
    item.marks.add(AS_WANTED)
    return watts(item, ground) if ground.wants in POWERS else ground.wants


def _may_be(item: Item, ground: Ground) -> bool:
    value, most = item.fact.value, ground.greatest_power_w
    if ground.wants == "supply_current" and value >= MOST_BARE_A:
        return False  # amps, or milliamps
    if unit_of(ground.wants) == "W" and most is not None:
        return 0 <= value <= MOST_OVER * most and not (value == SUPPLY_OF_A_BENCH and most < value * 2)
    return True


def _may_give(item: Item, ground: Ground) -> bool:
    """Whether the unit could give so many watts."""
    return ground.greatest_power_w is None or item.fact.value <= MOST_OVER * ground.greatest_power_w


def _is_a_place(item: Item, ground: Ground) -> bool:
    """A bare whole figure that is also a band or a frequency of the open lines, where watts are wanted."""
    if unit_of(ground.wants) != "W" or item.upper is not None:
        return False
    if not item.address and any(abs(item.fact.value * 1e6 / known - 1) < NEAR for known in ground.frequencies):
        return True
    most = ground.greatest_power_w
    low = most is not None and item.fact.value < most / 2
    return low and not ground.channel_hz and _is_whole(item) and int(item.fact.value) in ground.bands


def _is_whole(item: Item) -> bool:
    return item.fact.decimals == 0 and item.bound is None and not item.address and not item.about


def _read_there_before(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'10m 94' behind '10m 8w', where something else is wanted on another band: the watts of that band once more."""
    bare = item.fact.unit is None and not item.fact.signed and item.quantity is None and not beside.others
    hz = item.address.get("frequency_hz")
    if str(band := item.address.get("band") or "").rstrip("m").isdigit():
        hz = ground.frequency_of_band(str(band))
    if not bare or hz is None or (ground.current or {}).get("frequency_hz") == hz or not _may_give(item, ground):
        return None
    there = [(p.quantity, p.at) for p in ground.powers if p.at["frequency_hz"] == hz]
    name, at = there[-1] if there else (None, {})
    if name is not None and at.get("mode") is not None:
        item.address.setdefault("mode", at["mode"])
    return name


RULES: tuple[Rule, ...] = (
    _in_another_mode, _at_a_place, _of_a_battery, _sent_beside_its_amps,
    _sent_beside_its_depth, _of_an_aerial,
    _how_hot, _with_another_microphone, _sags, _heard, _beside_a_squelch, _is_off_frequency, _counted, _once_more,
    _on_another_channel,
    of_the_one_name, _of_the_one_unit, _counted_cold_and_hot, _of_a_setting, _at_the_other_setting,
    _on_the_audio_before, _signed, _where_nothing_is_wanted, _over_modes, _heard_in_modes, _held_down, _fed_again,
    _elsewhere,
    _read_there_before, _volts_of_the_supply, _not_what_is_wanted, _as_wanted,
)  # fmt: skip
