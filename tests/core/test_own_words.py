"""A shop's own words in the field: read as what they stand for, and nothing else."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.entry import EntryContext, understand

SHOP = EntryContext(own_words={"wobble": "drift", "boots": "carrier power", "the lump": "supply", "loud": "am depth"})


@pytest.mark.parametrize(
    ("typed", "quantity", "value"),
    [
        ("wobble 40hz", "frequency_drift", 40),
        ("3.8w boots", "carrier_power", 3.8),
        ("boots 3.8w ch19", "carrier_power", 3.8),
        ("the lump 13.8v", "supply_voltage", 13.8),
        ("loud 80%", "am_depth", 80),
    ],
)
def test_a_word_of_the_shop_is_the_one_it_stands_for(typed, quantity, value):
    found = understand(typed, SHOP)
    reading = found.meanings[0].readings[0]
    assert (found.text, reading.quantity, reading.value) == (typed, quantity, pytest.approx(value))


@pytest.mark.parametrize("typed", ["boots were dirty", "found boots wet", "note the lump hums"])
def test_a_line_of_words_keeps_them_as_typed(typed):
    assert understand(typed, SHOP).story.words in typed


@given(st.text(alphabet="bootsw 3.8the lump", max_size=30))
def test_a_word_inside_of_another_is_left_alone(typed):
    assert understand(typed, SHOP).text == typed
    if not any(f" {word} " in f" {typed.strip()} " for word in SHOP.own_words):
        assert understand(typed, SHOP).meanings == understand(typed, EntryContext()).meanings
