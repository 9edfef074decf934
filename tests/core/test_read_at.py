"""Where a quantity is read inside of a unit: what stands elsewhere is asked about."""

import tomllib

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand
from young_spark.core.entry.believed.read_at import is_placed_oddly
from young_spark.core.entry.facts.said import Breath, Said
from young_spark.core.figure import QUANTITIES
from young_spark.core.ground import SHIPPED

PLACES = tomllib.loads((SHIPPED / "entry" / "read_at.toml").read_text())


def test_every_quantity_with_places_is_known():
    assert set(PLACES) <= set(QUANTITIES)


@pytest.mark.parametrize(
    ("quantity", "place", "oddly"),
    [
        ("plate_voltage", "F2", True), ("plate_voltage", "V2", False), ("am_depth", "Q7 base", True),
        ("dc_voltage", "Q7 base", False), ("swr", "far end", False), ("swr", "Q7", True), ("am_depth", None, False),
    ],
)  # fmt: skip
def test_a_figure_is_placed_where_its_quantity_is_read(quantity, place, oddly):
    said = Said(quantity=quantity, value=1.0, unit=None, address={"place": place} if place else {})
    assert is_placed_oddly(Breath((said,))) is oddly


def test_a_plate_voltage_behind_a_fuse_is_asked_about():
    meant = understand("fuse F2 blown 1A slow, ht 0", ground_of_kind("valve-linear", "filament"))
    taken = [] if meant.chosen is None else meant.meanings[meant.chosen].readings
    assert "plate_voltage" not in {r.quantity for r in taken}
