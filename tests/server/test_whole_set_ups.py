"""Twelve whole set-ups and proofs, typed as hands type them, each against what a colleague would have on paper."""

import json
import tomllib
import uuid
from pathlib import Path

import pytest

from tests.server.test_dialogues import JSON, Hand
from tests.server.test_whole_repairs import is_as_a_colleague_would_write
from young_spark.server.jobs.models import Item
from young_spark.server.jobs.services import check_in

TOLD = tomllib.loads((Path(__file__).parent / "set_ups.toml").read_text())["set_up"]
ACTS = {"!begin": "begin", "!end": "end", "!leave": "leave out"}


def presses(hand: Hand, text: str) -> None:
    button, _, step = text.partition(" ")
    body = {"id": str(uuid.uuid4()), "sequence": "alignment", "act": ACTS[button], "step": step or None}
    pressed = hand.client.post(f"/api/jobs/{hand.job}/set-up", json.dumps(body), content_type=JSON)
    assert pressed.status_code == 201, pressed.content


@pytest.mark.parametrize("told", TOLD, ids=lambda t: t["name"])
def test_a_set_up_ends_in_what_a_colleague_would_have_on_paper(bench, wren, told):
    job = check_in(actor=wren, job_id=uuid.uuid4(), words=told["check_in"])
    hand, sibling = Hand(bench, job.pk), None
    for text in told["texts"]:
        if text.startswith("!second "):
            item = Item.objects.create(job=job, name=text[8:], model=job.items.first().model, position=1)
            sibling = Hand(bench, job.pk, str(item.pk))
        elif text.startswith("!"):
            presses(hand, text)
        elif text.startswith("2: ") and sibling is not None:
            sibling.says(text[3:])
        else:
            hand.says(text)
    report = bench.get(f"/api/jobs/{job.pk}/report").json()
    second = [r for r in report["compared"] if r["item"] == told.get("sibling")]
    first = {**report, "compared": [r for r in report["compared"] if r not in second]}
    is_as_a_colleague_would_write(first, told)
    if sibling is not None:
        is_as_a_colleague_would_write({**report, "compared": second}, {"rows": told["second"]})


def test_there_are_twelve_of_them():
    assert len(TOLD) == 12
