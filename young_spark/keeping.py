"""Backup and restore of a whole data folder, as one zip: the data file, the pictures, the signing key, a list of
hashes.

A backup runs beside a working server. A restore needs the folder to itself and happens in two steps: everything is
unpacked and checked beside the old data, then a mark is written; from the mark on the next command finishes the
exchange, whatever was killed, and before it the old data stand as they were."""

import contextlib
import hashlib
import json
import os
import re
import shutil
import sqlite3
import tempfile
import zipfile
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

FORMAT, VERSION = "young-spark-backup", 1
DATABASE, SECRET, PICTURES, MANIFEST = "young-spark.sqlite3", "secret-key", "pictures", "manifest.json"
NAMES = re.compile(rf"{re.escape(DATABASE)}|{SECRET}|{PICTURES}/[0-9a-f]{{64}}|{MANIFEST}")
RESTORING, READY = "restoring", "restore-ready"
STEP = 1 << 20
LARGEST_MANIFEST = 200 << 20


class CannotKeep(Exception):
    """Why a backup or a restore was not made, as one sentence."""


def _words(problem: OSError) -> str:
    return (problem.strerror or str(problem)).lower()


def backup(folder: Path, file: Path) -> int:
    """Write a backup of the data folder, beside a server that may be running; returns the number of pictures in it.

    Raises CannotKeep, and leaves no half file."""
    if file.exists():
        raise CannotKeep(f"{file} is there already; name another file, an older backup is never written over")
    if not (folder / DATABASE).is_file():
        raise CannotKeep(f"there is no data in {folder}")
    partial = file.with_name(file.name + ".partial")
    try:
        with tempfile.TemporaryDirectory(dir=file.parent or None) as work:
            copy = Path(work) / DATABASE
            _copy_database(folder / DATABASE, copy)
            # the data file first, the pictures after it: each picture that a row names was on disk before the row
            pictures = sorted(p for p in (folder / PICTURES).glob("*") if NAMES.fullmatch(f"{PICTURES}/{p.name}"))
            with os.fdopen(os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
                _write_zip(out, [copy, folder / SECRET, *pictures])
                out.flush()
                os.fsync(out.fileno())
        os.replace(partial, file)
        _sync_folder(file.parent)
    except OSError as problem:
        partial.unlink(missing_ok=True)
        raise CannotKeep(f"the backup {file} cannot be written: {_words(problem)}") from problem
    except sqlite3.Error as problem:
        raise CannotKeep(f"the data file cannot be copied: {problem}") from problem
    return len(pictures)


def _copy_database(source: Path, target: Path) -> None:
    with (
        contextlib.closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True, timeout=10)) as old,
        contextlib.closing(sqlite3.connect(target)) as new,
    ):
        old.backup(new)
        new.execute("PRAGMA journal_mode=DELETE")  # one file, without a log beside it


def _write_zip(out: IO[bytes], files: list[Path]) -> None:
    hashes: dict[str, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for file in files:
            name = f"{PICTURES}/{file.name}" if file.parent.name == PICTURES else file.name
            total = hashlib.sha256()
            with open(file, "rb") as source, archive.open(name, "w", force_zip64=True) as target:
                while part := source.read(STEP):
                    total.update(part)
                    target.write(part)
            hashes[name] = total.hexdigest()
        manifest = {"format": FORMAT, "version": VERSION, "made_at": datetime.now(UTC).isoformat(), "sha256": hashes}
        archive.writestr(MANIFEST, json.dumps(manifest, indent=1))


def restore(file: Path, folder: Path) -> int:
    """Put a backup in the place of the data folder's contents; returns the number of pictures. The caller holds the
    lock.

    Raises CannotKeep; until everything is unpacked and checked the old data stand."""
    beside = folder / RESTORING
    try:
        shutil.rmtree(beside, ignore_errors=True)
        beside.mkdir(parents=True)
        count = _unpack(file, beside)
        _check_database(beside / DATABASE)
        _sync_tree(beside)
        mark = folder / READY
        mark.with_suffix(".partial").write_text(str(VERSION))
        os.replace(mark.with_suffix(".partial"), mark)
        _sync_folder(folder)
    except CannotKeep:
        shutil.rmtree(beside, ignore_errors=True)
        raise
    except (OSError, zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, EOFError, ValueError) as problem:
        shutil.rmtree(beside, ignore_errors=True)
        words = _words(problem) if isinstance(problem, OSError) else "it is no whole backup"
        raise CannotKeep(f"{file} was not restored: {words}; the data are as they were") from problem
    finish_restore(folder)
    return count


def _unpack(file: Path, target: Path) -> int:
    with zipfile.ZipFile(file) as archive:
        manifest = _manifest(archive, file)
        hashes: dict[str, str] = manifest["sha256"]
        if DATABASE not in hashes or any(not NAMES.fullmatch(name) for name in hashes):
            raise CannotKeep(f"{file} was not restored: it holds what no backup holds; the data are as they were")
        for name, wanted in hashes.items():
            place = target / name
            place.parent.mkdir(exist_ok=True)
            total = hashlib.sha256()
            with archive.open(name) as source, open(place, "wb") as out:
                while part := source.read(STEP):
                    total.update(part)
                    out.write(part)
            if total.hexdigest() != wanted:
                raise CannotKeep(f"{file} was not restored: {name} in it is damaged; the data are as they were")
        if (target / SECRET).exists():
            (target / SECRET).chmod(0o600)
    return len(hashes) - (DATABASE in hashes) - (SECRET in hashes)


def _manifest(archive: zipfile.ZipFile, file: Path) -> dict[str, Any]:
    try:
        with archive.open(MANIFEST) as source:
            manifest = json.loads(source.read(LARGEST_MANIFEST))
    except (KeyError, ValueError, RecursionError) as problem:
        raise CannotKeep(f"{file} is no backup of Young Spark; the data are as they were") from problem
    if (
        not isinstance(manifest, dict)
        or manifest.get("format") != FORMAT
        or not isinstance(manifest.get("sha256"), dict)
    ):
        raise CannotKeep(f"{file} is no backup of Young Spark; the data are as they were")
    if manifest.get("version") != VERSION:
        raise CannotKeep(
            f"{file} is a backup of version {manifest.get('version')}, this one reads {VERSION}; the "
            "data are as they were"
        )
    return manifest


def _check_database(file: Path) -> None:
    try:
        with contextlib.closing(sqlite3.connect(file)) as database:
            (answer,) = database.execute("PRAGMA integrity_check").fetchone()
    except sqlite3.Error as problem:
        raise CannotKeep(f"the data file in the backup is damaged: {problem}; the data are as they were") from problem
    if answer != "ok":
        raise CannotKeep("the data file in the backup is damaged; the data are as they were")


def finish_restore(folder: Path) -> None:
    """Finish an exchange that was marked ready, or clear away one that was not. Safe to be killed and done again."""
    beside, mark = folder / RESTORING, folder / READY
    if not mark.exists():
        shutil.rmtree(beside, ignore_errors=True)
        return
    for name in (SECRET, PICTURES, DATABASE):
        new = beside / name
        if not new.exists():
            continue  # moved by a command that was killed after it, or not in the backup
        old = folder / name
        if name == DATABASE:
            for log in (f"{name}-wal", f"{name}-shm"):
                (folder / log).unlink(missing_ok=True)
        if old.is_dir():
            shutil.rmtree(old)
        os.replace(new, old)
    _sync_folder(folder)
    mark.unlink()
    shutil.rmtree(beside, ignore_errors=True)


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder if str(folder) else ".", os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _sync_tree(folder: Path) -> None:
    for place, _, files in os.walk(folder):
        for name in files:
            with open(Path(place) / name, "rb") as file:
                os.fsync(file.fileno())
        _sync_folder(Path(place))
