"""Sequences of adjustments: followed on simulated units whose adjusters interact, they end only where it stands right;
what is shipped keeps the order that is safe."""

import math
import random
from dataclasses import dataclass, field

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from young_spark.core.entry import StoryLine
from young_spark.core.figure import Conditions
from young_spark.core.gear import AdjustmentSequence, Level, Step, gear_of, kinds
from young_spark.core.job import Begun, ReadingFact, Turn, how_it_ended, learnt, lines_of, set_up, with_the_step

ERROR = {"read": "frequency_error", "aim": {"aim": "to", "value": 0, "allowed": 50}}
NULL = {"read": "carrier_suppression", "aim": {"aim": "most"}, "at": [{"mode": "usb"}]}


def sequence(*steps: dict) -> AdjustmentSequence:
    return AdjustmentSequence.model_validate({"id": "s", "title": "Set-up", "steps": steps})


@dataclass
class Slip:
    """What a hand typed, as the slip keeps it."""

    facts: list[ReadingFact] = field(default_factory=list)
    turns: list[Turn] = field(default_factory=list)
    order: int = 1

    def read(self, quantity: str, value: float, **where: object) -> None:
        self.order += 1
        self.facts.append(
            ReadingFact(
                id=str(self.order), line=str(self.order), order=self.order, quantity=quantity, phase="in_work",
                plan_row=None, conditions=Conditions.model_validate(where), value=value, figure=f"{value:.4g}",
            )
        )  # fmt: skip

    def turn(self, adjuster: str, found: str = "", passed: tuple[float, ...] = ()) -> None:
        self.order += 1
        self.turns.append(Turn(self.order, adjuster, found, passed))
        self.order -= 1  # what is read at the end of it is on the same line

    def standing(self, told: AdjustmentSequence, left_out: frozenset[str] = frozenset()):
        return set_up(Begun(told, 1, left_out), self.facts, self.turns, ())


def states(standing) -> list[str]:
    return [step.state for step in standing.steps]


TURN = 0.1  # as finely as a hand turns


PAIR = sequence(
    {"id": "a", "adjuster": "L22", "at": [{"mode": "usb"}], "upsets": ["b"], **ERROR},
    {"id": "b", "adjuster": "L23", "at": [{"mode": "lsb"}], "upsets": ["a"], **ERROR},
)


@pytest.mark.parametrize("seed", range(100))
def test_a_pair_that_interacts_converges_from_any_setting_and_never_ends_before(seed):
    """Two carriers, each moved by its own core and a fifth to a half as much by the other's."""
    chance = random.Random(seed)
    cross = [chance.uniform(-0.5, 0.5) for _ in range(2)]
    cores = [chance.uniform(-3000, 3000) for _ in range(2)]

    def off(n: int) -> float:
        return cores[n] + cross[n] * cores[1 - n]

    slip = Slip()
    while (standing := slip.standing(PAIR)).current is not None:
        assert slip.order < 60
        n = "ab".index(standing.current)
        mode = ("usb", "lsb")[n]
        if standing.steps[n].figures and standing.steps[n].state == "out":
            cores[n] -= off(n) * chance.uniform(0.8, 1.1)  # no hand turns exactly
        slip.read("frequency_error", off(n), mode=mode)
    assert abs(off(0)) <= 50
    assert abs(off(1)) <= 50


@pytest.mark.parametrize("seed", range(30))
def test_a_null_of_two_controls_is_left_only_where_neither_gains(seed):
    """The carrier that remains is the length of what two controls leave, each skewed against the other."""
    chance = random.Random(seed)
    skew = chance.uniform(-0.6, 0.6)
    at = [chance.uniform(-1, 1), chance.uniform(-1, 1)]

    def null() -> float:
        rest = (at[0] + skew * at[1]) ** 2 + at[1] ** 2
        return 20 - 10 * math.log10(rest + 1e-4)

    told = sequence(
        {"id": "a", "adjuster": "VR8", "upsets": ["b"], **NULL}, {"id": "b", "adjuster": "VR9", "upsets": ["a"], **NULL}
    )
    slip = Slip()
    for _ in range(40):
        standing = slip.standing(told)
        if standing.current is None:
            break
        n = "ab".index(standing.current)
        best = null()
        slip.read("carrier_suppression", best, mode="usb")
        step = chance.choice((-1, 1)) * TURN
        for _ in range(80):  # up the hill, past the top, and back to it
            standing = slip.standing(told)
            if standing.current != "ab"[n]:
                break
            if standing.steps[n].says.startswith("It changes nothing"):
                step *= 2  # a broad top: farther, until the meter moves
            at[n] += step
            slip.read("carrier_suppression", null(), mode="usb")
            if null() <= best:
                at[n] -= step
                slip.read("carrier_suppression", null(), mode="usb")
                step = -step
            best = max(best, null())
    assert standing.current is None
    stood = null()
    for n in range(2):
        for step in (-TURN, TURN):
            at[n] += step
            assert null() <= stood * 1.0101
            at[n] -= step


def test_typed_figures_say_which_way_and_a_pair_comes_again():
    slip = Slip()
    assert states(slip.standing(PAIR)) == ["open", "open"]
    slip.read("frequency_error", 410, mode="usb")
    assert slip.standing(PAIR).steps[0].says == "410 Hz too high: turn it and read again."
    slip.read("frequency_error", 600, mode="usb")
    assert slip.standing(PAIR).steps[0].says == "600 Hz too high: farther off, turn the other way."
    slip.read("frequency_error", 120, mode="usb")
    assert slip.standing(PAIR).steps[0].says == "120 Hz too high: nearer, go on."
    slip.read("frequency_error", -70, mode="usb")
    assert slip.standing(PAIR).steps[0].says == "70 Hz too low: you passed it, back a little."
    slip.read("frequency_error", -10, mode="usb")
    slip.read("frequency_error", -300, mode="lsb")
    slip.read("frequency_error", 5, mode="lsb")
    standing = slip.standing(PAIR)
    assert states(standing) == ["again", "in"]
    assert standing.current == "a"
    assert standing.steps[0].says == "L23 was turned since: read it again."
    slip.read("frequency_error", 20, mode="usb")
    standing = slip.standing(PAIR)
    assert standing.current is None
    assert standing.steps[0].times == 2
    assert how_it_ended(standing) == "Set-up ended: 2 of 2 stand right"


def test_a_turn_without_a_figure_asks_for_it_and_leaving_says_what_is_neither():
    slip = Slip()
    slip.read("frequency_error", 10, mode="usb")
    slip.read("frequency_error", 20, mode="lsb")
    slip.turn("L22", found="1/4 out")
    standing = slip.standing(PAIR)
    assert standing.steps[0].says == "Turned: what does it read now?"
    assert states(standing) == ["out", "again"]
    ended = how_it_ended(standing)
    assert "0 of 2 stand right" in ended
    assert "turned and not right: L22 (found 1/4 out), L23 (found 20)" in ended


def test_a_bound_the_sets_own_meter_and_too_wide_a_spread_prove_nothing():
    told = sequence(
        {"id": "p", "adjuster": "VR9", "read": "carrier_power", "aim": {"aim": "to", "value": 4, "allowed": 0.2}}
    )
    slip = Slip()
    slip.read("carrier_power", 3.9, instrument="own_meter")
    assert states(slip.standing(told)) == ["open"]
    slip.read("carrier_power", 4.0)
    slip.facts[-1] = slip.facts[-1].model_copy(update={"is_bound": True})
    assert states(slip.standing(told)) == ["open"]
    slip.read("carrier_power", 3.9)
    slip.facts[-1] = slip.facts[-1].model_copy(update={"uncertainty": 0.5})
    assert slip.standing(told).steps[0].says.startswith("Right, as far as ± 500 mW can tell")


def test_a_peak_is_where_it_fell_on_either_side_and_a_typed_series_is_a_turn():
    told = sequence({"id": "l14", "adjuster": "L14", "read": "carrier_power", "aim": {"aim": "most"}})
    slip = Slip()
    slip.read("carrier_power", 3.1)
    slip.turn("L14", found="3.1 W", passed=(3.1, 3.4, 3.6))
    slip.order += 1
    slip.read("carrier_power", 3.4)
    assert slip.standing(told).steps[0].says == "You passed it: best 3.6 W, back a little."
    slip.read("carrier_power", 3.6)
    assert slip.standing(told).steps[0].state == "in"
    flat = Slip()
    for value in (3.1, 3.1, 3.1):
        flat.read("carrier_power", value)
    assert flat.standing(told).steps[0].says.startswith("It changes nothing")


def test_ends_are_made_level_with_the_screw_for_the_low_end_named():
    ends = [{"channel": n} for n in (1, 20, 40)]
    told = sequence(
        {"id": "c", "adjuster": "L5", "read": "carrier_power", "at": ends, "aim": {"aim": "level", "share": 0.1}}
    )
    slip = Slip()
    for channel, watts in ((1, 3.9), (20, 3.8)):
        slip.read("carrier_power", watts, channel=channel)
    assert slip.standing(told).steps[0].says == "Read the other points too."
    assert slip.standing(told).steps[0].row.endswith(":2")
    slip.read("carrier_power", 3.2, channel=40)
    assert slip.standing(told).steps[0].says.startswith("Lowest at channel 40, 18 % under the highest")
    slip.turn("L5")
    assert slip.standing(told).steps[0].says == "Turned: what does it read now?"
    slip.order += 1
    for channel, watts in ((1, 3.7), (20, 3.8), (40, 3.6)):
        slip.read("carrier_power", watts, channel=channel)
    assert slip.standing(told).current is None


@given(st.lists(st.floats(-2000, 2000), min_size=1, max_size=12))
def test_a_figure_stands_right_only_within_what_is_allowed(figures):
    told = sequence({"id": "a", "adjuster": "TC1", **ERROR})
    slip = Slip()
    for value in figures:
        slip.read("frequency_error", value)
    assert (slip.standing(told).steps[0].state == "in") == (abs(figures[-1]) <= 50)


def test_a_step_that_is_left_out_holds_nothing_up():
    standing = Slip().standing(PAIR, frozenset({"a"}))
    assert standing.current == "b"
    assert standing.says == "0 of 2 stand right, 1 left out."


def test_a_point_that_the_plan_wants_is_the_plans_own_line():
    model = gear_of("cb-am-mobile", None, {})
    told = model.sequences[0]
    added = lines_of(told, model.plan)
    assert [row.id for row in added] == ["set-up:alignment:own-meter:0"]  # no line of a plan is of a set's own meter
    standing = set_up(Begun(told, 0), [], [], model.plan)
    (first, *_) = with_the_step(standing, model.plan, [])
    assert first.row.id == "frequency-19"
    assert first.row.ask.startswith("Reference trimmer")


OF_SENT = {"carrier_power", "peak_envelope_power"}


def test_what_ships_sets_bias_before_drive_frequency_before_deviation_and_power_last():
    shipped = [(name, s) for name in kinds() if (m := gear_of(name, None, {})) for s in m.sequences]
    assert len(shipped) >= 8
    for name, told in shipped:
        read = [step.read for step in told.steps]
        if "idle_current" in read:
            assert read.index("idle_current") == 0, name
        if "fm_deviation" in read and "frequency_error" in read:
            assert read.index("frequency_error") < read.index("fm_deviation"), name
        presets = [n for n, step in enumerate(told.steps) if step.id == "power"]
        after = [step.id for n in presets for step in told.steps[n + 1 :]]
        assert after in ([], ["own-meter"]), name
        rated = gear_of(name, None, {}).rated_w or 0
        for step in told.steps:
            if step.read == "carrier_power" and step.aim.aim == "to":
                assert step.aim.value + step.aim.allowed <= 1.06 * rated, name  # never above as a goal
            if step.read in OF_SENT:
                assert step.mind, (name, step.id)


@pytest.mark.parametrize(
    "spoilt",
    [
        {"upsets": ["nobody"]},
        {"read": "no_such_quantity"},
        {"aim": {"aim": "to", "value": float("nan"), "allowed": 1}},
        {"aim": {"aim": "to", "value": 1, "allowed": 0}},
        {"aim": {"aim": "wobble"}},
        {"at": [{"channel": 1}, {"channel": 2}]},
        {"id": "Ä b"},
        {"id": "x" * 25},
        {"adjuster": "x" * 61},
    ],
)
def test_a_spoilt_step_is_refused(spoilt):
    good = {"id": "a", "adjuster": "TC1", **ERROR}
    assert isinstance(Step.model_validate(good), Step)
    with pytest.raises((ValidationError, KeyError, ValueError)):
        sequence({**good, **spoilt})


def test_a_level_of_one_point_is_none():
    with pytest.raises(ValidationError):
        Step.model_validate(
            {"id": "a", "adjuster": "L1", "read": "carrier_power", "aim": Level(aim="level", share=0.1).model_dump()}
        )


def adjusted(order: int, words: str, adjuster: str, **more: str) -> tuple[int, StoryLine]:
    return order, StoryLine(kind="adjusted", words=words, adjuster=adjuster, **more)


def test_a_sequence_is_learnt_while_it_is_first_done():
    slip = Slip()
    slip.read("frequency_error", 8, mode="am", channel=19)  # 2
    slip.read("carrier_power", 3.9, mode="am", channel=40)  # 3
    slip.read("frequency_error", -12, mode="am", channel=19)  # 4
    slip.read("fm_deviation", 1900, mode="fm", channel=19)  # 5
    told = learnt(
        [
            adjusted(1, "TC1 1/4 in", "TC1"),
            adjusted(3, "l14 for max 3.9w", "L14"),
            adjusted(4, "tc1 again -12hz", "tc1"),
            adjusted(5, "vr5 2.4k to 1.9k", "VR5", value_found="2.4k"),
            adjusted(6, "vr9 a touch down", "VR9"),
        ],
        slip.facts,
        7,
    )
    assert [step.id for step in told.steps] == ["tc1", "l14", "vr5"]
    first, peak, last = told.steps
    assert (first.read, first.aim.value, first.aim.allowed) == ("frequency_error", 0, 100)
    assert peak.aim.aim == "most"
    assert peak.upsets == ("tc1",)
    assert (last.aim.value, last.aim.allowed) == (1900, 100)
    assert last.at[0].mode == "fm"
    assert told.source == "this shop, job 7"
    assert learnt([adjusted(1, "vr9 a touch down", "VR9")], slip.facts[:0], 7) is None
