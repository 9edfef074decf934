"""Key-downs and watches of a job, in bundles."""

from datetime import datetime
from typing import Any
from uuid import UUID

from pydantic import Field

from young_spark.core.live import Drop
from young_spark.server.jobs.bundling import BundlePart, Joining, Section
from young_spark.server.jobs.models import Job
from young_spark.server.live.models import KeyDown, Watch, WatchDrop, WatchMark, WatchPart
from young_spark.server.problems import Refused

OF_A_DROP = ("at", "name", "kind", "usual", "reached", "lasted")


class BundledKeyDown(BundlePart):
    """One key-down of an item."""

    item: UUID
    began_at: datetime
    ended_at: datetime | None
    by_hand: bool


class BundledWatch(BundlePart):
    """A watch with its log, drops and marks."""

    id: UUID
    item: UUID
    by: str
    began_at: datetime
    ended_at: datetime | None
    parts: list[list[tuple[float, str, float]]]
    drops: list[dict[str, Any]]
    marks: list[dict[str, Any]]


def _written_key_downs(job: Job) -> list[BundledKeyDown]:
    return [
        BundledKeyDown(item=d.item_id, began_at=d.began_at, ended_at=d.ended_at, by_hand=d.by_hand)
        for d in KeyDown.objects.filter(item__job=job).order_by("began_at")
    ]


def _merge_key_downs(into: Joining, told: list[BundledKeyDown]) -> None:
    for down in told:
        if down.item in into.items:
            ended = {"ended_at": down.ended_at or down.began_at, "by_hand": down.by_hand}
            KeyDown.objects.get_or_create(item_id=down.item, began_at=down.began_at, defaults=ended)


def _written_watches(job: Job) -> list[BundledWatch]:
    return [
        BundledWatch(
            id=w.pk,
            item=w.item_id,
            by=w.by.username,
            began_at=w.began_at,
            ended_at=w.ended_at,
            parts=list(w.parts.order_by("id").values_list("points", flat=True)),
            drops=[{name: getattr(d, name) for name in OF_A_DROP} for d in w.drops.all()],
            marks=[{"id": str(m.pk), "at": m.at, "what": m.what} for m in w.marks.all()],
        )
        for w in job.watches.select_related("by").order_by("began_at")
    ]


def _merge_watches(into: Joining, told: list[BundledWatch]) -> None:
    for watch in told:
        if watch.item in into.items and not Watch.objects.filter(pk=watch.id).exists():
            try:
                _new_watch(into, watch)
            except (KeyError, TypeError, ValueError) as problem:
                raise Refused(f"A watch of job {into.number} in the bundle is not whole.") from problem


def _new_watch(into: Joining, watch: BundledWatch) -> None:
    made = Watch.objects.create(
        id=watch.id,
        job=into.job,
        item_id=watch.item,
        by=into.people[watch.by],
        began_at=watch.began_at,
        ended_at=watch.ended_at or watch.began_at,
    )
    WatchPart.objects.bulk_create(WatchPart(watch=made, points=points) for points in watch.parts)
    for drop in watch.drops:
        WatchDrop.objects.create(watch=made, **Drop.model_validate(drop).model_dump())
    for mark in watch.marks:
        WatchMark.objects.create(watch=made, id=mark["id"], at=float(mark["at"]), what=str(mark["what"])[:60])


KEY_DOWNS = Section("key_downs", list[BundledKeyDown], Field(max_length=100_000), _written_key_downs, _merge_key_downs)
WATCHES = Section(
    "watches",
    list[BundledWatch],
    Field(max_length=1_000),
    _written_watches,
    _merge_watches,
    people=lambda told: (w.by for w in told),
)
