"""Figures while something is turned, and tests in which nothing failed: what the hand is told. Sums by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.entry import EntryContext, Expected, StoryLine, understand
from young_spark.core.entry.lines.turned_series import turned_series_in
from young_spark.core.figure import Conditions, tries_in, tries_needed, what_it_rules_out
from young_spark.core.figure.exit_test import share_ruled_out
from young_spark.core.job.story import ToldLine, draft

AT_CHANNEL_19 = EntryContext(
    conditions=Conditions(channel=19, mode="am"), expected=Expected(quantity="carrier_power"), greatest_power_w=6
)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("l14 3.1 3.4 3.6 3.5w", "You passed it: best 3.6 W, back a little."),
        ("core 3.1 3.4 3.3 3.2w", "You passed it: best 3.4 W, back to there."),
        ("l14: 3.1, 3.4, 3.6, 3.8w", "Still getting better: go on. Best so far 3.8 W."),
        ("vr1 3.5 3.5 3.5w", "It changes nothing: put it back where it was."),
        ("l5 swr 2.1 1.6 1.3 1.3", "Best 1.3: leave it there."),
        ("ct1 +300 +120 +20 -60 hz", "You passed it: best 20 Hz, back a little."),
    ],
)
def test_the_best_of_a_series_is_told_and_what_to_do(text, says):
    assert turned_series_in(text).says() == says
    assert understand(text, AT_CHANNEL_19).guards[0].text == says


def test_a_series_files_the_turn_and_what_was_read_last():
    meant = understand("l14 3.1 3.4 3.6 3.5", AT_CHANNEL_19)
    assert (meant.story.adjuster, meant.story.value_found, meant.story.value_left) == ("L14", "3.1", "3.5")
    (reading,) = meant.meanings[meant.chosen].readings
    assert (reading.quantity, reading.value) == ("carrier_power", 3.5)
    for text in ("ch1 3.5 3.6 3.7", "c7 10 22 47", "3.1 3.4 3.6 3.5"):
        assert turned_series_in(text) is None


@given(st.integers(1, 2000))
def test_what_is_ruled_out_would_have_stayed_away_once_in_a_hundred(tries):
    """(1 − p)ⁿ = 1 %, and the other way round."""
    p = share_ruled_out(tries)
    assert (1 - p) ** tries == pytest.approx(0.01, rel=1e-9)
    if p < 0.9:
        assert tries_needed(1 / p) in {tries, tries + 1}


def test_a_fault_that_shows_once_in_five_needs_twenty_one_tries():
    assert tries_needed(5) == 21 and tries_needed(100) == 459
    assert what_it_rules_out(21).startswith("21 without a failure: a fault that shows once in 5 would have shown")
    assert "once in 100 needs 459 tries and is not excluded" in what_it_rules_out(21)
    assert "not excluded" not in what_it_rules_out(500)


@pytest.mark.parametrize(
    ("text", "tries"),
    [
        ("tapped 20 times ok", 20), ("keyed 30 times no fail", 30), ("12 keydowns on ch19 no drop", 12),
        ("30 keys cold all held", 30), ("50 keyings all released", 50), ("held 3 minutes", None),
        ("20 taps all good", 20), ("sql ok", None), ("keyed 3.8w ok", None), ("tapped it, dead 3 times of 20", None),
    ],
)  # fmt: skip
def test_a_test_is_told_from_what_is_not_one(text, tries):
    assert tries_in(text) == tries


def test_the_report_says_what_a_test_rules_out_and_a_turn_without_figures_stays_words():
    told = [
        ToldLine(id="a", line=StoryLine(kind="found", words="tapped 20 times ok")),
        ToldLine(id="b", line=StoryLine(kind="adjusted", words="trimmed to frequency")),
    ]
    sentences = {s.key: (s.section, s.text) for s in draft("the set", told, (), ())}
    section, text = sentences["test-a"]
    assert section == "result" and text.startswith("Tapped 20 times ok. 20 without a failure: a fault that shows once")
    assert sentences["adjusted-b"] == ("done", "Trimmed to frequency.") and "found-a" not in sentences


def test_a_text_of_many_adjusters_is_not_read_over_and_over():
    """Each end of it holds another adjuster with an end; 2000 signs of that once took longer than a day."""
    text = ("if trafo 2 peaked, sens 14 1.4uv " * 70)[:2000]
    meant = understand(text, EntryContext())
    assert meant.story is not None or meant.question is not None
