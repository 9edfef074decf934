"""A point that no list has is called by all the words in front of its figure: two points are never one."""

from itertools import product

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand
from young_spark.core.entry.facts.meaning import Understanding

WHICH = ("front", "rear", "left", "inner", "blue", "mains", "chassis")
NOUNS = ("tag", "lug", "lamp", "post", "strap", "fuse holder", "heatsink clamp")
READ = (("12.2v", "dc_voltage", 12.2), ("31mv", "dc_voltage", 0.031), ("0.4 ohm", "resistance", 0.4))
KINDS = (("cb-am-fm-mobile", "power-am-19"), ("valve-linear", "filament"), ("hf-solid-state", "current-standby"))


def _understood(text: str, kind: str, row: str) -> Understanding:
    return understand(text, ground_of_kind(kind, row))


@pytest.mark.parametrize(("kind", "row"), KINDS)
def test_all_words_in_front_of_a_figure_are_the_name_of_its_point(kind: str, row: str) -> None:
    """Every side of every noun, in each of the units that are read at points."""
    for which, noun, (typed, quantity, value) in product(WHICH, NOUNS, READ):
        text = f"{which} {noun} {typed}"
        meant = _understood(text, kind, row)
        assert meant.chosen is not None, f"{text}: {meant.question}"
        (reading,) = meant.meanings[meant.chosen].readings
        assert (reading.quantity, meant.meanings[meant.chosen].conditions.place) == (quantity, f"{which} {noun}"), text
        assert reading.value == pytest.approx(value), text
        assert not meant.meanings[meant.chosen].remark, text


@pytest.mark.parametrize(
    ("text", "places"),
    [
        ("rear tag 22mv, front tag 31mv", ("rear tag", "front tag")),
        ("front tag 0.4 ohm rear tag 3 ohm", ("front tag", "rear tag")),
        ("power lamp 11.9v", ("power lamp",)),
        ("squelch pot hot end 3.2v", ("squelch pot hot end",)),
        ("swr bridge diode end 0.3v", ("swr bridge diode end",)),
        ("chassis lug to board 2mv", ("chassis lug to board",)),
        ("battery clip to frame 0.4 ohm", ("clip to frame",)),
        ("vco board 22ma", ("VCO board",)),
        ("mixer board 10.24mhz", ("mixer board",)),
        ("tag 3 12.1v", ("tag 3",)),
        ("lug 2 0v, lug 3 12.1v", ("lug 2", "lug 3")),
        ("test point 4 2.2v", ("TP4",)),
        ("front panel lamp open", ("front panel lamp",)),
        ("series pass emitter 13.6v", ("series pass emitter",)),
        ("rectifier string midpoint 1200v", ("bridge string midpoint",)),
        ("r12 emitter resistor 1.2 ohm", ("R12",)),
    ],
)
def test_names_are_told_apart_from_what_stands_beside_them(text: str, places: tuple[str, ...]) -> None:
    """A name of a quantity that the figure cannot be of is part of the point's; how it is, and what a part is, are
    not."""
    meant = _understood(text, *KINDS[0])
    assert meant.chosen is not None, meant.question
    meaning = meant.meanings[meant.chosen]
    assert tuple(meaning.conditions_of(n).place for n in range(len(meaning.readings))) == places


@pytest.mark.parametrize("between", [" ", " on "])
def test_a_point_is_read_at_each_setting(between: str) -> None:
    """Each figure has the setting behind it; the second had the first's."""
    meant = understand(
        f"apc line 2.1v{between}high 0.9{between}low", ground_of_kind("vhf-uhf-fm-mobile", "power-fm-20")
    )
    assert meant.chosen is not None, meant.question
    meaning = meant.meanings[meant.chosen]
    told = [(r.value, meaning.conditions_of(n).power_setting) for n, r in enumerate(meaning.readings)]
    assert told == [(2.1, "high"), (0.9, "low")]
    assert {meaning.conditions_of(n).place for n in range(2)} == {"apc line"}


@pytest.mark.parametrize(
    ("text", "answer"),
    [
        ("mic input 120mv", "at mic input"),
        ("fan 180ma", "180.0 mA at fan"),
        ("hv bleeder 50k", "50.0 kΩ at hv bleeder"),
        ("zorb port -12dbm", "−12.0 dBm at zorb port"),
        ("left widget 4.2ma", "4.20 mA at left widget"),
        ("zorb 455khz", "455.0 kHz at zorb"),
    ],
)
def test_a_point_that_may_be_meant_is_offered_first(text: str, answer: str) -> None:
    """A figure of the bench behind words is neither refused without an answer nor kept as words without a question."""
    meant = _understood(text, *KINDS[0])
    assert meant.chosen is None
    assert meant.question
    assert meant.choices[0].label.endswith(answer)
    assert meant.as_note is not None
