"""A figure that was read alike at several points stands at each of them; a row with a figure for each is none."""

import itertools

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand

SAID = {
    "3.9w": {"carrier_power": 3.9}, "swr 1.3": {"swr": 1.3}, "mod 92%": {"am_depth": 92},
    "err +120hz": {"frequency_error": 120},
    "am 3.9w 94%": {"carrier_power": 3.9, "am_depth": 94},
}  # fmt: skip
FORMS = (
    "{what} on {points}", "{what} {points}", "{what} both on {points}", "{what}, {points} alike", "{points}: {what}",
    "{points} both {what}", "on {points} {what}",
)  # fmt: skip
POINTS = {
    "ch1 and ch40": (1, 40), "channels 1 and 40": (1, 40), "ch 1, 19 and 40": (1, 19, 40),
    "ch1, ch19 and ch40": (1, 19, 40),
    "ch 19 & 40": (19, 40),
}  # fmt: skip


@pytest.mark.parametrize("form", FORMS)
def test_it_stands_at_each_of_them(form):
    for what, points in itertools.product(SAID, POINTS):
        text = form.format(what=what, points=points)
        meant = understand(text, ground_of_kind("cb-am-mobile", "current-standby"))
        assert meant.chosen is not None, (text, meant.question)
        chosen = meant.meanings[meant.chosen]
        read = {
            (r.quantity, chosen.conditions_of(n).channel): r.value
            for n, r in enumerate(chosen.readings)
            if r.method != "worked out" and r.quantity != "carrier_frequency"
        }
        due = {(q, channel): value for q, value in SAID[what].items() for channel in POINTS[points]}
        assert read == pytest.approx(due), text


@pytest.mark.parametrize(
    ("text", "read"),
    [
        ("3.9w on 1 and 40", {1: 3.9, 40: 3.9}),
        ("3.8w ch19, 3.9w ch1 and ch40", {19: 3.8, 1: 3.9, 40: 3.9}),
        ("3.9w 3.7w ch1 and ch40", {}),  # a figure for each, in one order or another
        ("3.9w ch1 3.7w ch40", {1: 3.9, 40: 3.7}),
        ("fuse 2a and 5a", {}),
    ],
)
def test_what_has_a_figure_of_its_own_keeps_it(text, read):
    meant = understand(text, ground_of_kind("cb-am-mobile", "current-standby"))
    chosen = None if meant.chosen is None else meant.meanings[meant.chosen]
    found = {} if chosen is None else {
        chosen.conditions_of(n).channel: r.value for n, r in enumerate(chosen.readings) if r.quantity == "carrier_power"
    }  # fmt: skip
    assert found in (pytest.approx(read), {}) if read == {} else found == pytest.approx(read)


def test_bands_too():
    meant = understand("98w 12a on 80m and 40m", ground_of_kind("hf-solid-state", "power-14m2"))
    chosen = meant.meanings[meant.chosen]
    read = [(r.quantity, chosen.conditions_of(n).frequency_hz) for n, r in enumerate(chosen.readings)]
    assert sorted(read) == [(q, hz) for q in ("carrier_power", "supply_current") for hz in (3.7e6, 7.1e6)]
