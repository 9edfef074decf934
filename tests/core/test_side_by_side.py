"""A unit beside others: which columns share an address, and when a difference is one."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.figure import Conditions
from young_spark.core.job import (
    ReadingFact,
    as_first_read,
    as_read_last,
    ghost,
    of_healthy_ones,
    of_other_boxes,
    of_the_unit,
    side_by_side,
)


def fact(order: int, quantity: str, value: float | None, spread: float | None = 0.1, **more: object) -> ReadingFact:
    row, phase, figure = more.pop("row", None), more.pop("phase", "as_received"), more.pop("figure", f"{value}")
    return ReadingFact(
        id=str(order), line=str(order), order=order, quantity=quantity, phase=phase, plan_row=row, value=value,
        uncertainty=spread, figure=figure, conditions=Conditions.model_validate(more),
    )  # fmt: skip


def test_now_and_as_it_came_and_the_sibling_stand_at_one_address():
    facts = [
        fact(1, "carrier_power", 1.9, mode="am", channel=19),
        fact(2, "carrier_power", 3.8, mode="am", channel=19, item="sibling"),
        fact(3, "carrier_power", 3.7, mode="am", channel=19, phase="as_left", item="load"),
        fact(4, "supply_current", 0.3, state="receive"),
    ]
    own = of_the_unit(facts)
    view = side_by_side([as_read_last("now", own), as_first_read("came in", own), *of_other_boxes(facts)])
    assert view.columns == ("now", "came in", "sibling")
    power = view.rows[0]
    assert power.where == "AM · channel 19"
    assert [c.figure for c in power.cells] == ["3.7", "1.9", "3.8"]
    assert [c.differs for c in power.cells] == ["", "2.9 dB less", ""]
    assert [c.figure if c else None for c in view.rows[1].cells] == ["0.3", "0.3", None]


def test_healthy_ones_stand_with_their_number_and_their_spread():
    own = [fact(1, "frequency_error", 410.0, 20.0, row="frequency-19", channel=19)]
    known = {"frequency-19": ghost([-40.0, -20.0, 0.0, 20.0, 40.0], "Hz")}
    view = side_by_side([as_read_last("now", own), of_healthy_ones("healthy here", known, own)])
    assert view.rows[0].cells[1].figure == "0 Hz, 5 units"
    assert view.rows[0].cells[1].differs == "−410 Hz"


def test_a_word_beside_a_figure_is_otherwise_and_what_stands_alone_is_no_row():
    own = [fact(1, "carrier_power", 3.8), fact(2, "swr", 1.2)]
    other = [fact(1, "carrier_power", None, None, figure="dead")]
    view = side_by_side([as_read_last("now", own), as_read_last("then", other), as_read_last("nothing", [])])
    assert view.columns == ("now", "then")
    assert [row.name for row in view.rows] == ["Carrier power"]
    assert view.rows[0].cells[1].differs == "otherwise"
    bound = [fact(1, "carrier_power", 3.0, None, figure="at most 3 W").model_copy(update={"is_bound": True})]
    view = side_by_side([as_read_last("now", own), as_read_last("then", bound)])
    assert view.rows[0].cells[1].differs == "otherwise"


@pytest.mark.parametrize("quantity", ["carrier_power", "supply_current", "frequency_error", "harmonic_2"])
@given(
    one=st.floats(0.1, 1e3), other=st.floats(0.1, 1e3), spreads=st.tuples(st.floats(0.001, 100), st.floats(0.001, 100))
)
def test_a_difference_is_one_only_beyond_both_spreads(quantity, one, other, spreads):
    view = side_by_side(
        [
            as_read_last("now", [fact(1, quantity, one, spreads[0])]),
            as_read_last("then", [fact(1, quantity, other, spreads[1])]),
        ]
    )
    assert (view.rows[0].cells[1].differs != "") == (abs(one - other) > math.hypot(*spreads))
