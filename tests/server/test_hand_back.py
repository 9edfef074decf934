"""The report and its files, from one job with a fault, a repair and a proof."""

import csv
import io
import uuid

import pytest

from tests.server.conftest import picture_bytes, take
from tests.server.test_lines import JSON, take_open, to
from young_spark.server.handback.table import defused


@pytest.fixture
def repaired(bench, job):
    take(bench, job, "wish keep the beep")
    to(bench, job, "find")
    take_open(bench, job, "0.4w el 5")
    take(bench, job, "found L14 dry joint")
    bench.post(
        f"/api/jobs/{job.pk}/pictures",
        {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4()), "words": "the joint"},
    )
    to(bench, job, "fix")
    take(bench, job, "did Q9 -> same type, final, bad, 4.60, 10 min")
    to(bench, job, "prove")
    take_open(bench, job, "tx 1.1a")
    take_open(bench, job, "3.8w el 5")
    take(bench, job, '=HYPERLINK("x")')
    take(bench, job, "note =1+1")
    take(bench, job, "advice mend the aerial first")
    return job


def report(client, job):
    return client.get(f"/api/jobs/{job.pk}/report").json()


def test_the_report_tells_complaint_found_done_result_advice_and_what_is_missing(bench, repaired):
    told = {s["id"]: [x["text"] for x in s["sentences"]] for s in report(bench, repaired)["sections"]}
    assert told["complaint"] == ["You told us: “no output”.", "You asked: “keep the beep” – kept as it was."]
    assert told["found"] == ["L14 dry joint."]
    assert told["done"] == ["Q9 replaced by same type: it was bad."]
    assert told["result"] == ["As it leaves, the Tarnbeck M27 was measured at 2 points and none is outside a limit."]
    assert told["advice"] == ["Mend the aerial first."]
    assert any(text.startswith("Peak deviation") and text.endswith("not measured.") for text in told["not_measured"])
    power = next(row for row in report(bench, repaired)["compared"] if row["name"] == "Carrier power")
    assert (power["before"], power["before_words"], power["after_words"]) == (
        "400 mW ± 238",
        "Outside",
        "Within, only just",
    )
    assert all(limit["version"] and limit["source"] for limit in power["limits"])


def test_figures_over_places_are_a_table_on_the_slip_and_in_every_report(bench, job):
    for text in ("ch1 3.6w ch19 3.8w ch40 2.2w", "c7 61uf of 100uf", "c12 46uf of 47uf", "draws 0.2a rx 1.3a tx"):
        take(bench, job, text)
    slip = bench.get(f"/api/jobs/{job.pk}").json()
    channels, states, parts = slip["tables"]
    assert [row["where"] for row in channels["rows"]] == ["channel 1", "channel 19", "channel 40"]
    assert channels["rows"][2]["cells"][0]["stands_out"] == "−2.3 dB from the others"  # 10 log 2.2/3.7
    assert {row["cells"][0]["line"] for row in channels["rows"]} <= {line["id"] for line in slip["lines"]}
    assert (states["id"], parts["says"]) == ("states", ["1 of 2 below 80 % of what is marked on them"])
    assert [t["table"]["id"] for t in report(bench, job)["tables"]] == ["channels", "states", "parts"]
    page = bench.get(f"/api/jobs/{job.pk}/report.html").content.decode()
    assert "Parts" in page and "channel 40 stands out by −2.3 dB" in page
    assert bench.get(f"/api/jobs/{job.pk}/report.pdf").content.startswith(b"%PDF")


def test_sentences_are_edited_left_out_and_drafted_again(bench, repaired):
    key = report(bench, repaired)["sections"][1]["sentences"][0]["key"]

    def put(text):
        found = bench.put(
            f"/api/jobs/{repaired.pk}/report/sentence", {"key": key, "text": text}, content_type=JSON
        ).json()
        return next(x for s in found["sections"] for x in s["sentences"] if x["key"] == key)

    assert put("A joint had cracked.") == {
        "key": key,
        "text": "A joint had cracked.",
        "drafted": "L14 dry joint.",
        "edited": True,
    }
    assert put("")["text"] == ""
    assert put(None)["text"] == "L14 dry joint."


def test_the_html_file_fetches_nothing_and_runs_nothing(bench, repaired):
    page = bench.get(f"/api/jobs/{repaired.pk}/report.html")
    text = page.content.decode()
    assert (
        "attachment" in page["Content-Disposition"] and "data:image/jpeg;base64" in text and "data:font/woff2" in text
    )
    assert not [bad for bad in ("http://", "https://", "<script", 'src="/', "@import", "<link") if bad in text]
    assert "Carrier power" in text and "Within, only just" in text and "not measured" in text


def test_html_in_a_line_stays_text(bench, repaired):
    take(bench, repaired, "found <script>alert(1)</script> scratched in the case")
    text = bench.get(f"/api/jobs/{repaired.pk}/report.html").content.decode()
    assert "<script" not in text and "&lt;script&gt;" in text


def test_the_pdf_is_a_pdf_with_every_sign_the_trade_uses(bench, repaired):
    take(bench, repaired, "found 10 µF, 4.7 kΩ → open, √2 × 3 ≤ 5 – 😀")
    pdf = bench.get(f"/api/jobs/{repaired.pk}/report.pdf")
    assert pdf.content.startswith(b"%PDF-") and pdf.content.rstrip().endswith(b"%%EOF") and len(pdf.content) > 10_000


def test_the_csv_holds_every_reading_and_no_formula(bench, repaired):
    rows = list(csv.DictReader(io.StringIO(bench.get(f"/api/jobs/{repaired.pk}/readings.csv").content.decode())))
    assert [(r["quantity"], r["phase"]) for r in rows] == [
        ("carrier_power", "as_received"),
        ("supply_current", "as_left"),
        ("carrier_power", "as_left"),
    ]
    assert float(rows[2]["value"]) == 3.8 and float(rows[2]["uncertainty"]) == pytest.approx(0.95 * 0.25)
    assert rows[0]["stale"].startswith("repair after it")
    assert all(not cell.startswith(("=", "@")) for r in rows for cell in r.values())


@pytest.mark.parametrize(
    ("cell", "kept"),
    [
        ("=1+1", "'=1+1"),
        ("+44", "'+44"),
        ("-62", "'-62"),
        ("@x", "'@x"),
        ("\tx", "'\tx"),
        ("3.8w", "3.8w"),
        (-62.0, -62.0),
        (None, None),
    ],
)
def test_a_cell_is_defused_where_a_spreadsheet_would_run_it(cell, kept):
    assert defused(cell) == kept
