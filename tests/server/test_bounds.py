"""What a hand, a file or a bundle brings is bounded before it is work, and refused in one sentence; a known id with
other content is told apart."""

import io
import uuid

import pytest
from PIL import Image

from tests.server.conftest import connect, envelope_csv, picture_bytes, record_of, take
from young_spark.core.ground import BadKnowledge, NoPlainJson, parse, plain_json, shipped_text
from young_spark.core.judging import Profile
from young_spark.server.jobs.services import check_in

JSON = "application/json"
SHIPPED = shipped_text("limits", "uk-27-81")
NEW = str(uuid.uuid4())


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (SHIPPED + "\n".join(f"unknown{n} = {n}" for n in range(2000)), "more"),
        ("a = " + "[" * 5000 + "]" * 5000, "nested deeper"),
        ("a = " + "[" * 20 + "]" * 20, "nested deeper"),
        ("a = " + "9" * 5000, "more digits"),
        ("a = 123456789012345678901234567890", "more digits"),
        ("a = nan", "no number"),
        ("a = -inf", "no number"),
        ("x = '" + "x" * 1_100_000 + "'", "longer than"),
        ("a = [" + "1," * 60_000 + "]", "more than 50,000 values"),
        (SHIPPED.replace('title = "', 'title = ""  # "', 1), "title"),
        ("a = 'x", "line 1"),
    ],
    ids=[
        "2,000 unknown keys", "a list 5,000 deep", "a list 20 deep", "5,000 digits", "30 digits", "nan", "inf",
        "a megabyte", "60,000 values", "an empty title", "cut off",
    ],
)  # fmt: skip
def test_a_data_file_out_of_bounds_is_refused_in_a_few_lines(text, words):
    with pytest.raises(BadKnowledge) as refused:
        parse(text, "a.toml", Profile)
    assert words in str(refused.value) and len(refused.value.problems) <= 21


@pytest.mark.parametrize("text", ["NaN", "[Infinity]", "1e400", "9" * 50, "[" * 90_000, "{", b"\xff\xfe"])
def test_json_that_is_no_plain_value_is_refused(text):
    with pytest.raises(NoPlainJson):
        plain_json(text)


def test_a_picture_drawn_over_itself_a_thousand_times_is_refused_unread(bench, job, monkeypatch):
    plain = picture_bytes(size=(2000, 1500), progressive=True)
    scan = plain[plain.rindex(b"\xff\xda") : -2]
    again = plain[:-2] + scan * 1000 + plain[-2:]
    monkeypatch.setattr(Image.Image, "load", lambda self: pytest.fail("it was unpacked"))
    posted = bench.post(f"/api/jobs/{job.pk}/pictures", {"file": io.BytesIO(again), "id": str(uuid.uuid4())})
    assert posted.status_code == 413 and "drawn over itself" in posted.json()["detail"]


def test_no_input_is_read_while_the_writer_waits(bench, job, monkeypatch):
    """Who reads a picture, a record or a text does not have the turn to write."""
    from young_spark.server.jobs import pictures
    from young_spark.server.library import own_texts
    from young_spark.server.records import services
    from young_spark.server.writing import turn_to_write

    free = []

    def watched(owner, name):
        real = getattr(owner, name)

        def reads(*words, **named):
            free.append(not turn_to_write._is_owned())
            return real(*words, **named)

        monkeypatch.setattr(owner, name, reads)

    watched(pictures, "reencoded")
    watched(services, "_read")
    watched(own_texts.OwnTexts, "checked")
    bench.post(f"/api/jobs/{job.pk}/pictures", {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4())})
    assert record_of(bench, job).status_code == 201
    assert bench.put("/api/library/profiles/uk-27-81", {"text": SHIPPED}, content_type=JSON).status_code == 200
    assert len(free) >= 3 and all(free)


@pytest.mark.parametrize("port", ["0", "65536", "99999999999"])
def test_an_instruments_wrong_port_is_one_sentence(bench, db, port):
    body = {"name": "A", "kind": "wattmeter", "address": f"TCPIP::10.0.0.7::{port}::SOCKET", "definition": "x"}
    refused = bench.put("/api/bench/instruments/a", body, content_type=JSON)
    assert refused.status_code == 400 and "1 to 65535" in refused.json()["detail"]


def test_a_job_without_a_title_is_refused(bench, job):
    for words in (": no output", " , marshal 8: dead"):
        refused = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": words}, content_type=JSON)
        assert refused.status_code == 400 and "before the colon" in refused.json()["detail"]
    assert bench.patch(f"/api/jobs/{job.pk}", {"title": "  "}, content_type=JSON).status_code == 400


# a known id with other content ---------------------------------------------------------------------------------------


@pytest.fixture
def other(wren):
    return check_in(actor=wren, job_id=uuid.uuid4(), words="Cairnsby B5, depot 2: dead")


def picture(bench, job, data=None, words="joint"):
    body = {"file": io.BytesIO(data or picture_bytes()), "id": NEW, "words": words}
    return bench.post(f"/api/jobs/{job.pk}/pictures", body)


def record(bench, job, depth=0.9):
    return record_of(bench, job, ("envelope.csv", envelope_csv(depth)), id=NEW)


def item(bench, job, name="microphone"):
    return bench.post(f"/api/jobs/{job.pk}/items", {"id": NEW, "name": name}, content_type=JSON)


def trace(bench, job, symptom="dead"):
    body = {"id": NEW, "chain": "cb-am-mobile", "symptom": symptom}
    return bench.post(f"/api/jobs/{job.pk}/traces", body, content_type=JSON)


def watch(bench, job):
    return bench.post("/api/bench/watches", {"id": NEW, "job": str(job.pk)}, content_type=JSON)


def came_in(bench, job, words="A set, Ash: dead"):
    return bench.post("/api/jobs", {"id": NEW, "words": words}, content_type=JSON)


def line(bench, job, text="3.8w"):
    return take(bench, job, text, id=NEW)


@pytest.mark.parametrize(
    ("send", "otherwise"),
    [
        (picture, {"data": picture_bytes(size=(99, 77))}),
        (picture, {"words": "another"}),
        (picture, None),
        (record, {"depth": 0.5}),
        (record, None),
        (item, {"name": "aerial"}),
        (item, None),
        (trace, {"symptom": "weak"}),
        (trace, None),
        (watch, None),
        (came_in, {"words": "A set, Ash: weak"}),
        (came_in, {"words": "A set, Moss: dead"}),
        (line, {"text": "3.9w"}),
        (line, None),
    ],
)
def test_a_known_id_with_other_content_is_a_conflict(bench, job, other, send, otherwise):
    """The same again is the same; other content, or (None) the same on another job, is 409 and changes nothing."""
    assert send(bench, job).status_code in (200, 201)
    again = send(bench, job)
    assert again.status_code in (200, 201), again.content
    refused = send(bench, other) if otherwise is None else send(bench, job, **otherwise)
    assert refused.status_code == 409 and refused.json()["code"] == "conflict"
    assert send(bench, job).status_code in (200, 201)


def test_a_known_check_mark_or_look_with_other_content_is_a_conflict(bench, job, other):
    connect()
    check = {"id": NEW, "function": "power", "standard": 5, "read": 4.9}
    at = "/api/bench/instruments/bench-wattmeter/checks"
    checks = [bench.post(at, check | more, content_type=JSON) for more in ({}, {}, {"read": 4.8})]
    assert [c.status_code for c in checks] == [201, 201, 409]
    watched = watch(bench, job).json()["id"]
    at = f"/api/bench/watches/{watched}/mark"
    marks = [bench.post(at, {"id": NEW, "what": what}, content_type=JSON) for what in ("tapped", "tapped", "warmed")]
    assert [m.status_code for m in marks] == [200, 200, 409]
    traced = trace(bench, job).json()["id"]
    at = f"/api/traces/{traced}/looks"
    looks = [
        bench.post(at, {"id": NEW, "probe": "output", "seen": seen}, content_type=JSON)
        for seen in ("dead", "dead", "weak")
    ]
    assert [look.status_code for look in looks] == [201, 201, 409]
    taken = take(bench, job, "3.8w").json()["id"]
    assert bench.post(at, {"id": taken, "probe": "output", "seen": "dead"}, content_type=JSON).status_code == 409
