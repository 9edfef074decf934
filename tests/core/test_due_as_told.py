"""What a hand says is due at a point is what its figures are held against, and no range of the kind calls them well."""

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import Earlier, understand
from young_spark.core.figure import Conditions
from young_spark.core.gear import gear_of
from young_spark.core.judging import TYPICAL

TOLD = [  # kind, line, text, what is said by whose word of the first figure
    ("cb-fm-handheld", "current-standby", "stby 210ma should be 45", ("fail", "told")),
    ("cb-fm-handheld", "current-standby", "stby 46ma should be 45", ("pass", "told")),
    ("cb-am-mobile", "current-standby", "q3 c 0v should be 8", ("fail", "told")),
    ("cb-am-mobile", "current-standby", "q3 c -7.8v should be -8", ("pass", "told")),
    ("cb-am-mobile", "power-am-19", "3.2w of 4", ("fail", "told")),
    ("cb-fm-handheld", "deviation-fm-20", "dev 2.4k limit 2", ("fail", "told")),
    ("cb-fm-handheld", "deviation-fm-20", "dev 0.4k limit 2", ("no_verdict", "told")),  # a limit says not what is due
    ("aerial-feeder", "swr-1", "swr 1.2 should be 1.5", ("pass", "told")),  # less of it is no fault
    ("aerial-feeder", "swr-1", "swr 2.1 should be 1.5", ("fail", "told")),
    ("transistor-linear", "harmonic-2", "2nd -41 should be -50", ("fail", "told")),
    ("transistor-linear", "harmonic-2", "2nd -63 should be -50", ("pass", "told")),
    ("cb-am-ssb-mobile", "frequency-19", "usb 27.20436 should be 27.205", None),  # a tenth of it says nothing
]


@pytest.mark.parametrize(("kind", "row", "text", "said"), TOLD, ids=[text for _, _, text, _ in TOLD])
def test_a_figure_is_held_against_what_the_hand_said(kind: str, row: str, text: str, said: tuple[str, str] | None):
    meant = understand(text, ground_of_kind(kind, row))
    assert meant.chosen is not None
    lines = meant.meanings[meant.chosen].verdicts[0]
    assert next(((v.verdict, v.profile) for v in lines if v.profile == "told"), None) == said


@pytest.mark.parametrize(("text", "said"), [("stby 46ma", "pass"), ("stby 60ma", "fail")])
def test_what_was_said_to_be_due_holds_for_what_is_read_there_later(text: str, said: str):
    ground = ground_of_kind("cb-fm-handheld", "current-standby")
    there = Conditions(state="standby", due=0.045)
    before = Earlier(quantity="supply_current", value=0.21, uncertainty=None, conditions=there, phase="as_received")
    meant = understand(text, ground.model_copy(update={"earlier": (before,)}))
    assert meant.meanings[0].verdicts[0][0].verdict == said


@pytest.mark.parametrize(
    ("kind", "fed_v", "planned_at"),
    [
        ("transistor-linear", 46.0, 46.0),
        ("transistor-linear", 12.4, 13.8),
        ("transistor-linear", 231.0, 13.8),  # the mains
        ("cb-am-mobile", 24.0, 13.2),
    ],
)
def test_what_makers_choose_the_volts_of_is_planned_at_what_was_read(kind: str, fed_v: float, planned_at: float):
    model = gear_of(kind, 100, {}, None, fed_v)
    assert model is not None
    assert {row.supply_v for row in model.plan if row.supply_v} == {planned_at}


@pytest.mark.parametrize("text", ["hum -38db should be -50", "hum -31 should be -44"])
def test_what_cannot_be_judged_by_what_was_said_is_not_called_well_by_what_is_typical(text: str):
    """The hand says that it is off: a wide range of the kind is no ground to call it within."""
    model = gear_of("valve-am-transmitter", None, {})
    assert model is not None and model.typical is not None
    ground = ground_of_kind("valve-am-transmitter", "hum").model_copy(update={"profiles": {TYPICAL: model.typical}})
    plain, told = (understand(t, ground).meanings[0].verdicts[0] for t in (text.split(" should")[0], text))
    assert {v.profile for v in plain} == {TYPICAL} and told == ()
