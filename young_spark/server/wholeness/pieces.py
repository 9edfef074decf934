"""Everything that is kept, read once over in small pieces: the data file table by table, every file against its name,
every job through its report."""

import itertools
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import TypeVar
from uuid import UUID

from django.db import DatabaseError, connection

from young_spark.server.handback.report import report
from young_spark.server.jobs.kept_files import read_anew
from young_spark.server.jobs.models import Job, Picture
from young_spark.server.live.models import Certificate
from young_spark.server.records.models import Record
from young_spark.server.tracing.models import GearBoard

Value = TypeVar("Value")
FILES_A_PIECE, JOBS_A_PIECE = 10, 5


@dataclass(frozen=True)
class Piece:
    """Some of it: how many jobs and files it reads, and the look itself, which says what is not whole."""

    look: Callable[[], list[str]]
    jobs: int = 0
    files: int = 0


def pieces() -> Iterator[Piece]:
    """All of them, in an order in which what others lean on comes first."""
    for table in connection.introspection.table_names():
        yield Piece(partial(_table, table))
    yield from file_pieces()
    for some in batched(job_ids(), JOBS_A_PIECE):
        yield Piece(partial(jobs, some), jobs=len(some))


def file_pieces() -> Iterator[Piece]:
    """The files that rows name, each read against its name."""
    try:
        named = _named()
    except DatabaseError as problem:
        told = f"which pictures and records there are does not read: {problem}"
        yield Piece(lambda: [told])
        return
    for some in batched(named, FILES_A_PIECE):
        yield Piece(partial(_files, some), files=len(some))


def job_ids() -> list[UUID]:
    """Every job that can be found, by number; where they cannot be listed, their table says so."""
    try:
        return list(Job.objects.order_by("number").values_list("pk", flat=True))
    except DatabaseError:
        return []


def batched(values: list[Value], size: int) -> Iterator[tuple[Value, ...]]:
    """Values in groups of at most so many."""
    waiting = iter(values)
    while some := tuple(itertools.islice(waiting, size)):
        yield some


def _table(name: str) -> list[str]:
    with connection.cursor() as cursor:
        try:
            cursor.execute(f'PRAGMA integrity_check("{name}")')
            told = [row[0] for row in cursor.fetchall()]
        except DatabaseError as problem:
            told = [str(problem)]
    return [f"the data file, table {name}: {words}" for words in told if words != "ok"]


def _named() -> list[tuple[str, str]]:
    """Each file once: its hash, and what it is in words."""
    named: dict[str, str] = {}
    pictures = Picture.objects.order_by("line__job__number", "line__number")
    for sha256, text, number in pictures.values_list("sha256", "line__text", "line__job__number"):
        named.setdefault(sha256, f"job {number}, picture '{text}'")
    for files, number in Record.objects.order_by("job__number").values_list("files", "job__number"):
        for file in files:
            named.setdefault(file["sha256"], f"job {number}, record '{file['name']}'")
    for sha256, name in Certificate.objects.values_list("sha256", "instrument__name"):
        named.setdefault(sha256, f"the certificate of {name}")
    for sha256, words, model in GearBoard.objects.values_list("sha256", "words", "model"):
        named.setdefault(sha256, f"the board '{words}' of {model}")
    return list(named.items())


def _files(some: tuple[tuple[str, str], ...]) -> list[str]:
    stand = ((words, read_anew(sha256)) for sha256, words in some)
    return [f"{words} is {there}" for words, there in stand if there != "whole"]


def jobs(some: tuple[UUID, ...]) -> list[str]:
    """What is wrong with jobs that do not get through their report."""
    told = []
    for job_id in some:
        try:
            job = Job.objects.filter(pk=job_id).first()
            if job is not None:
                report(job)
        except Exception as problem:  # whatever a damaged row does to the code that reads it
            told.append(f"job {_number(job_id)} does not read: {type(problem).__name__}: {str(problem)[:120]}")
    return told


def _number(job_id: UUID) -> str:
    try:
        return str(Job.objects.values_list("number", flat=True).get(pk=job_id))
    except (Job.DoesNotExist, DatabaseError):
        return str(job_id)
