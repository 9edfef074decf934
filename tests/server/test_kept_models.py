"""A unit kept as a model: the next one of it opens with what the first one taught."""

import io
import uuid

import pytest

from tests.server.conftest import take
from tests.server.test_lines import JSON, slip
from young_spark.core.gear import kinds, models
from young_spark.server.jobs.models import Job, Line
from young_spark.server.library.models import OwnText
from young_spark.server.library.own_models import OWN_MODELS, model_text, own_models


def check_in(bench, words: str) -> Job:
    made = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": words}, content_type=JSON).json()
    return Job.objects.get(pk=made["id"])


@pytest.fixture
def first(bench):
    job = check_in(bench, "Birkrigg C40 AM cb, marshal 3: weak")
    did = "did C41 -> 100u 16V, bad, 0.30"
    for text in (
        "standby 110ma",
        "1.1w ch19",
        did,
        "did new microphone plug",
        "3.7w ch19",
        "> lid has a hidden clip at the rear",
    ):
        assert take(bench, job, text, as_note=True).status_code == 201
    return job


def keep(bench, job: Job, name: str):
    return bench.post(f"/api/items/{job.items.get().pk}/model", {"name": name}, content_type=JSON)


def test_the_next_unit_opens_with_what_the_first_one_taught(bench, first):
    kept = keep(bench, first, "Birkrigg C40").json()
    assert (kept["model"], kept["is_kind"]) == ("birkrigg-c40", False)
    second = check_in(bench, "Birkrigg C40, marshal 9: dead")
    opened = slip(bench, second)
    assert opened["model"] == "birkrigg-c40"
    notes = {note["text"]: note["proven"] for note in opened["notes"]}
    failed = f"C41 failed in job {first.number}: C41 -> 100u 16V, bad, 0.30"
    assert notes == {failed: True, "lid has a hidden clip at the rear": False}
    bench.patch(f"/api/jobs/{second.pk}", {"part": "find"}, content_type=JSON)
    power = next(line for line in slip(bench, second)["open_lines"] if line["row"] == "power-am-19")
    assert opened["due_from"] == "shop"
    assert power["expected_value"] == 3.7 and power["ghost"]["median"] == 3.7
    low = take(bench, second, "2.2w ch19").json()["readings"][0]
    assert low["verdict"] == "fail", "still judged as typical of its kind"


def test_the_same_name_is_the_next_version_and_nothing_is_lost(bench, first):
    keep(bench, first, "Birkrigg C40")
    take(bench, first, "not fitted", row="squelch")
    keep(bench, first, "Birkrigg C40")
    assert [v.number for v in OWN_MODELS.versions("birkrigg-c40")] == [1, 2]
    assert "squelch" not in {row.id for row in own_models()["birkrigg-c40"].plan}


@pytest.mark.django_db
@pytest.mark.parametrize("model", [*models().values(), *(k.as_model(n) for n, k in kinds().items())], ids=str)
def test_every_model_reads_back_from_its_file_as_the_same(model):
    assert OWN_MODELS.read(model_text(model), "x") == model


def test_without_a_name_it_is_refused_and_a_reader_keeps_nothing(bench, first, reader, client_of):
    assert keep(bench, first, " - ").status_code == 400
    assert keep(client_of(reader), first, "Birkrigg C40").status_code == 403


def power_due(bench, job: Job) -> float | None:
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type=JSON)
    lines = slip(bench, job)["open_lines"]
    return next(line["expected_value"] for line in lines if line["row"] == "power-am-19")


def test_a_unit_keeps_to_the_version_it_was_planned_by_until_it_is_asked_to_follow(bench, first):
    keep(bench, first, "Birkrigg C40")
    second = check_in(bench, "Birkrigg C40, marshal 9: dead")
    bench.put("/api/gear/birkrigg-c40/rows/power-am-19", {"due": 3.2}, content_type=JSON)
    bench.post("/api/gear/birkrigg-c40/notes", {"text": "mind the ribbon"}, content_type=JSON)
    opened = slip(bench, second)
    assert power_due(bench, second) == 3.7
    assert "mind the ribbon" in {note["text"] for note in opened["notes"]}, "what is known helps whoever has one open"
    (change,) = opened["model_changes"]
    assert change["what"].startswith("Carrier power, AM · channel 19")
    assert (change["here"], change["there"]) == ("3.7 W", "3.2 W")
    third = check_in(bench, "Birkrigg C40, marshal 4: weak")
    assert power_due(bench, third) == 3.2 and slip(bench, third)["model_changes"] == []
    followed = bench.post(f"/api/items/{second.items.get().pk}/follow").json()
    assert followed["model_changes"] == [] and power_due(bench, second) == 3.2


def test_a_bundle_brings_the_version_that_its_units_keep_to(bench, first):
    keep(bench, first, "Birkrigg C40")
    second = check_in(bench, "Birkrigg C40, marshal 9: dead")
    bench.put("/api/gear/birkrigg-c40/rows/power-am-19", {"due": 3.2}, content_type=JSON)
    bundle = bench.get(f"/api/jobs/{second.pk}/bundle").getvalue()
    known_by = second.pk
    Line.objects.filter(job=second).delete()
    second.delete()
    OwnText.objects.filter(name="birkrigg-c40").delete()  # another shop, that knows nothing of it
    assert bench.post("/api/bundles", {"file": io.BytesIO(bundle)}).status_code in {200, 201}
    assert power_due(bench, Job.objects.get(pk=known_by)) == 3.7


def test_a_version_that_is_not_understood_leaves_no_unit_without_a_plan(bench, first):
    keep(bench, first, "Birkrigg C40")
    second = check_in(bench, "Birkrigg C40, marshal 9: dead")
    bench.put("/api/gear/birkrigg-c40/rows/power-am-19", {"due": 3.2}, content_type=JSON)
    OwnText.objects.filter(name="birkrigg-c40", number=1).update(text='an = "older way to write it"')
    assert power_due(bench, second) == 3.2 and slip(bench, second)["model_changes"] == []
