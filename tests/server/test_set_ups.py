"""Sequences of adjustments on a slip: begun, typed along, left out of, ended; and what a report says of it."""

import json
import uuid

import pytest

from tests.server.test_dialogues import Hand
from young_spark.core.gear import SETTING_UP
from young_spark.server.jobs.services import check_in
from young_spark.server.readings.models import Reading

pytestmark = pytest.mark.django_db
JSON = "application/json"


@pytest.fixture
def hand(bench, wren):
    return lambda words: Hand(bench, check_in(actor=wren, job_id=uuid.uuid4(), words=words).pk)


def acts(hand, act, step=None, sequence="alignment", line=None):
    body = {"id": line or str(uuid.uuid4()), "sequence": sequence, "act": act, "step": step}
    return hand.client.post(f"/api/jobs/{hand.job}/set-up", json.dumps(body), content_type=JSON)


def shown(slip) -> dict[str, str]:
    return {step["id"]: step["state"] for step in slip["set_up"]["steps"]}


def test_bare_figures_go_to_the_step_that_is_next_and_answer_the_plan(hand):
    hand = hand("Birkrigg AM mobile 4 W")
    assert [s["id"] for s in hand.slip()["sequences"]] == ["alignment"]
    assert hand.slip()["set_up"] is None
    slip = acts(hand, "begin").json()
    assert slip["lines"][-1]["story"]["words"] == "Set-up begun: Alignment of the transmitter"
    assert slip["next_row"] == "frequency-19"
    assert slip["open_lines"][0]["ask"].startswith("Reference trimmer: Warm for ten minutes")
    for text in ("+900", "+200", "-20"):
        hand.says(text)
    slip = hand.slip()
    assert shown(slip)["reference"] == "in"
    assert slip["next_row"] == "power-am-1"
    for text in ("3.9", "3.8", "3.6"):
        hand.says(text)
    hand.says("92")
    hand.says("3.75")
    slip = hand.slip()
    assert slip["set_up"]["current"] == "own-meter"
    hand.says("5")
    assert hand.slip()["set_up"]["steps"][-1]["says"] == "1.25 W too high: turn it and read again."
    hand.says("3.9")
    slip = hand.slip()
    assert set(shown(slip).values()) == {"in"}
    assert slip["set_up"]["says"] == "Through: 5 of 5 stand right."
    assert acts(hand, "end").status_code == 201
    slip = hand.slip()
    assert slip["set_up"] is None
    assert slip["lines"][-1]["story"]["words"] == "Set-up: Alignment of the transmitter ended: 5 of 5 stand right"
    assert not Reading.objects.filter(plan_row__startswith=SETTING_UP).exists()
    assert Reading.objects.filter(plan_row="power-am-19").count() == 2


def test_what_the_sets_own_meter_shows_is_read_again_once_the_power_was_turned(hand):
    hand = hand("Birkrigg AM mobile 4 W")
    acts(hand, "begin")
    for text in ("-20", "3.9", "3.8", "3.7", "92", "3.75", "own 3.8"):
        hand.says(text)
    assert set(shown(hand.slip()).values()) == {"in"}
    for text in ("power preset turned down", "3.0w ch19"):
        hand.says(text)
    slip = hand.slip()
    assert shown(slip)["own-meter"] == "again"
    assert slip["set_up"]["steps"][-1]["says"] == "The power was turned since: read it again."


def test_an_adjuster_by_its_name_upsets_what_it_moves(hand):
    hand = hand("Birkrigg AM mobile 4 W")
    acts(hand, "begin")
    for text in ("-20", "3.9", "3.8", "3.7", "92", "3.75"):
        hand.says(text)
    hand.says("power preset turned down")
    slip = hand.slip()
    assert shown(slip)["power"] == "out"
    assert shown(slip)["depth"] == "again"
    assert slip["set_up"]["steps"][2]["says"] == "Power preset was turned since: read it again."


def test_a_step_is_left_out_and_taken_up_again_and_the_end_says_what_is_neither(hand):
    hand = hand("Birkrigg AM mobile 4 W")
    acts(hand, "begin")
    acts(hand, "leave out", "coils")
    hand.says("+900")
    slip = acts(hand, "take up", "coils").json()
    assert shown(slip)["coils"] == "open"
    slip = acts(hand, "end").json()
    told = slip["lines"][-1]["story"]["words"]
    assert "turned and not right: Reference trimmer (found +900 Hz" in told
    assert "not looked at: Driver and output coils" in told


def test_what_is_unknown_or_not_begun_is_refused_in_a_sentence_and_a_line_comes_once(hand):
    hand = hand("Birkrigg AM mobile 4 W")
    assert acts(hand, "begin", sequence="nothing").status_code == 400
    assert acts(hand, "end").status_code == 400
    line = str(uuid.uuid4())
    assert acts(hand, "begin", line=line).status_code == 201
    lines = len(hand.slip()["lines"])
    assert acts(hand, "begin", line=line).status_code == 201
    assert len(hand.slip()["lines"]) == lines
    assert acts(hand, "end", line=line).status_code == 409
    assert acts(hand, "leave out", "nobody").status_code == 400


def test_no_step_goes_before_first_power_of_high_voltage(hand):
    hand = hand("Ellel valve linear 800 W")
    slip = acts(hand, "begin").json()
    assert slip["next_row"] == "filament"
    assert not slip["open_lines"][0]["ask"].startswith("Bias")
    hand.says("6.3")
    slip = hand.slip()
    assert slip["next_row"] == "idle"
    assert slip["open_lines"][0]["caution"].startswith("High voltage kills")
    hand.says("idle 104ma")
    assert shown(hand.slip())["bias"] == "in"


def test_the_plate_is_dipped_and_loaded_until_neither_gains(hand):
    hand = hand("Ellel valve linear 800 W")
    acts(hand, "begin")
    for text in ("6.3", "idle 104ma", "1.6", "1.4", "1.5", "1.4"):
        hand.says(text)
    assert shown(hand.slip())["input"] == "in"
    for text in ("ip 520ma", "ip 470", "ip 440", "ip 455", "ip 440"):
        hand.says(text)
    assert shown(hand.slip())["dip"] == "in"
    for text in ("20m 610w", "20m 660w", "20m 640w", "20m 660w"):
        hand.says(text)
    slip = hand.slip()
    assert shown(slip)["load"] == "in"
    assert slip["set_up"]["current"] == "peak"  # the most out by the plate tuning, which loads it anew
    for text in ("20m 660w", "20m 640w", "20m 668w", "20m 650w", "20m 668w"):
        hand.says(text)
    slip = hand.slip()
    assert shown(slip)["peak"] == "in"
    assert shown(slip)["load"] == "again"


def test_the_next_of_its_kind_is_set_up_as_the_first_was(hand, bench):
    first = hand("Birkrigg AM mobile 4 W")
    for text in ("tc1 -12hz", "vr9 2.4k to 1.9k", "3.8w", "l14 3.1 3.4 3.6 3.5w"):
        first.says(text)
    item = first.slip()["item"]
    kept = bench.post(f"/api/items/{item}/model", json.dumps({"name": "Birkrigg C40"}), content_type=JSON)
    assert kept.status_code == 200
    following = hand("Birkrigg C40, marshal 4")
    told = following.slip()["sequences"]
    assert [s["id"] for s in told] == ["as-done-here", "alignment"]
    assert told[0]["source"].startswith("this shop, job ")
    slip = acts(following, "begin", sequence="as-done-here").json()
    assert [(s["adjuster"], s["aim"]) for s in slip["set_up"]["steps"]] == [
        ("VR9", "to 3.8 W ± 190 mW"),
        ("L14", "the most"),
    ]
