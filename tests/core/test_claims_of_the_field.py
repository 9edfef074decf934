"""What the field claims to read, as classes over their range: counters and channels, oscillators by their frequency,
two parts with one result, mains taps, time that was spent, two units on one bench."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand
from young_spark.core.gear import gear_of
from young_spark.core.judging import channel_plans

AM_SSB = ground_of_kind("cb-am-ssb-mobile", "current-standby")
CHANNELS = [c for c in channel_plans()["us-27mhz"].channels if c.allowed]
PARTS = st.tuples(st.sampled_from(["q", "d", "r", "c", "v", "ic", "tr"]), st.integers(1, 99))


def taken(text, context=AM_SSB):
    meant = understand(text, context)
    return () if meant.chosen is None else meant.meanings[meant.chosen]


@given(
    channel=st.sampled_from(CHANNELS),
    off=st.integers(-2000, 2000),
    words=st.sampled_from(["{}", "usb {}", "{} lsb", "freq {}", "am {} ok", "now {}", "tc1 -> {}", "l22 netted {}"]),
)
def test_a_counter_says_the_channel_that_it_is_on(channel, off, words):
    """No hand stood on a channel: the plan's own line for channel 19 lends none to a counter on another."""
    meaning = taken(words.format(f"{(channel.hz + off) / 1e6:.5f}"))
    found = {r.quantity: (r.value, meaning.conditions_of(n).channel) for n, r in enumerate(meaning.readings)}
    value, stood = found["frequency_error"]
    assert stood == channel.number
    assert value == pytest.approx(off, abs=5.1)


@given(
    nominal=st.sampled_from([10.24, 10.695, 7.8, 38.4, 12.8, 21.855]),
    ppm=st.floats(-200, 200),
    words=st.sampled_from(
        [
            "{0} xtal {1}",
            "{0} mhz crystal reads {1}",
            "{0} mhz xtal {1} mhz",
            "the {0} osc is {1} mhz",
            "{0} xtal at {1}",
        ]
    ),
)
def test_an_oscillator_goes_by_its_frequency(nominal, ppm, words):
    """Several stand in a set: what was counted is of the one that is named by its figure."""
    counted = round(nominal * (1 + ppm * 1e-6), 5)
    meaning = taken(words.format(f"{nominal:g}", f"{counted:.5f}"))
    (reading,) = meaning.readings
    assert reading.quantity == "stage_frequency"
    assert reading.value == pytest.approx(counted * 1e6, rel=1e-7)
    assert f"{nominal:g}" in meaning.conditions_of(0).place


@given(
    one=PARTS,
    other=PARTS,
    link=st.sampled_from([" and ", " & ", ", ", " "]),
    result=st.sampled_from(["short", "open", "dead", "leaky"]),
)
def test_neither_of_two_parts_loses_its_result(one, other, link, result):
    names = ["".join(map(str, part)) for part in (one, other)]
    if names[0] == names[1]:
        return
    meaning = taken(f"{link.join(names)} {result}")
    if not meaning:
        assert "c" in {one[0], other[0]}  # asked about: no capacitor is dead
        return
    told = {meaning.conditions_of(n).place for n, r in enumerate(meaning.readings) if r.result or r.read_as}
    assert told == {name.upper() for name in names}


@given(
    volts=st.integers(100, 299),
    words=st.sampled_from(["{} tap: fil 6.21", "fil 6.21 on the {}v tap", "tap {}, fil 6.21"]),
)
def test_a_mains_tap_is_a_setting_and_no_volts(volts, words):
    meaning = taken(words.format(volts), ground_of_kind("valve-linear", "filament"))
    (reading,) = meaning.readings
    assert (reading.quantity, reading.value) == ("filament_voltage", 6.21)
    assert meaning.conditions_of(0).setting == f"{volts} V tap"


@given(
    amount=st.sampled_from(["2 hr", "1.5 hrs", "45 min", "1h20", "an hour", "0.5 hr", "90 minutes"]),
    words=st.sampled_from(["took {}", "{} labour", "done, {}, no parts", "bench time {}", "call it {}", "{} all in"]),
)
def test_time_that_was_spent_is_no_reading(amount, words):
    meant = understand(words.format(amount), AM_SSB)
    assert meant.chosen is None
    assert meant.question is None
    assert meant.story.kind == "did"
    assert meant.story.minutes


@pytest.mark.parametrize("kind", ["uhf-cb", "cb-am-mobile", "vhf-uhf-fm-mobile", "hf-solid-state"])
@pytest.mark.parametrize("number", ["#2", "unit 2", "radio 2", "rig 3"])
def test_another_unit_on_the_bench_answers_nothing_of_this_one(kind, number):
    row = gear_of(kind, None, {}).plan[0].id
    meaning = taken(f"{number} 3.8w", ground_of_kind(kind, row))
    assert meaning.conditions_of(0).item == f"unit {number[-1]}"


@given(low=st.floats(0.2, 2.5), high=st.floats(0.2, 2.5), bare=st.booleans())
def test_both_ends_of_a_clarifier_are_in_the_unit_that_is_said_once(low, high, bare):
    text = f"clarifier -{low:.2f}{'' if bare else 'k'} +{high:.2f}k"
    (reading,) = taken(text).readings
    assert reading.ends == (pytest.approx(-1000 * round(low, 2)), pytest.approx(1000 * round(high, 2)))
