"""Nothing acknowledged is lost, whatever is killed."""

import os

import pytest

from tests.kills import kills
from tests.prepared import new_shop

pytestmark = pytest.mark.long


def test_nothing_acknowledged_is_lost_or_doubled_whatever_is_killed(tmp_path, capsys):
    found = kills(int(os.environ.get("YOUNG_SPARK_KILLS", "6")), new_shop(tmp_path / "shop"))
    with capsys.disabled():
        print(f"\n{found}")
    assert found.acknowledged > found.kills and found.of_the_bench and found.of_the_web
    assert (found.lost, found.doubled, found.unclean) == ([], [], [])
