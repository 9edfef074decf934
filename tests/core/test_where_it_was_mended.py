"""What is read at points behind a repair was read at what was mended, and is not dropped into its words."""

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand

GROUND = ("cb-am-fm-mobile", "power-am-19")


@pytest.mark.parametrize(
    ("text", "quantity", "value", "place"),
    [
        ("cleaned rear tag now 3mv", "dc_voltage", 0.003, "rear tag"),
        ("cleaned fuse holder, 3mv now", "dc_voltage", 0.003, "fuse holder"),
        ("resoldered front lug 0.2 ohm ok", "resistance", 0.2, "front lug"),
        ("remade the earth strap 4 mohm", "resistance", 0.004, "earth strap"),
        ("cleaned relay contacts, 0.1 ohm now", "resistance", 0.1, "relay contact"),
        ("replaced r12, 220 ohm now", "resistance", 220.0, "R12"),
        ("replaced r12 now 220 ohm", "resistance", 220.0, "R12"),
        ("replaced c14 now 47uf", "capacitance", 47e-6, "C14"),
        ("cleaned l4 now 12uh", "inductance", 12e-6, "L4"),
        ("changed c14 esr 0.12 now", "esr", 0.12, "C14"),
        ("removed c44 4.1w", "carrier_power", 4.1, None),
    ],
)
def test_what_is_read_then_stands_at_what_was_mended(text: str, quantity: str, value: float, place: str | None) -> None:
    """And the line stays one of what was done."""
    meant = understand(text, ground_of_kind(*GROUND))
    assert meant.chosen is not None, meant.question
    (reading,) = meant.meanings[meant.chosen].readings
    assert (reading.quantity, meant.meanings[meant.chosen].conditions.place) == (quantity, place)
    assert reading.value == pytest.approx(value)
    assert meant.story is not None
    assert meant.story.words == text


@pytest.mark.parametrize("text", ["replaced r12 220 ohm", "fitted d3 5.1v", "new lamp 12v"])
def test_what_may_be_printed_on_a_part_is_no_reading(text: str) -> None:
    """Without a word that it was read, a value behind what was put in is the value of that."""
    meant = understand(text, ground_of_kind(*GROUND))
    assert meant.chosen is None
    assert meant.story is not None or meant.as_note is not None


def test_volts_behind_a_part_that_was_lifted_are_asked_about() -> None:
    """They may be of the point, or of what feeds the unit: they were taken as the supply."""
    meant = understand("lifted r9, 8.1v", ground_of_kind(*GROUND))
    assert meant.chosen is None
    assert [choice.label for choice in meant.choices] == ["volts dc 8.10 V at R9", "supply voltage 8.10 V"]
