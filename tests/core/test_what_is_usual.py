"""How usual a figure is, what may stand behind a name, and words that a finger mistyped."""

import tomllib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_unnamed_senses import behind
from young_spark.core.entry.believed.usual import FARTHEST, how_far
from young_spark.core.entry.facts.said import Said
from young_spark.core.figure import QUANTITIES
from young_spark.core.ground import SHIPPED

USUAL = tomllib.loads((SHIPPED / "entry" / "usual.toml").read_text())
LED_BY = tomllib.loads((SHIPPED / "entry" / "led_by.toml").read_text())


def test_every_range_and_every_name_is_of_a_quantity():
    for table in USUAL.values():
        assert table.keys() <= QUANTITIES.keys() and all(low < high for low, high in table.values())
    told = {name for names in LED_BY.values() for name in names}
    assert LED_BY.keys() | told <= QUANTITIES.keys()
    assert not any(name in others for name, others in LED_BY.items())


@pytest.mark.parametrize("quantity", ["carrier_power", "swr", "supply_voltage", "harmonic_2", "am_depth"])
@given(st.floats(1.0, 3.0), st.floats(1.0, 300.0))
@settings(max_examples=60, deadline=None)
def test_the_farther_from_what_was_read_the_less_usual(quantity, times, further):
    low, high = USUAL["absolute"][quantity]
    context = behind("hf-solid-state", "current-standby", quantity, min(max(50.0, low), high))
    last = context.earlier[-1].value
    assert how_far(Said(quantity, value=last), context) == 0
    near, far = (how_far(Said(quantity, value=last * factor), context) for factor in (times, times * further))
    assert 0 <= near <= far + 1e-9 <= FARTHEST + 1e-9
