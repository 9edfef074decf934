"""Eight clients write at once: nothing is lost and nothing fails."""

import os

import pytest

from tests.load import load
from tests.prepared import new_shop

pytestmark = pytest.mark.long


def test_eight_clients_lose_nothing_and_nothing_fails(tmp_path, capsys):
    found = load(8, float(os.environ.get("YOUNG_SPARK_LOAD_S", "4")), new_shop(tmp_path / "shop"))
    with capsys.disabled():
        print(f"\n{found}")
    assert (found.failed, found.lost, found.doubled) == ([], 0, 0)
    assert len(found.taken_ms) > found.seconds
