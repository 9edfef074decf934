"""The parts of a data folder, and how they are read without the rest of the program."""

import contextlib
import hashlib
import json
import os
import re
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

DATABASE, SECRET, PICTURES = "young-spark.sqlite3", "secret-key", "pictures"
SQLITE = b"SQLite format 3\0"  # what every data file begins with
A_HASH = re.compile(r"[0-9a-f]{64}")
STEP = 1 << 20


class CannotKeep(Exception):
    """Why something was not kept, as one sentence."""


@dataclass(frozen=True)
class NamedFile:
    """A file that a row names by its hash: which job's, and what it is, in words."""

    sha256: str
    words: str


def words_of(problem: OSError) -> str:
    """What the system says of a problem."""
    return (problem.strerror or str(problem)).lower()


@contextlib.contextmanager
def opened(database: Path, *, write: bool = False) -> Iterator[sqlite3.Connection]:
    """A data file, whatever the name of its folder; read only unless it is to be written."""
    mode = "rwc" if write else "ro"
    with contextlib.closing(
        sqlite3.connect(f"{database.resolve().as_uri()}?mode={mode}", uri=True, timeout=10)
    ) as data:
        yield data


# tables of files that are no job's, which a data file of an earlier version lacks, and what names each in words
OF_THE_SHOP = {
    "live_certificate": "select c.sha256, 'the certificate of ' || i.name from live_certificate c "
    "join library_shopinstrument i on i.id = c.instrument_id order by c.at",
    "tracing_gearboard": "select sha256, 'the board ' || words || ' of ' || model from tracing_gearboard order by at",
}


def files_named(database: Path) -> list[NamedFile]:
    """Every picture and record that the rows of a data file name, each once."""
    named: dict[str, NamedFile] = {}
    with opened(database) as data:
        pictures = data.execute(
            "select p.sha256, l.text, j.number from jobs_picture p join jobs_line l on l.id = p.line_id "
            "left join jobs_job j on j.id = l.job_id order by j.number, l.number"
        )
        for sha256, text, number in pictures:
            named.setdefault(sha256, NamedFile(sha256, f"job {number}, picture '{text}'"))
        records = data.execute(
            "select r.files, j.number from records_record r join jobs_job j on j.id = r.job_id order by j.number, r.at"
        )
        for files, number in records:
            for file in json.loads(files):
                named.setdefault(file["sha256"], NamedFile(file["sha256"], f"job {number}, record '{file['name']}'"))
        there = {name for (name,) in data.execute("select name from sqlite_master where type = 'table'")}
        for table, told in OF_THE_SHOP.items():
            for sha256, words in data.execute(told) if table in there else ():
                named.setdefault(sha256, NamedFile(sha256, words))
    return list(named.values())


def page_size(head: bytes) -> int:
    """Bytes of a page, as the first bytes of a data file tell it."""
    told = int.from_bytes(head[16:18], "big")
    return 65536 if told == 1 else told


def hash_of(file: Path) -> str:
    """SHA-256 of what a file holds."""
    total = hashlib.sha256()
    with open(file, "rb") as source:
        while part := source.read(STEP):
            total.update(part)
    return total.hexdigest()


def integrity(data: sqlite3.Connection) -> str:
    """What the data file says of itself; `ok` where it is whole."""
    try:
        return str(data.execute("PRAGMA integrity_check(1)").fetchone()[0])
    except sqlite3.DatabaseError as problem:
        return str(problem)


def sync_folder(folder: Path) -> None:
    """Have the names in a folder on disk."""
    handle = os.open(folder if str(folder) else ".", os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def sync_tree(folder: Path) -> None:
    """Have everything below a folder on disk."""
    for place, _, files in os.walk(folder):
        for name in files:
            with open(Path(place) / name, "rb") as file:
                os.fsync(file.fileno())
        sync_folder(Path(place))
