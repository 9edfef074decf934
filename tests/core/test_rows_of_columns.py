"""Rows of bands with watts and amps: every figure stands at its band, whatever line is wanted, and none becomes
another quantity."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_texts_of_kinds import ground_of_kind
from tests.core.test_unnamed_senses import behind
from young_spark.core.entry import understand
from young_spark.core.gear import BANDS_M, gear_of, models

KIND = "hf-solid-state"
BANDS = (80, 40, 20, 15, 10)
POWERS = {"carrier_power", "peak_envelope_power"}
rows = st.lists(st.sampled_from(BANDS), min_size=2, max_size=5, unique=True)
watts = st.integers(60, 115)
amps = st.integers(120, 220).map(lambda tenths: tenths / 10)


def stands_at(meaning, n, band):
    hz = meaning.conditions_of(n).frequency_hz
    return hz is not None and abs(hz / BANDS_M[band] - 1) < 0.08


@given(rows, st.data())
@settings(max_examples=40, deadline=None)
def test_watts_and_amps_over_bands_stand_where_they_were_typed(bands, data):
    typed = [(band, data.draw(watts), data.draw(amps)) for band in bands]
    (first, w, a), *others = typed
    units_once = ", ".join([f"{first}m {w}w {a}a", *(f"{band}m {w}w {a}" for band, w, a in others)])
    meant = understand(units_once, ground_of_kind(KIND, "current-standby"))
    assert meant.chosen is not None, (units_once, meant.question)
    meaning = meant.meanings[meant.chosen]
    read = [(r.quantity, r.value) for r in meaning.readings]
    for n, (band, w, a) in enumerate(typed):
        assert read[2 * n : 2 * n + 2] == [("carrier_power", w), ("supply_current", pytest.approx(a))]
        assert stands_at(meaning, 2 * n, band) and stands_at(meaning, 2 * n + 1, band)


EVERY_LINE = [row.id for row in gear_of(KIND, None, models()).plan]


@pytest.mark.parametrize("row", EVERY_LINE)
def test_bare_powers_over_bands_become_nothing_else_whatever_is_wanted(row):
    context = behind(KIND, row, "carrier_power", 100.0)
    meant = understand("40m 102, 15m 96, 10m 88", context)
    offered = [meant.chosen] if meant.chosen is not None else [c.sense for c in meant.choices]
    first = meant.meanings[offered[0]]
    assert {r.quantity for r in first.readings} <= POWERS | {"power_flatness"}
    assert [r.value for r in first.readings][:3] == [102, 96, 88]
