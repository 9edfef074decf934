"""A mapped selector: where each position really is, and what may not be transmitted on."""

import pytest

from young_spark.core.gear import models
from young_spark.core.job.plans import on_allowed_channels
from young_spark.core.judging import BadSelector, channel_plans, mapped, read_selector
from young_spark.core.measures.quick_sums import QUICK_SUMS

US = channel_plans()["us-27mhz"]


def test_a_position_is_where_the_map_says_and_the_rest_as_in_the_plan():
    plan = mapped(US, read_selector("1 27.415\n2: 26,975 MHz\n\n41 27.605"))
    assert plan is not None
    first, second, third, last = (plan.by_number(n) for n in (1, 2, 3, 41))
    assert (first.hz, first.allowed) == (27.415e6, False) and "on no channel of US 27 MHz" in first.remark
    assert (second.hz, second.allowed, second.remark) == (26.975e6, True, "channel 2")
    assert third == US.by_number(3) and not last.allowed


def test_a_position_on_a_barred_channel_of_the_plan_is_barred_with_its_reason():
    au = channel_plans()["au-uhf-cb"]
    barred = next(c for c in au.channels if not c.allowed)
    plan = mapped(au, read_selector(f"5 {barred.hz / 1e6}"))
    assert plan is not None and not plan.by_number(5).allowed and str(barred.number) in plan.by_number(5).remark


def test_sweeps_leave_out_what_may_not_be_transmitted_on():
    rows = models()["tarnbeck-m27"].plan
    assert {1, 19, 40} <= {r.channel for r in rows}
    left = on_allowed_channels(rows, mapped(US, read_selector("1 26.500\n40 27.405")))
    assert {r.id for r in rows} - {r.id for r in left} == {r.id for r in rows if r.channel == 1}


def test_without_a_plan_a_map_is_all_there_is():
    assert mapped(None, ()) is None and mapped(US, ()) is US
    plan = mapped(None, read_selector("1 28.305"))
    assert plan is not None and plan.by_number(1).allowed and len(plan.channels) == 1


@pytest.mark.parametrize(("text", "words"), [
    ("1 27.185\nsix 27.2", "line 2 of the selector: 'six 27.2'"),
    ("1 27.185\n1 27.195", "line 2 of the selector: position 1 stands there twice"),
    ("1 27185000000", "expected 0.01 to 10000"),
    ("1", "line 1 of the selector"),
])  # fmt: skip
def test_a_map_that_is_not_understood_names_its_line(text, words):
    with pytest.raises(BadSelector, match=words):
        read_selector(text)


def answer(name, value):
    return next(s for s in QUICK_SUMS if s.id == name).answer(value)


def test_which_channel_is_this_both_ways():
    told = {line.name: line for line in answer("which-channel", 27.18507)}
    assert told["US 27 MHz, 40 channels: channel 19"].working == "27.185070 − 27.185 MHz = +70 Hz"
    assert any("27.185" in line.working for name, line in told.items() if name.startswith("CEPT"))
    none = answer("which-channel", 27.5)
    assert len(none) == 1 and none[0].name.startswith("On no channel; nearest")
    places = {line.name: line.value for line in answer("where-channel", 1)}
    assert places["US 27 MHz, 40 channels"] == 26.965e6 and places["AU UHF CB, 80 channels"] == 476.425e6
    with pytest.raises(ValueError, match="channel is 900"):
        answer("where-channel", 900)


@pytest.mark.parametrize("plan", channel_plans().values(), ids=channel_plans())
def test_every_channel_is_found_again_by_its_frequency(plan):
    for channel in plan.channels:
        lines = answer("which-channel", (channel.hz + 40) / 1e6)
        assert any(
            line.name == f"{plan.title}: channel {channel.number}" and line.value == channel.hz for line in lines
        )
