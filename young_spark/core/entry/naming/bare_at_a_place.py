"""Which quantity a figure without a unit is that was read at a place inside: by the letter of the part, by what is
printed on it, by the units beside it."""

import re
from dataclasses import replace

from young_spark.core.entry.facts.address import AT_ITS_SOCKET
from young_spark.core.entry.facts.bare_beside import (
    ASKED,
    COUNTED_TO,
    LEAST_KHZ,
    MOST_SAG,
    SUPPLY_OF_A_BENCH,
    Beside,
    Rule,
    is_counted_at,
    of_the_one_name,
    with_the_unit_of,
)
from young_spark.core.entry.facts.by_unit import OF_OHMS, SIDES_OF_A_PAIR, SUPPLIES_V, VOLTS_AT, by_unit, place_of
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Ground, Item

HALF = re.compile(r"\w+ [AB]")
DEGREES = (10.0, 200.0)
OF_ITS_HEAT = ("transformer", "choke", "regulator", "relay", "heatsink")  # a point of them is read in volts or ohms
MOST_AT_A_PART_V = 30.0
MOST_RF_V = 5.0
OF_FARADS = re.compile(r"C\d+[A-Z]?")
OF_A_JUNCTION = re.compile(r"(?:Q|TR).*-.*")
UNCERTAIN = re.compile(r"(?:T|Q|TR|L)\d+")


# at a part ------------------------------------------------------------------------------------------------------------


def _one_of_two_halves(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'idle a 420 b 180': one name for both halves."""
    if not HALF.fullmatch(place_of(item)):
        return None
    if (named := of_the_one_name(item, ground, beside)) is not None:
        return named
    other = next((o for o in beside.others if HALF.fullmatch(place_of(o)) and o.fact.unit is not None), None)
    if other is None or other.quantity is not None:
        return None
    with_the_unit_of(item, other)  # 'pallet a 9a, pallet b 0'
    return by_unit(item, ground)


def _one_of_several(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'tube 1 idles 90 tube 2 85': what was named at the one before it."""
    mine = NUMBERED.fullmatch(place_of(item))
    if mine is None:
        return None
    for other in reversed(beside.others):
        its = NUMBERED.fullmatch(place_of(other))
        if other.at < item.at and other.quantity and other.fact.unit is None and its and its["what"] == mine["what"]:
            return other.quantity
    return None


NUMBERED = re.compile(r"(?P<what>tube|valve|device|transistor|fet|module|section|cell|final|bottle|pallet) ?\d{1,2}")


def _side_of_a_pair(item: Item, ground: Ground, beside: Beside) -> str | None:
    if place_of(item) not in SIDES_OF_A_PAIR:
        return None
    source = next((o for o in beside.others if o.fact.unit is not None), None)
    if source is not None:
        with_the_unit_of(item, source)
    return ground.wants or ASKED


def _named_by_its_place(item: Item, ground: Ground, beside: Beside) -> str | None:
    if place_of(item) == "mains":
        item.form = "rms"
        return "ac_voltage"
    return VOLTS_AT.get(place_of(item))


def _of_the_unit_beside(item: Item, ground: Ground, beside: Beside) -> str | None:
    source = next((o for o in beside.others if o.fact.unit not in {None, "V"} and o.clause == item.clause), None)
    counted = item.fact.decimals >= COUNTED_TO and not item.fact.signed  # 'lo 116.00012 3.2a'
    if (
        counted
        or source is None
        or source.quantity is not None
        or source.fact.unit not in {"A", "Ω", "F", "°C", "dBm", "W"}
    ):
        return None
    with_the_unit_of(item, source)
    return by_unit(item, ground) or ASKED


def _of_what_is_printed(item: Item, ground: Ground, beside: Beside) -> str | None:
    """What is printed on a part, or due there, says what was measured."""
    other: Fact | None = item.besides.get("marked") or item.besides.get("due")
    if other is None:
        return None
    if other.unit is None and OF_FARADS.fullmatch(place_of(item)):
        return ASKED  # volts, or microfarads
    if other.unit in {"Ω", "k"} or OF_OHMS.fullmatch(place_of(item)):
        return "resistance"
    if other.unit == "F":
        return "capacitance"
    if is_counted_at(place_of(item)) and item.fact.decimals >= COUNTED_TO - 1:
        return "stage_frequency"
    if OF_A_CRYSTAL.fullmatch(place_of(item)) and item.fact.decimals >= COUNTED_TO - 1:
        return "stage_frequency"
    return "stage_frequency" if item.fact.value > LEAST_KHZ else "dc_voltage"


def _by_the_letter(item: Item, ground: Ground, beside: Beside) -> str | None:
    """Ohms at a resistor, volts across a junction, a count at an oscillator; asked at a capacitor, or beyond volts."""
    place = place_of(item)
    if OF_OHMS.fullmatch(place):
        return "resistance"
    if OF_A_JUNCTION.fullmatch(place):
        return "junction_voltage"
    if place == "VCO" and "channel" in item.address and item.fact.value < SUPPLIES_V[1]:
        return "control_voltage"  # what moves over channels there are its volts
    if _is_rf_again(item, ground):
        return "ac_voltage"
    if is_counted_at(place) and (alike := _of_rf_beside(item, beside)) is not None:
        with_the_unit_of(item, alike)
        return "ac_voltage"
    if _is_counted(item):
        return _of_a_stage_or_low(item, ground)
    far = UNCERTAIN.fullmatch(place) and item.fact.decimals == 0 and item.fact.value > MOST_AT_A_PART_V
    return ASKED if OF_FARADS.fullmatch(place) or far else None


def _of_a_stage_or_low(item: Item, ground: Ground) -> str:
    """'lo 116.00012', and '.9w lo 156.80031', which is the carrier on low power."""
    return ASKED if place_of(item) == "oscillator" and ground.is_a_count(item.fact) else "stage_frequency"


def _is_counted(item: Item) -> bool:
    if is_counted_at(place_of(item)):
        return item.fact.decimals > 0
    return OF_A_CRYSTAL.fullmatch(place_of(item)) is not None and item.fact.decimals >= COUNTED_TO - 1


OF_A_CRYSTAL = re.compile(r"(?:X|Y|XT|XTAL)\d+")


def _of_rf_beside(item: Item, beside: Beside) -> Item | None:
    """'lo 1.2vpp on 40, 0.4 on 20': the volts of RF that stand beside a bare figure, at the same place."""
    rf = (o for o in beside.others if o.fact.unit in {"Vpp", "Vp", "Vrms"} and place_of(o) == place_of(item))
    return next(rf, None)


def _is_rf_again(item: Item, ground: Ground) -> bool:
    """'x3 .36' behind the volts of RF that were read at an oscillator."""
    oscillates = is_counted_at(place_of(item)) or re.fullmatch(r"X\d+", place_of(item)) is not None
    last = ground.last[0] if ground.last is not None else ""
    return oscillates and last == "ac_voltage" and item.fact.value < MOST_RF_V


def _at_the_lead(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'13.6 at terminals 38a': what feeds it."""
    volts = item.fact.decimals and abs(item.fact.value / SUPPLY_OF_A_BENCH - 1) < MOST_SAG
    return "supply_voltage" if volts and place_of(item) == AT_ITS_SOCKET else None


def _heat(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'fin 58 after 3 min', 'mod transformer hot 80': how hot a heatsink, or what is called hot, is."""
    hot = place_of(item) == "heatsink" or (
        item.address.get("heat") == "hot" and place_of(item).endswith(OF_ITS_HEAT) and item.fact.decimals == 0
    )
    return "temperature" if hot and DEGREES[0] <= item.fact.value <= DEGREES[1] else None


def _of_a_valve(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'v1 78 v2 82' behind the idle current of both: of each of them, and no volts of a valve as a whole."""
    last = ground.last[0] if ground.last is not None else ""
    valve = re.fullmatch(r"V\d", place_of(item)) and ground.high_voltage and not item.fact.signed
    return last if valve and last in {"idle_current", "plate_current", "grid_current", "filament_voltage"} else None


def _level_of_a_stage(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'mixer out -19': what goes into a stage or comes out of it has a sign in dBm, and rarely in volts."""
    if not item.fact.signed or OF_A_STAGE.fullmatch(place_of(item)) is None:
        return None
    last = ground.last[0] if ground.last is not None else ""
    if last != "rf_level" and not any(o.fact.unit == "dBm" for o in beside.others):
        return ASKED
    item.fact = replace(item.fact, unit="dBm")
    return "rf_level"


OF_A_STAGE = re.compile(
    r"(?:mixer|driver|pre-?driver|buffer|final|PA|IF|amp|preamp|filter|\w+ filter|multiplier|doubler|oscillator|VCO)"
    r" (?:input|output)|(?:AMP|MIXER|BUFFER|PREAMP|STAGE)\d(?: (?:input|output))?"
)


def _in_another_state(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'12v rail ripple 380mvpp at tx, 20 on rx': the same again, in the unit that was said."""
    before = next((o for o in reversed(beside.others) if o.at < item.at and o.quantity == "ripple"), None)
    if before is None or item.address.get("state") is None or place_of(before) != place_of(item):
        return None
    with_the_unit_of(item, before)
    return before.quantity


AT_A_PLACE: tuple[Rule, ...] = (
    _level_of_a_stage,
    _of_a_valve, _one_of_several,
    _in_another_state, _at_the_lead, _heat, _one_of_two_halves, _side_of_a_pair, _of_the_unit_beside,
    _of_what_is_printed, _named_by_its_place, _by_the_letter,
)  # fmt: skip
