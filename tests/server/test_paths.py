"""The path of a job: readings behind it, hazards by name, and nobody changes it while it is keyed."""

import math
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.core.test_signal_path import SAMPLED
from tests.server.conftest import record_of, take
from tests.server.test_live_bench import key, post, sat  # noqa: F401  a fixture
from young_spark.server.benches.models import JobPath, SavedBench
from young_spark.server.jobs.models import Item
from young_spark.server.live.bench import live_bench
from young_spark.server.readings.models import Reading

JSON = "application/json"
pytestmark = pytest.mark.django_db(transaction=True)


def use(client, job, path, **more):
    return client.put(f"/api/jobs/{job.pk}/path", {"path": path} | more, content_type=JSON)


def act(client, job, what, **body):
    return client.post(f"/api/jobs/{job.pk}/path/{what}", body, content_type=JSON)


def test_a_reading_behind_the_path_is_the_power_at_the_socket(bench, job):
    assert use(bench, job, SAMPLED, name="Sampler").json()["name"] == "Sampler"
    take(bench, job, "-14.3dbm", conditions={"frequency_hz": 3e6, "mode": "am"})
    kept = Reading.objects.get()
    assert kept.value == pytest.approx(10 ** ((-14.3 + 50.65) / 10 - 3))
    assert kept.conditions["pad_db"] == pytest.approx(50.65) and kept.conditions["path"].startswith(
        "meter 0.05 dB, sampler 40.6 dB, pad 10 dB"
    )
    # the chip changes the path, and the next reading goes by it
    assert act(bench, job, "pad", instrument="analyser", pad_db=20).status_code == 200
    take(bench, job, "-14.3dbm", conditions={"frequency_hz": 3e6, "mode": "am"})
    assert Reading.objects.latest("line__number").value == pytest.approx(10 ** ((-14.3 + 60.65) / 10 - 3))


def test_the_most_of_every_unit_on_the_job_goes_through_the_path(bench, job):
    alone = use(bench, job, SAMPLED).json()
    assert (alone["mean_w"], alone["crest_w"], alone["state"], alone["barred"]) == (6.0, 16.0, "ok", "")
    Item.objects.create(job=job, name="linear", model="hollin-linear-400", position=1)
    together = bench.get(f"/api/jobs/{job.pk}/path").json()
    assert together["mean_w"] == 420.0 and together["state"] == "too_high"
    assert [h["hazard"] for h in together["hazards"]] == ["load"] and together["barred"] == together["hazards"][0][
        "words"
    ]
    Item.objects.filter(job=job).update(model="")
    unknown = bench.get(f"/api/jobs/{job.pk}/path").json()
    assert unknown["state"] is None and "state the most" in unknown["barred"]
    assert use(bench, job, SAMPLED, most_w=4).json()["barred"] == ""


def test_a_hazard_is_confirmed_by_name_and_asked_again(sat, bench, wren, client_of):  # noqa: F811
    job = sat
    bare = {"from": "w", "parts": [{"id": "w", "kind": "cable", "name": "lead"}]}
    assert use(bench, job, bare).json()["state"] == "no_load"
    assert (
        live_bench().clock.word.word is None
        and live_bench().clock.word.why == "Nothing is behind lead: end the line in a load"
    )
    assert act(bench, job, "confirm", hazard="generator").status_code == 400
    confirmed = act(bench, job, "confirm", hazard="load").json()
    assert confirmed["hazards"][0]["by"] == "Wren" and confirmed["barred"] == ""
    take(bench, job, "standby 120ma")
    assert live_bench().clock.word.word == "KEY"
    assert "confirmed by Wren: Nothing is behind lead" in bench.get(f"/api/jobs/{job.pk}").content.decode()
    # another day, another slip in between, or another path: it is asked again
    row = JobPath.objects.get()
    row.confirmed["load"]["at"] = (row.at - timedelta(hours=9)).isoformat()
    row.save()
    assert bench.get(f"/api/jobs/{job.pk}/path").json()["barred"] != ""
    act(bench, job, "confirm", hazard="load")
    use(bench, job, bare | {"parts": [{**bare["parts"][0], "loss_db": 1}]})
    assert bench.get(f"/api/jobs/{job.pk}/path").json()["hazards"][0]["by"] is None
    act(bench, job, "confirm", hazard="load")
    other = bench.post(
        "/api/jobs", {"id": "5ba2c0de-0000-4000-8000-0000000000aa", "words": "Corrie Q100: dead"}, content_type=JSON
    ).json()
    post(bench, "/seat", job=other["id"])
    post(bench, "/seat", job=str(job.pk))
    assert bench.get(f"/api/jobs/{job.pk}/path").json()["hazards"][0]["by"] is None


def test_high_voltage_is_asked_again_when_the_covers_come_off(bench, job):
    Item.objects.filter(job=job).update(model="hollin-linear-400")
    big = {"from": "load", "parts": [{"id": "load", "kind": "load", "rating_w": 1000}]}
    use(bench, job, big)
    assert bench.get(f"/api/jobs/{job.pk}/path").json()["barred"] == ""
    for again in ("first", "again"):
        take(bench, job, "changed covers off")
        now = bench.get(f"/api/jobs/{job.pk}/path").json()
        assert [h["hazard"] for h in now["hazards"]] == ["high_voltage"] and now["hazards"][0]["by"] is None, again
        assert act(bench, job, "confirm", hazard="high_voltage").json()["barred"] == ""
        take(bench, job, "changed covers on")


def test_one_named_part_may_be_overridden_until_the_path_changes(bench, job):
    hot = {
        "from": "coupler",
        "parts": [
            {"id": "coupler", "kind": "coupler", "coupling_db": 10, "through": "load", "coupled": "analyser"},
            {"id": "load", "kind": "load", "rating_w": 100},
            {"id": "analyser", "kind": "instrument", "safe_dbm": 20},
        ],
    }
    assert [o["part"] for o in use(bench, job, hot).json()["over"]] == ["analyser"]
    assert act(bench, job, "override", part="load").status_code == 400
    post(bench, "/seat", job=str(job.pk))
    assert act(bench, job, "override", part="analyser").json()["barred"] == ""
    assert "analyser" not in live_bench().clock.word.why
    key(True)
    key(False)  # once is once: the next key-down is asked for anew
    assert "would reach analyser" in live_bench().clock.word.why
    again = hot | {"parts": [{**hot["parts"][0], "coupling_db": 11}, *hot["parts"][1:]]}
    assert "would reach analyser" in use(bench, job, again).json()["barred"]


def test_nobody_changes_the_path_while_it_is_keyed_but_by_name(sat, bench):  # noqa: F811
    job = sat
    use(bench, job, SAMPLED)
    key(True)
    refused = use(bench, job, None)
    assert refused.status_code == 409 and "is keyed: let go first" in refused.json()["detail"]
    assert act(bench, job, "pad", instrument="analyser", pad_db=0).status_code == 409
    assert use(bench, job, None, sure=True).json()["path"] is None
    assert "changed while keyed, said by Wren" in bench.get(f"/api/jobs/{job.pk}").content.decode()


def test_a_load_of_the_path_ends_the_key_down(sat, bench):  # noqa: F811
    """4 W of AM into a load that stands 1.2 W for 5 s more than heat it: one second and a bit at 6 W."""
    use(
        bench,
        sat,
        {
            "from": "load",
            "parts": [
                {"id": "load", "name": "small load", "kind": "load", "rating_w": 6.1, "rating_s": 5, "cool_off_s": 30}
            ],
        },
    )
    take(bench, sat, "0.9w")  # no first key any more
    key(True, 6)
    assert live_bench().clock.word.word == "UNKEY" and "small load" in live_bench().clock.word.why


def test_benches_are_kept_by_name_and_bad_ones_are_refused(bench, job):
    for name, coupling in (("Window", 30), ("Window", 31), ("Rack", 30)):
        path = {"from": "c", "parts": [{"id": "c", "kind": "coupler", "coupling_db": coupling}]}
        assert bench.post("/api/benches", {"name": name, "path": path}, content_type=JSON).status_code == 201
    assert [(b.name, b.path["parts"][0]["coupling_db"]) for b in SavedBench.objects.all()] == [
        ("Rack", 30),
        ("Window", 31),
    ]
    circle = {"from": "a", "parts": [{"id": "a", "kind": "cable", "to": "b"}, {"id": "b", "kind": "cable", "to": "a"}]}
    assert "circle" in use(bench, job, circle).json()["detail"]
    gain = {
        "from": "a",
        "parts": [
            {"id": "a", "kind": "filter", "loss_db": -100, "to": "b"},
            {"id": "b", "kind": "filter", "loss_db": -100, "to": "l"},
            {"id": "l", "kind": "load"},
        ],
    }
    refused = use(bench, job, gain)
    assert refused.status_code >= 400 and "more than 200 dBm" in refused.json()["detail"]
    assert not JobPath.objects.exists()


def test_a_parts_loss_comes_from_a_two_port_file(bench):
    def sent(name, data):
        return bench.post("/api/benches/loss", {"file": SimpleUploadedFile(name, data)})

    rows = "".join(f"{f} 0 0 0.1 0 0.1 0 0 0\n" for f in range(1, 3000))
    found = sent("pad.s2p", f"# MHZ S MA R 50\n{rows}".encode()).json()["loss_db"]
    assert 300 < len(found) <= 402 and found[0][0] == 1e6 and found[-1][0] == 2999e6
    assert all(loss == pytest.approx(20.0) for _, loss in found)
    assert "pad.s2p" in sent("pad.s2p", b"# MHZ S MA R 50\n1 x\n").json()["detail"]


def test_a_record_behind_the_path_is_corrected_at_each_frequency_for_good(bench, job):
    use(bench, job, SAMPLED)
    grid = [25e6 + n * 5e4 for n in range(1300)]
    peak = {27.2e6: -8.0, 54.4e6: -70.0}
    level = [
        next(
            (
                p + 10 * math.log10(math.exp(-(((f - c) / 8e4) ** 2)) + 1e-9)
                for c, p in peak.items()
                if abs(f - c) < 3e5
            ),
            -95.0,
        )
        for f in grid
    ]
    csv = "frequency_hz,level_dbm\n" + "\n".join(f"{f},{y:.3f}" for f, y in zip(grid, level, strict=True))
    kept = record_of(bench, job, ("lines.csv", csv.encode())).json()

    def found(told, name):
        return next(r["measured"]["value"] for r in told["readings"] if r["quantity"] == name)

    loss = {f: 10.05 + 40.6 - 0.4 * (min(f, 30e6) - 3e6) / 27e6 for f in peak}
    assert kept["told"]["path_at"] == "analyser"
    assert found(kept, "carrier_power") == pytest.approx(10 ** ((-8 + loss[27.2e6]) / 10 - 3), rel=0.01)
    assert found(kept, "harmonic_2") == pytest.approx(-62 + loss[54.4e6] - loss[27.2e6], abs=0.3)
    use(bench, job, None)  # what was on the bench then stays with the record
    assert found(bench.get(f"/api/records/{kept['id']}").json(), "carrier_power") == found(kept, "carrier_power")
