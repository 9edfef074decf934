"""The path of a job, in bundles."""

from datetime import datetime
from typing import Any

from pydantic import Field

from young_spark.core.ground import CoreError
from young_spark.core.path import path_of
from young_spark.server.benches.models import JobPath
from young_spark.server.benches.services import in_use
from young_spark.server.jobs.bundling import BundlePart, Joining, Section
from young_spark.server.jobs.models import Job
from young_spark.server.problems import Refused


class BundledPath(BundlePart):
    """The path between the unit and the instruments; what was confirmed by name is confirmed anew where it is read
    in."""

    name: str = Field(max_length=60)
    path: dict[str, Any]
    most_w: float | None
    at: datetime


def _written(job: Job) -> BundledPath | None:
    row = in_use(job)
    return BundledPath(name=row.name, path=row.path, most_w=row.most_w, at=row.at) if row is not None else None


def _check(job: Any, told: BundledPath | None) -> None:
    try:
        if told is not None:
            path_of(told.path, told.name or "path")
    except CoreError as refusal:
        raise Refused(f"The path of job {job.number} in the bundle: {refusal}.") from refusal


def _merge(into: Joining, told: BundledPath | None) -> None:
    if told is not None and in_use(into.job) is None:
        JobPath.objects.create(job=into.job, **told.model_dump())


PATH = Section("path", BundledPath | None, None, _written, _merge, check=_check)
