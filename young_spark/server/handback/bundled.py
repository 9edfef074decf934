"""Sentences of the report that were edited, in bundles."""

from pydantic import Field

from young_spark.server.handback.models import SentenceEdit
from young_spark.server.jobs.bundling import BundlePart, Joining, Section
from young_spark.server.jobs.models import Job


class BundledEdit(BundlePart):
    """A sentence of the report as the technician wanted it."""

    key: str = Field(max_length=90)
    text: str = Field(max_length=2000)
    edited_by: str


def _written(job: Job) -> list[BundledEdit]:
    edits = job.edits.select_related("edited_by").order_by("key")
    return [BundledEdit(key=e.key, text=e.text, edited_by=e.edited_by.username) for e in edits]


def _merge(into: Joining, told: list[BundledEdit]) -> None:
    for edit in told:
        by = into.people[edit.edited_by]
        SentenceEdit.objects.get_or_create(job=into.job, key=edit.key, defaults={"text": edit.text, "edited_by": by})


EDITS = Section(
    "edits",
    list[BundledEdit],
    Field(max_length=10_000),
    _written,
    _merge,
    people=lambda told: (e.edited_by for e in told),
)
