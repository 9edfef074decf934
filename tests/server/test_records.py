"""Records on a job: read, judged, taken onto the slip, kept by the hash of their bytes."""

import csv
import hashlib
import math
import uuid
from xml.etree import ElementTree

import numpy as np
import pytest

from tests.core import records
from tests.server.conftest import envelope_csv, record_of
from young_spark.server.readings.models import Reading

pytestmark = pytest.mark.django_db
JSON = "application/json"


def figure(told, name):
    return next(r for r in told["readings"] if r["quantity"] == name)


def test_a_record_becomes_lines_that_answer_the_plan(bench, job, settings):
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type=JSON)
    told = record_of(bench, job).json()
    depth = figure(told, "am_depth")
    assert told["kind"] == "envelope" and depth["figure"].startswith("90.00") and depth["verdict"] == "pass"
    assert [m["name"] for m in told["marks"]] == ["C", "crest", "trough"] and len(told["lines"][0]["xs"]) == 480
    body = {
        "id": str(uuid.uuid4()),
        "quantity": "am_depth",
        "conditions": {"mode": "am", "channel": 19, "modulation": "on"},
        "row": "depth-am-19",
    }
    line = bench.post(f"/api/records/{told['id']}/take", body, content_type=JSON)
    assert line.status_code == 201 and line.json()["readings"][0]["plan_row"] == "depth-am-19"
    assert bench.post(f"/api/records/{told['id']}/take", body, content_type=JSON).json()["id"] == line.json()["id"]
    assert Reading.objects.filter(quantity="am_depth").count() == 1
    again = bench.get(f"/api/records/{told['id']}").json()
    assert again["readings"] == told["readings"] and again["taken"] == ["am_depth"]
    assert (settings.PICTURES / hashlib.sha256(envelope_csv()).hexdigest()).read_bytes() == envelope_csv()
    assert "depth-am-19" not in [o["row"] for o in bench.get(f"/api/jobs/{job.pk}").json()["open_lines"]]


def test_the_two_files_of_a_recording_and_what_is_told_of_it(bench, job, tmp_path):
    x, peak = records.fm(np.random.default_rng(1), seconds=0.3)
    meta = records.write_sigmf(tmp_path / "a", x, rate=48_000, centre=27.185e6)
    files = [(f.name, f.read_bytes()) for f in (meta.with_suffix(".sigmf-data"), meta)]
    told = record_of(bench, job, *files, conditions='{"mode": "fm", "frequency_hz": 27185000}').json()
    assert figure(told, "fm_deviation")["measured"]["value"] == pytest.approx(peak, rel=0.01)
    assert figure(told, "carrier_power")["measured"]["value"] is None
    more = told["told"] | {"full_scale_dbm": 46.0}
    scaled = bench.patch(f"/api/records/{told['id']}", more, content_type=JSON).json()
    assert figure(scaled, "carrier_power")["measured"]["value"] == pytest.approx(10 ** (46 / 10 - 3) * 0.09, rel=0.01)
    assert (
        figure(scaled, "carrier_power")["measured"]["uncertainty"]
        > 0.2 * figure(scaled, "carrier_power")["measured"]["value"]
    )
    assert "1 dB in level and 1 ppm in frequency: typical" in scaled["remarks"][-1]
    assert bench.get(f"/api/jobs/{job.pk}/records").json()[0]["name"] == "a.sigmf-meta"


@pytest.mark.parametrize(("files", "words"), [
    ((("a.csv", b"time_s,volts\n0,1\n"),), "a.csv: 1 rows are too few"),
    ((("../../etc/pass.csv", b"time_s,volts\nx,1\n"),), "pass.csv, line 2: time_s is 'x', not a number"),
    ((("a.exe", b"MZ"),), "a file of this kind is not read"),
    ((("a.sigmf-meta", b"{}"),), "its neighbour a.sigmf-data is not there"),
    ((("a.csv", b"1"), ("b.csv", b"1"), ("c.csv", b"1")), "One record at a time"),
])  # fmt: skip
def test_what_is_not_understood_is_refused_and_nothing_is_kept(bench, job, files, words):
    refused = record_of(bench, job, *files)
    assert refused.status_code == 400 and words in refused.json()["detail"]
    assert bench.get(f"/api/jobs/{job.pk}/records").json() == []


def test_a_record_without_its_mode_asks_for_it(bench, job, tmp_path):
    meta = records.write_sigmf(tmp_path / "a", records.am(np.random.default_rng(1)), rate=48_000, centre=27.185e6)
    files = [(f.name, f.read_bytes()) for f in (meta, meta.with_suffix(".sigmf-data"))]
    told = record_of(bench, job, *files, conditions="{}").json()
    assert told["readings"] == [] and "needs its mode" in told["remarks"][0]
    told = bench.patch(f"/api/records/{told['id']}", {"mode": "am"}, content_type=JSON).json()
    assert figure(told, "am_depth")["measured"]["value"] == pytest.approx(70, abs=0.3)


def test_limits_stand_in_the_plot_and_it_leaves_as_svg_and_csv(bench, job):
    kept = record_of(bench, job, row="depth-am-19").json()
    level = next(m["y"] for m in kept["marks"] if m["name"] == "C")
    told = {(m["name"], round(m["y"] / level, 3)) for m in kept["limits"]}
    assert ("regulation", 2.0) in told and ("regulation", 0.0) in told  # 100 % up and down about C
    svg = bench.get(f"/api/records/{kept['id']}/plot.svg")
    assert svg["Content-Type"] == "image/svg+xml" and "attachment" in svg["Content-Disposition"]
    root = ElementTree.fromstring(svg.content)
    texts = [e.text for e in root.iter() if e.tag.endswith("text")]
    assert {"crest", "trough", "regulation", kept["name"]} <= set(texts)
    assert all(
        math.isfinite(float(n))
        for e in root.iter()
        if e.tag.endswith("polyline")
        for p in e.get("points").split()
        for n in p.split(",")
    )
    rows = list(csv.reader(bench.get(f"/api/records/{kept['id']}/plot.csv").content.decode().splitlines()))
    assert rows[0] == ["line", kept["x"], kept["y"]]
    drawn = [(x, y) for line in kept["lines"] for x, y in zip(line["xs"], line["ys"], strict=True)]
    assert [(float(x), float(y)) for _, x, y in rows[1:]] == drawn


def test_a_harmonics_limit_stands_at_its_own_line(bench, job):
    grid = [25e6 + n * 5e4 for n in range(600)]
    level = [
        next(
            (
                p + 10 * math.log10(math.exp(-(((f - c) / 8e4) ** 2)) + 1e-9)
                for c, p in ((27.2e6, -8.0), (54.4e6, -70.0))
                if abs(f - c) < 3e5
            ),
            -95.0,
        )
        for f in grid
    ]
    text = "frequency_hz,level_dbm\n" + "\n".join(f"{f},{y:.3f}" for f, y in zip(grid, level, strict=True))
    kept = record_of(bench, job, ("lines.csv", text.encode())).json()
    at = [m for m in kept["limits"] if m["x_from"] < 54.4e6 < m["x_to"]]
    high = next(
        v["high"]
        for r in kept["readings"]
        if r["quantity"] == "harmonic_2"
        for v in r["verdicts"]
        if v["kind"] == "regulation"
    )
    value = next(r["measured"]["value"] for r in kept["readings"] if r["quantity"] == "harmonic_2")
    mark = next(m["y"] for m in kept["marks"] if m["name"] == "harmonic_2")
    assert mark + high - value in [pytest.approx(m["y"]) for m in at if m["name"] == "regulation"]
