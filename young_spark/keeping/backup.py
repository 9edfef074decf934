"""A whole data folder as one zip, beside a server that may be working: the data file, pictures and records, the signing
key, and a list of hashes. It is read back before it is called done."""

import contextlib
import hashlib
import json
import os
import re
import shutil
import sqlite3
import zipfile
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import IO

from young_spark.core.ground import ZIP_DAMAGE
from young_spark.keeping.folder import (
    A_HASH,
    DATABASE,
    PICTURES,
    SECRET,
    STEP,
    CannotKeep,
    NamedFile,
    files_named,
    integrity,
    opened,
    sync_folder,
    words_of,
)

NOT_AS_WRITTEN: tuple[type[Exception], ...] = (*ZIP_DAMAGE, KeyError)
FORMAT, VERSION, MANIFEST = "young-spark-backup", 1, "manifest.json"
WORK = re.compile(r"\.young-spark-backup-(\d+)")  # with the process that works in it


@dataclass(frozen=True)
class Backup:
    """What a backup holds, and which files it does not hold because they are not whole."""

    files: int
    not_whole: tuple[str, ...]


def backup(folder: Path, file: Path) -> Backup:
    """Write a backup of a data folder, and read it back. Raises CannotKeep, and leaves no half file."""
    if file.exists():
        raise CannotKeep(f"{file} is there already; name another file, an older backup is never written over")
    if not (folder / DATABASE).is_file():
        raise CannotKeep(f"there is no data in {folder}")
    _sweep(file.parent)
    work = file.parent / f".young-spark-backup-{os.getpid()}"
    try:
        work.mkdir(mode=0o700)
        made = _made(folder, work)
        _read_back(work / "backup.zip")
        os.replace(work / "backup.zip", file)
        sync_folder(file.parent)
    except OSError as problem:
        raise CannotKeep(f"the backup {file} cannot be written: {words_of(problem)}") from problem
    except sqlite3.Error as problem:
        raise CannotKeep(f"the data file cannot be copied: {problem}") from problem
    finally:
        shutil.rmtree(work, ignore_errors=True)
    return made


def _made(folder: Path, work: Path) -> Backup:
    copy = work / DATABASE
    _copy_database(folder / DATABASE, copy)
    # the data file first, the files after it: each that a row names was on disk before the row
    with os.fdopen(os.open(work / "backup.zip", os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
        made = _write_zip(out, copy, folder, files_named(copy))
        out.flush()
        os.fsync(out.fileno())
    return made


def _copy_database(source: Path, target: Path) -> None:
    with opened(source) as old, opened(target, write=True) as new:
        old.backup(new)
        new.execute("PRAGMA journal_mode=DELETE")  # one file, without a log beside it
        if (said := integrity(new)) != "ok":
            raise CannotKeep(
                f"the data file is damaged ({said}): './spark salvage' brings over what reads, or restore a backup"
            )


def _write_zip(out: IO[bytes], copy: Path, folder: Path, named: list[NamedFile]) -> Backup:
    hashes: dict[str, str] = {}
    lost = []
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        hashes[DATABASE] = _add(archive, DATABASE, copy)
        if (folder / SECRET).is_file():
            hashes[SECRET] = _add(archive, SECRET, folder / SECRET)
        for told in named:
            file = folder / PICTURES / told.sha256
            if not file.is_file():
                lost.append(f"{told.words} is missing")
                continue
            name = f"{PICTURES}/{told.sha256}"
            hashes[name] = _add(archive, name, file)
            if hashes[name] != told.sha256:
                lost.append(f"{told.words} is damaged")  # it goes along as it is: half a picture is more than none
        manifest = {"format": FORMAT, "version": VERSION, "made_at": datetime.now(UTC).isoformat(), "sha256": hashes}
        archive.writestr(MANIFEST, json.dumps(manifest, indent=1))
    return Backup(len([n for n in hashes if n.startswith(PICTURES)]), tuple(lost))


def _add(archive: zipfile.ZipFile, name: str, file: Path) -> str:
    """Add a file; returns the hash of what was added."""
    total = hashlib.sha256()
    with open(file, "rb") as source, archive.open(name, "w", force_zip64=True) as target:
        while part := source.read(STEP):
            total.update(part)
            target.write(part)
    return total.hexdigest()


def _read_back(file: Path) -> None:
    """Read every entry as a restore would. Raises CannotKeep where the disk kept something else than was written."""
    try:
        with zipfile.ZipFile(file) as archive:
            hashes = json.loads(archive.read(MANIFEST))["sha256"]
            for name, wanted in hashes.items():
                total = hashlib.sha256()
                with archive.open(name) as source:
                    while part := source.read(STEP):
                        total.update(part)
                if total.hexdigest() != wanted:
                    raise CannotKeep(f"the backup does not read back as it was written ({name}): mind that disk")
    except NOT_AS_WRITTEN as problem:
        raise CannotKeep("the backup does not read back as it was written: mind that disk") from problem


def _sweep(folder: Path) -> None:
    """Clear away what backups that were killed left here."""
    with contextlib.suppress(OSError):
        for place in folder.iterdir():
            found = WORK.fullmatch(place.name)
            if found is not None and not _runs(int(found[1])):
                shutil.rmtree(place, ignore_errors=True)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def is_entry(name: str) -> bool:
    """Whether an entry of a zip is one that a backup has."""
    folder, _, rest = name.rpartition("/")
    return name in {DATABASE, SECRET, MANIFEST} or (folder == PICTURES and A_HASH.fullmatch(rest) is not None)
