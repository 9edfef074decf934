"""Which orders of a line are products of a two-tone test, by the words beside them."""

import pytest

from young_spark.core.entry.rows.products_by_order import products_by_order


@pytest.mark.parametrize(
    ("typed", "named"),
    [
        ("imd -31, 5th -38", "imd -31, imd5 -38"),
        ("imd -31 3rd, -38 5th", "-31 imd3, -38 imd5"),
        ("two tone 3rd -29, 7th -44", "two tone imd3 -29, imd7 -44"),
        ("3rd -50, 5th -60, all in order", "3rd -50, 5th -60, all in order"),
        ("imd -31, 2nd -60, 3rd -55", "imd -31, 2nd -60, 3rd -55"),
        ("3rd -50 5th -60", "3rd -50 5th -60"),
    ],
)
def test_orders_are_products_only_where_a_two_tone_test_is_said(typed, named):
    assert products_by_order(typed) == named
