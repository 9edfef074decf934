"""The lines of a slip with their figures and pictures, in bundles."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import Field, field_validator

from young_spark.core.entry import StoryLine
from young_spark.core.figure import Conditions, Measured
from young_spark.core.judging import VerdictLine
from young_spark.server.accounts.models import Person
from young_spark.server.jobs import pictures
from young_spark.server.jobs.bundling import BundledFile, BundlePart, Joining, Section
from young_spark.server.jobs.models import Job, Line, Picture
from young_spark.server.problems import Conflict, Refused
from young_spark.server.readings.models import Reading

LARGEST_PICTURE = 30 << 20
# a bundle of before 0.3 tells by the words of its method what a figure was read as
READ_AS = {"nothing seen": "nothing", "wattmeter": "needle"}
SAME = ("kind", "part", "phase", "text", "raw", "story", "at", "settled_at", "withdrawn_at", "withdrawn_reason")


class BundledPicture(BundlePart):
    """A picture of a line; its file is named by the hash."""

    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    media_type: Literal["image/jpeg", "image/png", "image/webp"]
    width: int = Field(gt=0, le=20_000)
    height: int = Field(gt=0, le=20_000)


class BundledReading(BundlePart):
    """A figure as it was worked out and judged then."""

    id: UUID
    position: int = Field(ge=0, le=100)
    quantity: str = Field(max_length=40)
    value: float | None
    unit: str = Field(max_length=8)
    uncertainty: float | None
    bound: Literal["upper", "lower"] | None
    measured: dict[str, Any]
    conditions: dict[str, Any]
    verdicts: list[dict[str, Any]]
    phase: str = Field(max_length=12)
    plan_row: str | None = Field(max_length=60)
    model: str = Field(max_length=50)
    at: datetime

    @field_validator("measured")
    @classmethod
    def _read_as(cls, measured: dict[str, Any]) -> dict[str, Any]:
        return {"read_as": READ_AS.get(str(measured.get("method")))} | measured


class BundledLine(BundlePart):
    """A line of the slip; people by their short names."""

    id: UUID
    item: UUID | None
    number: int = Field(ge=1, le=1_000_000)
    kind: str = Field(max_length=12)
    part: Literal["in", "find", "fix", "prove", "out"]
    phase: str = Field(max_length=12)
    text: str = Field(max_length=10_000)
    raw: dict[str, Any]
    story: dict[str, Any] | None
    at: datetime
    by: str
    settled_at: datetime | None
    settled_by: str | None
    withdrawn_at: datetime | None
    withdrawn_by: str | None
    withdrawn_reason: str = Field(max_length=200)
    superseded_by: UUID | None
    picture: BundledPicture | None
    readings: list[BundledReading] = Field(max_length=100)


def _written(job: Job) -> list[BundledLine]:
    lines = job.lines.select_related("by", "settled_by", "withdrawn_by", "picture").prefetch_related("readings")
    return [_line(line) for line in lines.order_by("number")]


def _line(line: Line) -> BundledLine:
    picture = getattr(line, "picture", None)
    return BundledLine(
        **{name: getattr(line, name) for name in SAME},
        id=line.pk,
        item=line.item_id,
        number=line.number,
        by=line.by.username,
        settled_by=_name(line.settled_by),
        withdrawn_by=_name(line.withdrawn_by),
        superseded_by=line.superseded_by_id,
        picture=BundledPicture(**{n: getattr(picture, n) for n in BundledPicture.model_fields}) if picture else None,
        readings=[
            BundledReading(**{n: getattr(r, n) for n in BundledReading.model_fields}) for r in line.readings.all()
        ],
    )


def _name(person: Person | None) -> str | None:
    return person.username if person is not None else None


def _people(told: list[BundledLine]) -> Iterable[str | None]:
    return (name for line in told for name in (line.by, line.settled_by, line.withdrawn_by))


def _files(told: list[BundledLine]) -> Iterable[BundledFile]:
    return (_picture_file(line.picture) for line in told if line.picture is not None)


def _picture_file(picture: BundledPicture) -> BundledFile:
    def check(name: str, data: bytes) -> None:
        try:
            right = pictures.kind_of(data) == (picture.media_type, picture.width, picture.height)
        except Refused as problem:
            raise Refused(f"{name} in the bundle is no whole picture.") from problem
        if not right:
            raise Refused(f"{name} in the bundle is another kind or size of picture than the slip says.")

    return BundledFile("pictures", picture.sha256, LARGEST_PICTURE, check)


def _check(job: Any, told: list[BundledLine]) -> None:
    """What is kept as JSON must be what the core knows, or a page that shows it would fail later."""
    items, lines = {item.id for item in job.items}, {line.id for line in told}
    for line in told:
        if line.item is not None and line.item not in items:
            raise Refused(f"Line {line.number} of job {job.number} names an item that is not there.")
        if line.superseded_by is not None and line.superseded_by not in lines:
            raise Refused(f"Line {line.number} of job {job.number} was replaced by a line that is not there.")
        if line.story is not None:
            StoryLine.model_validate(line.story)
        for reading in line.readings:
            Measured.model_validate(reading.measured)
            Conditions.model_validate(reading.conditions)
            for verdict in reading.verdicts:
                VerdictLine.model_validate(verdict)


def _merge(into: Joining, told: list[BundledLine]) -> None:
    """Add lines that are not here, bring marks of those that are up to date."""
    here = {line.pk: line for line in Line.objects.filter(pk__in=[line.id for line in told])}
    numbers = set(into.job.lines.values_list("number", flat=True))
    for line in sorted(told, key=lambda one: one.number):
        if (old := here.get(line.id)) is None:
            number = line.number if line.number not in numbers else max(numbers) + 1
            numbers.add(number)
            _new_line(into, line, number)
            into.fresh += 1
        elif old.job_id != into.job.pk or (old.text, old.raw) != (line.text, line.raw):
            raise Conflict(
                f"Line {line.number} of job {into.number} is another line here: nothing of that job was read."
            )
        else:
            into.mended += _marks(old, line, into.people)
    for line in told:
        if line.superseded_by is not None:
            Line.objects.filter(pk=line.id, superseded_by=None).update(superseded_by=line.superseded_by)


def _new_line(into: Joining, line: BundledLine, number: int) -> None:
    made = Line.objects.create(
        id=line.id,
        job=into.job,
        item_id=line.item,
        number=number,
        by=into.people[line.by],
        settled_by=into.people[line.settled_by] if line.settled_by else None,
        withdrawn_by=into.people[line.withdrawn_by] if line.withdrawn_by else None,
        **{name: getattr(line, name) for name in SAME},
    )
    if line.picture is not None:
        Picture.objects.create(line=made, **line.picture.model_dump())
    for reading in line.readings:
        if Reading.objects.filter(pk=reading.id).exists():
            raise Conflict(f"A reading of line {line.number} is on another line here: nothing of that job was read.")
        Reading.objects.create(line=made, **reading.model_dump())


def _marks(old: Line, line: BundledLine, people: dict[str, Person]) -> int:
    """What was taken back or ticked off there is so here too; the other way round nothing is undone."""
    changed = False
    for mark in ("withdrawn", "settled"):
        at, by = getattr(line, f"{mark}_at"), getattr(line, f"{mark}_by")
        if at is not None and getattr(old, f"{mark}_at") is None:
            setattr(old, f"{mark}_at", at)
            setattr(old, f"{mark}_by", people[by] if by else None)
            changed = True
    if changed:
        old.withdrawn_reason = line.withdrawn_reason or old.withdrawn_reason
        old.save()
    return int(changed)


LINES = Section(
    "lines", list[BundledLine], Field(max_length=100_000), _written, _merge, people=_people, files=_files, check=_check
)
