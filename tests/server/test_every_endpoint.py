"""Every endpoint with every role, anonymous first: a new endpoint without a row here fails."""

import io
import math
import struct
import time
import uuid
import wave
from functools import cache

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from tests.server.conftest import connect, hear, make_person, picture_bytes, record_of, take, tell
from tests.server.scenes import built_once
from young_spark.core.gear import kinds
from young_spark.core.ground import shipped_text
from young_spark.server.accounts.models import Person, TrustedBrowser
from young_spark.server.benches.models import JobPath
from young_spark.server.config.api import api
from young_spark.server.jobs.models import Job, Line
from young_spark.server.jobs.services import check_in
from young_spark.server.library.own_models import model_text, write_model
from young_spark.server.live.bench import live_bench
from young_spark.server.live.models import Watch
from young_spark.server.readings.services import refresh

pytestmark = pytest.mark.long

JSON = "application/json"
OPEN = {"me", "sign_in", "tap_name"}
READS = {
    "library",
    "profile_text",
    "gear_sheet",
    "gear_file",
    "gear_packed",
    "chains",
    "practice",
    "practice_replay",
    "certificate",
    "hidden_fault",
    "chain_text",
    "chain_draw",
    "sums",
    "texts",
    "text",
    "tables",
    "table",
    "look_up",
    "sum_answer",
    "shelf",
    "job_slip",
    "job_compared",
    "lines_loose",
    "understand",
    "report",
    "report_html",
    "report_pdf",
    "readings_csv",
    "picture",
    "bench_live",
    "instruments",
    "watches",
    "records",
    "record",
    "sound_heard",
    "path",
    "record_svg",
    "record_csv",
    "record_sound",
    "traces",
    "boards",
    "watch",
    "job_bundle",
    "shelf_bundle",
}
OWN = {"sign_out", "set_pin"}  # about oneself: every role may
WRITES = {
    "line_take",
    "line_withdraw",
    "line_reinstate",
    "line_set_right",
    "line_settle",
    "job_check_in",
    "job_change",
    "item_add",
    "item_change",
    "item_keep_as_model",
    "item_follow_model",
    "job_pin_loose",
    "job_set_up",
    "job_hand_back",
    "picture_add",
    "report_edit",
    "bench_seat",
    "bench_key",
    "bench_take",
    "bench_trace",
    "bench_turn",
    "bench_turn_leave",
    "watch_begin",
    "watch_mark",
    "watch_end",
    "instrument_keep",
    "instrument_check",
    "instruments_find",
    "certificate_add",
    "line_try",
    "definition_keep",
    "bundle_read",
    "record_keep",
    "gear_due",
    "gear_known_as",
    "gear_note",
    "gear_copy",
    "gear_read",
    "gear_withdraw",
    "gear_board_add",
    "gear_board_put",
    "gear_board_drop",
    "gear_packed_read",
    "profile_keep",
    "profile_withdraw",
    "text_keep",
    "text_edited",
    "text_withdraw",
    "chain_keep",
    "chain_withdraw",
    "chain_forget",
    "record_tell",
    "record_take",
    "path_use",
    "path_pad",
    "path_confirm",
    "path_override",
    "bench_save",
    "bench_loss",
    "trace_begin",
    "trace_look",
    "trace_change",
    "trace_doubt",
    "board_keep",
    "board_drop",
    "pin_keep",
    "pin_drop",
}

KEEPS = {"people", "person_add", "person_change", "person_sign_out", "browser_withdraw"}

BODIES = {
    "person_add": {"name": "Moss", "password": "a hill of sand"},
    "person_change": {"name": "Alder"},
    "sign_in": {"name": "wren", "password": "a long way up"},
    "tap_name": {"person_id": 1, "pin": ""},
    "set_pin": {"pin": "4711"},
    "sum_answer": {"values": [36.0]},
    "understand": {"text": "3.8w"},
    "line_withdraw": {"reason": "typed twice"},
    "line_settle": {"settled": True},
    "line_set_right": {"kind": "found"},
    "item_keep_as_model": {"name": "Birkrigg C40"},
    "gear_due": {"due": 3.9},
    "gear_board_put": {"side": "solder"},
    "gear_known_as": {"goes_by": ["Lantern 40"]},
    "gear_note": {"text": "C41 dries out"},
    "gear_copy": {"name": "Birkrigg C50"},
    "job_change": {"owner": "marshal 9"},
    "item_change": {"serial": "TB-1"},
    "job_pin_loose": {"lines": []},
    "job_set_up": {"id": str(uuid.uuid4()), "sequence": "alignment", "act": "begin"},
    "job_hand_back": {"back": True},
    "report_edit": {"key": "result", "text": "Good."},
    "bench_key": {"keyed": True},
    "watch_mark": {"id": str(uuid.uuid4()), "what": "tapped"},
    "bench_turn": {"adjuster": "L14", "quantity": "carrier_power"},
    "bench_turn_leave": {"id": str(uuid.uuid4()), "keep": True},
    "watch_end": {"line": str(uuid.uuid4())},
    "instrument_keep": {"remark": "reads low"},
    "instrument_check": {"id": str(uuid.uuid4()), "function": "power", "standard": 5, "read": 4.9},
    "bench_take": {"id": str(uuid.uuid4())},
    "trace_begin": {"id": str(uuid.uuid4()), "chain": "cb-am-mobile"},
    "trace_look": {"id": str(uuid.uuid4()), "probe": "output", "seen": "dead"},
    "trace_change": {"strategy": "walk-back"},
    "trace_doubt": {"doubted": True},
    "path_use": {"sure": True, "path": {"from": "load", "parts": [{"id": "load", "kind": "load", "rating_w": 100}]}},
    "path_pad": {"instrument": "analyser", "pad_db": 0, "sure": True},
    "path_confirm": {"hazard": "load"},
    "path_override": {"part": "analyser"},
    "bench_save": {"name": "By the window", "path": {"from": "load", "parts": [{"id": "load", "kind": "load"}]}},
    "board_keep": {"side": "solder"},
    "pin_keep": {"name": "base of Q9", "probe": "driver_rf", "x": 0.5, "y": 0.5},
    "record_tell": {"tone_hz": 1000},
    "record_take": {"id": str(uuid.uuid4()), "quantity": "am_depth"},
}


OWN_KIND = kinds()["cb-am-mobile"].as_model("cb-am-mobile").model_copy(update={"kind_id": None, "name": "Birkrigg C44"})


@cache
def operations():
    return tuple(_operations())


def _operations():
    for path, methods in api.get_openapi_schema()["paths"].items():
        for method, operation in methods.items():
            yield operation["operationId"], method, path


@pytest.fixture(scope="module")
def scene(django_db_setup, django_db_blocker):
    """A slip with one of everything: the ids of its parts."""
    with built_once(django_db_blocker):
        wren, _ = make_person("wren", "technician"), make_person("reader", "reader")
        job = check_in(actor=wren, job_id=uuid.uuid4(), words="Tarnbeck M27, marshal 8: no output")
        refresh(job)
        bench = Client()
        bench.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
        yield one_of_everything(bench, job)


def one_of_everything(bench, job):
    write_model(actor=job.created_by, name="birkrigg-c44", model=OWN_KIND)
    take(bench, job, "wish keep the beep")
    posted = bench.post(f"/api/jobs/{job.pk}/pictures", {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4())})
    sha256 = next(line["picture"]["sha256"] for line in posted.json()["lines"] if line["picture"])
    connect()
    connect("bench-scope", "scope")
    watch = Watch.objects.create(job=job, item=job.items.get(), by=job.created_by)
    bench.post("/api/bench/seat", {"job": str(job.pk)}, content_type=JSON)
    bench.post("/api/bench/turn", {"adjuster": "L3", "quantity": "carrier_power"}, content_type=JSON)
    record = record_of(bench, job).json()["id"]
    hot = {
        "from": "coupler",
        "parts": [
            {"id": "coupler", "kind": "coupler", "coupling_db": 3, "through": "load", "coupled": "analyser"},
            {"id": "load", "kind": "load", "rating_w": 1},
            {"id": "analyser", "kind": "instrument", "safe_dbm": 20, "instrument": "analyser"},
        ],
    }
    JobPath.objects.create(job=job, path=hot)
    traced, done = (
        bench.post(
            f"/api/jobs/{job.pk}/traces", {"id": str(uuid.uuid4()), "chain": "cb-am-mobile"}, content_type=JSON
        ).json()["id"]
        for _ in range(2)
    )
    bench.patch(f"/api/traces/{done}", {"proven": "fuse", "closed": True}, content_type=JSON)
    own_plan = {"text": shipped_text("channels", "uk-27-81") + "# ours\n"}
    bench.put("/api/library/texts/channels/uk-27-81", own_plan, content_type=JSON)
    certificate = str(uuid.uuid4())
    file = {"file": io.BytesIO(picture_bytes()), "id": certificate}
    bench.post("/api/bench/instruments/bench-wattmeter/certificates", file)
    board = str(uuid.uuid4())
    bench.post("/api/gear/birkrigg-c44/boards", {"file": io.BytesIO(picture_bytes()), "id": board})
    pictured = Line.objects.get(kind="picture").pk
    bench.put(f"/api/jobs/{job.pk}/boards/{pictured}", {"side": "component"}, content_type=JSON)
    return {
        "pin_id": str(uuid.uuid4()),
        "trace_id": traced,
        "practised": done,
        "pictured": pictured,
        "record_id": record,
        "watch_id": watch.pk,
        "instrument_id": "bench-wattmeter",
        "certificate_id": certificate,
        "board_id": board,
        "job_id": job.pk,
        "item_id": job.items.get().pk,
        "sum_id": "dbm",
        "kind": "channels",
        "row": "power-am-19",
        "sha256": sha256,
        "person_id": make_person("alder", "reader").pk,
        "browser_id": TrustedBrowser.trust(job.created_by, seen_from="", calls_itself="")[0].pk,
    }


@pytest.fixture
def job(db, scene):
    return Job.objects.get(pk=scene["job_id"])


@pytest.fixture
def wren(db, scene):
    return Person.objects.get(username="wren")


@pytest.fixture
def reader(db, scene):
    return Person.objects.get(username="reader")


def wav_bytes() -> bytes:
    """A tenth of a second of a tone."""
    kept = io.BytesIO()
    with wave.open(kept, "wb") as sound:
        sound.setnchannels(1)
        sound.setsampwidth(2)
        sound.setframerate(48_000)
        sound.writeframes(b"".join(struct.pack("<h", round(8000 * math.sin(n / 7.64))) for n in range(4800)))
    return kept.getvalue()


UPLOADS = {  # file name and content of what takes a file and nothing else
    "sound_heard": ("sound.wav", wav_bytes()),
    "bench_loss": (
        "pad.s2p",
        b"# MHZ S DB\n10 -30 0 -20 0 -20 0 -30 0\n20 -30 0 -20.1 0 -20.1 0 -30 0\n30 -30 0 -20.2 0 -20.2 0 -30 0\n",
    ),
}


def keyed_bench():
    """Two instruments that talk, and a carrier that stands."""
    connect()
    connect("bench-scope", "scope")
    live_bench().seat_changed()
    hear({"kind": "carrier", "up": True, "at": time.time() - 2})
    tell(power=3.8, reflected=0.01, pep=3.8)


def handed_in(operation, bench):
    """The form of what takes a file; None of what takes none."""
    if operation in UPLOADS:
        return {"file": SimpleUploadedFile(*UPLOADS[operation])}
    if operation == "gear_packed_read":
        return {"file": SimpleUploadedFile("c44.zip", bench.get("/api/gear/birkrigg-c44/packed").content)}
    if operation in {"picture_add", "certificate_add", "gear_board_add"}:
        return {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4())}
    return None


@pytest.fixture
def call(scene, job, bench):
    names = dict(scene)
    seat = {"job": str(job.pk)}
    powered = []

    def send(client, operation, method, path):
        if not powered and path.startswith("/api/bench"):
            keyed_bench()
            powered.append(path)
        names["line_id"] = scene["pictured"] if "/boards/" in path else Line.objects.get(kind="wish").pk
        names["name"] = "uhf-fm-mobile" if "chains" in path else "birkrigg-c44" if "/gear/" in path else "uk-27-81"
        names["trace_id"] = scene["practised"] if "practice" in path else scene["trace_id"]
        address = path.format(**names) + (f"?job={job.pk}" if operation == "watches" else "")
        if operation == "bundle_read":
            return client.post(address, {"file": io.BytesIO(bench.get(f"/api/jobs/{job.pk}/bundle").getvalue())})
        if operation == "record_keep":
            return record_of(client, job)
        if (form := handed_in(operation, bench)) is not None:
            return client.post(address, form)
        made = {
            "line_take": {"id": str(uuid.uuid4()), "text": "note a"},
            "job_check_in": {"id": str(uuid.uuid4()), "words": "A set"},
            "bench_seat": seat,
            "gear_read": {"text": model_text(OWN_KIND)},
            "chain_keep": {"text": shipped_text("chains", "uhf-fm-mobile")},
            "hidden_fault": {"chain": "cb-am-mobile", "draw": 3},
            "chain_draw": {"title": "A set", "stages": "Oscillator\nFinal 4 W"},
            "profile_keep": {"text": shipped_text("limits", "uk-27-81").replace("high = 2500", "high = 2400")},
            "text_keep": {"text": shipped_text("channels", "uk-27-81")},
            "text_edited": {"name": "uk-27-81", "text": shipped_text("channels", "uk-27-81")},
            "bench_trace": {
                "id": str(uuid.uuid4()),
                "job": str(job.pk),
                "instrument": "bench-scope",
                "trace": "Envelope",
            },
            "line_try": {"address": "simulated:counter", "words": "*IDN?"},
            "definition_keep": {
                "title": "Ours",
                "kind": "counter",
                "identity": "^OURS",
                "asks": [{"command": "F?", "gives": [{"value": "frequency"}]}],
            },
            "watch_begin": {"id": str(scene["watch_id"]), "job": str(job.pk)},
            "item_add": {"id": str(uuid.uuid4()), "name": "microphone"},
        }
        body = made.get(operation) or BODIES.get(operation)
        send_it = getattr(client, method)
        answer = send_it(address, body, content_type=JSON) if body is not None else send_it(address)
        if answer.streaming:
            answer.getvalue()  # its file is closed once it was sent
        return answer

    return send


def test_the_table_names_every_endpoint_once():
    named = [operation for operation, _, _ in operations()]
    assert sorted(named) == sorted(OPEN | READS | OWN | WRITES | KEEPS)


@pytest.mark.parametrize(("operation", "method", "path"), list(operations()), ids=[o for o, _, _ in operations()])
def test_who_may_call_it(operation, method, path, call, client_of, wren, reader):
    assert call(client_of(None), operation, method, path).status_code in ((200, 401) if operation in OPEN else (401,))
    refused = call(client_of(reader), operation, method, path)
    assert refused.status_code == 403 if operation in WRITES | KEEPS else refused.status_code != 403
    if operation in WRITES:
        assert refused["Content-Type"] == "application/problem+json" and refused.json()["code"] == "not_allowed"
    if operation in KEEPS:
        assert call(client_of(wren), operation, method, path).status_code == 403
        wren.is_keeper = True
        wren.save()
    answer = call(client_of(wren), operation, method, path)
    assert answer.status_code in ((200, 201, 204, 401) if operation == "tap_name" else (200, 201, 202, 204)), (
        answer.content[:300]
    )


@pytest.mark.parametrize("who", ["trusted reader's browser", "withdrawn browser", "disabled person"])
@pytest.mark.parametrize("operation", sorted(WRITES | KEEPS))
def test_who_may_do_less_than_a_technician_does_nothing(operation, who, call, client_of, wren, reader):
    """A reader's browser may read; a withdrawn one, and somebody who is let in no more, are not signed in at all."""
    method, path = next((m, p) for o, m, p in operations() if o == operation)
    browser, signed = client_of(None), reader if who == "trusted reader's browser" else wren
    browser.post("/api/sign-in", {"name": signed.username, "password": "a long way up"}, content_type=JSON)
    if who == "withdrawn browser":
        TrustedBrowser.objects.filter(trusted_by=wren).delete()
    elif who == "disabled person":
        Person.objects.filter(pk=wren.pk).update(is_active=False)
    assert browser.post("/api/tap", {"person_id": wren.pk}, content_type=JSON).status_code == 401
    expected = 403 if who == "trusted reader's browser" else 401
    assert call(browser, operation, method, path).status_code == expected


@pytest.mark.parametrize("operation", sorted(WRITES | OWN | KEEPS | {"sign_in", "tap_name", "understand"}))
def test_nothing_is_taken_without_the_csrf_token(operation, call, client_of, wren):
    method, path = next((m, p) for o, m, p in operations() if o == operation)
    assert call(client_of(wren, checks_csrf=True), operation, method, path).status_code == 403
