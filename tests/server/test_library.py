"""The library and the sums sheet over the API."""

from datetime import timedelta

import pytest
from django.utils import timezone

from young_spark.server.library.models import ShopInstrument

JSON = "application/json"


@pytest.fixture
def meters(db):
    today = timezone.now().date()
    ShopInstrument.objects.create(
        id="bench", name="Bench wattmeter", kind="wattmeter", detector="peak", elements_w=[5.0, 25.0], calibration_due=today + timedelta(days=9),
        functions={"power": {"percent_of_full_scale": 4.0}},
    )  # fmt: skip
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
