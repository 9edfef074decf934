"""Set up by the words of the slip alone, mis-set units of the simulated bench end in line."""

import asyncio

import pytest

from tests.bench.following import Bench, tally
from young_spark.bench.simulator.control import Control


@pytest.mark.parametrize("kind", ["mobile", "amplifier"])
def test_mis_set_units_end_in_line_by_the_words_of_the_slip(kind):
    """Cores that move each other, presets that spoil each other, tune and load: what ends is judged by the physics, not
    by what was read. `./spark bench --only setting-up` does a hundred, beside going round the sheet."""
    total = tally(kind, 20, rounds=False)
    assert total.outside == []


def test_hands_turn_what_the_unit_has_and_nothing_else():
    bench = Bench("mobile", 1)
    bench.unit.turn("TC1", 0.5)
    bench.unit.turn("TC1", 0.25)
    assert bench.unit.hands.turned == {"TC1": 0.75}
    bench.unit.turn("VR9", 99)
    assert bench.unit.hands.turned["VR9"] == 10
    with pytest.raises(ValueError, match="no adjuster 'Plate tuning' on this unit"):
        bench.unit.turn("Plate tuning", 0.5)
    bench.unit.set(kind="amplifier")
    assert bench.unit.hands.turned == {}  # another unit, and nobody turned anything


@pytest.mark.parametrize(
    "wanted", [{"turn": {"TC1": "far"}}, {"turn": {"C1": 1}}, {"turned": {"TC1": 99}}, {"drive_w": -1}]
)
def test_hands_are_told_what_they_cannot_do(wanted):
    unit = Bench("mobile", 1).unit
    before = unit.hands
    with pytest.raises(ValueError):
        asyncio.run(Control(unit, {}).do(wanted))
    assert unit.hands == before
