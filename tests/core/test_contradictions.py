"""Sources of a model that cannot both be right are told, and no others."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.figure import Verdict
from young_spark.core.judging import Healthy, VerdictLine, contradictions


def line(low: float | None, high: float | None, source: str = "the kind") -> VerdictLine:
    told = {"kind": "specification", "row": "power", "words": f"{low} to {high}", "unit": "W", "confidence": "typical"}
    return VerdictLine(
        **told, low=low, high=high, verdict=Verdict.NO_VERDICT, source=source, profile="typical", version="1"
    )


@pytest.mark.parametrize(
    ("due", "limits", "healthy", "said"),
    [
        (3.2, [line(3.4, 4.2)], None, "Due 3.2 W, against 3.4 to 4.2 (the kind)."),
        (4.3, [line(3.4, 4.2)], None, "Due 4.3 W, against 3.4 to 4.2 (the kind)."),
        (None, [line(5.0, None, "maker"), line(None, 4.0, "law")], None, "No figure meets both"),
        (3.8, [], Healthy(median=2.5, half_spread=0.1, units=3), "against 2.5 W that 3 units left here with."),
    ],
)
def test_what_cannot_both_be_right_is_told(due, limits, healthy, said):
    (sentence,) = contradictions(due, "W", limits, healthy)
    assert said in sentence


@given(low=st.floats(0.1, 10), width=st.floats(0, 10), share=st.floats(0, 1), spread=st.floats(0, 2))
def test_a_due_figure_between_its_limits_and_among_its_units_contradicts_nothing(low, width, share, spread):
    due = min(low + share * width, low + width)
    left = Healthy(median=due, half_spread=spread, units=5)
    assert contradictions(due, "W", [line(low, low + width), line(None, low + width, "law")], left) == ()


def test_one_unit_alone_or_an_error_of_frequency_contradicts_nobody():
    assert contradictions(3.8, "W", [], Healthy(median=1.0, half_spread=None, units=1)) == ()
    assert contradictions(0.0, "Hz", [], Healthy(median=90.0, half_spread=None, units=4)) == ()
