"""Data of the version before come over into today's schema whole."""

import sqlite3
import uuid
import zipfile
from pathlib import Path

import pytest
from django.conf import settings
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import Client
from django.utils import timezone

from young_spark.server.accounts.models import Person
from young_spark.server.jobs.models import Job

BEFORE = [
    ("accounts", "0001_initial"),
    ("library", "0004_shop_profile"),
    ("tracing", "0005_doubts"),
    ("readings", "0001_initial"),
]


@pytest.fixture
def data_file(django_db_setup, django_db_blocker):
    """A data file to be changed as a whole; afterwards it is what the other tests of this process know."""
    kept = sqlite3.connect(":memory:")
    with django_db_blocker.unblock():
        connection.ensure_connection()
        connection.connection.backup(kept)
        yield connection.connection
        kept.backup(connection.connection)
    kept.close()


@pytest.fixture
def as_before(data_file):
    """The schema as it was."""
    back = MigrationExecutor(connection)
    back.migrate(BEFORE)
    return back.loader.project_state(BEFORE).apps


@pytest.fixture
def landed(data_file, tmp_path):
    """The folder that an earlier version made, opened by this one: signed in as its technician."""
    with zipfile.ZipFile(Path(__file__).parent / "folders" / "landed-2026-11.zip") as folder:
        folder.extractall(tmp_path)
    old = sqlite3.connect(tmp_path / "young-spark.sqlite3")
    old.backup(data_file)
    old.close()
    settings.PICTURES.mkdir(exist_ok=True)
    for picture in (tmp_path / "pictures").iterdir():
        (settings.PICTURES / picture.name).write_bytes(picture.read_bytes())
    now = MigrationExecutor(connection)
    now.migrate(now.loader.graph.leaf_nodes())
    client = Client()
    client.force_login(Person.objects.get(username="wren"), backend="django.contrib.auth.backends.ModelBackend")
    return client


def test_own_texts_of_both_kinds_and_what_a_reading_was_read_as_come_over(as_before):
    model = as_before.get_model
    by = model("accounts", "Person").objects.create(username="wren", role="technician")
    model("library", "ShopProfile").objects.create(
        of="us-27mhz", number=1, text="a", by=by, withdrawn_at=timezone.now()
    )
    model("library", "ShopProfile").objects.create(of="us-27mhz", number=2, text="b", by=by)
    model("tracing", "ShopChain").objects.create(name="old-set", number=1, text="c", by=by)
    line = model("jobs", "Line").objects.create(id=uuid.uuid4(), number=1, kind="reading", raw={}, by=by)
    same = {"position": 0, "quantity": "carrier_power", "unit": "W", "conditions": {}, "verdicts": []}
    for method in ("nothing seen", "wattmeter", "counter"):
        model("readings", "Reading").objects.create(id=uuid.uuid4(), line=line, measured={"method": method}, **same)
    now = MigrationExecutor(connection)
    now.migrate(now.loader.graph.leaf_nodes())
    apps = now.loader.project_state(now.loader.graph.leaf_nodes()).apps
    texts = apps.get_model("library", "OwnText").objects.values_list("kind", "name", "number", "text")
    assert set(texts) == {("limits", "us-27mhz", 1, "a"), ("limits", "us-27mhz", 2, "b"), ("chains", "old-set", 1, "c")}
    assert apps.get_model("library", "OwnText").objects.filter(withdrawn_at=None).count() == 2
    read = {
        r.measured["method"]: r.measured.get("read_as") for r in apps.get_model("readings", "Reading").objects.all()
    }
    assert apps.get_model("accounts", "Person").objects.get().is_keeper  # the first technician keeps the shop
    assert read == {"nothing seen": "nothing", "wattmeter": "needle", "counter": None}


def test_a_folder_of_an_earlier_version_opens_with_its_jobs_and_its_own_copies(landed):
    """Its job reads line by line, its picture is whole, its copies judge, and what ships differently is shown."""
    job = Job.objects.get(title="Aske R3").pk
    slip = landed.get(f"/api/jobs/{job}").json()
    read = [(r["measured"]["quantity"], r["measured"]["value"]) for ln in slip["lines"] for r in ln["readings"]]
    assert ("carrier_power", 2.6) in read and ("carrier_power", 3.9) in read
    picture = next(line["picture"]["sha256"] for line in slip["lines"] if line["picture"])
    assert landed.get(f"/api/pictures/{picture}").status_code == 200
    assert landed.get("/api/gear/aske-r3").json()["title"].strip() == "Aske R3"
    chains = {c["id"]: c for c in landed.get("/api/chains").json()}
    assert chains["cb-fm-mobile"]["title"] == "FM mobile of this shop" and chains["cb-fm-mobile"]["ours"]
    profile = landed.get("/api/library/profiles/uk-27-81").json()
    assert profile["ours"] and "high = 2400" in profile["text"]
    # it is not known what shipped when that copy was made: it is held against what ships now
    told = profile["changed"].splitlines()
    assert "-high = 2400" in told and "+high = 2500" in told
    assert landed.get(f"/api/jobs/{job}/report").status_code == 200
