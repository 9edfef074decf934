"""Bare figures that nothing names: the likeliest quantity is offered first, and none is taken that is unusual here."""

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import Earlier, understand
from young_spark.core.figure import Conditions


def behind(kind, row, quantity, value):
    """The slip of a kind with one reading behind the hand."""
    last = Earlier(quantity=quantity, value=value, uncertainty=None, conditions=Conditions(), phase="in_work")
    return ground_of_kind(kind, row).model_copy(update={"earlier": (last,)})


# a text behind a reading, with the line that is wanted now, and the quantity that is likeliest
# fmt: off
CASES = [
    ("40m 102, 15m 96, 10m 88", "hf-solid-state", "harmonic-2-14m2", "carrier_power", 100.0, "carrier_power"),
    ("lsb 22 usb 21", "ten-metre-mobile", "suppression-usb-19", "peak_envelope_power", 22.0, "peak_envelope_power"),
    ("after 4 min 60, after 6 min 20", "hf-solid-state", "current-standby", "carrier_power", 100.0, "carrier_power"),
]
# fmt: on


@pytest.mark.parametrize(("text", "kind", "row", "last", "value", "likeliest"), CASES)
def test_the_likeliest_comes_first_and_is_asked_about(text, kind, row, last, value, likeliest):
    meant = understand(text, behind(kind, row, last, value))
    assert meant.chosen is None and meant.choices
    first = meant.meanings[meant.choices[0].sense or 0]
    assert {reading.quantity for reading in first.readings} - {"power_fade"} == {likeliest}


@pytest.mark.parametrize(("text", "row"), [("4.1", "power-am-1"), ("85", "depth-am-19"), ("-62", "harmonic-2-19")])
def test_what_is_usual_on_the_current_line_is_taken_without_asking(text, row):
    context = behind("cb-am-mobile", row, "supply_current", 0.3)
    meant = understand(text, context)
    assert meant.chosen is not None and meant.meanings[0].readings[0].quantity == context.expected.quantity
