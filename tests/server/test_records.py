"""Records on a job: read, judged, taken onto the slip, kept by the hash of their bytes."""

import base64
import csv
import hashlib
import io
import math
import re
import uuid
import wave
from xml.etree import ElementTree

import numpy as np
import pytest
import soundfile

from tests.core import records
from tests.server.conftest import envelope_csv, record_of
from young_spark.server.library.models import ShopInstrument
from young_spark.server.readings.models import Reading
from young_spark.server.records.services import columns_here

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
    twice = bench.post(f"/api/records/{told['id']}/take", body | {"id": str(uuid.uuid4())}, content_type=JSON)
    assert twice.json()["id"] == line.json()["id"]  # a key pressed twice
    assert "depth-am-19" not in [o["row"] for o in bench.get(f"/api/jobs/{job.pk}").json()["open_lines"]]


def test_the_two_files_of_a_recording_and_what_is_told_of_it(bench, job, tmp_path):
    x, peak = records.fm(np.random.default_rng(1), seconds=0.3)
    meta = records.write_sigmf(tmp_path / "a", x, rate=48_000, centre=27.185e6)
    files = [(f.name, f.read_bytes()) for f in (meta.with_suffix(".sigmf-data"), meta)]
    told = record_of(bench, job, *files, conditions='{"mode": "fm", "frequency_hz": 27185000}').json()
    assert figure(told, "fm_deviation")["measured"]["value"] == pytest.approx(peak, rel=0.01)
    assert figure(told, "carrier_power")["measured"]["value"] is None
    assert "taken as known to 1 dB in level and 1 ppm in frequency: typical, until it is told" in told["remarks"]
    more = told["told"] | {"full_scale_dbm": 46.0, "level_uncertainty_db": 0.4}
    scaled = bench.patch(f"/api/records/{told['id']}", more, content_type=JSON).json()
    assert figure(scaled, "carrier_power")["measured"]["value"] == pytest.approx(10 ** (46 / 10 - 3) * 0.09, rel=0.01)
    assert "taken as known to 1 ppm in frequency: typical, until it is told" in scaled["remarks"]
    power = figure(scaled, "carrier_power")["measured"]
    assert power["uncertainty"] == pytest.approx((10 ** (0.4 / 10) - 1) * power["value"], rel=0.02)
    assert bench.get(f"/api/jobs/{job.pk}/records").json()[0]["name"] == "a.sigmf-meta"
    assert not any("channel" in remark for remark in scaled["remarks"])
    other = bench.patch(f"/api/records/{told['id']}", more | {"nominal_hz": 26.965e6}, content_type=JSON).json()
    assert re.search(
        r"MHz is channel 19, and it was handed in for 26.965 MHz: say its assigned frequency", other["remarks"][0]
    )


def test_the_accuracy_of_the_instrument_in_the_chip_is_the_records(bench, job):
    made = {"id": "larch-sa", "name": "Larch SA", "kind": "analyser", "functions": {"level": {"db": 0.4}}}
    ShopInstrument.objects.create(**made)
    f, level = records.spectrum(np.random.default_rng(1), [(27.185e6, -10.0)], stop=100e6)
    rows = "\n".join(f"{hz},{dbm}" for hz, dbm in zip(f, level, strict=True))
    file = ("sweep.csv", f"frequency_hz,level_dbm\n{rows}\n".encode())
    told = record_of(bench, job, file, conditions='{"instrument": "larch-sa", "frequency_hz": 27185000}').json()
    assert told["told"]["level_uncertainty_db"] == 0.4
    assert "taken as known to 0.4 dB in level: the accuracy of Larch SA" in told["remarks"]


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


def lines_csv(span, *lines):
    """A spectrum from span[0] to span[1] with lines of (Hz, dBm), some points wide."""
    grid = np.linspace(*span, 801)
    width = 3 * (grid[1] - grid[0])
    power = 10**-9.5 + sum(10 ** (dbm / 10) * np.exp(-(((grid - at) / width) ** 2)) for at, dbm in lines)
    rows = (f"{f:.1f},{y:.3f}" for f, y in zip(grid, 10 * np.log10(power), strict=True))
    return ("frequency_hz,level_dbm\n" + "\n".join(rows)).encode()


def test_the_mask_stands_over_a_spectrum_where_the_rule_has_it(bench, job):
    text = lines_csv((27.125e6, 27.245e6), (27.185e6, -4.0))
    chips = '{"mode": "am", "channel": 19, "pad_db": 40}'
    kept = record_of(bench, job, ("close.csv", text), conditions=chips).json()
    carrier = next(m["y"] for m in kept["marks"] if m["name"] == "carrier")
    watts = figure(kept, "carrier_power")["measured"]["value"]
    assert watts == pytest.approx(10 ** ((-4 + 40) / 10 - 3), rel=0.02)

    def ceiling(offset):
        over = [m for m in kept["limits"] if m["x_from"] < 27.185e6 + offset <= m["x_to"] and m["name"] == "regulation"]
        return min((round(m["y"] - carrier, 1) for m in over), default=None)

    # 47 CFR 95.979: 25 dB at 4 to 8 kHz, 35 dB at 8 to 20 kHz, 53 + 10 log P beyond
    beyond = -round(53 + 10 * math.log10(watts), 1)
    assert [ceiling(o) for o in (2e3, 6e3, -6e3, 12e3, -12e3)] == [None, -25.0, -25.0, -35.0, -35.0]
    assert ceiling(40e3) == pytest.approx(beyond, abs=0.11) and ceiling(-40e3) == pytest.approx(beyond, abs=0.11)


def test_a_second_trace_tells_whose_a_harmonic_is(bench, job):
    """With 10 dB more before the analyser the second harmonic falls by 10 dB against the carrier, the third stays."""
    first = lines_csv((25e6, 95e6), (27.2e6, -10.0), (54.4e6, -60.0), (81.6e6, -65.0))
    second = lines_csv((25e6, 95e6), (27.2e6, -20.0), (54.4e6, -80.0), (81.6e6, -75.0))
    other = record_of(bench, job, ("padded.csv", second)).json()["id"]
    kept = record_of(bench, job, ("first.csv", first)).json()
    told = bench.patch(f"/api/records/{kept['id']}", kept["told"] | {"attenuated": other}, content_type=JSON).json()
    mixed, real = (figure(told, f"harmonic_{n}") for n in (2, 3))
    assert "the analyser makes it itself" in mixed["measured"]["not_judged"] and mixed["verdict"] == "no_verdict"
    assert any("the unit's own" in r for r in real["measured"]["remarks"]) and real["measured"]["not_judged"] is None


def test_a_record_is_heard_on_the_slip_and_ten_seconds_of_it_in_the_report(bench, job, tmp_path):
    t = np.arange(15 * 8000) / 8000
    file = io.BytesIO()
    with wave.open(file, "wb") as out:
        out.setparams((1, 2, 8000, 0, "NONE", ""))
        out.writeframes((9000 * np.sin(2 * np.pi * 1000 * t)).astype("<i2").tobytes())
    kept = record_of(bench, job, ("audio.wav", file.getvalue()), conditions="{}").json()
    assert kept["sound"]
    played = bench.get(f"/api/records/{kept['id']}/sound.wav")
    with wave.open(io.BytesIO(played.content)) as sound:
        assert sound.getnframes() / sound.getframerate() == pytest.approx(15, abs=0.01)
    page = f"/api/jobs/{job.pk}/report.html"
    assert "audio/flac" not in bench.get(page).content.decode()  # nothing of it stands on the slip
    take = {"id": str(uuid.uuid4()), "quantity": "audio_frequency", "conditions": {}}
    assert bench.post(f"/api/records/{kept['id']}/take", take, content_type=JSON).status_code == 201
    inside = re.search(r'src="data:audio/flac;base64,([^"]+)"', bench.get(page).content.decode())
    sound, rate = soundfile.read(io.BytesIO(base64.b64decode(inside[1])))
    assert len(sound) / rate == pytest.approx(10, abs=0.01)
    spectrum = np.abs(np.fft.rfft(sound))
    assert np.argmax(spectrum) * rate / len(sound) == pytest.approx(1000, abs=0.2)
    spectrum_only = record_of(bench, job, ("s.csv", lines_csv((25e6, 55e6), (27.2e6, -8.0)))).json()
    assert not spectrum_only["sound"] and bench.get(f"/api/records/{spectrum_only['id']}/sound.wav").status_code == 404


def test_a_harmonics_limit_stands_at_its_own_line(bench, job):
    kept = record_of(bench, job, ("lines.csv", lines_csv((25e6, 55e6), (27.2e6, -8.0), (54.4e6, -70.0)))).json()
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


def test_a_figure_stays_where_its_record_was_taken_whatever_line_is_current_since(bench, job):
    """The plan went on to channel 1 before the second figure was taken; then the record is told to be of another
    channel."""
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type=JSON)
    kept = record_of(bench, job, conditions='{"mode": "am", "channel": 19, "supply_v": 13.2}').json()

    def point(quantity):
        now = {"mode": "am", "channel": 1, "supply_v": 13.8}
        body = {"id": str(uuid.uuid4()), "quantity": quantity, "conditions": now, "row": "power-am-1"}
        taken = bench.post(f"/api/records/{kept['id']}/take", body, content_type=JSON).json()
        conditions = Reading.objects.get(line=taken["id"]).conditions
        return conditions["mode"], conditions["channel"], conditions["frequency_hz"], conditions["supply_v"]

    assert point("am_depth") == ("am", 19, None, 13.8)
    bench.patch(f"/api/records/{kept['id']}", kept["told"] | {"nominal_hz": 27.405e6}, content_type=JSON)
    assert point("am_depth_positive") == ("am", 40, None, 13.8)
    bench.patch(
        f"/api/records/{kept['id']}",
        kept["told"] | {"nominal_hz": 28.5e6, "mode": "ssb", "lower_sideband": True},
        content_type=JSON,
    )
    assert point("am_depth_negative") == ("lsb", None, 28.5e6, 13.8)


BEAM = """title = "Beam scope"
kind = "scope"
identity = "^BEAM"
[columns]
Zeitbasis = "ms"
"Eingang A" = "mV"
"""


def test_the_columns_of_an_instruments_own_export_are_read_as_its_definition_says(bench, job):
    """An envelope in milliseconds and millivolts, with semicolons, decimal commas and names that say nothing."""
    rows = list(csv.reader(io.StringIO(envelope_csv().decode())))[1:]
    cells = (f"{1e3 * float(t):.6f};{1e3 * float(v):.4f}".replace(".", ",") for t, v in rows)
    file = ("messung.csv", "\n".join(["Messung 12", "Zeitbasis;Eingang A", *cells]).encode())
    refused = record_of(bench, job, file)
    assert refused.status_code == 400 and "the definition of its instrument may say" in refused.json()["detail"]
    address = "/api/library/texts/definitions/beam"
    wrong = bench.put(address, {"text": BEAM.replace('"mV"', '"furlong"')}, content_type=JSON)
    assert "'Eingang A' is in 'furlong'" in wrong.json()["detail"]
    assert bench.put(address, {"text": BEAM}, content_type=JSON).status_code == 200
    told = record_of(bench, job, file).json()
    assert figure(told, "am_depth")["measured"]["value"] == pytest.approx(90, abs=0.2)
    bench.post(f"{address}/withdraw")
    again = bench.get(f"/api/records/{told['id']}").json()
    assert figure(again, "am_depth") == figure(told, "am_depth")  # it is read as it came in


def test_a_name_of_which_two_instruments_say_otherwise_is_known_of_the_chosen_one_only(bench, job):
    for name, unit in (("beam", "mV"), ("other", "V")):
        text = BEAM.replace("mV", unit)
        assert bench.put(f"/api/library/texts/definitions/{name}", {"text": text}, content_type=JSON).status_code == 200
    scope = ShopInstrument.objects.create(id="beam", name="Beam", kind="scope", definition="beam")
    assert columns_here(None) == {"zeitbasis": "ms"}
    assert columns_here(scope.pk) == {"zeitbasis": "ms", "eingang a": "mv"}
