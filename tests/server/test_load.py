"""Eight clients write at once for a minute: nothing is lost and nothing fails."""

import os

from tests.load import load


def test_eight_clients_lose_nothing_and_nothing_fails(tmp_path, capsys):
    found = load(8, float(os.environ.get("YOUNG_SPARK_LOAD_S", "60")), tmp_path / "shop")
    with capsys.disabled():
        print(f"\n{found}")
    assert (found.failed, found.lost, found.doubled) == ([], 0, 0)
    assert len(found.taken_ms) > found.seconds
