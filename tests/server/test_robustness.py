"""Hostile and hurried traffic: no 5xx whatever is sent, nothing lost when two write at once, shown is what is
stored."""

import io
import random
import threading
import uuid

import pytest
from django.conf import settings
from django.db import connection
from django.test import Client

from tests.core.test_entry_table import ASKED, UNDERSTOOD
from tests.server.conftest import make_person, picture_bytes, take
from young_spark.core.gear import Model
from young_spark.core.ground import SHIPPED, BadKnowledge, parse
from young_spark.core.judging import Profile
from young_spark.server.jobs import kept_files
from young_spark.server.jobs.models import Job, Line
from young_spark.server.jobs.services import check_in

pytestmark = pytest.mark.long

JSON = "application/json"


@pytest.mark.parametrize("chunk", range(4))
def test_what_was_shown_before_enter_is_what_is_stored(bench, job, chunk):
    """Every text of the table, on a slip with a model: the same figures, sums and verdicts, or the same refusal."""
    for text, *_ in (*UNDERSTOOD, *ASKED)[chunk::4]:
        sent = {"text": text, "job": str(job.pk), "conditions": {"mode": "am", "channel": 19}}
        shown = bench.post("/api/understand", sent, content_type=JSON).json()
        stored = bench.post("/api/lines", sent | {"id": str(uuid.uuid4())}, content_type=JSON)
        if shown["sets"] is not None:
            assert stored.status_code == 201 and stored.json()["kind"] == "note"
            continue
        if shown["chosen"] is None and shown["story"] is None:
            assert stored.status_code == 422
            assert stored.json()["detail"].startswith(shown["question"] or "What was read?")
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


@pytest.mark.django_db(transaction=True)
def test_a_full_disk_is_one_sentence_and_nothing_breaks(bench, job):
    """SQLite is held to the pages that it has; then it gets room again."""
    take(bench, job, "3.8w")
    before = Line.objects.count()
    with connection.cursor() as data:
        data.execute("PRAGMA page_count")
        pages = data.fetchone()[0]
        data.execute(f"PRAGMA max_page_count={pages}")
    refused = None
    for n in range(200):
        answer = take(bench, job, f"note {'long ' * 300}{n}")
        if answer.status_code != 201:
            refused = answer
            break
        before += 1
    assert refused is not None and refused.status_code == 507 and "The disk is full" in refused.json()["detail"]
    assert Line.objects.count() == before
    with connection.cursor() as data:
        data.execute("PRAGMA max_page_count=1073741823")
    assert take(bench, job, "3.7w").status_code == 201


def test_a_disk_that_takes_no_picture_is_one_sentence_and_leaves_nothing(bench, job, monkeypatch):
    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(kept_files.os, "fsync", full)
    sent = {"file": io.BytesIO(picture_bytes(size=(77, 33))), "id": str(uuid.uuid4())}
    refused = bench.post(f"/api/jobs/{job.pk}/pictures", sent)
    assert refused.status_code == 507 and "no space left on device" in refused.json()["detail"]
    assert not Line.objects.filter(kind="picture").exists()
    assert not [f for f in settings.PICTURES.glob("*") if len(f.name) != 64]


def test_a_data_file_that_may_not_be_written_is_one_sentence(bench, job):
    with connection.cursor() as data:
        data.execute("PRAGMA query_only=ON")
    refused = take(bench, job, "3.8w")
    with connection.cursor() as data:
        data.execute("PRAGMA query_only=OFF")
    assert refused.status_code == 507 and "may not be written" in refused.json()["detail"]
    assert take(bench, job, "3.8w").status_code == 201
