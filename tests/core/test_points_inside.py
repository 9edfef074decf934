"""Points and parts inside in the many ways in which hands speak of them, put together by rule; and units that lead."""

from collections.abc import Iterator
from itertools import product
from typing import NamedTuple

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand

EVERY = 1  # of the texts of a group, so many are one that is tried
Read = tuple[str, float | str, str]  # the quantity, a figure or a result, and the point that it stands at


class Group(NamedTuple):
    """Ways to say one thing, with the names `{p}` of points as they are typed, and what every text of it means."""

    ways: tuple[str, ...]
    points: tuple[tuple[str, str], ...]
    means: tuple[Read, ...]


ENDS = (("q8 base", "Q8 base"), ("q8 b", "Q8 base"), ("tr5 c", "TR5 collector"), ("base of q301", "Q301 base"),
        ("c of q8", "Q8 collector"), ("tr5 drain", "TR5 drain"), ("q8 g", "Q8 gate"))  # fmt: skip
SPOTS = (("tp2", "TP2"), ("ic3 pin 5", "IC3 pin 5"), ("pin 5 of ic3", "IC3 pin 5"), ("ic3-5", "IC3 pin 5"),
         ("driver out", "driver output"), ("the 8v rail", "8 V rail"), ("mic socket pin 2",
          "mic socket pin 2"))  # fmt: skip
PARTS = (("r12", "R12"), ("c41", "C41"), ("d7", "D7"), ("tr5", "TR5"), ("rfc2", "RFC2"), ("fs1", "FS1"), ("ic3", "IC3"))
Q = (("q8", "Q8"), ("tr5", "TR5"), ("q301", "Q301"))
GROUPS = {
    "volts of an electrode": Group(
        ("{p} 12.8v", "12.8v on {p}", "{p} sits at 12.8v", "{p} is at 12.8 V", "got 12.8v on {p}", "{p} only 12.8v",
         "volts on {p} 12.8", "measured 12.8v at {p}", "{p}: 12.8 volts", "dc at {p} 12.8v", "{p} volts 12.8"),
        ENDS, (("dc_voltage", 12.8, ""),),
    ),
    "two of them": Group(
        ("{p} 0.7v, q9 base 3.1v", "0.7v on {p} but 3.1v on q9 base", "{p} 0.7v and q9 b 3.1v",
         "{p} 0.7v; q9 b only 3.1v"),
        ENDS, (("dc_voltage", 0.7, ""), ("dc_voltage", 3.1, "Q9 base")),
    ),
    "at rest and keyed": Group(
        ("{p} 0.1v rx 5.2v tx", "{p} 0.1v on rx, 5.2v on tx", "{p} goes from 0.1v to 5.2v on tx", "{p} rx 0.1v tx 5.2v",
         "{p} 0.1v rising to 5.2v when keyed", "{p}: 0.1v in receive, 5.2v in transmit", "{p} 0.1 rx / 5.2 tx"),
        (*SPOTS, ("q8 base", "Q8 base")), (("dc_voltage", 0.1, ""), ("dc_voltage", 5.2, "")),
    ),
    "nothing there": Group(
        ("no rf at {p}", "no signal on {p}", "{p} no rf", "nothing at {p}", "{p}: nothing", "no volts at {p}",
         "no drive at {p}",
         "{p} has no rf"), (*SPOTS, ENDS[0]), (("any", "none", ""),),
    ),
    "something well there": Group(
        ("{p} rf ok", "signal ok at {p}", "rf good at {p}"), (*SPOTS, ENDS[0]), (("condition", "ok", ""),),
    ),
    "a part that is shorted": Group(
        ("{p} shorted", "{p} is shorted", "{p}: s/c", "checked {p}, short", "{p} measures short circuit",
         "{p} - shorted"),
        PARTS, (("condition", "short", ""),),
    ),
    "a part that is sound": Group(
        ("{p} ok", "{p} is fine", "{p} checks out fine", "{p} tests good", "checked {p}: ok", "{p} is ok"),
        PARTS, (("condition", "ok", ""),),
    ),
    "two parts": Group(
        ("{p} is open, q9 is shorted", "{p} open and q9 shorted", "{p} open; q9 short",
         "{p} is open but q9 is shorted"),
        PARTS, (("condition", "open", ""), ("condition", "short", "Q9")),
    ),
    "a junction that is shorted": Group(
        ("{p} c-e short", "{p} c to e shorted", "{p} collector emitter short", "{p} shorted c-e",
         "dead short c-e on {p}",
         "{p} short collector to emitter", "{p} ce short"),
        tuple((t, f"{n} collector-emitter") for t, n in Q), (("condition", "short", ""),),
    ),
    "a resistor gone high": Group(
        ("{p} reads 12k should be 10k", "{p} 12k instead of 10k", "{p} is 12k, 10k on the body",
         "{p} up to 12k from 10k",
         "{p} marked 10k reads 12k"), (("r12", "R12"), ("r301", "R301")), (("resistance", 12e3, ""),),
    ),
    "a capacitor gone low": Group(
        ("{p} reads 22u of 47u", "{p} 47u reads 22u", "{p} down to 22u from 47u", "{p} is 22u should be 47u"),
        (("c41", "C41"), ("c9", "C9")), (("capacitance", 22e-6, ""),),
    ),
    "a diode": Group(
        ("{p} 0.62v drop", "{p} forward 0.62", "{p} 0.62 one way open the other", "{p} fwd 0.62v"),
        (("d7", "D7"), ("zd1", "ZD1")), (("junction_voltage", 0.62, ""),),
    ),
    "where parts meet": Group(
        ("junction {p} 8.9v", "8.9v at junction {p}", "{p} junction 8.9v", "8.9v at the {p} joint"),
        (("r4/r5", "junction of R4 and R5"), ("c9/l3", "junction of C9 and L3")), (("dc_voltage", 8.9, ""),),
    ),
    "what a stage draws": Group(
        ("{p} draws 120ma", "{p} current 120ma", "{p} 120ma"), (*Q, ("q8 collector", "Q8 collector"), ("driver",
         "driver")),
        (("dc_current", 0.12, ""),),
    ),
    "what an oscillator runs at": Group(
        ("{p} runs at 10.240 MHz", "{p} 10.240mhz", "10.240 MHz at {p}", "{p} on 10.240 MHz",
         "counter shows 10.240 MHz at {p}"),
        (("x1", "X1"), ("vco", "VCO"), ("tp2", "TP2"), ("ic3 pin 5", "IC3 pin 5")), (("stage_frequency", 10.24e6, ""),),
    ),
}  # fmt: skip
UNIT_FIRST = {
    "watts 3.8": ("carrier_power", 3.8), "watts: 3.8": ("carrier_power", 3.8), "power in watts 3.8": ("carrier_power",
    3.8),
    "watts ch1 3.6": ("carrier_power", 3.6), "volts tx 12.9": ("supply_voltage", 12.9),
    "voltage 13.2": ("supply_voltage", 13.2),
    "mod percent 85": ("am_depth", 85.0), "freq hz +120": ("frequency_error", 120.0), "hz -80": ("frequency_error",
    -80.0),
    "tp2 volts 3.1": ("dc_voltage", 3.1), "volts 13.8 amps 1.2": ("supply_current", 1.2), "temp c 45": ("temperature",
    45.0),
    "ch19 watts 3.8 amps 1.2": ("carrier_power", 3.8), "3.8 watts 1.2 amps": ("supply_current", 1.2),
}  # fmt: skip


def texts(group: Group) -> Iterator[tuple[str, str]]:
    for way, (typed, name) in product(group.ways, group.points):
        yield way.format(p=typed), name


def misread(text: str, name: str, means: tuple[Read, ...]) -> str | None:
    """What is wrong with how a text was read, None where each point has what was seen at it."""
    meant = understand(text, ground_of_kind("cb-am-mobile", "current-standby"))
    if meant.chosen is None:
        return f"{text!r} was not taken: {meant.question or meant.story}"
    chosen = meant.meanings[meant.chosen]
    there = [
        (r.quantity, str(chosen.conditions_of(n).place), r.result or r.value) for n, r in enumerate(chosen.readings)
    ]
    for quantity, seen, place in means:
        at = place or name
        found = [v for q, p, v in there if p == at and (q == quantity or quantity == "any")]
        if quantity == "any" and found and found[0] in {"none", 0.001}:
            continue  # of volts what a meter still shows stands beside the result
        if not any(v == seen if isinstance(seen, str) else v == pytest.approx(seen) for v in found):
            return f"{text!r} has no {quantity} {seen} at {at}: {there}"
    return None


@pytest.mark.parametrize("name", GROUPS)
def test_what_was_seen_at_a_point_stands_there_however_it_was_said(name):
    wrong = [misread(text, at, GROUPS[name].means) for text, at in list(texts(GROUPS[name]))[::EVERY]]
    assert not [w for w in wrong if w is not None]


@pytest.mark.parametrize("text", UNIT_FIRST)
def test_a_unit_that_leads_its_figure_is_the_figure_s_own(text):
    quantity, value = UNIT_FIRST[text]
    meant = understand(text, ground_of_kind("cb-am-mobile", "current-standby"))
    assert meant.chosen is not None
    readings = meant.meanings[meant.chosen].readings
    assert [r.value for r in readings if r.quantity == quantity] == [value]
