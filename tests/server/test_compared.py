"""A unit beside how it came in, another item, a sibling, its last visit and this shop's healthy ones."""

import json
import uuid

import pytest

from tests.server.test_dialogues import Hand
from young_spark.server.jobs.models import Item
from young_spark.server.jobs.services import check_in

pytestmark = pytest.mark.django_db
JSON = "application/json"


def compared(client, job, item=None) -> dict:
    where = f"?item={item}" if item else ""
    return client.get(f"/api/jobs/{job}/compared{where}").json()


def row_of(view, name, where) -> dict[str, str]:
    row = next(r for r in view["rows"] if (r["name"], r["where"]) == (name, where))
    return {
        column: f"{cell['figure']} | {cell['differs']}"
        for column, cell in zip(view["columns"], row["cells"], strict=True)
        if cell
    }


def test_a_unit_beside_all_that_it_can_be_held_against(bench, wren):
    before = Hand(bench, check_in(actor=wren, job_id=uuid.uuid4(), words="Birkrigg AM mobile 4 W sn 7718").pk)
    before.says("ch19 3.9w")
    assert bench.post(f"/api/jobs/{before.job}/hand-back", {"back": True}, content_type=JSON).status_code == 200
    job = check_in(actor=wren, job_id=uuid.uuid4(), words="Birkrigg AM mobile 4 W sn 7718, weak")
    hand = Hand(bench, job.pk)
    assert compared(bench, job.pk) == {"columns": ["now"], "rows": []}
    for text in ("ch19 1.9w", "sibling ch19 3.9w", "replaced q7 driver, bad", "ch19 3.7w"):
        hand.says(text)
    body = {"id": str(uuid.uuid4()), "name": "the other one"}
    added = bench.post(f"/api/jobs/{job.pk}/items", json.dumps(body), content_type=JSON)
    assert added.status_code == 201
    second = Item.objects.get(name="the other one")
    Hand(bench, job.pk, str(second.pk)).says("ch19 2.2w")
    view = compared(bench, job.pk)
    left = f"left job {before.slip()['number']}"
    assert view["columns"] == ["now", "came in", "sibling", "the other one", left, "healthy here"]
    power = row_of(view, "Carrier power", "AM · channel 19")
    assert power["now"].startswith("3.70 W")
    assert power["came in"].endswith("| 2.9 dB less")
    assert power["sibling"].endswith("| ")
    assert power["the other one"].endswith("| 2.3 dB less")
    assert compared(bench, job.pk, second.pk)["columns"][:2] == ["now", "came in"]
