"""Limit profiles: the shipped rows as the rules state them, masks and formulas, bounds, bad files."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_entry_table import context
from young_spark.core.analysis import Plot
from young_spark.core.analysis.marks import mask_marks
from young_spark.core.analysis.options import PlotLine, PlotMark
from young_spark.core.entry import understand
from young_spark.core.figure import QUANTITIES, Measured, Verdict, instrument_classes
from young_spark.core.gear import kinds, models
from young_spark.core.ground import BadKnowledge, OutOfDomain, parse
from young_spark.core.job import dependencies
from young_spark.core.judging import (
    TYPICAL,
    Profile,
    Situation,
    applies,
    channel_plans,
    judge_reading,
    profiles,
    resolve,
    row_words,
    verdict_sentence,
    verdict_words,
)
from young_spark.core.judging.limits import judge_against

US = {"us-27mhz": profiles()["us-27mhz"]}


def reading(quantity: str, value: float, **more: object) -> Measured:
    facts = {"uncertainty": 1e-9, "method": "", "working": "", "unit": QUANTITIES[quantity].unit} | more
    return Measured(quantity=quantity, value=value, **facts)


def verdicts(found: Measured, chosen=US, **situation: object) -> dict[str, str]:
    return {
        line.row: line.verdict.value
        for line in judge_reading(found, chosen, Situation(**{"mode": "am", "assigned_hz": 27.185e6, **situation}))
    }


@pytest.mark.parametrize(
    ("quantity", "inside", "outside", "row"),
    [
        ("frequency_error", 1359.2, 1359.3, "frequency"),  # 50 ppm of 27.185 MHz is 1359.25 Hz
        ("frequency_error", -1359.2, -1359.3, "frequency"),
        ("am_depth", 85.1, 84.9, "am-depth"),
        ("am_depth_positive", 99.9, 100.1, "am-crest"),
        ("am_depth_negative", 99.9, 100.1, "am-trough"),
    ],
)
def test_the_edges_of_the_us_rows(quantity, inside, outside, row):
    assert verdicts(reading(quantity, inside))[row] == "pass"
    assert verdicts(reading(quantity, outside))[row] == "fail"


def test_fm_and_ssb_have_their_own_rows():
    assert verdicts(reading("fm_deviation", 2001), mode="fm") == {"fm-deviation": "fail"}
    assert verdicts(reading("peak_envelope_power", 12.1), mode="usb") == {"pep-ssb": "fail"}
    assert verdicts(reading("peak_envelope_power", 12.1), mode="am") == {}


@pytest.mark.parametrize(
    ("quantity", "value", "mode"),
    [("carrier_power", 0.1, "am"), ("peak_envelope_power", 11.9, "usb"), ("fm_deviation", 300, "fm")],
)
def test_under_a_limit_is_not_within_where_nothing_says_what_is_due(quantity, value, mode):
    (line,) = judge_reading(reading(quantity, value), US, Situation(mode=mode, assigned_hz=27.185e6))
    assert line.verdict is Verdict.NO_VERDICT and line.only_under
    assert verdict_words(line).startswith("Under the limit of ")
    assert "nothing says what is due" in (verdict_sentence(reading(quantity, value), (line,)) or "")


def test_nothing_at_all_is_outside_where_something_is_due():
    none = reading("carrier_power", 0, result="none").model_copy(update={"value": None, "uncertainty": None})
    assert verdicts(none) == {"carrier-power-am-fm": "fail"}
    ok = none.model_copy(update={"result": "ok"})
    assert verdicts(ok) == {"carrier-power-am-fm": "no_verdict"}


@pytest.mark.parametrize(
    ("offset", "ceiling"),
    [(4000, -25), (7999, -25), (8000, -35), (19999, -35), (20001, -59.0206)],  # beyond: −(53 + 10·log10 4)
)
def test_the_emission_mask_and_what_lies_beyond_it(offset, ceiling):
    for side in (1, -1):
        at = 27.185e6 + side * offset
        assert set(verdicts(reading("spurious_worst", ceiling - 0.01, at_hz=at), carrier_w=4.0).values()) == {"pass"}
        assert "fail" in verdicts(reading("spurious_worst", ceiling + 0.01, at_hz=at), carrier_w=4.0).values()


@given(st.floats(0.01, 100))
def test_53_plus_10_log_p_is_minus_23_dbm_whatever_the_power(watts):
    import math

    edge = -23 - (10 * math.log10(watts) + 30)
    for dbc, verdict in ((edge - 1e-6, "pass"), (edge + 1e-6, "fail")):
        assert verdicts(reading("harmonic_3", dbc, uncertainty=0.0), carrier_w=watts)["harmonics-power"] == verdict


def test_a_limit_that_needs_the_carrier_refuses_in_words_without_it():
    line = next(
        v for v in judge_reading(reading("harmonic_2", -70.0), US, Situation(mode="am")) if v.row == "harmonics-power"
    )
    assert line.verdict is Verdict.NO_VERDICT and line.reason == "this limit needs the carrier power: measure it first"


@pytest.mark.parametrize(
    ("bound", "value", "low", "high", "verdict"),
    [
        ("upper", -74, float("-inf"), -60, "pass"), ("upper", -50, float("-inf"), -60, "no_verdict"),
        ("upper", 0.02, 3.6, 4.0, "fail"),
        ("lower", 5, float("-inf"), 4, "fail"), ("lower", 50, 40, float("inf"), "pass"),
        ("lower", 30, 40, float("inf"), "no_verdict"),
    ],
)  # fmt: skip
def test_a_bound_is_judged_only_where_it_lies_wholly_inside_or_outside(bound, value, low, high, verdict):
    assert judge_against(reading("harmonic_2", value, bound=bound, uncertainty=None), low, high)[0] == verdict


def test_a_figure_that_bounces_is_judged_at_its_worse_end():
    found = understand("3.4..3.9w el 5", context("carrier_power")).meanings[0]
    maker = next(v for v in found.verdicts[0] if v.kind == "specification")
    assert maker.verdict is Verdict.FAIL_CLOSE  # 3.4 W ± 0.24 against 3.6 W


@pytest.mark.parametrize(
    ("value", "uncertainty", "verdict"),
    [
        (0.0, 25.0, Verdict.PASS_CLOSE),  # of 20 on either side
        (0.0, 41.0, Verdict.NO_VERDICT),
        (25.0, 50.0, Verdict.NO_VERDICT),
        (100.0, 50.0, Verdict.FAIL),
    ],
)
def test_no_verdict_where_the_spread_is_far_wider_than_all_that_is_allowed(value, uncertainty, verdict):
    told, reason = judge_against(reading("frequency_error", value, uncertainty=uncertainty), -20.0, 20.0)
    assert told is verdict and (reason is not None) == (verdict is Verdict.NO_VERDICT)


def test_the_maker_and_the_rule_are_kept_apart():
    """1.9 W from a 4 W set breaks no rule and is still a fault."""
    lines = {v.kind: v.verdict.value for v in understand("1.9w el 5", context("carrier_power")).meanings[0].verdicts[0]}
    assert lines == {"specification": "fail", "regulation": "pass"}


@pytest.mark.parametrize(
    ("text", "line", "sentence"),
    [
        ("2.6w el 5", "carrier_power", "Low. Nothing forbids it, but the maker says 3.6 W to 4 W."),
        ("4.6w el 5", "carrier_power", "High: the rule says at most 4 W. Check it locally."),
        ("3.8w el 5", "carrier_power", "Within, at most 4 W; the spread reaches over."),
        ("3.4..3.9w el 5", "carrier_power", "Low. Nothing forbids it, but the maker says 3.6 W to 4 W."),
        ("+500hz", "frequency_error", "Allowed; this shop sets it within ± 200 Hz."),
        ("own 4w", "carrier_power", "No verdict: indication only: the unit's own meter."),
        ("+20hz", "frequency_error", None),
    ],
)
def test_the_verdicts_come_to_one_sentence_of_the_trade(text, line, sentence):
    meaning = understand(text, context(line)).meanings[0]
    assert verdict_sentence(meaning.readings[0], meaning.verdicts[0]) == sentence


def test_one_decibel_around_100_watts_is_79_4_to_125_9():
    hf = {"sheet": profiles()["sheet-corrie-q100"]}
    for watts, verdict in ((79.5, "pass"), (79.3, "fail"), (125.8, "pass"), (126.0, "fail")):
        assert verdicts(reading("carrier_power", watts), hf, mode="cw")["power"] == verdict


def test_channel_plans_as_published():
    us, uk = channel_plans()["us-27mhz"], channel_plans()["uk-27-81"]
    assert (len(us.channels), us.by_number(1).hz, us.by_number(40).hz, us.by_number(19).hz) == (
        40,
        26.965e6,
        27.405e6,
        27.185e6,
    )
    assert [us.by_number(n).hz for n in (22, 23, 24, 25, 26)] == [
        27.225e6,
        27.255e6,
        27.235e6,
        27.245e6,
        27.265e6,
    ]  # 47 CFR 95.963
    assert not {26.995e6, 27.045e6, 27.095e6, 27.145e6, 27.195e6} & {c.hz for c in us.channels}
    assert (uk.by_number(1).hz, uk.by_number(20).hz, uk.by_number(40).hz) == (
        27.60125e6,
        27.79125e6,
        27.99125e6,
    )  # MPT 1320
    marine = channel_plans()["itu-marine-vhf"]  # ITU Radio Regulations, Appendix 18
    told = {6: 156.3e6, 16: 156.8e6, 28: 157.4e6, 60: 156.025e6, 70: 156.525e6, 77: 156.875e6, 88: 157.425e6}
    assert {n: marine.by_number(n).hz for n in told} == told
    assert us.nearest(27.18498e6) == (us.by_number(19), pytest.approx(-20))
    with pytest.raises(OutOfDomain, match="1 to 40"):
        us.by_number(41)


BROKEN = """title = "x"
kind = "regulation"
version = "1"
source = "s"

[[rows]]
id = "good"
quantity = "swr"
type = "range"
high = 2
source = "s"
date = "2020"

[[rows]]
id = "bad"
quantity = "carier_power"
type = "range"
high = 2
source = "s"
date = "2020"
"""


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (BROKEN, r"line 14: rows.1 .*carier_power.*did you mean 'carrier_power'"),
        (BROKEN.replace("carier", "carrier").replace('high = 2\nsource '
'= "s"\ndate = "2020"\n\n', 'high = "two"\nsource '
'= "s"\ndate = "2020"\n\n', 1), r"line 10: rows.0.high"),
        (BROKEN.replace("carier", "carrier").replace("high = 2", "high = 2\nhihg = 3", 1), r"rows.0.hihg"),
        ("title = \nkind = 1", r"line 1"),
    ],
)  # fmt: skip
def test_a_broken_profile_is_refused_with_its_line(text, words):
    with pytest.raises(BadKnowledge, match=words):
        parse(text, "mine.toml", Profile)


def test_every_shipped_file_loads_and_names_only_what_exists():
    areas = dependencies().areas
    for name, model in models().items():
        assert set(model.profiles) <= set(profiles()), name
        assert all(row.quantity in QUANTITIES for row in model.plan), name
        assert len({row.id for row in model.plan}) == len(model.plan), name
        assert all(stage.area in areas for stage in model.stages), name
        assert model.channel_plan is None or model.channel_plan in channel_plans()
    assert all(row.source and row.date for p in profiles().values() for row in p.rows)
    assert len([m for m in models().values() if not m.generic]) == 6 and instrument_classes()


@pytest.mark.parametrize(
    ("at_hz", "dbm"), [(54.37e6, -54), (81.555e6, -36), (108.74e6, -54), (190.3e6, -54), (300e6, -36), (2e9, -30)]
)
def test_cept_spurious_is_judged_by_the_band_it_falls_in(at_hz, dbm):
    row = next(r for r in profiles()["cept-27mhz"].rows if r.id == "harmonics")
    at = Situation(assigned_hz=27.185e6, carrier_w=4.0)
    assert resolve(row, at, at_hz)[1] == pytest.approx(dbm - 36.0206, abs=1e-3)  # 4 W is +36.02 dBm


def test_small_amateur_gear_at_vhf_has_limits_of_its_own():
    rows = {r.id: r for r in profiles()["us-amateur"].rows}
    small, large = Situation(assigned_hz=145e6, carrier_w=5.0), Situation(assigned_hz=145e6, carrier_w=50.0)
    assert [applies(rows["harmonics-vhf-small"], s) for s in (small, large)] == [True, False]
    assert resolve(rows["harmonics-vhf-small"], small)[1] == pytest.approx(
        -16.02 - 36.99, abs=0.01
    )  # 25 µW is less than 40 dB down
    assert not applies(rows["harmonics-hf"], small) and applies(rows["harmonics-vhf"], large)


@pytest.mark.parametrize(
    ("plan", "number", "hz"),
    [
        ("au-uhf-cb", 1, 476.425e6),
        ("au-uhf-cb", 40, 477.4e6),
        ("au-uhf-cb", 41, 476.4375e6),
        ("au-uhf-cb", 80, 477.4125e6),
        ("cept-27mhz", 23, 27.255e6),
        ("cept-27mhz", 40, 27.405e6),
    ],
)
def test_channels_both_ways(plan, number, hz):
    assert (
        channel_plans()[plan].by_number(number).hz == hz and channel_plans()[plan].on_channel(hz + 300).number == number
    )
    assert not channel_plans()["au-uhf-cb"].by_number(62).allowed


def test_every_shipped_row_reads_as_words_with_a_unit():
    words = {row.id: row_words(row) for row in profiles()["us-27mhz"].rows}
    assert words["carrier-power-am-fm"] == "at most 4 W" and words["frequency"] == "within ± 50 ppm"
    assert words["close-in-am-fm"].startswith("4 kHz to 8 kHz off the carrier: −25 dBc; 8 kHz to 20 kHz")
    assert words["far-out-am-fm"] == "53 dB + 10·log10 P below the carrier, from 20 kHz off on"
    for profile in profiles().values():
        for row in profile.rows:
            assert "None" not in row_words(row) and len(row_words(row)) > 4


def test_a_mask_lies_where_it_would_be_seen_behind_the_path():
    """A path that takes 6 dB more each octave: a line that stands on the mask at the unit stands on it in the plot,
    too."""
    hz = tuple(np.linspace(20e6, 120e6, 400).tolist())
    plot = Plot(
        "frequency, Hz", "dBm", (PlotLine("trace", hz, (-70.0,) * 400),), (PlotMark("carrier", 27.185e6, -10.0),)
    )
    at = Situation(mode="am", assigned_hz=27.185e6, carrier_w=4.0)

    def loss(at_hz):
        return 40.0 + 20 * math.log10(at_hz / 27.185e6)

    def ceiling(marks, at_hz):
        return min(m.y for m in marks if m.x_from < at_hz <= m.x_to)

    plain, behind = mask_marks(plot, US, at, lambda _: 40.0), mask_marks(plot, US, at, loss)
    assert plain == mask_marks(plot, US, at, lambda _: None)
    for where in (20.1e6, 26e6, 27.3e6, 40e6, 54.37e6, 81e6, 119e6):
        more = loss(where) - loss(27.185e6)
        assert ceiling(behind, where) == pytest.approx(ceiling(plain, where) - more, abs=0.5)
    assert len(behind) < 100


def test_what_is_typical_of_a_kind_is_no_makers_word():
    unit = kinds()["cb-am-mobile"].as_model("cb-am-mobile")
    weak = reading("carrier_power", 0.1)
    lines = judge_reading(weak, {TYPICAL: unit.typical}, Situation(mode="am"))
    assert lines[0].verdict is Verdict.FAIL
    sentence = verdict_sentence(weak, lines)
    assert sentence == "Low. Such a set gives 2.8 W to 4.52 W: typical of the kind." and "maker" not in sentence


@pytest.mark.parametrize(
    ("at_hz", "level", "says"),
    [
        (14.2e6, -48, {"pass"}),  # 43 dB below 30 MHz, 60 dB above it (47 CFR 97.307)
        (145e6, -48, {"fail"}),
        (None, -48, {"no_verdict"}),  # nobody said which
        (None, -66, {"pass"}),  # enough for either
        (None, -36, {"fail"}),  # and for neither
    ],
)
def test_where_bands_part_and_nobody_said_which_there_is_no_verdict(at_hz, level, says):
    amateur = {"us-amateur": profiles()["us-amateur"]}
    assert set(verdicts(reading("harmonic_2", level), amateur, assigned_hz=at_hz, carrier_w=500.0).values()) == says
