"""A unit that is said once for a row of figures and points means what it means said each time, and moves no figure."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_texts_of_kinds import ground_of_kind
from tests.core.test_ways_to_write import read_of
from young_spark.core.entry import understand
from young_spark.core.entry.rows.figures_at_places import figures_at_places
from young_spark.core.entry.rows.form_of_all import form_of_all

SET = ground_of_kind("vhf-uhf-fm-mobile", "current-standby")


@given(st.integers(11, 49), st.integers(11, 49))
def test_volts_at_two_frequencies_are_the_same_said_once_or_twice(low, high):
    once, twice = (f"vco {low / 10}v at 144{mark}{high / 10}{unit} at 148" for mark, unit in ((" ", ""), (", ", "v")))
    read = read_of(understand(once, SET))
    assert read is not None and read == read_of(understand(twice, SET))
    assert [(figure, dict(where)["frequency_hz"]) for _, figure, where in read] == [
        (f"{low / 10:.5g}", "144000000.0"), (f"{high / 10:.5g}", "148000000.0"),
    ]  # fmt: skip


@pytest.mark.parametrize(
    "typed",
    [
        "13.8v 20.5a at 14.2, 19 at 3.7",  # two figures at the first point
        "4.1v at 144",  # one pair
        "98w at 14.2, 20a at 14.2",  # of two units
        "98w at 14.2 0.4 at 7.1",  # beyond one of a kind
    ],
)
def test_another_row_stays_as_it_was_typed(typed):
    assert figures_at_places(typed) == typed


def test_the_form_of_the_first_is_of_stages_only():
    assert form_of_all("osc 3.2v pp, buffer 4.1") == "osc 3.2v pp, buffer 4.1v pp"
    for typed in ("osc 3.2v, buffer 4.1", "osc 3.2v pp, 4.1", "osc 3.2v pp, buffer 4.1v"):
        assert form_of_all(typed) == typed
