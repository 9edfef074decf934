"""A data folder that is not whole says so, in the place where it is met, with what to do; what still reads is brought
over; a full disk is opened for reading; kills leave nothing behind."""

import contextlib
import hashlib
import io
import json
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import threading
import time
import urllib.error
import uuid
import zipfile

import pytest
from django.conf import settings

from tests.prepared import new_shop
from tests.served import FIRST_PERSON, Served, free_port, spark, start
from tests.server.conftest import picture_bytes, record_of
from young_spark.keeping import (
    DATABASE,
    PICTURES,
    SECRET,
    CannotKeep,
    backup,
    gather,
    make_spare_room,
    must_be_sound,
    restore,
    salvage,
    sweep,
    use_spare_room,
)
from young_spark.keeping.backup import _read_back
from young_spark.keeping.folder import opened
from young_spark.server import last_check
from young_spark.server.wholeness import idle

pytestmark = pytest.mark.long
JOBS = 12


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    """A data folder with jobs, lines and pictures in it, its server ended."""
    folder = tmp_path_factory.mktemp("kept") / "shop"
    with Served("serve", new_shop(folder), free_port(), **FIRST_PERSON) as served:
        served.sign_in("Wren", "a long way up")
        for n in range(JOBS):
            job = served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": f"Set {n}, marshal {n}: weak"})["id"]
            for m in range(14):
                served.post(
                    "/api/lines", {"id": str(uuid.uuid4()), "text": f"note {m} {'of some length ' * 12}", "job": job}
                )
            served.picture(job, picture_bytes(size=(100 + n, 80)))
    return folder


@pytest.fixture
def copy(shop, tmp_path):
    return shutil.copytree(shop, tmp_path / "copy of a shop, 100 % & more #1?")


def pictures_of(folder):
    return sorted((folder / PICTURES).iterdir())


def damage(file):
    data = bytearray(file.read_bytes())
    data[len(data) // 2] ^= 0xFF
    file.write_bytes(data)


# files ---------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("how", "word"), [(damage, "damaged"), (os.unlink, "missing")])
def test_a_file_that_is_not_whole_is_named_on_slip_and_report_and_stops_nothing(bench, job, how, word):
    posted = bench.post(
        f"/api/jobs/{job.pk}/pictures",
        {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4()), "words": "joint at L14"},
    ).json()
    sha256 = next(line["picture"]["sha256"] for line in posted["lines"] if line["picture"])
    record = record_of(bench, job).json()
    kept_record = bench.get(f"/api/jobs/{job.pk}/bundle")
    with zipfile.ZipFile(io.BytesIO(kept_record.getvalue())) as archive:
        of_record = next(n.split("/")[1] for n in archive.namelist() if n.startswith("records/"))
    for name in (sha256, of_record):
        how(settings.PICTURES / name)
    slip = bench.get(f"/api/jobs/{job.pk}").json()
    line = next(line for line in slip["lines"] if line["picture"])
    assert line["picture"]["not_whole"] == f"The picture 'joint at L14' is {word}: a backup may have it"
    refused = bench.get(f"/api/pictures/{sha256}")
    assert refused.status_code == 410 and word in refused.json()["detail"]
    assert word in bench.get(f"/api/jobs/{job.pk}/records").json()[0]["not_whole"]
    refused = bench.get(f"/api/records/{record['id']}")
    assert refused.status_code == 410 and "envelope.csv" in refused.json()["detail"]
    report = bench.get(f"/api/jobs/{job.pk}/report").json()
    assert word in report["pictures"][0]["not_whole"] and word in report["not_whole"][0]
    page = bench.get(f"/api/jobs/{job.pk}/report.html").content.decode()
    assert f"joint at L14&#x27; is {word}" in page and f"envelope.csv is {word}" in page
    assert bench.get(f"/api/jobs/{job.pk}/report.pdf").content.startswith(b"%PDF")
    bundle = bench.get(f"/api/jobs/{job.pk}/bundle").getvalue()
    read = bench.post("/api/bundles", {"file": io.BytesIO(bundle)})
    assert read.status_code == 200, read.content


def test_a_damaged_picture_that_is_put_in_again_is_whole_again(bench, job):
    body = lambda: {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4())}  # noqa: E731
    posted = bench.post(f"/api/jobs/{job.pk}/pictures", body()).json()
    sha256 = next(line["picture"]["sha256"] for line in posted["lines"] if line["picture"])
    damage(settings.PICTURES / sha256)
    bench.post(f"/api/jobs/{job.pk}/pictures", body())
    assert bench.get(f"/api/pictures/{sha256}").status_code == 200


def test_backup_and_restore_name_what_is_not_whole_and_keep_the_rest(copy, tmp_path):
    first, second, *rest = pictures_of(copy)
    damage(first)
    second.unlink()
    made = backup(copy, tmp_path / "a.zip")
    assert made.files == 1 + len(rest) and len(made.not_whole) == 2
    assert any("is missing" in words for words in made.not_whole) and any("is damaged" in w for w in made.not_whole)
    told = spark("backup", str(tmp_path / "b.zip"), data=copy).stdout
    assert "read back" in told and told.count("Not whole: job") == 1 and "; job" in told
    restored = restore(tmp_path / "a.zip", tmp_path / "new")
    assert restored.files == len(rest) and len(restored.not_whole) == 2
    with opened(copy / DATABASE) as old, opened(tmp_path / "new" / DATABASE) as new:
        count = "select count(*) from jobs_line"
        assert old.execute(count).fetchone() == new.execute(count).fetchone()


def of_the_shop(folder) -> dict[str, bytes]:
    """A certificate and a board of a model's sheet in a folder: their pictures by name."""
    made = {hashlib.sha256(data).hexdigest(): data for data in (picture_bytes(size=(60, n)) for n in (41, 42))}
    certificate, board = made
    with contextlib.closing(sqlite3.connect(folder / DATABASE)) as data, data:
        (person,) = data.execute("select min(id) from accounts_person").fetchone()
        now = "2026-11-30 08:00:00"

        def insert(table, **row):
            """One row; of a column not named, the person, the hour, zero or no words."""
            for _, name, of, needed, *_ in data.execute(f"pragma table_info({table})").fetchall():
                empty = now if "time" in of else 0 if "int" in of else ""
                row.setdefault(name, person if name == "by_id" else empty if needed else None)
            marks = ", ".join("?" for _ in row)
            data.execute(f"insert into {table} ({', '.join(row)}) values ({marks})", list(row.values()))

        insert("library_shopinstrument", id="psu", name="Bench PSU", kind="supply", functions="{}", elements_w="[]")
        insert(
            "live_certificate", id=uuid.uuid4().hex, instrument_id="psu", sha256=certificate, media_type="image/jpeg"
        )
        insert("tracing_gearboard", id=uuid.uuid4().hex, model="aske-r2", sha256=board, media_type="image/jpeg",
               words="main", side="solder", pins="[]")  # fmt: skip
    for name, content in made.items():
        (folder / PICTURES / name).write_bytes(content)
    return made


def test_certificates_and_boards_of_the_shop_are_in_a_backup_and_come_back(copy, tmp_path):
    made = of_the_shop(copy)
    assert backup(copy, tmp_path / "kept.zip").not_whole == ()
    restore(tmp_path / "kept.zip", tmp_path / "again")
    assert {name: (tmp_path / "again" / PICTURES / name).read_bytes() for name in made} == made
    for name in made:
        (copy / PICTURES / name).unlink()
    lost = backup(copy, tmp_path / "less.zip").not_whole
    assert set(lost) == {"the certificate of Bench PSU is missing", "the board main of aske-r2 is missing"}


def test_a_backup_is_read_back_before_it_is_called_done(copy, tmp_path, monkeypatch):
    real = os.fsync
    spoiled = []

    def spoils(handle):
        """A disk that keeps something else than was written."""
        real(handle)
        for work in tmp_path.glob(".young-spark-backup-*/backup.zip"):
            if not spoiled:
                spoiled.append(True)
                damage(work)

    monkeypatch.setattr(os, "fsync", spoils)
    with pytest.raises(CannotKeep, match="does not read back"):
        backup(copy, tmp_path / "a.zip")
    assert not (tmp_path / "a.zip").exists() and not list(tmp_path.glob(".young-spark-backup-*"))


def test_a_backup_damaged_at_any_place_is_refused_in_one_sentence_or_restored_whole(copy, tmp_path):
    """Which error the zip module raises depends on the bit: none of them may reach the hand."""
    backup(copy, tmp_path / "a.zip")
    data = (tmp_path / "a.zip").read_bytes()
    with zipfile.ZipFile(tmp_path / "a.zip") as archive:
        starts = [entry.header_offset for entry in archive.infolist()]
    ends = range(len(data) - 400, len(data), 7)
    refused = 0
    for place in [n + k for n in starts for k in (0, 6, 8, 26, 40, 90, 91, 200)] + [*ends]:
        spoiled = bytearray(data)
        spoiled[min(place, len(data) - 1)] ^= 0x06
        (tmp_path / "spoiled.zip").write_bytes(spoiled)
        with contextlib.suppress(CannotKeep):
            _read_back(tmp_path / "spoiled.zip")
        try:
            restore(tmp_path / "spoiled.zip", tmp_path / "new")
        except CannotKeep:
            refused += 1
    assert refused > 20


def test_killed_backups_and_starts_leave_nothing_that_stays(copy, tmp_path):
    for n in range(6):
        killed = start("backup", str(tmp_path / f"k{n}.zip"), data=copy)
        time.sleep(0.25 + 0.06 * n)
        killed.kill()
        killed.wait()
    backup(copy, tmp_path / "whole.zip")
    assert not list(tmp_path.glob(".young-spark-backup-*")) and not list(tmp_path.glob("*.partial"))
    for left in ("secret-key-77.partial", "incoming/tmp123.upload", "pictures/tmpabc", "clock.partial"):
        (copy / left).parent.mkdir(exist_ok=True)
        (copy / left).write_text("left by a kill")
    sweep(copy)
    assert not [p for p in copy.rglob("*") if p.name.startswith("tmp") or p.suffix == ".partial"]
    assert len(pictures_of(copy)) == JOBS


# damage --------------------------------------------------------------------------------------------------------------


def gone(folder):
    (folder / DATABASE).unlink()


def emptied(folder):
    (folder / DATABASE).write_bytes(b"")


def shortened(folder):
    data = (folder / DATABASE).read_bytes()
    (folder / DATABASE).write_bytes(data[: len(data) * 9 // 10])


def overwritten(folder):
    (folder / DATABASE).write_bytes(b"no data file at all" * 900)


@pytest.mark.parametrize(
    ("how", "word"), [(gone, "missing"), (emptied, "empty"), (shortened, "cut short"), (overwritten, "no data file")]
)
def test_missing_empty_or_shortened_data_are_damage_and_never_an_empty_shelf(copy, how, word):
    how(copy)
    before = {p: p.read_bytes() for p in copy.rglob("*") if p.is_file()}
    refused = spark("serve", data=copy, **FIRST_PERSON)
    assert refused.returncode == 2 and "are damaged" in refused.stderr and word in refused.stderr
    assert "./spark restore" in refused.stderr and "./spark salvage" in refused.stderr
    assert len(refused.stderr.strip().splitlines()) == 1
    assert all(p.read_bytes() == data for p, data in before.items())


@pytest.mark.parametrize("left", [None, b""])
def test_a_log_alone_tells_that_a_folder_was_worked_in(tmp_path, left):
    """Opened beside an empty file it would be thrown away."""
    must_be_sound(tmp_path)
    if left is not None:
        (tmp_path / DATABASE).write_bytes(left)
    (tmp_path / f"{DATABASE}-wal").write_bytes(b"something")
    with pytest.raises(CannotKeep, match="are damaged"):
        must_be_sound(tmp_path)


def test_a_data_file_that_is_gone_at_the_end_is_not_made_anew(copy):
    gone(copy)
    gather(copy)
    assert not (copy / DATABASE).exists()
    overwritten(copy)
    gather(copy)  # named by the next start


@pytest.mark.parametrize("how", [signal.SIGINT, signal.SIGTERM])
def test_after_a_clean_end_the_data_file_alone_holds_everything(copy, tmp_path, how):
    with Served("serve", copy, free_port()) as served:
        served.sign_in("Wren", "a long way up")
        served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Set 99, marshal 99: weak"})
        served.end(how)
    shutil.copyfile(copy / DATABASE, tmp_path / "alone.sqlite3")
    with opened(tmp_path / "alone.sqlite3") as data:
        assert data.execute("select count(*) from jobs_job").fetchone()[0] == JOBS + 1


def as_a_kill_leaves_it(folder, to, *, lines, from_the_start=False):
    """A copy of a folder in the middle of work: its last lines stand in the log alone, or all there is."""
    with contextlib.closing(sqlite3.connect(folder / DATABASE)) as data:
        data.execute("pragma journal_mode=wal")
        data.execute("pragma wal_autocheckpoint=0")
        if from_the_start:
            data.execute("vacuum")
        data.execute("create table tried (what)")
        data.executemany("insert into tried values (?)", (("x" * 3500,) for _ in range(lines)))
        data.commit()
        shutil.copytree(folder, to)
    return to


@pytest.mark.parametrize("lines", [1, 30])
def test_a_log_of_other_lines_does_not_hide_that_the_data_are_cut_short(copy, tmp_path, lines):
    killed = as_a_kill_leaves_it(copy, tmp_path / "killed", lines=lines)
    must_be_sound(killed)
    shortened(killed)
    with pytest.raises(CannotKeep, match="cut short"):
        must_be_sound(killed)


@pytest.mark.parametrize(("how", "word"), [(shortened, ""), (emptied, "empty"), (gone, "missing")])
def test_what_a_log_holds_is_not_lost_with_the_data_file(copy, tmp_path, how, word):
    killed = as_a_kill_leaves_it(copy, tmp_path / "killed", lines=5, from_the_start=True)
    how(killed)
    if word:
        with pytest.raises(CannotKeep, match=word):
            must_be_sound(killed)
    else:
        must_be_sound(killed)  # the log holds every page that was cut off
    saved = salvage(killed, tmp_path / "saved")
    assert (saved.jobs, saved.files, saved.lost) == (JOBS, JOBS, ())


def test_an_empty_key_is_said(copy):
    (copy / SECRET).write_text("")
    refused = spark("serve", data=copy)
    assert refused.returncode == 2 and "key file" in refused.stderr and "is empty" in refused.stderr
    (copy / SECRET).unlink()
    with Served("serve", copy, free_port()) as served:
        assert served.address
    assert len((copy / SECRET).read_text()) > 60


def test_a_new_folder_is_no_damage(tmp_path):
    must_be_sound(tmp_path)


def test_what_still_reads_of_a_shortened_file_is_salvaged(copy, tmp_path):
    shortened(copy)
    told = spark("salvage", str(copy), data=tmp_path / "saved")
    assert told.returncode == 0, told.stderr
    assert f"Salvaged into {tmp_path / 'saved'}" in told.stdout and "Lost:" in told.stdout
    with Served("serve", tmp_path / "saved", free_port()) as served:
        assert served.address  # it is a shop again
    assert (copy / DATABASE).stat().st_size > 0


@pytest.mark.parametrize("seed", range(8))
def test_pages_of_rubbish_cost_their_own_rows_and_no_others(copy, tmp_path, seed):
    """Some pages of the file are overwritten: what comes over is as it was, and what did not is named."""
    dice = random.Random(seed)
    with opened(copy / DATABASE) as data:
        truth = {row[0]: row for row in data.execute("select id, job_id, number, text from jobs_line")}
    raw = bytearray((copy / DATABASE).read_bytes())
    page = int.from_bytes(raw[16:18], "big")
    for _ in range(3):
        at = page * dice.randrange(60, len(raw) // page)
        raw[at : at + page] = dice.randbytes(page)
    (copy / DATABASE).write_bytes(raw)
    try:
        saved = salvage(copy, tmp_path / "saved")
    except CannotKeep as refusal:
        assert "only a backup can help" in str(refusal)
        return
    with opened(tmp_path / "saved" / DATABASE) as data:
        assert data.execute("pragma integrity_check").fetchone() == ("ok",)
        assert not data.execute("pragma foreign_key_check").fetchall()
        rows = {row[0]: row for row in data.execute("select id, job_id, number, text from jobs_line")}
        jobs = data.execute("select count(*) from jobs_job").fetchone()[0]
    assert rows.items() <= truth.items() and saved.jobs == jobs
    assert len(rows) == len(truth) or saved.lost


def test_an_undamaged_folder_is_salvaged_whole(copy, tmp_path):
    saved = salvage(copy, tmp_path / "saved")
    assert (saved.jobs, saved.files, saved.lost) == (JOBS, JOBS, ())
    with pytest.raises(CannotKeep, match="already"):
        salvage(copy, tmp_path / "saved")
    gone(copy)
    (copy / f"{DATABASE}-wal").write_bytes(b"")
    with pytest.raises(CannotKeep, match="nothing to salvage"):
        salvage(copy, tmp_path / "other")


# a disk that is full -------------------------------------------------------------------------------------------------


def test_a_full_disk_lets_the_program_start_for_reading(shop, tmp_path):
    """A disk of its own is filled to the last byte; the shop is read, and what is written is refused in words."""
    with small_disk(tmp_path) as disk:
        folder = shutil.copytree(shop, disk / "shop")
        with Served("serve", folder, free_port()) as served:
            served.sign_in("Wren", "a long way up")
            cookies = served.cookies
        with filled(disk), Served("serve", folder, free_port()) as served:
            for cookie in cookies:
                served.cookies.set_cookie(cookie)
            assert served.get("/api/shelf")["total"] == JOBS
            job = served.get("/api/shelf")["on_the_bench"][0]["id"]
            refused = None
            for n in range(400):
                try:
                    served.picture(job, picture_bytes("PNG", size=(150 + n, 80)) + bytes(100_000))
                except urllib.error.HTTPError as problem:
                    refused = json.loads(problem.read())
                    break
            assert refused and refused["code"] == "storage" and "make room" in refused["detail"].lower()
            assert served.get("/api/shelf")["total"] == JOBS
            slip = served.get(f"/api/jobs/{job}")
            assert all(not line["picture"]["not_whole"] for line in slip["lines"] if line["picture"])


@contextlib.contextmanager
def small_disk(tmp_path):
    """A file system of some megabytes. Skips where none can be mounted."""
    place = tmp_path / "disk"
    place.mkdir()
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=64m", "tmpfs", str(place)], capture_output=True)
    if mounted.returncode:
        pytest.skip("no file system can be mounted here")
    try:
        yield place
    finally:
        subprocess.run(["umount", "-l", str(place)], check=False)


@contextlib.contextmanager
def filled(disk):
    ballast = disk / "ballast"
    handle = os.open(ballast, os.O_WRONLY | os.O_CREAT)
    with contextlib.suppress(OSError):
        while True:
            os.write(handle, bytes(4096))
    os.close(handle)
    try:
        yield
    finally:
        ballast.unlink()


def test_room_is_spared_once_and_given_up_once(tmp_path):
    make_spare_room(tmp_path)
    make_spare_room(tmp_path)
    assert use_spare_room(tmp_path) and not use_spare_room(tmp_path)


# the check of everything that is kept ---------------------------------------------------------------------------------


def test_the_check_reads_everything_and_names_what_is_not_whole(copy):
    told = spark("check", data=copy)
    assert told.returncode == 0 and f"{JOBS} jobs and {JOBS} pictures and records were read: everything" in told.stdout
    first, second, *_ = pictures_of(copy)
    damage(first)
    second.unlink()
    with opened(copy / DATABASE, write=True) as data:
        data.execute(
            'update jobs_line set story = \'{"kind": "no such kind"}\' where number = 3 and job_id = '
            "(select id from jobs_job where number = 5)"
        )
        data.commit()
    told = spark("check", data=copy)
    assert told.returncode == 1 and "3 things are not whole" in told.stdout
    assert "is damaged" in told.stdout and "is missing" in told.stdout and "job 5 does not read" in told.stdout
    assert "Traceback" not in told.stdout + told.stderr


def test_the_check_sees_a_damaged_table(copy):
    raw = bytearray((copy / DATABASE).read_bytes())
    page = int.from_bytes(raw[16:18], "big")
    with opened(copy / DATABASE) as data:
        root = data.execute("select rootpage from sqlite_master where name = 'jobs_picture'").fetchone()[0]
    raw[(root - 1) * page + 3 : (root - 1) * page + 12] = b"\xff" * 9
    (copy / DATABASE).write_bytes(raw)
    told = spark("check", data=copy)
    assert told.returncode != 0 and "Traceback" not in told.stdout + told.stderr


@pytest.mark.django_db(transaction=True)
def test_when_nobody_works_the_check_goes_on_by_itself_and_waits_for_who_does(bench, job, monkeypatch):
    monkeypatch.setattr(idle, "QUIET_S", 0.0)
    busy = [False]
    going = idle.IdleCheck(lambda: busy[0])
    going.round()
    told = bench.get("/api/bench/instruments").json()["last_check"]
    assert told["words"].startswith("1 jobs and ") and told["problems"] == []
    assert not idle._is_due()
    busy[0] = True
    waits = threading.Thread(target=going.round)
    before = last_check.last()
    waits.start()
    waits.join(0.5)
    assert waits.is_alive() and last_check.last() == before  # there is a carrier: not a piece is read
    busy[0] = False
    waits.join(20)
    assert not waits.is_alive() and last_check.last().at > before.at
