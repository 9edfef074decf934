"""A backup in the place of a data folder's contents, in two steps: everything is unpacked and checked beside the old
data, then a mark is written; from the mark on the next command finishes the exchange, whatever was killed, and before
it the old data stand as they were."""

import hashlib
import json
import os
import shutil
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from young_spark.core.ground import ZIP_DAMAGE
from young_spark.keeping.backup import FORMAT, MANIFEST, VERSION, is_entry
from young_spark.keeping.folder import (
    DATABASE,
    PICTURES,
    SECRET,
    STEP,
    CannotKeep,
    files_named,
    hash_of,
    integrity,
    opened,
    sync_folder,
    sync_tree,
    words_of,
)

DAMAGED: tuple[type[Exception], ...] = (*ZIP_DAMAGE, KeyError)
NO_RESTORE: tuple[type[Exception], ...] = (*ZIP_DAMAGE, OSError)
RESTORING, READY = "restoring", "restore-ready"
LARGEST_MANIFEST = 200 << 20


@dataclass(frozen=True)
class Restored:
    """What was restored, and which files that its rows name are not whole."""

    files: int
    not_whole: tuple[str, ...]


def restore(file: Path, folder: Path) -> Restored:
    """Put a backup in the place of the data folder's contents. The caller holds the lock.

    Raises CannotKeep; until everything is unpacked and checked the old data stand."""
    beside = folder / RESTORING
    try:
        shutil.rmtree(beside, ignore_errors=True)
        beside.mkdir(parents=True)
        _unpack(file, beside)
        restored = _checked(beside, file)
        sync_tree(beside)
        mark = folder / READY
        mark.with_suffix(".partial").write_text(str(VERSION))
        os.replace(mark.with_suffix(".partial"), mark)
        sync_folder(folder)
    except CannotKeep:
        shutil.rmtree(beside, ignore_errors=True)
        raise
    except NO_RESTORE as problem:
        shutil.rmtree(beside, ignore_errors=True)
        words = words_of(problem) if isinstance(problem, OSError) else "it is no whole backup"
        raise CannotKeep(f"{file} was not restored: {words}; the data are as they were") from problem
    finish_restore(folder)
    return restored


def _unpack(file: Path, target: Path) -> None:
    with zipfile.ZipFile(file) as archive:
        hashes: dict[str, str] = _manifest(archive, file)["sha256"]
        if DATABASE not in hashes or any(not is_entry(name) or name == MANIFEST for name in hashes):
            raise CannotKeep(f"{file} was not restored: it holds what no backup holds; the data are as they were")
        for name, wanted in hashes.items():
            place = target / name
            place.parent.mkdir(exist_ok=True)
            try:
                whole = _unpacked(archive, name, place) == wanted
            except DAMAGED:  # one picture less is no reason to restore nothing
                whole = False
            if not whole and not name.startswith(PICTURES):
                raise CannotKeep(f"{file} was not restored: {name} in it is damaged; the data are as they were")
        if (target / SECRET).exists():
            (target / SECRET).chmod(0o600)


def _unpacked(archive: zipfile.ZipFile, name: str, place: Path) -> str:
    total = hashlib.sha256()
    with archive.open(name) as source, open(place, "wb") as out:
        while part := source.read(STEP):
            total.update(part)
            out.write(part)
    return total.hexdigest()


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


def _checked(beside: Path, file: Path) -> Restored:
    """The unpacked data file is whole; files that it names and that are not are named, and stop nothing else."""
    with opened(beside / DATABASE) as data:
        if integrity(data) != "ok":
            raise CannotKeep(f"{file} was not restored: the data file in it is damaged; the data are as they were")
    count, lost = 0, []
    for told in files_named(beside / DATABASE):
        place = beside / PICTURES / told.sha256
        if not place.is_file():
            lost.append(f"{told.words} is missing")
        elif hash_of(place) != told.sha256:
            lost.append(f"{told.words} is damaged")
        else:
            count += 1
    return Restored(count, tuple(lost))


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
    sync_folder(folder)
    mark.unlink()
    shutil.rmtree(beside, ignore_errors=True)
