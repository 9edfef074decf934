"""A count beside what else was read of the carrier: in any order it says how far off the carrier is, and on which
channel all of it was read."""

from itertools import permutations

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand

CHANNELS = (
    ("cb-am-fm-mobile", "current-standby", (1, 26.965, 40, 27.405), ("3.9w", "carrier_power", 3.9)),
    ("uhf-cb", "current-standby", (5, 476.525, 41, 476.4375), ("4.9w", "carrier_power", 4.9)),
    ("marine-vhf", "current-standby", (6, 156.3, 16, 156.8), ("24.5w", "carrier_power", 24.5)),
)
OTHERS = {
    "cb-am-fm-mobile": (("85%", "am_depth", 85.0),),
    "uhf-cb": (("dev 2.1k", "fm_deviation", 2100.0),),
    "marine-vhf": (("dev 4.2k", "fm_deviation", 4200.0),),
}


@pytest.mark.parametrize(("kind", "row", "places", "watts"), CHANNELS)
@pytest.mark.parametrize("off_hz", [30, -310])
def test_a_count_says_how_far_off_and_on_which_channel(
    kind: str, row: str, places: tuple[int, float, int, float], watts: tuple[str, str, float], off_hz: int
) -> None:
    """Also where the hand stands on another one; between the watts and the depth, in front and behind."""
    for channel, mhz in ((places[0], places[1]), (places[2], places[3])):
        count = f"{mhz + off_hz / 1e6:.5f}"
        for told in (*permutations([count, watts[0]]), *permutations([count, watts[0], OTHERS[kind][0][0]])):
            for text in (" ".join(told), ", ".join(told)):
                meant = understand(text, ground_of_kind(kind, row))
                assert meant.chosen is not None, f"{text}: {meant.question}"
                meaning = meant.meanings[meant.chosen]
                read = {r.quantity: r.value for r in meaning.readings}
                assert read["frequency_error"] == pytest.approx(off_hz), text
                assert read["carrier_power"] == pytest.approx(watts[2]), text
                assert {meaning.conditions_of(n).channel for n in range(len(meaning.readings))} == {channel}, text


@pytest.mark.parametrize("count", ["26.96502", "26.96502mhz", "26965.02", "26965.02 khz", "26.965.02", "26.965.020"])
@pytest.mark.parametrize("form", ["{} 3.9w", "3.9w {}", "{}, 3.9w", "3.9w, {}", "ch1 {} 3.9w"])
def test_a_count_is_one_however_the_counter_writes_it(count: str, form: str) -> None:
    """In megahertz or kilohertz, with its unit or without, in groups of three."""
    meant = understand(form.format(count), ground_of_kind("cb-am-fm-mobile", "current-standby"))
    assert meant.chosen is not None, meant.question
    meaning = meant.meanings[meant.chosen]
    read = {r.quantity: r.value for r in meaning.readings}
    assert read == pytest.approx({"frequency_error": 20.0, "carrier_frequency": 26965020.0, "carrier_power": 3.9})
    assert {meaning.conditions_of(n).channel for n in range(len(meaning.readings))} == {1}


@pytest.mark.parametrize(
    ("kind", "row", "text", "quantity"),
    [
        ("cb-am-fm-mobile", "current-standby", "27.185 3.9w", "carrier_power"),
        ("uhf-cb", "current-standby", "477.0875 4.9w", "carrier_power"),
        ("licence-free-446", "power-1", "446.00625 0.45w", "carrier_power"),
        ("hf-solid-state", "current-standby", "14.205 98w", "carrier_power"),
        ("hf-solid-state", "current-standby", "14.20500 98w", "carrier_power"),
    ],
)
def test_a_frequency_as_a_hand_says_it_is_where(kind: str, row: str, text: str, quantity: str) -> None:
    """It is exactly a channel, or has no more decimals than a dial."""
    meant = understand(text, ground_of_kind(kind, row))
    assert meant.chosen is not None, meant.question
    assert [r.quantity for r in meant.meanings[meant.chosen].readings] == [quantity]
