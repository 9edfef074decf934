"""The command line as a person meets it: first start, help, wrong words, data that cannot be used."""

import contextlib
import hashlib
import json
import random
import shutil
import sqlite3
import threading
import time
import uuid
import zipfile

import pytest

from tests.prepared import new_shop
from tests.served import FIRST_PERSON, Served, free_port, spark, start
from tests.server.conftest import picture_bytes
from young_spark.serving import alone

pytestmark = pytest.mark.long


def test_help_and_did_you_mean(tmp_path):
    assert "Start with the demo workshop" in spark("--help", data=None).stdout
    assert "127.0.0.1" in spark("serve", "--help", data=None).stdout
    wrong = spark("demmo", data=None)
    assert wrong.returncode == 2 and "Did you mean 'demo'" in wrong.stderr


@pytest.mark.parametrize(
    ("name", "password", "words"),
    [("", "", "nobody is known yet"), ("Wren", "short", "too short"), ("Wren", "password", "too common")],
)
def test_the_first_start_refuses_what_will_not_do_in_one_sentence(tmp_path, name, password, words):
    refused = spark("serve", data=tmp_path / "shop", YOUNG_SPARK_NAME=name, YOUNG_SPARK_PASSWORD=password)
    assert refused.returncode == 2 and words in refused.stderr and "Traceback" not in refused.stderr


def test_the_first_person_comes_from_the_environment_signs_in_and_adds_another(tmp_path, request):
    shop = tmp_path / "shop"
    served = Served("serve", shop, free_port(), **FIRST_PERSON)
    request.addfinalizer(served.end)
    served.opener.open(served.address + "/api/me").close()
    with served.opener.open(served.address + "/"):
        pass  # the page brings the token for the forms
    me = served.post("/api/sign-in", {"name": "Wren", "password": "a long way up"})
    assert me["person"]["role"] == "technician" and served.get("/api/shelf")["total"] == 0
    assert (shop / "secret-key").stat().st_mode & 0o077 == 0
    added = spark("person", "add", "Moss", "--role", "reader", data=shop, YOUNG_SPARK_PASSWORD="another long way")
    assert added.returncode == 0 and {p["name"] for p in served.get("/api/me")["people"]} == {"Wren", "Moss"}
    for words, why in (
        (("add", "Moss"), "known already"),
        (("add", "Ash"), "too short"),
        (("role", "Moss", "boss"), "not a valid choice"),
        (("keeper", "Wren", "--no"), "make another keeper first"),
        (("withdraw", "77"), "there is no browser 77"),
        (("pin", "Nobody", "4711"), "nobody is called Nobody"),
    ):
        refused = spark("person", *words, data=shop, YOUNG_SPARK_PASSWORD="x")
        assert refused.returncode == 2 and why in refused.stderr and "Traceback" not in refused.stderr
    assert spark("person", "disable", "Moss", data=shop).returncode == 0
    told = spark("person", "list", data=shop).stdout
    assert "Wren: technician, keeper, no PIN" in told and "Moss: reader, no PIN, disabled" in told
    assert "trusted by Wren" in told and [p["name"] for p in served.get("/api/me")["people"]] == ["Wren"]
    served.end()


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    """A data folder with a person, a job and a picture in it."""
    folder = tmp_path_factory.mktemp("kept") / "shop"
    with Served("serve", new_shop(folder), free_port(), **FIRST_PERSON) as served:
        served.sign_in("Wren", "a long way up")
        job = served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Tarnbeck M27, marshal 8: weak"})["id"]
        for n in range(30):
            served.post("/api/lines", {"id": str(uuid.uuid4()), "text": f"note {n}", "job": job})
        served.picture(job, picture_bytes())
    return folder


def everything(folder):
    """All rows of all tables, and all pictures."""
    with contextlib.closing(sqlite3.connect(folder / "young-spark.sqlite3")) as data:
        tables = [row[0] for row in data.execute("select name from sqlite_master where type = 'table' order by name")]
        rows = {table: sorted(map(repr, data.execute(f"select * from {table}"))) for table in tables}
    return rows, {p.name: p.read_bytes() for p in (folder / "pictures").glob("*")}, (folder / "secret-key").read_text()


def test_a_backup_restored_elsewhere_is_everything_again(shop, tmp_path):
    assert "1 pictures" in spark("backup", str(tmp_path / "a.zip"), data=shop).stdout
    again = spark("backup", str(tmp_path / "a.zip"), data=shop)
    assert again.returncode == 2 and "is there already" in again.stderr
    assert spark("restore", str(tmp_path / "a.zip"), data=tmp_path / "new").returncode == 0
    assert everything(tmp_path / "new") == everything(shop)


def test_a_backup_beside_a_working_server_is_whole_and_a_restore_is_refused(tmp_path, request):
    folder = tmp_path / "shop"
    served = Served("serve", new_shop(folder), free_port(), **FIRST_PERSON)
    request.addfinalizer(served.end)
    served.sign_in("Wren", "a long way up")
    job = served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Tarnbeck M27, marshal 8: weak"})["id"]
    acknowledged, going = [], threading.Event()

    def write():
        while not going.is_set():
            line = str(uuid.uuid4())
            served.post("/api/lines", {"id": line, "text": "3.8w", "job": job})
            acknowledged.append(line)
            if len(acknowledged) % 5 == 0:
                served.picture(job, picture_bytes(size=(100 + len(acknowledged), 90)))

    writer = threading.Thread(target=write)
    writer.start()
    for n in range(3):
        sure = list(acknowledged)
        assert spark("backup", str(tmp_path / f"{n}.zip"), data=folder).returncode == 0
        refused = spark("restore", str(tmp_path / f"{n}.zip"), data=folder)
        assert refused.returncode == 2 and "is in use by a Young Spark that runs" in refused.stderr
        spark("restore", str(tmp_path / f"{n}.zip"), data=tmp_path / f"new{n}")
        rows, pictures, _ = everything(tmp_path / f"new{n}")
        there = " ".join(rows["jobs_line"])
        assert all(uuid.UUID(line).hex in there for line in sure)
        assert all(any(name in row for name in pictures) for row in rows["jobs_picture"])
    second = spark("serve", data=folder)
    assert second.returncode == 2 and "is in use" in second.stderr
    going.set()
    writer.join()
    served.end()


def test_a_restore_that_is_killed_leaves_the_old_data_or_the_new_ones_whole(shop, tmp_path):
    backup = tmp_path / "a.zip"
    spark("backup", str(backup), data=shop)
    new = everything(shop)
    dice, outcomes = random.Random(5), set()
    folder = tmp_path / "target"
    began = time.monotonic()
    spark("restore", str(backup), data=tmp_path / "undisturbed")
    whole = time.monotonic() - began
    spark("serve", data=folder, YOUNG_SPARK_NAME="", YOUNG_SPARK_PASSWORD="")  # makes an empty one
    shutil.copytree(folder, tmp_path / "old")
    old = everything_of_new(folder)
    for n in range(12):
        shutil.rmtree(folder)
        shutil.copytree(tmp_path / "old", folder)
        restoring = start("restore", str(backup), data=folder)
        time.sleep(whole * (n + dice.random()) / 6)  # from its first moment to well after its last
        restoring.kill()
        restoring.wait()
        with alone(folder):
            pass  # what the next command does first
        found = everything_of_new(folder)
        assert found in (old, new[0])
        assert not (folder / "restoring").exists() and not (folder / "restore-ready").exists()
        outcomes.add(found == old)
    assert outcomes == {True, False}


def everything_of_new(folder):
    """All rows of a folder that may not have a picture yet."""
    with contextlib.closing(sqlite3.connect(folder / "young-spark.sqlite3")) as data:
        tables = [row[0] for row in data.execute("select name from sqlite_master where type = 'table' order by name")]
        return {table: sorted(map(repr, data.execute(f"select * from {table}"))) for table in tables}


def spoiled_backups(shop, folder):
    """Backups that are none, each with the words of its refusal."""
    good = folder / "good.zip"
    spark("backup", str(good), data=shop)
    whole = good.read_bytes()
    with zipfile.ZipFile(good) as archive:
        entries = {n: archive.read(n) for n in archive.namelist()}

    def packed(name, changed):
        with zipfile.ZipFile(folder / name, "w") as archive:
            for entry, content in changed.items():
                archive.writestr(entry, content)
        return folder / name

    listed = json.loads(entries["manifest.json"])
    (folder / "cut.zip").write_bytes(whole[: len(whole) // 2])
    (folder / "text.zip").write_text("hello")
    yield folder / "cut.zip", "no whole backup"
    yield folder / "text.zip", "no whole backup"
    yield folder / "not there.zip", "no such file"
    yield packed("bare.zip", {"x": b""}), "is no backup of Young Spark"
    yield packed("newer.zip", entries | {"manifest.json": json.dumps(listed | {"version": 9})}), "of version 9"
    yield packed("changed.zip", entries | {"secret-key": b"other"}), "secret-key in it is damaged"
    yield (
        packed(
            "path.zip", entries | {"manifest.json": json.dumps(listed | {"sha256": listed["sha256"] | {"../x": "0"}})}
        ),
        "holds what no backup holds",
    )
    garbage = b"SQLite format 3" + bytes(5000)
    digests = listed["sha256"] | {"young-spark.sqlite3": hashlib.sha256(garbage).hexdigest()}
    yield (
        packed(
            "data.zip",
            entries | {"young-spark.sqlite3": garbage, "manifest.json": json.dumps(listed | {"sha256": digests})},
        ),
        "is damaged",
    )


def test_a_spoiled_backup_is_refused_in_one_sentence_and_the_data_stay(shop, tmp_path):
    before = everything(shop)
    for file, words in spoiled_backups(shop, tmp_path):
        refused = spark("restore", str(file), data=shop)
        assert refused.returncode == 2 and words in refused.stderr and len(refused.stderr.splitlines()) == 1, (
            file,
            refused.stderr,
        )
        assert everything(shop) == before


def test_data_that_cannot_be_used_are_one_sentence_and_stay_as_they_are(shop, tmp_path):
    blocked = tmp_path / "file"
    blocked.write_text("no folder")
    assert "cannot be written" in spark("serve", data=blocked / "shop").stderr
    newer = tmp_path / "newer"
    shutil.copytree(shop, newer)
    with contextlib.closing(sqlite3.connect(newer / "young-spark.sqlite3")) as data:
        data.execute(
            "insert into django_migrations (app, name, applied) values ('jobs', '0099_of_tomorrow', '2030-01-01')"
        )
        data.commit()
    refused = spark("serve", data=newer)
    assert (
        refused.returncode == 2
        and "written by a newer Young Spark (jobs 0099_of_tomorrow)" in refused.stderr
        and "Traceback" not in refused.stderr
    )
    damaged = tmp_path / "damaged"
    shutil.copytree(shop, damaged)
    (damaged / "young-spark.sqlite3").write_bytes(b"SQLite format 3" + bytes(9000))
    refused = spark("serve", data=damaged)
    assert refused.returncode == 2 and "are damaged" in refused.stderr and "Traceback" not in refused.stderr


def test_a_data_file_that_another_program_holds_is_one_sentence(shop, tmp_path):
    folder = tmp_path / "held"
    shutil.copytree(shop, folder)
    with contextlib.closing(sqlite3.connect(folder / "young-spark.sqlite3")) as data:
        data.execute("PRAGMA journal_mode=DELETE")
        data.execute("BEGIN EXCLUSIVE")
        refused = spark("serve", data=folder)
    assert (
        refused.returncode == 2
        and "another program holds it locked" in refused.stderr
        and "Traceback" not in refused.stderr
    )


def test_hands_on_the_command_line(tmp_path):
    assert "no simulated bench runs" in spark("hands", "keyed=true", data=tmp_path).stderr
