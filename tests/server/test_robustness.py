"""Hostile and hurried traffic: no 5xx whatever is sent, nothing lost when two write at once, shown is what is stored."""

import json
import random
import threading
import uuid

import pytest
from django.db import connection
from django.test import Client

from tests.core.test_entry_table import ASKED, UNDERSTOOD
from tests.server.conftest import make_person
from tests.server.test_every_endpoint import operations
from young_spark.core.errors import BadKnowledge
from young_spark.core.knowledge import SHIPPED, parse
from young_spark.core.limits import Profile
from young_spark.core.models import Model
from young_spark.server.jobs.models import Job, Line
from young_spark.server.jobs.services import check_in

JSON = "application/json"
HOSTILE: tuple[object, ...] = (
    None, True, -1, 0, 2**63, 1e308, "", "x" * 5000, "\u0000", "\ud83d\ude00" * 30, "../../etc", "'; DROP TABLE x; --", "<script>", [], {}, [[]], {"a": None},
    str(uuid.uuid4()), "not-a-uuid", "2026-02-30", "NaN",
)  # fmt: skip
NAMES = ("id", "text", "job", "item", "conditions", "row", "model", "sense", "supersedes", "reason", "words", "part", "owner", "ceiling", "lines", "values", "key", "back", "pin", "person_id", "name", "password", "settled", "serial", "title")  # fmt: skip


@pytest.mark.parametrize(("operation", "method", "path"), list(operations()), ids=[o for o, _, _ in operations()])
def test_no_body_and_no_address_makes_the_server_fail(operation, method, path, bench, job):
    dice = random.Random(operation)
    if operation == "sign_out":
        return
    for _ in range(40):
        address = path
        for name in ("job_id", "line_id", "item_id", "sum_id", "sha256"):
            address = address.replace(
                "{" + name + "}", dice.choice([str(job.pk), str(uuid.uuid4()), "x", "%00", "..%2F..", "dbm"])
            )
        body = {name: dice.choice(HOSTILE) for name in dice.sample(NAMES, 8)}
        raw = dice.choice(
            [json.dumps(body, ensure_ascii=True), "{", "[]", "null", "\x00", json.dumps(body)[: dice.randrange(60)]]
        )
        send = getattr(bench, method)
        answer = send(address) if method == "get" else send(address, raw, content_type=JSON)
        assert answer.status_code < 500, (address, raw, answer.content[:300])
        if answer.status_code >= 400 and answer["Content-Type"].startswith("application/problem+json"):
            assert 0 < len(answer.json()["detail"]) < 600


@pytest.mark.parametrize("chunk", range(4))
def test_what_was_shown_before_enter_is_what_is_stored(bench, job, chunk):
    """Every text of the table, on a slip with a model: the same figures, sums and verdicts, or the same refusal."""
    for text, *_ in (*UNDERSTOOD, *ASKED)[chunk::4]:
        sent = {"text": text, "job": str(job.pk), "conditions": {"mode": "am", "channel": 19}}
        shown = bench.post("/api/understand", sent, content_type=JSON).json()
        stored = bench.post("/api/lines", sent | {"id": str(uuid.uuid4())}, content_type=JSON)
        if shown["chosen"] is None and shown["story"] is None:
            assert stored.status_code == 422 and stored.json()["detail"] == (shown["question"] or "What was read?")
            continue
        readings = shown["meanings"][shown["chosen"]]["readings"] if shown["story"] is None else []
        pairs = zip(readings, stored.json()["readings"], strict=True)
        assert all(
            (a["figure"], a["measured"], a["verdicts"]) == (b["figure"], b["measured"], b["verdicts"]) for a, b in pairs
        ), text


@pytest.mark.django_db(transaction=True)
def test_two_hands_at_once_lose_nothing_and_share_no_number():
    wren, moss = make_person("wren", "technician"), make_person("moss", "technician")
    job = check_in(actor=wren, job_id=uuid.uuid4(), words="Tarnbeck M27, shared: weak")
    answers: list[int] = []

    def write(person, count: int) -> None:
        client = Client()
        client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
        for n in range(count):
            sent = {"id": str(uuid.uuid4()), "text": f"note {person.username} {n}", "job": str(job.pk)}
            answers.append(client.post("/api/lines", sent, content_type=JSON).status_code)
        connection.close()

    hands = [threading.Thread(target=write, args=(person, 20)) for person in (wren, moss)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    lines = list(Line.objects.filter(job=job, kind="note").order_by("number"))
    assert answers == [201] * 40 and len(lines) == 40
    assert len({line.number for line in lines}) == 40
    for name in ("wren", "moss"):
        own = [line.text for line in lines if line.text.startswith(f"note {name}")]
        assert own == [f"note {name} {n}" for n in range(20)], "each hand's lines stand in its order"
    assert "moss 19" in Job.objects.get(pk=job.pk).searched


@pytest.mark.parametrize(("folder", "kind"), [("limits", Profile), ("models", Model)])
def test_a_spoiled_data_file_is_a_list_of_problems_and_nothing_else(folder, kind):
    dice = random.Random(folder)
    files = [file.read_text("utf-8") for file in sorted((SHIPPED / folder).glob("*.toml"))]
    refused = 0
    for _ in range(300):
        lines = dice.choice(files).splitlines()
        at = dice.randrange(len(lines))
        lines[at] = dice.choice(
            [
                "",
                "x = ",
                lines[at][: len(lines[at]) // 2],
                lines[at] * 2,
                lines[at].replace("=", ":"),
                "[[rows]]",
                'kind = "other"',
                "low = true",
            ]
        )
        try:
            assert isinstance(parse("\n".join(lines), "spoiled.toml", kind), kind)
        except BadKnowledge as found:
            refused += 1
            assert str(found).startswith("spoiled.toml: ") and "line" in str(found)
    assert refused > 100
