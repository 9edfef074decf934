"""The live bench as the web keeps it: what is captured lands on the right line once, clocks outlive a restart,
turning and watching are written down."""

import io
import time
import uuid
from datetime import date, timedelta
from unittest import mock

import pytest
from django.conf import settings
from django.db import OperationalError
from django.db.models import F
from django.utils import timezone

from tests.server.conftest import connect, hear, make_person, picture_bytes, take, tell
from young_spark import steady_clock
from young_spark.server.bulletin import bulletin
from young_spark.server.jobs.models import Job, Line
from young_spark.server.library.models import ShopInstrument
from young_spark.server.live import watches
from young_spark.server.live.bench import LiveBench, install, live_bench
from young_spark.server.live.models import KeyDown, Seat, Watch, WatchDrop, WatchPart
from young_spark.server.readings.models import Reading
from young_spark.server.wholeness.pieces import file_pieces

JSON = "application/json"
pytestmark = [pytest.mark.django_db(transaction=True), pytest.mark.long]  # what follows a commit follows it here too


def post(client, path, **body):
    return client.post(f"/api/bench{path}", body, content_type=JSON)


@pytest.fixture
def sat(bench, job):
    """A Tarnbeck in Find, sat down with at its first line; all four instruments there."""
    for name, kind in (
        ("bench-wattmeter", "wattmeter"),
        ("counter", "counter"),
        ("modulation", "modulation_meter"),
        ("supply", "supply"),
    ):
        connect(name, kind)
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type=JSON)
    post(bench, "/seat", job=str(job.pk), row="power-am-19", conditions={})
    return job


@pytest.fixture(autouse=True)
def values_stay_fresh(monkeypatch):
    """However long a loaded machine takes between two lines of a test."""
    monkeypatch.setattr("young_spark.server.live.latest.FRESH_S", 600.0)


def key(up: bool, ago: float = 0.0) -> None:
    hear({"kind": "carrier", "up": up, "at": steady_clock.now() - ago})


def captured(orders, quantity="carrier_power", row="power-am-19", line=None, **values):
    wanted = [o for o in orders if o["kind"] == "wanted"][-1]
    values = values or {"power": 3.812}
    message = {
        "kind": "captured",
        "id": line or str(uuid.uuid4()),
        "place": wanted["place"],
        "row": row,
        "quantity": quantity,
        "values": values,
        "instruments": dict.fromkeys(values, "bench-wattmeter"),
        "samples": {n: [[steady_clock.now(), v]] * 5 for n, v in values.items()},
        "at": steady_clock.now(),
        "steadiness": {
            "value": next(iter(values.values())),
            "scatter": 0.01,
            "slope_per_s": 0.0,
            "count": 5,
            "seconds": 0.6,
        },
    }
    hear(message)
    return message["id"]


def test_the_bench_is_asked_for_what_the_plan_still_wants_there(sat, bench_process, bench):
    wanted = [o for o in bench_process if o["kind"] == "wanted"][-1]["rows"]
    assert [(w["row"], w["here"]) for w in wanted if w["here"]] == [
        ("power-am-19", True),
        ("frequency-19", True),
        ("depth-am-19", True),
        ("current-transmit", True),
    ]
    assert {w["row"] for w in wanted} >= {"power-am-1", "power-am-40"} and "deviation-fm-19" not in {
        w["row"] for w in wanted
    }
    assert {w["row"]: w["assigned_hz"] for w in wanted}["power-am-1"] == 26.965e6
    take(bench, sat, "3.8w", row="power-am-19", conditions={"mode": "am", "channel": 19})
    assert "power-am-19" not in {w["row"] for w in [o for o in bench_process if o["kind"] == "wanted"][-1]["rows"]}


def test_on_bands_without_channels_only_the_frequency_says_what_is_here(bench, wren, bench_process):
    connect()
    job = bench.post(
        "/api/jobs", {"id": str(uuid.uuid4()), "words": "Corrie Q100, school: weak"}, content_type=JSON
    ).json()
    bench.patch(f"/api/jobs/{job['id']}", {"part": "find"}, content_type=JSON)
    for row, here in (("power-3m7", ["power-3m7"]), ("power-14m2", ["power-14m2", "frequency-14m2"])):
        post(bench, "/seat", job=job["id"], row=row)
        wanted = [o for o in bench_process if o["kind"] == "wanted"][-1]["rows"]
        assert [w["row"] for w in wanted if w["here"]] == [*here, "current-transmit"] and len(wanted) == 6


def test_a_captured_reading_is_a_line_with_all_that_was_sent(sat, bench_process):
    line = captured(bench_process)
    stored = Line.objects.get(pk=line)
    reading = Reading.objects.get(line=stored)
    assert (stored.text, reading.plan_row, reading.value) == ("3.812w", "power-am-19", 3.812)
    assert stored.raw["captured"]["values"] == {"power": 3.812} and len(stored.raw["captured"]["samples"]["power"]) == 5
    assert reading.conditions["instrument"] == "bench-wattmeter" and reading.conditions["modulation"] == "off"
    assert "mean of 5 over 0.6 s" in reading.measured["remarks"]
    assert {"kind": "acknowledged", "id": line} in bench_process


def test_along_a_table_the_bench_looks_for_its_row_and_what_it_gives_stands_there(sat, bench_process, bench):
    """The hand walks along channel 7, where the plan wants nothing; the last cell is one that no instrument fills."""
    cells = ["channel 7 am carrier power ", "channel 7 am frequency error ", "channel 7 am modulation depth ",
             "channel 7 am 2nd harmonic "]  # fmt: skip
    post(bench, "/seat", job=str(sat.pk), row="power-am-19", conditions={}, along=cells)
    order = [o for o in bench_process if o["kind"] == "wanted"][-1]
    assert [(w["quantity"], w["assigned_hz"], w["modulation"], w["here"]) for w in order["rows"]] == [
        ("carrier_power", 27.035e6, None, True),
        ("frequency_error", 27.035e6, None, True),
        ("am_depth", 27.035e6, "on", True),
    ]
    take(bench, sat, "tx 1.3a", conditions={})  # it was keyed before: this is no first key
    hear({"kind": "left", "rows": [w["row"] for w in order["rows"]], "up": False})
    assert bench.get("/api/bench").json()["keying"]["why"] == "channel 7: carrier power, frequency error"
    key(True)
    for wanted, values in zip(
        order["rows"], ({"power": 3.61}, {"frequency": 27.035066e6}, {"depth": 88.4}), strict=True
    ):
        line = captured(bench_process, wanted["quantity"], wanted["row"], **values)
        told = Reading.objects.get(line=line, quantity=wanted["quantity"])
        assert (told.conditions["channel"], told.conditions["mode"]) == (7, "am")
        asked = [o for o in bench_process if o["kind"] == "wanted"][-1]
        assert [w["row"] for w in asked["rows"]] == [w["row"] for w in order["rows"]], "until the hand goes on"
    assert Line.objects.get(pk=line).text == "channel 7 am modulation depth 88.4%"
    hear({"kind": "misplaced", "frequency_hz": 27.40507e6})
    assert bench.get("/api/bench").json()["say"].endswith("channel 40; the table's row is channel 7 am carrier power.")
    post(bench, "/seat", job=str(sat.pk), row="power-am-19", conditions={})
    assert "power-am-19" in {w["row"] for w in [o for o in bench_process if o["kind"] == "wanted"][-1]["rows"]}


def test_a_captured_reading_sent_again_is_acknowledged_and_not_doubled(sat, bench_process):
    line = captured(bench_process)
    captured(bench_process, line=line)
    assert Line.objects.filter(pk=line).count() == 1 and bench_process.count({"kind": "acknowledged", "id": line}) == 2


def test_a_set_goes_where_it_belongs_even_after_the_slip_was_left(sat, bench_process, bench, wren):
    """The seat moved to another slip between the capture and its message: it goes onto the slip it was taken for."""
    orders = list(bench_process)
    other = bench.post(
        "/api/jobs", {"id": str(uuid.uuid4()), "words": "Corrie Q100, school: dead"}, content_type=JSON
    ).json()
    post(bench, "/seat", job=other["id"])
    line = captured(orders)
    assert Line.objects.get(pk=line).job_id == sat.pk


def test_a_slip_that_learns_late_does_not_take_the_instruments_back(sat, bench):
    other = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Corrie Q100, school: dead"}, content_type=JSON)
    post(bench, "/seat", job=other.json()["id"])
    late = post(bench, "/seat", job=str(sat.pk), row="power-am-1", follows=True).json()
    assert late["job"] == other.json()["id"]
    assert post(bench, "/seat", job=str(sat.pk), row="power-am-1").json()["job"] == str(sat.pk)
    assert post(bench, "/seat", job=str(sat.pk), row="frequency-19", follows=True).json()["job"] == str(sat.pk)
    assert Seat.objects.get().row == "frequency-19"


def test_a_pad_in_another_instruments_chip_is_not_put_on_this_one(sat, bench_process, bench):
    post(bench, "/seat", job=str(sat.pk), row="power-am-19", conditions={"instrument": "old-test-set", "pad_db": 20})
    assert Reading.objects.get(line=captured(bench_process)).value == 3.812
    post(bench, "/seat", job=str(sat.pk), row="power-am-1", conditions={"instrument": "bench-wattmeter", "pad_db": 10})
    assert Reading.objects.get(line=captured(bench_process, row="power-am-1")).value == pytest.approx(38.12)


def test_space_takes_what_is_shown_and_nothing_before_the_carrier(sat, bench):
    tell(power=0.001, reflected=0.0, pep=0.001)
    refused = post(bench, "/take", id=str(uuid.uuid4()))
    assert refused.status_code == 400 and "No carrier is seen" in refused.json()["detail"]
    key(True)
    taken = post(bench, "/take", id=str(uuid.uuid4())).json()
    assert taken["text"] == "none" and taken["readings"][0]["measured"]["bound"] == "upper"
    tell(power=3.6, reflected=0.0, pep=3.6)
    post(bench, "/seat", job=str(sat.pk), row="power-am-1")
    assert post(bench, "/take", id=str(uuid.uuid4())).json()["readings"][0]["figure"].startswith("3.60 W")


def test_an_instrument_that_fell_silent_gave_no_reading_of_nothing(sat, bench, monkeypatch):
    """A wattmeter that stalls while the unit is keyed does not say that there is no carrier."""
    key(True)
    tell(power=3.8, reflected=0.0, pep=3.85)
    monkeypatch.setattr("young_spark.server.live.latest.FRESH_S", 0.0)
    refused = post(bench, "/take", id=str(uuid.uuid4()))
    assert refused.status_code == 400 and "bench-wattmeter has said nothing for 0 s" in refused.json()["detail"]
    assert not Reading.objects.exists()


def test_a_mean_with_audio_on_it_is_neither_judged_nor_taken_as_the_carrier(sat, bench):
    key(True)
    tell(power=4.6, reflected=0.0, pep=10.0)
    assert bench.get("/api/bench").json()["current"] is None
    refused = post(bench, "/take", id=str(uuid.uuid4()))
    assert refused.status_code == 400 and "Keep quiet, then take it" in refused.json()["detail"]
    tell(power=3.8, reflected=0.0, pep=3.85)
    assert bench.get("/api/bench").json()["current"]["meaning"]["readings"][0]["verdict"] in {"pass", "pass_close"}
    assert post(bench, "/take", id=str(uuid.uuid4())).json()["readings"][0]["figure"].startswith("3.80 W")


def test_a_current_of_a_keyed_unit_is_none_of_standby(sat, bench):
    bench.patch(f"/api/jobs/{sat.pk}", {"part": "in"}, content_type=JSON)
    post(bench, "/seat", job=str(sat.pk), row="current-standby")
    tell("supply", amps=1.3)
    assert bench.get("/api/bench").json()["current"]["meaning"]["readings"][0]["verdict"] == "fail"
    key(True)
    assert bench.get("/api/bench").json()["current"] is None
    refused = post(bench, "/take", id=str(uuid.uuid4()))
    assert refused.status_code == 400 and "Unkey it for the figure in standby" in refused.json()["detail"]


def test_of_two_that_give_the_same_the_first_of_the_shop_is_believed_until_it_falls_silent(sat, bench):
    connect("loft-receiver", "counter")
    live_bench().send_instruments()

    def shown():
        return bench.get("/api/bench").json()["values"]["frequency"]

    tell("counter", frequency=27.185071e6)
    tell("loft-receiver", frequency=27.184680e6)
    assert (shown()["instrument"], shown()["value"]) == ("counter", 27.185071e6)
    hear({"kind": "state", "instrument": "counter", "connected": False, "sentence": "the line dropped"})
    tell("loft-receiver", frequency=27.184680e6)
    assert shown()["instrument"] == "loft-receiver"
    tell("counter", frequency=27.185072e6)
    assert shown()["value"] == 27.185072e6  # it is back, and believed again


def test_what_stands_beside_the_carrier_is_told_to_pages_that_look(sat):
    beside = {"carrier_hz": 27.185e6, "reach_hz": 20e3, "rbw_hz": 150.0, "levels_db": [-60.0, 0.0, -60.0]}
    message = {"kind": "spectrum", "instrument": "loft-receiver", "at": steady_clock.now(), "beside": beside}
    with mock.patch.object(bulletin, "publish") as publish:
        hear(message)
        assert not publish.called  # nobody looks
        with mock.patch.object(type(bulletin), "looking", True):
            hear(message)
    (kind, told), how = publish.call_args
    assert (kind, told["beside"]["levels_db"], how) == ("spectrum", (-60.0, 0.0, -60.0), {"kept": False})


def test_an_old_value_is_not_shown_as_one_of_now(sat, bench):
    hear({"kind": "values", "instrument": "bench-wattmeter", "at": steady_clock.now() - 999, "values": {"power": 3.8}})
    key(True)
    shown = bench.get("/api/bench").json()
    assert shown["values"] == {} and shown["current"] is None
    tell(power=3.8, reflected=0.01, pep=3.8)
    assert bench.get("/api/bench").json()["current"]["meaning"]["readings"][0]["verdict"] in {"pass", "pass_close"}
    hear(
        {
            "kind": "state",
            "instrument": "bench-wattmeter",
            "connected": False,
            "identity": "",
            "sentence": "the line dropped",
            "error": "",
        }
    )
    shown = bench.get("/api/bench").json()
    assert shown["values"] == {} and shown["faults"] == ["bench-wattmeter: the line dropped"]


def test_key_down_and_cool_off_go_on_over_a_restart(sat, bench):
    key(True, ago=31)
    assert live_bench().clock.word.word == "UNKEY"
    install(LiveBench())  # the web was killed and is here again; the bench process sees the carrier still
    hear({"kind": "hello"})
    key(True)
    down = KeyDown.objects.get()
    assert down.ended_at is None and time.time() - down.began_at.timestamp() > 30
    assert live_bench().clock.word.word == "UNKEY"
    key(False)
    KeyDown.objects.update(began_at="2026-01-01T00:00:00Z", ended_at="2026-01-01T00:00:00Z")
    KeyDown.objects.create(item=down.item, began_at=_ago(62), ended_at=_ago(2))
    live_bench().seat_changed()
    cooling = bench.get("/api/bench").json()["keying"]
    assert cooling["word"] == "COOL" and 20 < cooling["until"] - time.time() < 60


def _ago(seconds):
    from datetime import timedelta

    from django.utils import timezone

    return timezone.now() - timedelta(seconds=seconds)


def test_a_hand_may_say_that_it_keyed_and_a_bad_aerial_says_unkey(sat, bench):
    hear({"kind": "left", "rows": ["power-am-19"], "up": False})
    assert post(bench, "/key", keyed=True).json()["keying"]["word"] == "HOLD"
    assert KeyDown.objects.get().by_hand
    tell(power=3.0, reflected=1.5, pep=3.0)
    said = bench.get("/api/bench").json()["keying"]
    assert said["word"] == "UNKEY" and "SWR over" in said["why"]
    assert post(bench, "/key", keyed=False).json()["up"] is False


def test_a_unit_that_is_not_safe_is_asked_for_nothing_and_never_says_key(sat, bench, bench_process):
    take(bench, sat, "lock mains lead bare")
    assert [o for o in bench_process if o["kind"] == "wanted"][-1]["rows"] == []
    assert bench.get("/api/bench").json()["keying"]["word"] is None
    key(True)
    said = bench.get("/api/bench").json()["keying"]
    assert said["word"] == "UNKEY" and "mains lead bare" in said["why"]


def test_found_is_on_disk_at_once_and_found_and_left_become_one_line(sat, bench, bench_process):
    post(bench, "/turn", adjuster="L14", quantity="carrier_power", aim="peak")
    assert [o for o in bench_process if o["kind"] == "wanted"][-1]["rows"] == [], (
        "what is turned is no reading of the plan"
    )
    key(True, ago=1)
    for watts in (1.8, 2.6, 3.4, 3.9, 3.5):
        tell(power=watts, reflected=0.01, pep=watts)
    assert Seat.objects.get().turn["turning"]["found"] == 1.8
    shown = bench.get("/api/bench").json()["turn"]
    assert (shown["arrow"], shown["note"], shown["words"]["best"]) == ("back", "double", "3.9 W")
    tell(power=0.0, reflected=0.0, pep=0.0)  # let go before anybody heard that the carrier went
    sent = {"id": str(uuid.uuid4()), "keep": True}
    assert post(bench, "/turn/leave", **sent).json()["turn"] is None
    assert post(bench, "/turn/leave", **sent).status_code == 200, "the answer was lost, not the line"
    line = Line.objects.get(kind="adjusted")
    assert (
        line.story["value_found"] == "1.8W" and line.story["value_left"] == "3.5W" and line.story["adjuster"] == "L14"
    )


def test_a_frequency_is_turned_by_its_error_on_the_channel(sat, bench):
    post(bench, "/seat", job=str(sat.pk), row="frequency-19", conditions={"mode": "am", "channel": 19})
    post(bench, "/turn", adjuster="trimmer", quantity="frequency_error", aim="target", target=0)
    key(True, ago=1)
    for hertz in (27.18552e6, 27.18521e6, 27.185012e6):
        tell("counter", frequency=hertz)
    shown = bench.get("/api/bench").json()["turn"]
    assert (shown["arrow"], shown["note"]) == ("stop", "triple") and shown["now"] == pytest.approx(12, abs=0.1)


def test_a_watch_keeps_its_drops_its_marks_and_its_sum(sat, bench, bench_process):
    watch = str(uuid.uuid4())
    assert post(bench, "/watches", id=watch, job=str(sat.pk)).status_code == 201
    assert post(bench, "/watches", id=watch, job=str(sat.pk)).status_code == 201
    assert post(bench, "/watches", id=str(uuid.uuid4()), job=str(sat.pk)).status_code == 409
    assert any(o["kind"] == "watch" and o["id"] == watch for o in bench_process)
    post(bench, f"/watches/{watch}/mark", id=str(uuid.uuid4()), what="tapped")
    drop = {"at": 1.0, "name": "power", "kind": "drop", "usual": 4.0, "reached": 0.2, "lasted": None}
    points = [[n / 10, "power", 4.0] for n in range(10)]
    hear({"kind": "watched", "id": watch, "points": points, "drops": [drop]})
    hear({"kind": "watched", "id": watch, "points": [], "drops": [drop | {"lasted": 0.5}]})
    assert WatchDrop.objects.get().lasted == 0.5
    shown = bench.get(f"/api/bench/watches/{watch}").json()
    assert shown["drops"][0]["after"] == "tapped" and len(shown["series"][0]["at"]) == 10
    line = str(uuid.uuid4())
    post(bench, f"/watches/{watch}/end", line=line)
    assert Line.objects.get(pk=line).text.endswith("1 drop, 1 just after 'tapped'")
    assert post(bench, f"/watches/{watch}/mark", id=str(uuid.uuid4()), what="x").status_code == 409
    assert bench.get(f"/api/bench/watches?job={sat.pk}").json()[0]["drops"] == 1


def test_the_log_of_a_running_watch_is_read_on_in_order_of_time(sat, wren):
    watch = Watch.objects.create(id=uuid.uuid4(), job=sat, item=sat.items.get(), by=wren)
    WatchPart.objects.create(watch=watch, points=[[1.0, "power", 3.8], [1.2, "amps", 1.1]])
    assert [(s["at"], s["values"]) for s in watches.shown(watch)["series"]] == [([1.2], [1.1]), ([1.0], [3.8])]
    late = [[n / 10, "power", 3.7] for n in range(20, 20_000)]
    WatchPart.objects.create(watch=watch, points=[[0.5, "power", 3.9], *late])
    power = watches.shown(watch)["series"][1]
    assert (power["at"][0], power["values"][0]) == (0.5, 3.9)
    assert 2500 <= len(power["at"]) <= 3500 and power["at"] == sorted(power["at"]) and max(power["at"]) > 1990


def test_the_wrong_channel_is_said_in_words(sat, bench):
    hear({"kind": "misplaced", "frequency_hz": 27.40507e6})
    assert (
        bench.get("/api/bench").json()["say"]
        == "The counter reads 27.40507 MHz, channel 40; the line wants AM · channel 19 · 13.2 V."
    )


def test_an_instrument_is_added_checked_and_remarked_on_when_it_drifted(sat, bench, bench_process):
    made = {
        "name": "Loft meter",
        "kind": "wattmeter",
        "address": "TCPIP::10.0.0.7::5025::SOCKET",
        "definition": "simulated-wattmeter",
    }
    put = lambda id, **body: bench.put(f"/api/bench/instruments/{id}", body, content_type=JSON)  # noqa: E731
    assert put("loft-meter", **made).status_code == 200
    assert any(i["id"] == "loft-meter" for o in bench_process if o["kind"] == "instruments" for i in o["instruments"])
    for wrong, words in (
        ({"address": "the loft"}, "An address reads like"),
        ({"definition": "x"}, "Choose a definition"),
        ({"kind": "kettle"}, "Which kind"),
    ):
        assert words in put("loft-meter", **wrong).json()["detail"]
    check = {"function": "power", "standard": 5.0, "read": 4.9}
    page = bench.post(
        "/api/bench/instruments/loft-meter/checks", check | {"id": str(uuid.uuid4())}, content_type=JSON
    ).json()
    row = next(i for i in page["instruments"] if i["id"] == "loft-meter")
    assert row["checks"][0]["percent"] == pytest.approx(-2.0) and not row["drifted"]
    bench.post(
        "/api/bench/instruments/loft-meter/checks", check | {"id": str(uuid.uuid4()), "read": 4.2}, content_type=JSON
    )
    assert ShopInstrument.objects.get(pk="loft-meter").drifted()
    taken = take(bench, sat, "3.8w", conditions={"instrument": "loft-meter"}).json()
    assert "Loft meter: outside its accuracy at the last quick check" in taken["readings"][0]["measured"]["remarks"]


def test_what_a_streaming_receiver_is_off_is_taken_off_once_it_was_held_against_a_standard(sat, bench, bench_process):
    """It reads 10 MHz as 9.99972 MHz, so that it tunes 28 ppm too high; a second check adds what was left over."""
    made = {"name": "Dongle", "kind": "iq_receiver", "address": "IQ::10.0.0.9::1234", "definition": "plain-iq-stream"}
    assert bench.put("/api/bench/instruments/dongle", made, content_type=JSON).status_code == 200
    wrong = bench.put("/api/bench/instruments/dongle", made | {"address": "IQ::10.0.0.9::70000"}, content_type=JSON)
    assert "port is 1 to 65535" in wrong.json()["detail"]
    assert ShopInstrument.objects.get(pk="dongle").as_instrument(date.today()).functions["frequency"].ppm == 25
    for read, ppm in ((9_999_720.0, 28.0), (10_000_005.0, 27.5)):
        check = {"id": str(uuid.uuid4()), "function": "frequency", "standard": 10e6, "read": read}
        page = bench.post("/api/bench/instruments/dongle/checks", check, content_type=JSON).json()
        row = ShopInstrument.objects.get(pk="dongle")
        assert row.reference_ppm == pytest.approx(ppm, abs=0.01) and not row.drifted()
        told = [i for o in bench_process if o["kind"] == "instruments" for i in o["instruments"] if i["id"] == "dongle"]
        assert told[-1]["reference_ppm"] == row.reference_ppm
    shown = next(i for i in page["instruments"] if i["id"] == "dongle")
    words = shown["accuracy"]
    assert "frequency ± 1.5 ppm" in words and "its reference tunes +27.50 ppm off: taken off" in words


def test_the_bench_is_told_where_the_carrier_is_expected(sat, bench, bench_process):
    orders = [o for o in bench_process if o["kind"] == "wanted"]
    assert orders and orders[-1]["carrier_hz"] == pytest.approx(27.185e6)


def test_an_instrument_that_is_not_warm_says_so_and_a_short_absence_does_not_cool_it(sat, bench):
    def remarks():
        taken = take(bench, sat, "27.18506M", conditions={"instrument": "counter", "mode": "am", "channel": 19})
        return taken.json()["readings"][0]["measured"]["remarks"]

    assert "counter: not warm yet" in remarks()
    ShopInstrument.objects.filter(pk="counter").update(on_since=_ago(3600), seen_at=_ago(60))
    connect("counter", "counter")
    assert "counter: not warm yet" not in remarks()
    ShopInstrument.objects.filter(pk="counter").update(seen_at=_ago(3600))
    connect("counter", "counter")
    assert "counter: not warm yet" in remarks()


def test_events_are_told_after_the_commit_and_only_to_whom_missed_them(sat, bench):
    before = bulletin._kept[-1].id
    take(bench, sat, "note pinched lead")
    told = bulletin._since(before)
    assert [e.kind for e in told if e.kind == "job"] and all(e.id != before for e in told)
    assert bulletin._since("other-3") is None and bulletin._since("") is None


def test_a_reader_looks_and_nobody_else_does(sat, client_of, reader):
    assert client_of(reader).get("/api/bench").status_code == 200
    assert client_of(None).get("/api/events").status_code == 401
    assert client_of(make_person("moss", "technician")).post("/api/events").status_code == 405


def test_a_trace_of_an_instrument_is_kept_as_a_record_once(sat, bench, bench_process):
    connect("bench-scope", "scope")
    offers = bench.get("/api/bench").json()["traces"]
    assert offers == [{"instrument": "bench-scope", "name": "bench-scope", "trace": "Envelope"}]
    body = {
        "id": str(uuid.uuid4()),
        "job": str(sat.pk),
        "row": "depth-am-19",
        "conditions": {"mode": "am"},
        "instrument": "bench-scope",
        "trace": "Envelope",
    }
    kept = post(bench, "/traces", **body)
    assert kept.status_code == 201 and kept.json()["name"] == "Envelope.csv" and kept.json()["kind"] == "envelope"
    depth = next(r for r in kept.json()["readings"] if r["quantity"] == "am_depth")
    assert depth["measured"]["value"] == pytest.approx(90, abs=0.3) and depth["verdict"] == "pass"
    assert post(bench, "/traces", **body).json()["readings"] == kept.json()["readings"]
    assert len([o for o in bench_process if o["kind"] == "trace"]) == 1


def test_no_trace_is_one_sentence_and_nobody_looks_into_a_keyed_socket(sat, bench, bench_process, monkeypatch):
    monkeypatch.setattr(live_bench().traces, "patience_s", 0.05)
    connect("bench-scope", "scope")
    connect("sweeper", "network_analyser")

    def ask(instrument, name):
        return post(bench, "/traces", id=str(uuid.uuid4()), job=str(sat.pk), instrument=instrument, trace=name)

    assert "gives that trace" in ask("bench-scope", "Moon").json()["detail"]
    assert "gives that trace" in ask("bench-wattmeter", "Envelope").json()["detail"]
    key(True)
    refused = ask("sweeper", "Aerial")
    assert refused.status_code == 400 and "would be hurt" in refused.json()["detail"]
    key(False)
    assert ask("sweeper", "Aerial").json()["kind"] == "reflection"
    live_bench().connect(lambda order: None)
    assert "No trace within" in ask("bench-scope", "Envelope").json()["detail"]
    live_bench().connect(
        lambda order: hear({"kind": "traced", "id": order.id, "start": 1.0, "stop": 1.0, "values": [1.0] * 9})
    )
    assert "are no trace" in ask("bench-scope", "Envelope").json()["detail"]
    live_bench().gone()
    assert "is being started again" in ask("bench-scope", "Envelope").json()["detail"]


def test_an_instruments_own_accuracy_and_certificate_are_kept_on_its_sheet(sat, bench):
    def shown():
        return next(i for i in bench.get("/api/bench/instruments").json()["instruments"] if i["id"] == "supply")

    def keep(**changes):
        return bench.put("/api/bench/instruments/supply", changes, content_type=JSON)

    typical = {f["name"]: f for f in shown()["functions"]}
    assert not typical["voltage"]["own"]
    assert (
        keep(functions={"voltage": {"percent_of_reading": 0.3, "absolute": 0.02}}, detector="peak").status_code == 200
    )
    voltage = next(f for f in shown()["functions"] if f["name"] == "voltage")
    assert (voltage["own"], voltage["percent_of_reading"], voltage["unit"]) == (True, 0.3, "V")
    assert ShopInstrument.objects.get(pk="supply").as_instrument(date.today()).functions["voltage"].absolute == 0.02
    assert keep(functions={"voltage": None}).status_code == 200
    assert {f["name"]: f for f in shown()["functions"]} == typical
    assert "no instrument has" in keep(functions={"warp": {"db": 1}}).json()["detail"].lower()
    assert keep(functions={"voltage": {"ppm": -1}}).status_code == 422
    made = [str(uuid.uuid4()), str(uuid.uuid4())]
    for of in (*made, made[1]):
        file = {"file": io.BytesIO(picture_bytes()), "id": of}
        assert bench.post("/api/bench/instruments/supply/certificates", file).status_code == 201
    assert [c["id"] for c in shown()["certificates"]] == made[::-1]  # the newest first, and none twice
    kept = bench.get(f"/api/bench/certificates/{made[0]}")
    assert kept["Content-Type"] == "image/jpeg" and len(kept.content) > 100
    assert not [words for piece in file_pieces() for words in piece.look()]
    for path in settings.PICTURES.iterdir():
        path.write_bytes(b"rot")
    assert "damaged on the disk" in bench.get(f"/api/bench/certificates/{made[0]}").json()["detail"]
    assert "the certificate of supply is damaged" in [words for piece in file_pieces() for words in piece.look()]
    words = {"file": io.BytesIO(b"no picture"), "id": str(uuid.uuid4())}
    assert bench.post("/api/bench/instruments/supply/certificates", words).status_code == 400


MULTIMETER = {
    "title": "Ling Ford multimeter",
    "kind": "multimeter",
    "identity": "^LING FORD,MM",
    "errors": "",
    "asks": [{"command": "MEAS:PAIR?", "gives": [{"value": "volts", "scatter": 0.02}, {"value": "amps", "index": 1}]}],
}


def test_a_line_is_tried_named_and_kept_as_the_way_it_is_asked(sat, bench, bench_process):
    def tried(words, **how):
        return post(bench, "/try", address="ASRL/dev/ttyS0::INSTR", words=words, **how)

    assert tried("*IDN?").json()["identity"] == r"^LING\ FORD,MM\-7"
    pair = [{"value": "volts"}, {"value": "amps", "index": 1, "factor": 1000}]
    read = tried("MEAS:PAIR?", times=2, gives=pair).json()
    assert (read["answer"], read["words"]) == ("13.82,0.412", "13.8 V, 412 A")
    assert read["figures"][0] == {
        "index": 0,
        "first": 13.82,
        "mean": pytest.approx(13.84),
        "scatter": pytest.approx(0.02),
    }
    assert tried("READ?", gives=pair[:1]).json()["detail"] == "That is not read as figures: OVER."
    assert tried("FOO?").json()["detail"] == "No answer: no whole answer within 1 s."
    assert post(bench, "/try", address="next door", words="*IDN?").status_code == 400
    assert tried("*IDN?\n*RST").status_code == 422

    def keep(name, **changes):
        return bench.put(f"/api/bench/definitions/{name}", MULTIMETER | changes, content_type=JSON)

    twice = keep("ours", asks=MULTIMETER["asks"] * 2)
    assert twice.json()["detail"] == "Two figures are both volts: which one is it?"
    assert "no kind of instrument" in str(keep("ours", kind="kettle").json())
    assert keep("ours").json()["definitions"]["ours"] == "Ling Ford multimeter"
    changes = {"name": "MM-7", "kind": "multimeter", "address": "ASRL/dev/ttyS0::INSTR", "definition": "ours"}
    assert bench.put("/api/bench/instruments/mm-7", changes, content_type=JSON).status_code == 200

    def told():
        return next(i for i in bench_process[-1]["instruments"] if i["id"] == "mm-7")["asked"]

    assert told()["asks"][0]["gives"][0]["scatter"] == 0.02
    address = "/api/library/texts/definitions/ours"
    text = bench.get(address).json()["text"]
    bench.put(address, {"text": text.replace("0.02", "0.05")}, content_type=JSON)
    assert told()["asks"][0]["gives"][0]["scatter"] == 0.05  # told at once, without a hand
    assert "line " in bench.put(address, {"text": text.replace("volts", "bolts")}, content_type=JSON).json()["detail"]
    assert bench.post(f"{address}/withdraw").json()["detail"].startswith("MM-7 is asked by that file")
    bench.put("/api/bench/instruments/mm-7", {"address": ""}, content_type=JSON)
    assert bench.post(f"{address}/withdraw").status_code == 200


def test_a_line_that_fails_loses_its_figures_at_once_whatever_else_is_under_way(sat):
    tell(power=3.8)
    waiting = []
    live_bench().others = waiting.append  # as while the disk is busy
    try:
        broken = {
            "kind": "state",
            "instrument": "bench-wattmeter",
            "connected": False,
            "sentence": "no answer",
            "identity": "",
            "error": "",
        }
        hear(broken)
        assert live_bench().shown()["values"] == {} and len(waiting) == 1
    finally:
        for act in waiting:
            act()
    assert live_bench().presence.lines["bench-wattmeter"].connected is False


@pytest.mark.parametrize("trouble", ["database is locked", "database or disk is full"])
def test_what_cannot_be_stored_is_held_said_and_stored_once_it_can_be(sat, bench_process, bench, monkeypatch, trouble):
    def refuses(*words, **named):
        raise OperationalError(trouble)

    with monkeypatch.context() as disk:
        disk.setattr("young_spark.server.readings.services.take_line", refuses)
        line = captured(bench_process)
        captured(bench_process, line=line)  # the bench process sends it again
        captured(bench_process, row="power-am-1")
    assert not any(o["kind"] == "acknowledged" for o in bench_process)
    said = bench.get("/api/bench").json()["say"]
    assert said.startswith("2 readings are held at the bench: the data file cannot be written")
    assert bench.get("/api/bench/instruments").json()["held"] == 2
    captured(bench_process, line=line)
    assert Line.objects.filter(pk=line).count() == 1 and {"kind": "acknowledged", "id": line} in bench_process
    assert bench.get("/api/bench/instruments").json()["held"] == 1


def test_what_was_captured_for_a_slip_that_is_gone_is_said_and_not_sent_for_ever(sat, bench_process, bench):
    wanted = [o for o in bench_process if o["kind"] == "wanted"][-1]
    wanted["place"]["job"] = str(uuid.uuid4())
    line = captured(bench_process)
    assert {"kind": "acknowledged", "id": line} in bench_process
    assert "its slip is not here any more" in bench.get("/api/bench").json()["say"]


@pytest.mark.parametrize("days", [-1, 1])
def test_a_clock_that_is_set_changes_no_cool_off_no_order_and_no_session(sat, bench, wren, monkeypatch, days):
    """A day back, a day on: what owes rest owes it still, what was touched last stands first, who is in stays in."""
    real, realnow = time.time, timezone.now
    first = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "A set"}, content_type=JSON).json()["id"]
    key(True, ago=40)
    key(False)
    before = bench.get("/api/bench").json()
    monkeypatch.setattr(time, "time", lambda: real() + days * 86400)
    monkeypatch.setattr(timezone, "now", lambda: realnow() + timedelta(days=days))
    take(bench, sat, "note after the step")
    post(bench, "/seat", job=str(sat.pk), row="power-am-19", conditions={})
    after = bench.get("/api/bench").json()
    assert after["keying"]["word"] == before["keying"]["word"] == "COOL"
    left = [told["keying"]["until"] - told["now"] for told in (before, after)]
    assert left[1] == pytest.approx(left[0], abs=5) and 0 < left[1] < 120
    shelf = bench.get("/api/shelf").json()["on_the_bench"]
    assert [job["id"] for job in shelf][:2] == [str(sat.pk), first]
    take(bench, Job.objects.get(pk=first), "note the newest of all")
    assert bench.get("/api/shelf").json()["on_the_bench"][0]["id"] == first
    tell(power=3.8)
    assert bench.get("/api/bench").json()["values"]["power"]["value"] == 3.8  # and it is of now


def test_key_downs_of_before_a_clock_was_set_back_do_not_cool_for_a_day(sat, bench):
    """The machine was started anew, and its clock set back: the newest key-down seems to be still to come."""
    key(True, ago=40)
    key(False)
    KeyDown.objects.update(began_at=F("began_at") + timedelta(days=1), ended_at=F("ended_at") + timedelta(days=1))
    post(bench, "/seat", job=str(sat.pk), row="power-am-19", conditions={})
    told = bench.get("/api/bench").json()
    assert told["keying"]["word"] == "COOL" and 0 < told["keying"]["until"] - told["now"] < 120
