"""A line is one breath and one place: what stands behind a figure whose point was said is of that point, and never of
the one that the plan wants next."""

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand

# a kind, its line of the plan that is current, and a point elsewhere: as it is said, its channel, its megahertz
POINTS = [
    ("cb-am-fm-mobile", "power-am-19", ("ch7", "27.035", "on ch7"), 7, 27.035),
    ("vhf-uhf-fm-mobile", "current-standby", ("433.5", "433.5mhz", "at 433.5"), None, 433.5),
    ("hf-solid-state", "power-3m7", ("17m", "18.1mhz", "on 17m"), None, 18.1),
    ("marine-vhf", "power-high-16", ("ch6", "6:", "on ch6"), 6, 156.3),
    ("airband-am", "power-am-19", ("123.45", "123.45mhz"), None, 123.45),
    ("uhf-cb", "power-fm-20", ("ch5", "5:", "on ch5"), 5, 476.525),
]
BEHIND = ["dev 2.2k", "h2 -60", "+100hz", "mod 80%", "hi 4w lo 1w", "3.5w after 5 min", "pep 9w", "wibble 2.1w", "0w"]
NEAR_MHZ = 0.2  # a band said in metres, and its middle


@pytest.mark.parametrize(("kind", "row", "points", "channel", "mhz"), POINTS, ids=[p[0] for p in POINTS])
def test_nothing_behind_a_point_is_read_elsewhere(kind, row, points, channel, mhz):
    ground, taken = ground_of_kind(kind, row), 0
    for line in (f"{point} 4w, {behind}" for point in points for behind in BEHIND):
        meant = understand(line, ground)
        if meant.chosen is None:
            continue
        taken += 1
        meaning = meant.meanings[meant.chosen]
        for n in range(len(meaning.readings)):
            there = meaning.conditions_of(n)
            assert there.channel in {None, channel}, line
            assert there.frequency_hz is None or abs(there.frequency_hz / 1e6 - mhz) < NEAR_MHZ, line
    assert taken > len(BEHIND)  # or nothing was shown
