"""What reaches each part of a path: against sums worked by hand."""

import json
import math

import pytest

from tests.core.fuzz import PATH
from young_spark.core.signal_path import BadPath, levels, loss_to, read_path

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
    nodes = {n.part: n for n in levels(path(), 10.0, 27.2e6, mode).nodes}
    att = 20.0 + 0.1 * 26.2 / 29  # straight between the two rows of its table
    for part, loss in (("c1", 0.0), ("load", 0.05), ("att", 20.0), ("ts", 20.0 + att)):
        assert nodes[part].mean_dbm == pytest.approx(mean - loss, abs=0.01) and nodes[part].pep_dbm == pytest.approx(
            crest - loss, abs=0.01
        )
        assert nodes[part].peak_v == pytest.approx(math.sqrt(2 * 50 * 10 ** ((crest - loss) / 10 - 3)), rel=1e-3)


def test_each_state_has_its_sentence_and_the_worst_wins():
    assert levels(path(), 10.0, 27.2e6).state == "ok"
    hot = levels(path(), 400.0, 27.2e6)
    assert (
        hot.state == "too_high"
        and state(hot, "ts")[1] == "+15.9 dBm would reach ts, which stands +10.0 dBm: put a 20 dB pad more before it"
    )
    assert "use one for 500 W" in state(hot, "load")[1]
    over = levels(path(), 50.0, 27.2e6)
    assert over.state == "over_range" and "put a 3 dB pad more before it" in state(over, "ts")[1]
    weak = levels(path(att={"loss_db": 80.0}), 1.0, 27.2e6)
    assert weak.state == "too_low" and "take 10 dB out" in state(weak, "ts")[1]
    bare = {"from": "w", "parts": [{"id": "w", "kind": "cable"}]}
    assert levels(read_path(json.dumps(bare), "p"), 1.0, 27e6).state == "no_load"


def test_what_protects_must_do_so_with_switched_attenuators_out():
    found = levels(path(att={"switchable": True}), 10.0, 27.2e6)
    assert state(found, "ts")[0] == "too_high" and "with the switched attenuators at 0 dB" in state(found, "ts")[1]


def test_a_tapped_probe_stands_twice_the_volts_at_that_frequency():
    tree = {"from": "p", "parts": [
        {"id": "p", "kind": "probe", "safe_v": [[1e3, 600], [30e6, 50]], "to": "load"}, {"id": "load", "kind": "load", "rating_w": 200}]}  # fmt: skip
    assert levels(read_path(json.dumps(tree), "p"), 100.0, 1e5).state == "ok"
    hot = levels(read_path(json.dumps(tree), "p"), 100.0, 28e6)  # 100 W is 100 V peak
    assert state(hot, "p")[0] == "too_high" and "100 V peak, twice that if the load falls off" in state(hot, "p")[1]


def test_the_same_path_corrects_at_each_frequency():
    loss = loss_to(path(), "ts")
    assert loss(1e6) == pytest.approx(40.0) and loss(30e6) == pytest.approx(40.1) and loss(100e6) == pytest.approx(40.1)


@pytest.mark.parametrize(("tree", "words"), [
    ({"from": "x", "parts": TREE["parts"]}, "no part is called 'x'"),
    ({"from": "c1", "parts": [*TREE["parts"], TREE["parts"][0]]}, "two parts are called 'c1'"),
    ({"from": "c1", "parts": [*TREE["parts"], {"id": "lost", "kind": "load"}]}, "'lost' hangs on nothing"),
    ({"from": "a", "parts": [{"id": "a", "kind": "cable", "to": "b"}, {"id": "b", "kind": "cable", "to": "a"}]}, "in a circle"),
    ({"from": "a", "parts": [{"id": "a", "kind": "magic"}]}, "parts.0"),
    ([], "p.json"),
])  # fmt: skip
def test_a_path_that_cannot_be_is_refused(tree, words):
    with pytest.raises(BadPath, match=words):
        read_path(json.dumps(tree), "p.json")
