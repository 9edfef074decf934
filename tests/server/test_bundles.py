"""Bundles: the same job in another shop, no doubles in the same one, and hostile zips end in one sentence."""

import hashlib
import io
import json
import uuid
import zipfile

import pytest
from django.conf import settings

from tests.server.conftest import make_person, picture_bytes, record_of, take
from young_spark.core.gear import models
from young_spark.core.ground import shipped_text
from young_spark.server.accounts.models import Person
from young_spark.server.benches.models import JobPath
from young_spark.server.bundles import importing
from young_spark.server.handback.models import SentenceEdit
from young_spark.server.jobs.models import Item, Job, Line, Picture
from young_spark.server.library.models import OwnText
from young_spark.server.library.own_models import own_models, write_model
from young_spark.server.library.services import OWN_PLANS
from young_spark.server.live.models import KeyDown, Watch, WatchDrop, WatchMark, WatchPart
from young_spark.server.readings.models import Reading
from young_spark.server.records.models import Record
from young_spark.server.tracing.models import Board, Look, Trace

pytestmark = pytest.mark.long

JSON = "application/json"


@pytest.fixture
def rich(bench, job, wren):
    """A job with everything in it."""
    for text in ("standby 125ma", "found dry joint at L14", "wish keep the beep", "did Q9 -> same, bad, 2.40, 15 min"):
        take(bench, job, text)
    first = take(bench, job, "3.2w", conditions={"mode": "am", "channel": 19}).json()
    take(bench, job, "3.8w", conditions={"mode": "am", "channel": 19}, supersedes=first["id"], reason="misread")
    wish = Line.objects.get(kind="wish")
    bench.post(f"/api/lines/{wish.pk}/settle", {"settled": True}, content_type=JSON)
    bench.post(
        f"/api/jobs/{job.pk}/pictures", {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4()), "words": "L14"}
    )
    bench.put(f"/api/jobs/{job.pk}/report/sentence", {"key": "result", "text": "Good as new."}, content_type=JSON)
    board, pin = Line.objects.get(kind="picture").pk, {"name": "base of Q9", "probe": "driver_rf", "x": 0.25, "y": 0.5}
    bench.put(f"/api/jobs/{job.pk}/boards/{board}", {"side": "solder"}, content_type=JSON)
    bench.put(f"/api/jobs/{job.pk}/boards/{board}/pins/{uuid.uuid4()}", pin, content_type=JSON)
    record_of(bench, job)
    trace = {"id": str(uuid.uuid4()), "chain": "cb-am-mobile", "symptom": "no output"}
    bench.post(f"/api/jobs/{job.pk}/traces", trace, content_type=JSON)
    look = {"id": str(uuid.uuid4()), "probe": "tx_rail_v", "seen": "0.3V"}
    assert bench.post(f"/api/traces/{trace['id']}/looks", look, content_type=JSON).status_code == 201
    bench.patch(f"/api/traces/{trace['id']}", {"proven": "driver_open", "closed": True}, content_type=JSON)
    path = {"from": "load", "parts": [{"id": "load", "kind": "load", "rating_w": 100}]}
    assert bench.put(f"/api/jobs/{job.pk}/path", {"path": path, "sure": True}, content_type=JSON).status_code == 200
    item = job.items.get()
    KeyDown.objects.create(item=item, began_at="2026-01-01T10:00:00Z", ended_at="2026-01-01T10:00:09Z")
    watch = Watch.objects.create(job=job, item=item, by=wren, ended_at="2026-01-01T11:00:00Z")
    WatchPart.objects.create(watch=watch, points=[[0.1, "power", 4.0]])
    WatchDrop.objects.create(watch=watch, at=3.0, name="power", kind="drop", usual=4.0, reached=0.2, lasted=0.4)
    WatchMark.objects.create(id=uuid.uuid4(), watch=watch, at=2.0, what="tapped")
    return Job.objects.get(pk=job.pk)


def bundle_of(client, job) -> bytes:
    return client.get(f"/api/jobs/{job.pk}/bundle").getvalue()


def read(client, data: bytes):
    return client.post("/api/bundles", {"file": io.BytesIO(data)})


def forget_everything():
    """As another shop: nothing here, the pictures neither."""
    for kind in (
        Board,
        Look,
        Trace,
        JobPath,
        WatchMark,
        WatchDrop,
        WatchPart,
        Watch,
        KeyDown,
        SentenceEdit,
        Picture,
        Reading,
        Record,
    ):
        kind.objects.all().delete()
    Line.objects.update(superseded_by=None)
    for kind in (Line, Item, Job):
        kind.objects.all().delete()
    for file in settings.PICTURES.glob("*"):
        file.unlink()


def contents(data: bytes) -> dict[str, object]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        found = {n: archive.read(n) for n in archive.namelist()}
    return {n: json.loads(v) if n.endswith(".json") else v for n, v in found.items() if n != "bundle.json"}


def changed(data: bytes, change) -> bytes:
    """The bundle with its job's JSON changed by a function."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            content = old.read(name)
            if name.startswith("jobs/"):
                told = json.loads(content)
                change(told)
                content = json.dumps(told).encode()
            new.writestr(name, content)
    return out.getvalue()


def test_read_into_another_shop_it_is_the_same_job(bench, rich):
    data = bundle_of(bench, rich)
    slip = bench.get(f"/api/jobs/{rich.pk}").json()
    report = bench.get(f"/api/jobs/{rich.pk}/report").json()
    forget_everything()
    Person.objects.filter(username="wren").update(username="somebody-else", first_name="Else")
    answer = read(bench, data).json()
    assert answer == [
        {"job": str(rich.pk), "words": f"Job {rich.number}, Tarnbeck M27: read in with {len(slip['lines'])} lines."}
    ]
    assert contents(bundle_of(bench, rich)) == contents(data)
    assert bench.get(f"/api/jobs/{rich.pk}").json() == slip
    again = bench.get(f"/api/jobs/{rich.pk}/report").json()
    assert {k: v for k, v in again.items() if "made" not in k} == {k: v for k, v in report.items() if "made" not in k}
    unknown = Person.objects.get(username="wren")
    assert not unknown.is_active and not unknown.has_usable_password() and unknown.role == "reader"


def test_read_into_the_same_shop_nothing_is_doubled(bench, rich):
    before = (
        Line.objects.count(),
        Reading.objects.count(),
        Watch.objects.count(),
        KeyDown.objects.count(),
        Job.objects.count(),
    )
    assert read(bench, bundle_of(bench, rich)).json()[0]["words"].endswith("was here already, nothing new.")
    assert (
        Line.objects.count(),
        Reading.objects.count(),
        Watch.objects.count(),
        KeyDown.objects.count(),
        Job.objects.count(),
    ) == before


def test_two_shops_that_both_wrote_are_merged_line_by_line(bench, rich):
    there = changed(
        bundle_of(bench, rich),
        lambda told: told["lines"].append(
            told["lines"][0]
            | {
                "id": str(uuid.uuid4()),
                "number": 99,
                "text": "note from the other shop",
                "kind": "note",
                "raw": {},
                "story": {"kind": "note", "words": "from the other shop"},
            }
        ),
    )
    take(bench, rich, "note written here meanwhile")
    count = Line.objects.count()
    assert read(bench, there).json()[0]["words"].endswith("was here already; 1 new lines added.")
    texts = list(Line.objects.filter(job=rich).values_list("text", flat=True))
    assert (
        Line.objects.count() == count + 1
        and "note from the other shop" in texts
        and "note written here meanwhile" in texts
    )


def test_a_line_taken_back_there_is_taken_back_here_and_not_the_other_way(bench, rich):
    def take_back(told):
        told["lines"][1] |= {
            "withdrawn_at": "2026-01-02T00:00:00Z",
            "withdrawn_by": "wren",
            "withdrawn_reason": "misread",
        }

    whole = bundle_of(bench, rich)
    assert "1 brought up to date" in read(bench, changed(whole, take_back)).json()[0]["words"]
    line = Line.objects.get(job=rich, number=2)
    assert line.withdrawn_reason == "misread"
    read(bench, whole)
    line.refresh_from_db()
    assert line.withdrawn_at is not None


def test_another_job_with_the_same_number_keeps_it(bench, rich):
    data = bundle_of(bench, rich)
    forget_everything()
    bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Corrie Q100, school: dead"}, content_type=JSON)
    words = read(bench, data).json()[0]["words"]
    assert words.startswith("Job 2, Tarnbeck M27: read in") and words.endswith("(it was job 1 where it came from).")
    assert Job.objects.get(pk=rich.pk).number == 2


def test_the_whole_shelf_is_one_bundle(bench, rich):
    other = bench.post(
        "/api/jobs", {"id": str(uuid.uuid4()), "words": "Corrie Q100, school: dead"}, content_type=JSON
    ).json()
    data = bench.get("/api/shelf/bundle").getvalue()
    forget_everything()
    assert {o["job"] for o in read(bench, data).json()} == {str(rich.pk), other["id"]}
    assert bench.get("/api/shelf").json()["total"] == 2


def packed(**entries: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in entries.items():
            archive.writestr(name, content)
    return out.getvalue()


def manifest(*jobs: str, **more: object) -> bytes:
    return json.dumps(
        {"format": "young-spark-bundle", "version": 1, "made_at": "2026-01-01T00:00:00Z", "jobs": jobs, **more}
    ).encode()


SOME = str(uuid.UUID(int=7))
HOSTILE = {
    "no zip": (b"hello", "not a whole bundle"),
    "nothing in it": (packed(), "bundle.json is missing"),
    "a path": (packed(**{"../../etc/x": b"x", "bundle.json": manifest()}), "which no bundle holds"),
    "an absolute path": (packed(**{"/etc/x": b"x", "bundle.json": manifest()}), "which no bundle holds"),
    "another format": (packed(**{"bundle.json": manifest(format="x")}), "says something else"),
    "a newer version": (packed(**{"bundle.json": manifest(version=2)}), "of version 2, this one reads 1"),
    "a missing job": (packed(**{"bundle.json": manifest(SOME)}), f"jobs/{SOME}.json is missing"),
    "a job that is none": (
        packed(**{"bundle.json": manifest(SOME), f"jobs/{SOME}.json": b'{"id": 3}'}),
        f"jobs/{SOME}.json, ",
    ),
    "deep json": (
        packed(**{"bundle.json": manifest(SOME), f"jobs/{SOME}.json": b"[" * 200_000}),
        f"jobs/{SOME}.json, ",
    ),
}


@pytest.mark.parametrize(("data", "words"), HOSTILE.values(), ids=HOSTILE)
def test_a_hostile_zip_is_one_sentence(bench, wren, data, words):
    answer = read(bench, data)
    assert answer.status_code == 400 and words in answer.json()["detail"] and len(answer.json()["detail"]) < 400
    assert Job.objects.count() == 0


def test_a_bomb_is_refused_before_it_is_unpacked(bench, wren, monkeypatch):
    bomb = packed(**{"bundle.json": manifest(SOME), f"jobs/{SOME}.json": b" " * (70 << 20)})
    assert len(bomb) < 200_000
    answer = read(bench, bomb)
    assert answer.status_code == 413 and "larger than it may be" in answer.json()["detail"]
    monkeypatch.setattr(importing, "LARGEST_IN_ALL", 1 << 20)
    assert "holds more than a shelf can" in read(bench, bomb).json()["detail"]


def test_a_truncated_bundle_at_any_place_changes_nothing(bench, rich):
    data = bundle_of(bench, rich)
    forget_everything()
    for cut in range(1, len(data) - 1, max(1, len(data) // 40)):
        assert read(bench, data[:cut]).status_code == 400
    assert Job.objects.count() == 0


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: t["lines"][2]["readings"].append({"id": 1}), "lines.2.readings"),
        (lambda t: t["lines"][1].update(by="nobody"), "names 'nobody', who is not among its people"),
        (lambda t: t["lines"][1].update(item=str(uuid.uuid4())), "names an item that is not there"),
        (lambda t: t["lines"][1].update(superseded_by=str(uuid.uuid4())), "replaced by a line that is not there"),
        (lambda t: t.update(id=str(uuid.uuid4())), "holds another job than its name says"),
        (lambda t: [x["picture"] and x["picture"].update(sha256="0" * 64) for x in t["lines"]], "pictures/" + "0" * 64),
        (
            lambda t: [x["picture"] and x["picture"].update(width=7) for x in t["lines"]],
            "another kind or size of picture",
        ),
        (lambda t: [r["measured"].update(value="x") for x in t["lines"] for r in x["readings"]], "value"),
        (lambda t: t["watches"][0]["drops"].append({}), "of job 1 in the bundle is not whole"),
    ],
)
def test_a_spoiled_job_is_refused_whole(bench, rich, change, words):
    data = changed(bundle_of(bench, rich), change)
    forget_everything()
    answer = read(bench, data)
    assert answer.status_code == 400 and words in answer.json()["detail"], answer.content
    assert Job.objects.count() == 0 and Line.objects.count() == 0


def test_a_line_that_says_something_else_here_is_a_conflict(bench, rich):
    data = changed(bundle_of(bench, rich), lambda told: told["lines"][1].update(text="standby 9 A"))
    answer = read(bench, data)
    assert answer.status_code == 409 and "is another line here" in answer.json()["detail"]


def test_a_picture_that_is_none_is_refused(bench, rich):
    whole = bundle_of(bench, rich)
    name = next(n for n in contents(whole) if n.startswith("pictures/"))
    fake = b"<svg onload=alert(1)>"
    digest = hashlib.sha256(fake).hexdigest()
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(whole)) as old, zipfile.ZipFile(out, "w") as new:
        for entry in old.namelist():
            content = old.read(entry).replace(name.removeprefix("pictures/").encode(), digest.encode())
            new.writestr(entry.replace(name, f"pictures/{digest}"), fake if entry == name else content)
    forget_everything()
    answer = read(bench, out.getvalue())
    assert answer.status_code == 400 and "is no whole picture" in answer.json()["detail"]
    assert not list(settings.PICTURES.glob("*"))


def test_a_reader_may_take_one_out_and_not_read_one_in(client_of, rich, reader, bench):
    data = bundle_of(client_of(reader), rich)
    assert read(client_of(reader), data).status_code == 403
    assert read(client_of(make_person("moss", "technician")), data).status_code == 200


def test_a_model_of_the_shop_and_its_channels_travel_with_the_unit(bench, job, wren):
    """Another shop that reads the job in knows the unit: its plan, its channels; what it knows by that name stays."""
    plan = shipped_text("channels", "uk-27-81")
    OWN_PLANS.add("moor", plan, wren)
    model = models()["tarnbeck-m27"].model_copy(update={"maker": "Aske", "name": "R3", "channel_plan": "moor"})
    write_model(actor=wren, name="aske-r3", model=model)
    job.items.update(model="aske-r3")
    data = bundle_of(bench, job)
    forget_everything()
    OwnText.objects.all().delete()
    assert read(bench, data).status_code == 200
    assert own_models()["aske-r3"] == model and OWN_PLANS.newest("moor").text == plan
    write_model(actor=wren, name="aske-r3", model=model.model_copy(update={"greatest_power_w": 8.0}))
    assert read(bench, data).status_code == 200 and own_models()["aske-r3"].greatest_power_w == 8.0
    forget_everything()
    broken = changed(data, lambda told: told["models"].update({"aske-r3": "maker = 3"}))
    refused = read(bench, broken)
    assert refused.status_code == 400 and "aske-r3" in refused.json()["detail"] and not Job.objects.exists()
