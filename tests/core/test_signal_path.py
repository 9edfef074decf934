"""What reaches each part of a path: against sums worked by hand."""

import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.fuzz import PATH
from young_spark.core.entry import EntryContext, understand
from young_spark.core.figure import Conditions
from young_spark.core.gear import models
from young_spark.core.path import (
    BadPath,
    Drive,
    driven_by,
    levels,
    loss_to,
    part_classes,
    path_of,
    read_path,
    typical_part,
    with_pad,
)
from young_spark.core.path.guard import duties, greatest_drive, hazards, over_rated
from young_spark.core.path.signal_path import Start

TREE = json.loads(PATH)


def path(**changed):
    """The tree with parts changed by id; None takes a field out."""
    parts = [{k: v for k, v in (part | changed.get(part["id"], {})).items() if v is not None} for part in TREE["parts"]]
    return read_path(json.dumps(TREE | {"parts": parts}), "p.json")


def state(found, part):
    return next((n.state, n.advice) for n in found.nodes if n.part == part)


@pytest.mark.parametrize(
    ("mode", "mean", "crest"), [("cw", 40.0, 40.0), ("fm", 40.0, 40.0), ("am", 41.76, 46.02), ("ssb", 40.0, 40.0)]
)
def test_levels_are_power_less_loss(mode, mean, crest):
    nodes = {n.part: n for n in levels(path(), driven_by(10.0, mode), 27.2e6).nodes}
    att = 20.0 + 0.1 * 26.2 / 29  # straight between the two rows of its table
    for part, loss in (("c1", 0.0), ("load", 0.05), ("att", 20.0), ("ts", 20.0 + att)):
        assert nodes[part].mean_dbm == pytest.approx(mean - loss, abs=0.01) and nodes[part].pep_dbm == pytest.approx(
            crest - loss, abs=0.01
        )
        assert nodes[part].peak_v == pytest.approx(math.sqrt(2 * 50 * 10 ** ((crest - loss) / 10 - 3)), rel=1e-3)


def test_each_state_has_its_sentence_and_the_worst_wins():
    assert levels(path(), driven_by(10.0, "cw"), 27.2e6).state == "ok"
    hot = levels(path(), driven_by(400.0, "cw"), 27.2e6)
    assert (
        hot.state == "too_high"
        and state(hot, "ts")[1] == "+15.9 dBm would reach ts, which stands +10.0 dBm: put a 20 dB pad more before it"
    )
    assert "use one for 500 W" in state(hot, "load")[1]
    over = levels(path(), driven_by(50.0, "cw"), 27.2e6)
    assert over.state == "over_range" and "put a 3 dB pad more before it" in state(over, "ts")[1]
    weak = levels(path(att={"loss_db": 80.0}), driven_by(1.0, "cw"), 27.2e6)
    assert weak.state == "too_low" and "take 10 dB out" in state(weak, "ts")[1]
    bare = {"from": "w", "parts": [{"id": "w", "kind": "cable"}]}
    assert levels(read_path(json.dumps(bare), "p"), driven_by(1.0, "cw"), 27e6).state == "no_load"


def test_what_protects_must_do_so_with_switched_attenuators_out():
    found = levels(path(att={"switchable": True}), driven_by(10.0, "cw"), 27.2e6)
    assert state(found, "ts")[0] == "too_high" and "with the switched attenuators at 0 dB" in state(found, "ts")[1]


def test_a_tapped_probe_stands_twice_the_volts_at_that_frequency():
    tree = {
        "from": "p",
        "parts": [
            {"id": "p", "kind": "probe", "safe_v": [[1e3, 600], [30e6, 50]], "to": "load"},
            {"id": "load", "kind": "load", "rating_w": 200},
        ],
    }
    assert levels(read_path(json.dumps(tree), "p"), driven_by(100.0, "cw"), 1e5).state == "ok"
    hot = levels(read_path(json.dumps(tree), "p"), driven_by(100.0, "cw"), 28e6)  # 100 W is 100 V peak
    assert state(hot, "p")[0] == "too_high" and "100 V peak, twice that if the load falls off" in state(hot, "p")[1]


def test_the_same_path_corrects_at_each_frequency():
    loss = loss_to(path(), "ts")
    assert loss(1e6) == pytest.approx(40.0) and loss(30e6) == pytest.approx(40.1) and loss(100e6) == pytest.approx(40.1)


@pytest.mark.parametrize(("tree", "words"), [
    ({"from": "x", "parts": TREE["parts"]}, "no part is called 'x'"),
    ({"from": "c1", "parts": [*TREE["parts"], TREE["parts"][0]]}, "two parts are called 'c1'"),
    ({"from": "c1", "parts": [*TREE["parts"], {"id": "lost", "kind": "load"}]}, "'lost' hangs on nothing"),
    ({"from": "a", "parts": [{"id": "a", "kind": "cable", "to": "b"},
        {"id": "b", "kind": "cable", "to": "a"}]}, "in a circle"),
    ({"from": "a", "parts": [{"id": "a", "kind": "magic"}]}, "parts.0"),
    ([], "p.json"),
])  # fmt: skip
def test_a_path_that_cannot_be_is_refused(tree, words):
    with pytest.raises(BadPath, match=words):
        read_path(json.dumps(tree), "p.json")


SAMPLED = {
    "from": "meter",
    "parts": [
        {
            "id": "meter",
            "kind": "wattmeter",
            "loss_db": 0.05,
            "rating_w": 1000,
            "instrument": "wattmeter",
            "to": "sampler",
        },
        {
            "id": "sampler",
            "kind": "coupler",
            "loss_db": 0.04,
            "coupling_db": [[3e6, 40.6], [3e7, 40.2]],
            "measured": True,
            "through": "load",
            "coupled": "pad",
        },
        {"id": "load", "kind": "load", "rating_w": 100, "rating_s": 60, "cool_off_s": 180},
        {"id": "pad", "kind": "attenuator", "loss_db": 10.0, "rating_w": 2, "to": "analyser"},
        {"id": "analyser", "kind": "instrument", "safe_dbm": 20, "usable_dbm": [-60, 0], "instrument": "analyser"},
    ],
}


def sampled(**begins):
    return path_of(SAMPLED | ({"begins": {"kind": "inner", "name": "plug", **begins}} if begins else {}), "s")


def test_readings_behind_the_path_come_out_as_at_the_socket():
    """What a hand reads behind known losses, against the sum made here."""
    context = EntryContext(path=sampled(), conditions=Conditions(frequency_hz=27.185e6))
    at_socket = 10 ** ((-12.0 + 10.0 + 0.05 + 40.6 - 0.4 * (27.185 - 3) / 27) / 10 - 3)
    found = understand("-12dbm", context).meanings[0]
    assert found.readings[0].value == pytest.approx(at_socket, rel=1e-9)
    assert found.conditions.path == "meter 0.05 dB, sampler 40.24 dB, pad 10 dB at 27.185 MHz, as marked"
    assert found.conditions.path in found.readings[0].working
    # the root of the squares of 0.2, 0.1 and 0.2 dB, not their sum
    assert found.conditions.pad_bound_db == pytest.approx(0.3)
    # the wattmeter stands first: nothing before it, so nothing is added
    assert understand("3.8w", context).meanings[0].readings[0].value == pytest.approx(3.8)
    # a pad typed on the line, and an instrument that hangs elsewhere, go before the path
    assert understand("-12dbm +20db", context).meanings[0].readings[0].value == pytest.approx(
        10 ** (8 / 10 - 3), rel=1e-9
    )
    elsewhere = context.model_copy(update={"conditions": Conditions(frequency_hz=27.185e6, instrument="scope")})
    assert understand("20vpp", elsewhere).meanings[0].readings[0].value == pytest.approx(1.0)


def test_harmonics_are_corrected_at_their_own_frequency():
    context = EntryContext(path=sampled(), conditions=Conditions(frequency_hz=5e6))
    found = understand("h2 -60", context).meanings[0].readings[0]
    assert found.value == pytest.approx(-60 - 0.4 * 5 / 27, abs=1e-6) and "dB path" in found.working


def test_dc_is_stopped_by_a_block_and_by_a_sampler():
    drive = driven_by(0.01, "cw")
    bare = {
        "from": "a",
        "begins": {"kind": "inner", "name": "grid", "most_w": 0.01, "dc_v": -45},
        "parts": [
            {"id": "a", "kind": "attenuator", "loss_db": 10, "to": "i"},
            {"id": "i", "kind": "instrument", "safe_dbm": 20, "safe_dc_v": 0},
        ],
    }
    found = levels(path_of(bare, "b"), drive, 7e6)
    assert (
        state(found, "i")[0] == "too_high"
        and state(found, "i")[1] == "45 V DC would reach i, which stands 0 V: put a DC block before it"
    )
    blocked = path_of(bare | {"from": "k", "parts": [{"id": "k", "kind": "dc_block", "to": "a"}, *bare["parts"]]}, "b")
    assert levels(blocked, drive, 7e6).state == "ok"
    assert levels(sampled(most_w=1.0, dc_v=12), driven_by(1.0, "cw"), 7e6).state == "ok"
    with pytest.raises(BadPath, match="inner start needs"):
        sampled(dc_v=12)


def test_the_most_is_of_every_unit_there_and_of_what_was_stated():
    known = models()
    small, linear, hf = known["tarnbeck-m27"], known["hollin-linear-400"], known["corrie-q100"]
    assert greatest_drive(Start(), [], None) is None
    assert greatest_drive(Start(), [small], None) == Drive(mean_w=6.0, crest_w=16.0)  # 4 W of AM at 100 %
    assert greatest_drive(Start(), [small, linear], None) == Drive(mean_w=420.0, crest_w=420.0)
    assert greatest_drive(Start(), [hf], None).crest_w == pytest.approx(400 / 3)
    assert greatest_drive(Start(), [small], 10.0) == Drive(mean_w=15.0, crest_w=40.0)
    inner = Start(kind="inner", name="exciter plug", most_w=0.02)
    assert greatest_drive(inner, [linear], 500.0) == Drive(mean_w=0.02, crest_w=0.02)


def test_hazards_and_what_may_be_overridden_are_told_apart():
    tree = sampled()
    hot = levels(tree, driven_by(420, "cw"), 7e6)
    (load,) = hazards(tree, hot, high_voltage=True, covers_off=False)
    assert load.hazard == "load" and "use one for 500 W" in load.words
    assert [h.hazard for h in hazards(tree, hot, high_voltage=True, covers_off=True)] == ["high_voltage", "load"]
    assert over_rated(tree, levels(tree, driven_by(20_000, "cw"), 7e6))[0][0] == "meter"
    generator = path_of({"from": "g", "parts": [{"id": "g", "kind": "generator", "safe_dbm": 27}]}, "g")
    (there,) = hazards(generator, levels(generator, driven_by(4, "fm"), 7e6), high_voltage=False, covers_off=False)
    assert there.hazard == "generator" and "+36.0 dBm would reach g" in there.words
    assert not hazards(generator, levels(generator, driven_by(0.1, "fm"), 7e6), high_voltage=False, covers_off=False)


@given(st.floats(1, 90))
def test_a_load_may_be_keyed_for_its_time_in_proportion_to_the_heat(power):
    tree = sampled()
    found = {d.name: d for d in duties(tree, levels(tree, driven_by(power, "cw"), 7e6))}
    time_s = 60 * 100 / (power * 10**-0.009)
    if time_s > 600:
        assert not found
    else:
        assert found["load"].key_down_s == pytest.approx(time_s, rel=1e-6) and found["load"].cool_off_s == 180


@given(st.sampled_from([0, 3, 10, 20]), st.sampled_from(["analyser", "load", "meter"]))
def test_another_pad_changes_the_loss_before_that_part_alone(pad_db, part):
    before, after = sampled(), with_pad(sampled(), part, pad_db)
    old = 10.0 if part == "analyser" else 0.0
    for other in ("meter", "load", "analyser"):
        behind = other == part or part == "meter"
        assert loss_to(after, other)(7e6) - loss_to(before, other)(7e6) == pytest.approx(pad_db - old if behind else 0)


def test_every_class_of_part_is_a_part():
    assert all(typical_part(name, "x").typical for name in part_classes())
