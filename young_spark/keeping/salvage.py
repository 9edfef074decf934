"""What can be saved of a damaged data file: every row that still reads goes into a new one, what hangs in the air is
left out, and each job that lost something is named."""

import contextlib
import shutil
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from young_spark.keeping.folder import (
    DATABASE,
    PICTURES,
    SECRET,
    SQLITE,
    CannotKeep,
    files_named,
    hash_of,
    opened,
    page_size,
    sync_tree,
    words_of,
)

LOG = f"{DATABASE}-wal"
SINGLE_ROWS = 200_000  # looked for one by one where a table does not read in one go
PASSED_OVER = 4_096  # row numbers in a row that do not read, before the rest is looked for from the end
Row = tuple[Any, ...]


@dataclass(frozen=True)
class Salvaged:
    """What came over: jobs whole, and what of the others was lost, in words."""

    jobs: int
    files: int
    lost: tuple[str, ...]


def salvage(damaged: Path, folder: Path) -> Salvaged:
    """Bring over what still reads of the data in `damaged` into `folder`, which holds no data yet. The damaged ones are
    only read. Raises CannotKeep where nothing reads."""
    source = damaged / DATABASE
    if not _holds_something(source) and not _holds_something(damaged / LOG):
        raise CannotKeep(f"there is nothing to salvage in {damaged}: its {DATABASE} is missing or empty")
    if (folder / DATABASE).exists():
        raise CannotKeep(f"there are data in {folder} already; name a new folder with --data")
    work = folder / "salvaging"
    try:
        shutil.rmtree(work, ignore_errors=True)
        work.mkdir(parents=True, mode=0o700)
        with opened(_readable_copy(damaged, work)) as old, opened(work / "new.sqlite3", write=True) as new:
            lost = _carry_over(old, new)
            jobs, gaps = _what_is_whole(new)
        files, gone = _files(damaged, folder, work / "new.sqlite3")
        (work / "new.sqlite3").replace(folder / DATABASE)
        sync_tree(folder)
    except OSError as problem:
        raise CannotKeep(f"nothing was salvaged: {words_of(problem)}") from problem
    except sqlite3.Error as problem:
        raise CannotKeep(f"nothing of {source} reads any more: {problem}; only a backup can help") from problem
    finally:
        shutil.rmtree(work, ignore_errors=True)
    return Salvaged(jobs, files, (*lost, *gaps, *gone))


def _holds_something(file: Path) -> bool:
    return file.is_file() and file.stat().st_size > 0


def _readable_copy(damaged: Path, work: Path) -> Path:
    """A copy that can be opened at all: one that is cut short is as long again as it says, its end empty; of one that
    is gone, the log may hold everything, and is only read beside a file that is there."""
    copy = work / DATABASE
    for name in (DATABASE, LOG):
        if _holds_something(damaged / name):
            shutil.copyfile(damaged / name, work / name)
    if not copy.exists():
        copy.write_bytes(SQLITE)
        return copy
    with open(copy, "r+b") as file:
        head = file.read(100)
        due = page_size(head) * int.from_bytes(head[28:32], "big")
        if copy.stat().st_size < due < 1 << 40:
            file.truncate(due)
    return copy


def _carry_over(old: sqlite3.Connection, new: sqlite3.Connection) -> list[str]:
    """Every table with every row that reads; returns what did not, in words."""
    made = old.execute("select type, name, sql from sqlite_master where sql is not null").fetchall()
    lost = []
    for kind, name, sql in made:
        if kind == "table" and not name.startswith("sqlite_"):
            new.execute(sql)
            missed = _rows(old, new, name)
            if missed:
                lost.append(f"{name}: {missed}")
    for kind, _, sql in made:
        if kind == "index":
            with contextlib.suppress(sqlite3.IntegrityError):
                new.execute(sql)
    _drop_what_hangs_in_the_air(new)
    new.commit()
    return lost


def _rows(old: sqlite3.Connection, new: sqlite3.Connection, table: str) -> str:
    """Copy the rows of a table that read; returns in words what was passed over."""
    columns = len(old.execute(f'pragma table_info("{table}")').fetchall())
    put = f'insert or ignore into "{table}" values ({",".join("?" * columns)})'
    seen = _Seen()
    for row in seen.forward(old, table):
        new.execute(put, row)
    if not seen.stopped:
        return ""
    for row in seen.from_the_end(old, table):
        new.execute(put, row)
    for row in seen.between(old, table):
        new.execute(put, row)
    return "some of its rows do not read"


class _Seen:
    """Row numbers of a table that were read, so that what is in between is known."""

    def __init__(self) -> None:
        self.low, self.high = 0, 1 << 62
        self.stopped = False

    def forward(self, data: sqlite3.Connection, table: str) -> Iterator[Row]:
        """From the first row on, until one does not read."""
        try:
            for number, *row in data.execute(f'select rowid, * from "{table}" not indexed order by rowid'):
                self.low = number
                yield tuple(row)
        except sqlite3.DatabaseError:
            self.stopped = True

    def from_the_end(self, data: sqlite3.Connection, table: str) -> Iterator[Row]:
        """From the last row back, until one does not read."""
        with contextlib.suppress(sqlite3.DatabaseError):
            told = data.execute(
                f'select rowid, * from "{table}" not indexed where rowid > ? order by rowid desc', (self.low,)
            )
            for number, *row in told:
                self.high = number
                yield tuple(row)

    def between(self, data: sqlite3.Connection, table: str) -> Iterator[Row]:
        """What is left in the middle, one by one."""
        in_a_row = 0
        for number in range(self.low + 1, min(self.high, self.low + SINGLE_ROWS)):
            try:
                row = data.execute(f'select * from "{table}" not indexed where rowid = ?', (number,)).fetchone()
            except sqlite3.DatabaseError:
                row = None
            in_a_row = 0 if row else in_a_row + 1
            if in_a_row > PASSED_OVER and self.high == 1 << 62:
                return  # nothing is known of an end
            if row:
                yield row


def _drop_what_hangs_in_the_air(new: sqlite3.Connection) -> None:
    """Rows that name one which did not come over go too, as far as that reaches."""
    for _ in range(20):
        dangling = new.execute("pragma foreign_key_check").fetchall()
        if not dangling:
            return
        for table, number, *_ in dangling:
            new.execute(f'delete from "{table}" where rowid = ?', (number,))


def _what_is_whole(new: sqlite3.Connection) -> tuple[int, list[str]]:
    """How many jobs came over, and which of them lost lines: their numbers run without a gap."""
    jobs = new.execute("select id, number, title from jobs_job order by number").fetchall()
    gaps = []
    for job, number, title in jobs:
        count, highest = new.execute(
            "select count(*), coalesce(max(number), 0) from jobs_line where job_id = ?", (job,)
        ).fetchone()
        if highest > count:
            gaps.append(f"job {number}, {title}: {highest - count} lines are lost")
    return len(jobs), gaps


def _files(damaged: Path, folder: Path, data: Path) -> tuple[int, list[str]]:
    """Bring the pictures and records over that are whole, and the key; returns how many, and what of them is lost."""
    (folder / PICTURES).mkdir(exist_ok=True)
    count, lost = 0, []
    for told in files_named(data):
        file = damaged / PICTURES / told.sha256
        if not file.is_file():
            lost.append(f"{told.words} is missing")
        elif hash_of(file) != told.sha256:
            lost.append(f"{told.words} is damaged")
        else:
            shutil.copyfile(file, folder / PICTURES / told.sha256)
            count += 1
    key = damaged / SECRET
    if key.is_file() and key.read_text().strip() and not (folder / SECRET).exists():
        shutil.copyfile(key, folder / SECRET)
        (folder / SECRET).chmod(0o600)
    return count, lost
