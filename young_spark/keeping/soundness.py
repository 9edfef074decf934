"""Whether a data folder can be worked in: damage is named with what to do, never taken for an empty shop; what kills
left is swept; and a disk that is full lets the program start for reading."""

import contextlib
import os
import shutil
import sqlite3
from pathlib import Path

from young_spark.keeping.folder import DATABASE, PICTURES, SECRET, SQLITE, CannotKeep, opened, page_size
from young_spark.keeping.write_ahead import logged

LEAST_PAGE = 512  # bytes, by the format
BEGAN = "began"  # is there once a data file was: what is missing beside it is missed
SPARE_ROOM = "spare-room"  # given up when the disk is full, so that the data file can be opened
SPARE_BYTES = 4 << 20
WHAT_TO_DO = (
    "put a backup in its place ('./spark restore FILE'), or bring over what still reads into a new folder "
    "('./spark salvage FOLDER --data NEW')"
)


def must_be_sound(folder: Path) -> None:
    """Raises CannotKeep where the data file or the key is missing, empty or cut short though the folder was worked in:
    nothing is begun anew on top of what is left."""
    if why := _damage(folder):
        raise CannotKeep(f"the data in {folder} are damaged: {why}. Nothing was changed. What to do: {WHAT_TO_DO}")
    key = folder / SECRET
    if key.is_file() and not key.read_text().strip():
        raise CannotKeep(
            f"the key file {key} is empty: restore it from a backup, or remove it, and everybody signs in anew"
        )


def _damage(folder: Path) -> str:
    data, pictures, log = folder / DATABASE, folder / PICTURES, folder / f"{DATABASE}-wal"
    worked_in = (folder / BEGAN).exists() or (pictures.is_dir() and any(pictures.iterdir()))
    worked_in |= log.exists() and log.stat().st_size > 0  # opened beside an empty file, it would be thrown away
    if not data.exists():
        return f"{DATABASE} is missing" if worked_in else ""
    size = data.stat().st_size
    if size == 0:
        return f"{DATABASE} is empty" if worked_in else ""
    with open(data, "rb") as file:
        head = file.read(100)
    if len(head) < 100 or not head.startswith(SQLITE):
        return f"{DATABASE} is no data file any more"
    page = page_size(head)
    if page < LEAST_PAGE:
        return f"{DATABASE} is no data file any more"
    written = int.from_bytes(head[28:32], "big")
    in_log = logged(log)
    counts = head[24:28] == head[92:96]  # otherwise an older library wrote it, and what it says of its size is stale
    due = in_log.count or (written if counts else 0)
    if any(number not in in_log.pages for number in range(size // page + 1, due + 1)):
        return f"{DATABASE} is cut short: {size} of {due * page} bytes are there"
    return ""


def mark_begun(folder: Path) -> None:
    """From now on a data file belongs here."""
    with contextlib.suppress(OSError):
        (folder / BEGAN).touch()


def sweep(folder: Path) -> None:
    """Clear away what kills left: half files, and what was on its way in."""
    with contextlib.suppress(OSError):
        shutil.rmtree(folder / "incoming", ignore_errors=True)
        for place in (*folder.glob("*.partial"), *(folder / PICTURES).glob("tmp*")):
            place.unlink(missing_ok=True)


def make_spare_room(folder: Path) -> None:
    """Keep some room on the disk, written and not only promised; where there is none now, the next start tries."""
    file = folder / SPARE_ROOM
    try:
        if file.exists() and file.stat().st_size == SPARE_BYTES:
            return
        with open(file, "wb") as out:
            out.write(bytes(SPARE_BYTES))
            os.fsync(out.fileno())
    except OSError:
        file.unlink(missing_ok=True)  # half of it would only take the room


def use_spare_room(folder: Path) -> bool:
    """Give the room up, for the data file to be opened in it; whether there was any."""
    with contextlib.suppress(OSError):
        (folder / SPARE_ROOM).unlink()
        return True
    return False


def gather(folder: Path) -> None:
    """Have everything in the data file alone, so that what copies only that file copies the shop. Where the disk is
    full, another program reads, or the file was damaged, it stays where it is: the next start says so."""
    if not (folder / DATABASE).exists():
        return  # a new one would hide that it is gone
    with contextlib.suppress(sqlite3.DatabaseError), opened(folder / DATABASE, write=True) as data:
        data.execute("pragma wal_checkpoint(truncate)")
