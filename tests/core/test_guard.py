"""The slip guard's questions: each asked when it should be, and silent when it should be."""

import pytest

from tests.core.test_entry_table import context
from young_spark.core.entry import Earlier, Expected, understand
from young_spark.core.figure import Conditions


def due(quantity: str, value: float, **changes: object):
    base = context(quantity, **{k: v for k, v in changes.items() if k in {"element_w", "pad_db"}})
    return base.model_copy(
        update={
            "expected": Expected(quantity=quantity, expected=value),
            **{k: v for k, v in changes.items() if k in {"earlier", "greatest_power_w"}},
        }
    )


def before(value: float, *, indication: bool = False, **chips: object):
    conditions = Conditions(mode="am", channel=19, **chips)
    return (
        Earlier(
            quantity="carrier_power",
            value=value,
            uncertainty=0.2,
            conditions=conditions,
            phase="as_received",
            indication_only=indication,
        ),
    )


CASES = [
    ("missing_minus", "6dbm", due("carrier_power", 4.0, pad_db=40.0), "-6dbm", due("carrier_power", 4.0, pad_db=40.0)),
    ("ten_decibels", "38w", due("carrier_power", 3.8), "3.6w", due("carrier_power", 3.8)),
    ("ten_decibels", "0.39w", due("carrier_power", 3.8), "2.0w", due("carrier_power", 3.8)),
    ("a_zero", "dev 20k", due("fm_deviation", 2000.0), "dev 2.2k", due("fm_deviation", 2000.0)),
    ("volts_for_watts", "13.6v", due("carrier_power", 3.8), "40vpp", due("carrier_power", 3.8)),
    (
        "other_path",
        "3.8w +10db",
        due("carrier_power", 3.8, earlier=before(3.8)),
        "3.8w",
        due("carrier_power", 3.8, earlier=before(3.8)),
    ),
    ("lowest_tenth", "4w el 1000", due("carrier_power", 4.0), "4w el 5", due("carrier_power", 4.0)),
    (
        "no_channel",
        "27.1751M",
        context("frequency_error", channel=None),
        "27.1850M",
        context("frequency_error", channel=None),
    ),
    (
        "meters_disagree",
        "own 12w",
        due("carrier_power", 3.8, earlier=before(3.8)),
        "own 4w",
        due("carrier_power", 3.8, earlier=before(3.8)),
    ),
    (
        "more_than_it_can",
        "60w",
        due("carrier_power", 3.8, greatest_power_w=4.0),
        "4w",
        due("carrier_power", 3.8, greatest_power_w=4.0),
    ),
]


@pytest.mark.parametrize(("code", "slip", "slipped", "fine", "steady"), CASES[:7] + CASES[8:])
def test_a_slip_is_asked_about_and_a_sound_figure_is_not(code, slip, slipped, fine, steady):
    asked = understand(slip, slipped)
    assert asked.chosen == 0, "a question of the guard never stops the hand"
    assert code in [g.code for g in asked.guards]
    assert code not in [g.code for g in understand(fine, steady).guards]


def test_a_frequency_on_no_channel_names_the_nearest_and_the_error():
    found = understand("27.2M", context("frequency_error", channel=19))  # 27.195 is one of the five skipped
    assert [g.text for g in found.guards if g.code == "no_channel"] == [
        "On no channel: 27.2 MHz is −5 kHz from channel 20."
    ]
    assert not understand("27.1851M", context("frequency_error", channel=19)).guards


def test_the_three_way_explainer_gives_the_worked_values():
    """100 to 150 W on audio is crest depth 22 %, or depth 100 %, or a shift of +22 %: no depth without the detector."""
    unknown = understand("swing 100 -> 150w", context())
    assert unknown.meanings[0].readings[0].value is None
    assert all(words in unknown.meanings[0].readings[0].working for words in ("= 22.47 %", "= 100 %"))
    peak, mean, average = (
        understand("swing 100 -> 150w", context(detector=d)).meanings[0].readings[0]
        for d in ("peak", "true_mean", "average_envelope")
    )
    assert (peak.quantity, mean.quantity, average.quantity) == ("am_depth_positive", "am_depth", "carrier_shift")
    assert (peak.value, mean.value, average.value) == pytest.approx((22.474, 100.0, 22.474), abs=1e-3)
    assert any(
        "downward" in remark
        for remark in understand("swing 4 -> 3w", context(detector="average_envelope")).meanings[0].readings[0].remarks
    )


def test_the_own_meter_is_an_indication_and_gets_no_verdict():
    found = understand("own 4w", context("carrier_power")).meanings[0]
    assert {v.verdict for v in found.verdicts[0]} == {"no_verdict"}
    assert "indication only" in found.verdicts[0][0].reason


def test_a_line_of_words_that_holds_a_figure_of_the_bench_says_so():
    folds = understand("heats up then folds back to 28w", context("carrier_power", channel=19))
    assert folds.story is not None and folds.story.kind == "note"
    assert [g.text for g in folds.guards] == ["Kept as words: 28 W stands in no table and no sum."]
    for text in ("replaced r2 with a 47 ohm 2w resistor", "note folds back to 28w", "lamp flickers"):
        assert not understand(text, context("carrier_power", channel=19)).guards, text
