"""Data of the version before come over into today's schema whole."""

import sqlite3
import uuid

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

BEFORE = [
    ("accounts", "0001_initial"),
    ("library", "0004_shop_profile"),
    ("tracing", "0005_doubts"),
    ("readings", "0001_initial"),
]


@pytest.fixture
def as_before(django_db_setup, django_db_blocker):
    """The schema as it was; afterwards the data file is what the other tests of this process know."""
    kept = sqlite3.connect(":memory:")
    with django_db_blocker.unblock():
        connection.ensure_connection()
        connection.connection.backup(kept)
        back = MigrationExecutor(connection)
        back.migrate(BEFORE)
        yield back.loader.project_state(BEFORE).apps
        kept.backup(connection.connection)
    kept.close()


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
