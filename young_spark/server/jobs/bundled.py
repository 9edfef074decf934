"""The boxes of a job, in bundles."""

from uuid import UUID

from pydantic import Field

from young_spark.server.jobs.bundling import BundlePart, Joining, Section
from young_spark.server.jobs.models import Item, Job
from young_spark.server.problems import Conflict


class BundledItem(BundlePart):
    """One box of the job."""

    id: UUID
    name: str = Field(max_length=200)
    model: str = Field(max_length=50)
    serial: str = Field(max_length=60)
    selector: str = Field("", max_length=4000)
    rated_w: float | None = Field(None, gt=0, le=1e6)
    position: int = Field(ge=0, le=1000)


def _written(job: Job) -> list[BundledItem]:
    return [BundledItem(**{n: getattr(i, n) for n in BundledItem.model_fields}) for i in job.items.all()]


def _merge(into: Joining, told: list[BundledItem]) -> None:
    into.items = {i.pk for i in into.job.items.all()}
    for item in told:
        if item.id in into.items:
            continue
        if Item.objects.filter(pk=item.id).exists():
            raise Conflict(f"An item of job {into.number} belongs to another job here.")
        Item.objects.create(job=into.job, **item.model_dump())
        into.items.add(item.id)


ITEMS = Section("items", list[BundledItem], Field(min_length=1, max_length=100), _written, _merge)
