"""Records of instruments with their files, in bundles."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any
from uuid import UUID

from django.conf import settings
from pydantic import Field

from young_spark.server.jobs.bundling import BundledFile, BundlePart, Joining, Section
from young_spark.server.jobs.models import Job
from young_spark.server.records.models import Record
from young_spark.server.records.services import RecordTold


class BundledRecordFile(BundlePart):
    """A file of a record, as it was handed in; named in the bundle by the hash."""

    name: str = Field(max_length=100, pattern=r"^[\w\- ][\w.\- ]*$")
    sha256: str = Field(pattern="^[0-9a-f]{64}$")


class BundledRecord(BundlePart):
    """A record or trace of an instrument, and what was told of it."""

    id: UUID
    item: UUID | None
    name: str = Field(max_length=100)
    files: list[BundledRecordFile] = Field(min_length=1, max_length=2)
    told: dict[str, Any]
    by: str
    at: datetime


def _written(job: Job) -> list[BundledRecord]:
    return [
        BundledRecord(
            id=r.pk,
            item=r.item_id,
            name=r.name,
            files=[BundledRecordFile(**f) for f in r.files],
            told=r.told,
            by=r.by.username,
            at=r.at,
        )
        for r in job.records.select_related("by").order_by("at")
    ]


def _files(told: list[BundledRecord]) -> Iterable[BundledFile]:
    return (BundledFile("records", f.sha256, settings.LARGEST_RECORD) for record in told for f in record.files)


def _check(job: Any, told: list[BundledRecord]) -> None:
    for record in told:
        RecordTold.model_validate(record.told)


def _merge(into: Joining, told: list[BundledRecord]) -> None:
    for record in told:
        if record.item is None or record.item in into.items:
            same = record.model_dump(include={"name", "files", "told", "at"})
            new = {"job": into.job, "item_id": record.item, "by": into.people[record.by]} | same
            Record.objects.get_or_create(pk=record.id, defaults=new)


RECORDS = Section(
    "records",
    list[BundledRecord],
    Field([], max_length=10_000),
    _written,
    _merge,
    people=lambda told: (r.by for r in told),
    files=_files,
    check=_check,
)
