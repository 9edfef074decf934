"""People, a client for each, and a job to work on."""

import io
import json
import math
import shutil
import uuid

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from PIL import Image

from tests.prepared import DATA_FILE, make_schema, once
from tests.server.scenes import QUICK
from young_spark import steady_clock, wire
from young_spark.server.accounts.models import Person
from young_spark.server.jobs.services import check_in
from young_spark.server.library.models import ShopInstrument
from young_spark.server.live.bench import LiveBench, install, live_bench
from young_spark.server.readings.services import refresh


@pytest.fixture(scope="session")
def django_db_setup(django_test_environment, django_db_blocker):
    """The test data file of this process: a copy of a schema that is made once a run."""
    schema = once("schema", make_schema) / DATA_FILE
    name = connection.creation._get_test_db_name()
    with django_db_blocker.unblock():
        connection.close()
        shutil.copyfile(schema, name)
        connection.settings_dict["NAME"] = name
        yield
        connection.close()


def make_person(name: str, role: str) -> Person:
    return Person.objects.create_user(username=name, first_name=name.title(), password="a long way up", role=role)


# what instruments would hand over: an envelope of 90 % at 1 kHz, and an aerial that is not at resonance
TRACES: dict[str, dict[str, object]] = {
    "Envelope": {
        "start": 0.0,
        "stop": 2399 / 48000,
        "values": [2 * (1 + 0.9 * math.sin(2 * math.pi * n / 48)) for n in range(2400)],
    },
    "Aerial": {"start": 26e6, "stop": 28e6, "values": [0.2, 0.1] * 41},
}


ANSWERS = {
    "*IDN?": {"answers": ["LING FORD,MM-7,0042,1.1"], "took_s": 0.02},
    "MEAS:PAIR?": {"answers": ["13.82,0.412", "13.86,0.410"], "took_s": 0.02},
    "READ?": {"answers": ["OVER"], "took_s": 0.02},
}
SILENCE = {"sentence": "no whole answer within 1 s"}


@pytest.fixture(autouse=True)
def bench_process():
    """A live bench that heard nothing yet, and the orders that it gives."""
    bench = install(LiveBench())
    orders: list[dict[str, object]] = []

    def order(given: wire.Order) -> None:
        orders.append(json.loads(wire.line_of(given)))
        if isinstance(given, wire.AskTrace) and (trace := TRACES.get(given.trace)) is not None:
            hear({"kind": "traced", "id": given.id} | trace)
        if isinstance(given, wire.TryLine):
            hear({"kind": "tried", "id": given.id} | ANSWERS.get(given.words, SILENCE))

    bench.connect(order)
    return orders


def hear(message: dict[str, object]) -> None:
    """One message of the bench process, as it comes over the line."""
    live_bench().hear(wire.told_in(json.dumps(message).encode()))


def tell(instrument: str = "bench-wattmeter", **values: float | None) -> None:
    """Values as the bench process would send them, of now."""
    hear({"kind": "values", "instrument": instrument, "at": steady_clock.now(), "values": values})


def connect(instrument: str = "bench-wattmeter", kind: str = "wattmeter") -> None:
    """An instrument of the shop that talks and is connected."""
    ShopInstrument.objects.get_or_create(
        pk=instrument,
        defaults={
            "name": instrument,
            "kind": kind,
            "address": f"simulated:{kind}",
            "definition": f"simulated-{kind.replace('_', '-')}",
        },
    )
    hear({"kind": "hello"})
    hear({"kind": "state", "instrument": instrument, "connected": True, "identity": "X", "sentence": "", "error": ""})


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    settings.PASSWORD_HASHERS = QUICK


@pytest.fixture
def wren(db):
    return make_person("wren", "technician")


@pytest.fixture
def reader(db):
    return make_person("reader", "reader")


@pytest.fixture
def client_of():
    def signed_in(person: Person | None, *, checks_csrf: bool = False) -> Client:
        client = Client(enforce_csrf_checks=checks_csrf)
        if person is not None:
            client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
        return client

    return signed_in


@pytest.fixture
def bench(wren, client_of):
    return client_of(wren)


@pytest.fixture
def job(wren):
    made = check_in(actor=wren, job_id=uuid.uuid4(), words="Tarnbeck M27, marshal 8: no output")
    refresh(made)
    return made


def take(client: Client, job, text: str, **more: object):
    body = {"id": str(uuid.uuid4()), "text": text, "job": str(job.pk) if job else None, "conditions": {}} | more
    return client.post("/api/lines", body, content_type="application/json")


def picture_bytes(kind: str = "JPEG", size: tuple[int, int] = (400, 300), **more: object) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (90, 120, 80)).save(out, kind, **more)
    return out.getvalue()


def envelope_csv(depth: float = 0.9) -> bytes:
    """A scope's record of an envelope, 1 kHz."""
    rows = (f"{n / 48000:.7f},{2 * (1 + depth * math.sin(2 * math.pi * n / 48)):.6f}" for n in range(2400))
    return ("time_s,volts\n" + "\n".join(rows) + "\n").encode()


def record_of(client, job, *files: tuple[str, bytes], **form: str):
    """Hand a record in; without files that envelope."""
    made = [SimpleUploadedFile(name, data) for name, data in files or (("envelope.csv", envelope_csv()),)]
    return client.post(
        f"/api/jobs/{job.pk}/records", {"files": made, "id": str(uuid.uuid4()), "conditions": '{"mode": "am"}'} | form
    )
