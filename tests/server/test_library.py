"""The library and the sums sheet over the API."""

from datetime import timedelta

import pytest
from django.utils import timezone

from young_spark.server.library.models import OwnText, ShopInstrument

JSON = "application/json"


@pytest.fixture
def meters(db):
    today = timezone.now().date()
    ShopInstrument.objects.create(
        id="bench",
        name="Bench wattmeter",
        kind="wattmeter",
        detector="peak",
        elements_w=[5.0, 25.0],
        calibration_due=today + timedelta(days=9),
        functions={"power": {"percent_of_full_scale": 4.0}},
    )
    ShopInstrument.objects.create(
        id="yard", name="Yard wattmeter", kind="wattmeter", calibration_due=today - timedelta(days=1)
    )


def test_models_limits_and_instruments_come_with_their_sources(bench, meters):
    library = bench.get("/api/library").json()
    us = next(p["profile"] for p in library["profiles"] if p["id"] == "us-27mhz")
    assert (
        all(row["source"].startswith("47 CFR 95") for row in us["rows"])
        and "check it against the rules" in library["notice"]
    )
    assert {m["title"] for m in library["models"]} >= {
        "Tarnbeck M27",
        "Corrie Q100",
        "Scarth Ridge 476",
        "Hollin Linear 400",
    }
    shown = {i["id"]: i for i in library["instruments"]}
    assert (shown["bench"]["overdue"], shown["yard"]["overdue"]) == (False, True)
    assert "power ± 4 % of full scale" in shown["bench"]["accuracy"]


def test_the_shops_own_meter_and_its_lapsed_calibration_are_in_the_reading(bench, meters):
    def ask(chip: str):
        body = {"text": "4w", "conditions": {"instrument": chip, "element_w": 5}}
        return bench.post("/api/understand", body, content_type=JSON).json()

    own, lapsed = (ask(chip)["meanings"][0]["readings"][0]["measured"] for chip in ("bench", "yard"))
    assert own["uncertainty"] == pytest.approx(0.95 * 0.2, rel=1e-3)
    assert "Yard wattmeter: calibration overdue" in lapsed["remarks"] and lapsed["uncertainty"] > own["uncertainty"]


@pytest.mark.parametrize(
    ("sum_id", "values", "figure", "working"),
    [
        ("dbm", [36.0], "3.981 W", "1 mW × 10^(36/10) = 3.981 W"),
        ("swr", [100, 25], "0.5", "√(25 W / 100 W) = 0.5"),
        ("pads", [-4, 20, 20, 0], "36 dBm", "−4 dBm + 20 + 20 + 0 dB = 36 dBm"),
        ("ppm", [50, 27.2], "1.36 kHz", "50 × 10⁻⁶ × 27.2 MHz = 1.36 kHz"),
    ],
)
def test_a_sum_comes_with_its_working(bench, sum_id, values, figure, working):
    line = bench.post(f"/api/library/sums/{sum_id}", {"values": values}, content_type=JSON).json()["lines"][0]
    assert (line["figure"], line["working"]) == (figure, working)


@pytest.mark.parametrize(
    ("values", "words"),
    [([10, 12], "is the sensor reversed"), ([0, 0], "is the transmitter keyed"), ([1], "wants 2 figures")],
)
def test_a_sum_that_cannot_be_is_refused_in_words(bench, values, words):
    answer = bench.post("/api/library/sums/swr", {"values": values}, content_type=JSON)
    assert answer.status_code == 200 and words in answer.json()["refused"] and answer.json()["lines"] == []


def test_an_unknown_sum_and_a_figure_that_is_none_are_problems(bench):
    assert bench.post("/api/library/sums/none", {"values": [1]}, content_type=JSON).status_code == 404
    refused = bench.post("/api/library/sums/dbm", '{"values": ["x"]}', content_type=JSON)
    assert refused.status_code == 422 and refused.json()["detail"].startswith("values.0")
    assert bench.post("/api/library/sums/dbm", "{half", content_type=JSON).status_code == 400


US = "/api/library/profiles/us-27mhz"


def test_a_profile_is_copied_edited_judged_by_and_withdrawn_and_what_was_judged_keeps_its_version(bench, job):
    text = bench.get(US).json()["text"]
    assert text.startswith("#") and not bench.get(US).json()["ours"]
    ask = {"text": "dev 1.9k", "job": str(job.pk), "conditions": {"mode": "fm", "channel": 19}}

    def lines():
        found = bench.post("/api/understand", ask, content_type=JSON).json()["meanings"][0]["readings"][0]["verdicts"]
        return [(v["verdict"], v["version"]) for v in found if v["row"] == "fm-deviation"]

    (before,) = lines()
    assert before[0] == "pass" and "shop" not in before[1]
    stricter = text.replace("high = 2000", "high = 1500", 1)
    kept = bench.put(US, {"text": stricter}, content_type=JSON)
    assert kept.status_code == 200 and kept.json()["ours"] and kept.json()["versions"][0]["by"] == "Wren"
    assert lines() == [("fail", f"{before[1]}, shop 1")]
    line = bench.post("/api/lines", ask | {"id": "5b0b45b1-6d2b-4d3b-8a58-6d5f6f0f5e11"}, content_type=JSON).json()
    assert bench.put(US, {"text": stricter}, content_type=JSON).json()["versions"][-1]["number"] == 1  # the same text
    bench.put(US, {"text": stricter.replace("high = 1500", "high = 1600", 1)}, content_type=JSON)
    assert lines() == [("fail", f"{before[1]}, shop 2")]
    listed = next(p for p in bench.get("/api/library").json()["profiles"] if p["id"] == "us-27mhz")
    assert listed["ours"] and listed["profile"]["version"].endswith("shop 2")
    assert bench.post(f"{US}/withdraw").json()["ours"] is False and lines() == [before]
    assert [v["number"] for v in bench.get(US).json()["versions"]] == [1, 2]
    slip = bench.get(f"/api/jobs/{job.pk}").json()
    stored = next(x for x in slip["lines"] if x["id"] == line["id"])["readings"][0]["verdicts"]
    assert {v["version"] for v in stored if v["row"] == "fm-deviation"} == {f"{before[1]}, shop 1"}


def test_a_copy_that_is_not_understood_any_more_leaves_the_judging_to_the_shipped_one(bench, job, wren):
    ask = {"text": "dev 2.4k", "job": str(job.pk), "conditions": {"mode": "fm", "channel": 19}}
    before = bench.post("/api/understand", ask, content_type=JSON).json()["meanings"]
    OwnText.objects.create(kind="limits", name="us-27mhz", number=1, text="kind = 'regulation'\nrows = 3", by=wren)
    assert bench.post("/api/understand", ask, content_type=JSON).json()["meanings"] == before
    listed = next(p for p in bench.get("/api/library").json()["profiles"] if p["id"] == "us-27mhz")
    assert listed["ours"] and "line" in listed["not_understood"] and "shop" not in listed["profile"]["version"]


@pytest.mark.parametrize(("change", "words"), [
    (("high = 2000", 'high = "two"'), "'fm-deviation'"),
    (('id = "fm-deviation"', 'id = "frequency"'), "row 'frequency' stands there twice"),
    (('quantity = "fm_deviation"', 'quantity = "fm_deviaton"'), "did you mean 'fm_deviation'"),
    (('kind = "regulation"', 'kind = "house"'), "stays what its original is"),
    (("[[rows]]", "[[rows]"), "line"),
])  # fmt: skip
def test_a_text_that_is_no_profile_is_refused_by_line_and_row(bench, job, change, words):
    text = bench.get(US).json()["text"]
    assert change[0] in text
    refused = bench.put(US, {"text": text.replace(*change, 1)}, content_type=JSON)
    assert refused.status_code == 400 and words in refused.json()["detail"], refused.json()
    assert bench.get(US).json()["text"] == text and bench.get("/api/library/profiles/none").status_code == 404


def test_the_selector_of_a_modified_unit_is_mapped_and_its_sweep_leaves_out_what_is_barred(bench, job):
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type=JSON)
    item = job.items.get()
    before = {o["row"] for o in bench.get(f"/api/jobs/{job.pk}").json()["open_lines"]}
    slip = bench.patch(f"/api/items/{item.pk}", {"selector": "1 27.415\n19 27.205"}, content_type=JSON).json()
    assert [(p["position"], p["allowed"]) for p in slip["selector"]] == [(1, False), (19, True)]
    assert {r for r in before if r.endswith("-1")} == before - {o["row"] for o in slip["open_lines"]} != set()
    ask = {"text": "27.20507M", "job": str(job.pk), "conditions": {"mode": "am", "channel": 19}}
    found = bench.post("/api/understand", ask, content_type=JSON).json()["meanings"][0]["readings"]
    assert next(r for r in found if r["quantity"] == "frequency_error")["measured"]["value"] == pytest.approx(70)
    refused = bench.patch(f"/api/items/{item.pk}", {"selector": "nineteen"}, content_type=JSON)
    assert refused.status_code == 400 and "line 1 of the selector" in refused.json()["detail"]
    assert bench.get(f"/api/jobs/{job.pk}").json()["items"][0]["selector"] == "1 27.415\n19 27.205"


def test_what_is_looked_up_knows_the_shop(bench, meters):
    """The shop's own elements are advised; an unknown table is not there."""
    found = bench.get("/api/reference/look-up", {"q": "element 4w"}).json()
    assert found[0]["id"] == "elements" and found[0]["rows"][0]["cells"][0] == "5 W, Bench wattmeter"
    assert bench.get("/api/reference/tables/none").status_code == 404
    assert bench.get("/api/reference/look-up", {"q": "x" * 5000}).json() == []
    names = {t["id"] for t in bench.get("/api/reference").json()}
    assert {"us-27mhz", "cables", "plugs"} <= names
    whole = bench.get("/api/reference/tables/cables", {"q": "145mhz 20m"}).json()
    assert whole["columns"][0] == "20 m at 145 MHz" and not whole["more"]


RALLY = """
title = "Moor rally"
source = "the club"
reach_hz = 3000
[[channels]]
number = 1
hz = 27605000
[[channels]]
number = 2
hz = 27615000
allowed = false
"""


def test_a_plan_of_the_shop_counts_its_units_channels_and_stays_while_one_keeps_to_it(bench, job):
    address = "/api/library/texts/channels"
    refused = bench.put(
        f"{address}/moor-rally", {"text": RALLY.replace("hz = 27605000", "hz = 'x'")}, content_type=JSON
    )
    assert refused.status_code == 400 and "line 7: channels.0.hz" in refused.json()["detail"]
    assert bench.put(f"{address}/moor-rally", {"text": RALLY}, content_type=JSON).json()["ours"]
    name = bench.post("/api/gear/cb-fm-mobile/copy", {"name": "Aske R2"}, content_type=JSON).json()["id"]
    text = bench.get(f"/api/gear/{name}/file").content.decode()
    plan = next(line for line in text.splitlines() if line.startswith("channel_plan"))
    kept = {"text": text.replace(plan, 'channel_plan = "moor-rally"'), "sure": True}
    assert bench.post("/api/gear-file", kept, content_type=JSON).json()["kept"]
    item = job.items.get()
    item.model = name
    item.save()
    asked = {"text": "27.60512", "job": str(job.pk), "item": str(item.pk), "conditions": {"channel": 1}}
    read = bench.post("/api/understand", asked, content_type=JSON).json()["meanings"][0]["readings"][0]["measured"]
    assert (read["quantity"], read["value"]) == ("frequency_error", pytest.approx(120))
    held = bench.post(f"{address}/moor-rally/withdraw")
    assert held.status_code == 400 and "Aske R2 keeps to that plan" in held.json()["detail"]


def test_a_word_of_the_shop_is_read_as_what_it_stands_for(bench, db):
    address = "/api/library/texts/words/words"
    refused = bench.put(address, {"text": '[words]\nwobble = "drift"\npower = "drift"\n'}, content_type=JSON).json()
    assert refused["detail"].startswith("words.toml: line 3: words.power")
    bench.put(address, {"text": '[words]\nwobble = "drift"\n'}, content_type=JSON)
    asked = {"text": "wobble 40hz", "conditions": {}}
    found = bench.post("/api/understand", asked, content_type=JSON).json()
    assert found["meanings"][0]["readings"][0]["measured"]["quantity"] == "frequency_drift"
    assert bench.post(f"{address}/withdraw").status_code == 200
    answer = bench.post("/api/understand", asked, content_type=JSON).json()
    assert answer["chosen"] is None and answer["question"]


def test_what_ships_differently_since_a_copy_was_made_is_shown_line_by_line(bench, db):
    shipped = bench.get("/api/library/texts/channels/uk-27-81").json()["text"]
    bench.put("/api/library/texts/channels/uk-27-81", {"text": shipped + "# ours\n"}, content_type=JSON)
    assert bench.get("/api/library/texts/channels/uk-27-81").json()["changed"] == ""
    own = OwnText.objects.get()
    own.shipped = own.shipped.replace("hz = 27601250", "hz = 27600000")  # as an earlier version shipped it
    own.save()
    told = bench.get("/api/library/texts/channels/uk-27-81").json()["changed"].splitlines()
    assert "-hz = 27600000" in told and "+hz = 27601250" in told
    assert [t["id"] for t in bench.get("/api/library/texts/channels").json() if t["changed"]] == ["uk-27-81"]
