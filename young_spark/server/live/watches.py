"""Watching an item: begin, mark what the hands did, end with one line, and the plot."""

import math
import uuid
from typing import Any

import numpy as np
import numpy.typing as npt
from django.db import transaction

from young_spark import steady_clock
from young_spark.core.figure import format_value, quantity
from young_spark.core.live import LIVE_QUANTITIES, RING_S, Drop, HandMark, after_what, moments, summary
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs.models import Item, Job
from young_spark.server.live.bench import live_bench
from young_spark.server.live.models import Watch, WatchMark
from young_spark.server.live.watch_log import Series, log_of
from young_spark.server.problems import Conflict, must_be_the_same
from young_spark.server.readings.services import take_line
from young_spark.wire import KeepWatch

MOST_POINTS = 3000  # of one series on a plot; around drops all are kept


@transaction.atomic
def begin(*, actor: Person, watch_id: uuid.UUID, job: Job, item: Item | None) -> Watch:
    """Begin to watch; the same id again returns the watch."""
    require_technician(actor)
    item = item or job.items.earliest("position")
    if (there := Watch.objects.filter(pk=watch_id).first()) is not None:
        must_be_the_same("watch", (there.job_id, job.pk), (there.item_id, item.pk))
        return there
    if job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")
    running = Watch.objects.select_related("job").filter(ended_at=None).first()
    if running is not None:
        raise Conflict(f"{running.job.title} is being watched already. End that first.")
    watch = Watch.objects.create(id=watch_id, job=job, item=item, by=actor)
    after_commit("watch", {"watch": str(watch.pk)})
    order = KeepWatch(id=watch.pk, began=watch.began_at.timestamp())
    transaction.on_commit(lambda: live_bench().order_watch(order))
    transaction.on_commit(live_bench().seat_changed)
    return watch


@transaction.atomic
def mark(*, actor: Person, watch: Watch, mark_id: uuid.UUID, what: str) -> None:
    """Mark what the hands did just now; the same id again does nothing."""
    require_technician(actor)
    if watch.ended_at is not None:
        raise Conflict("That watch has ended.")
    at = (steady_clock.moment() - watch.began_at).total_seconds()
    made, is_new = WatchMark.objects.get_or_create(
        pk=mark_id, defaults={"watch": watch, "at": at, "what": what.strip()}
    )
    if not is_new:
        must_be_the_same("mark", (made.watch_id, watch.pk), (made.what, what.strip()))
    after_commit("watch", {"watch": str(watch.pk)})


@transaction.atomic
def end(*, actor: Person, watch: Watch, line_id: uuid.UUID) -> None:
    """End the watch, and put its sum onto the slip."""
    require_technician(actor)
    if watch.ended_at is None:
        watch.ended_at = steady_clock.moment()
        watch.save()
        take_line(actor=actor, line_id=line_id, text=f"note {_summary(watch)}", job=watch.job, item=watch.item)
        after_commit("watch", {"watch": str(watch.pk)})
        transaction.on_commit(lambda: live_bench().order_watch(KeepWatch(id=None)))
        transaction.on_commit(live_bench().seat_changed)


def moments_of(watch: Watch) -> int:
    """How many times something dropped."""
    return len(moments(_drops(watch)))


def _drops(watch: Watch) -> list[Drop]:
    return [
        Drop(at=d.at, name=d.name, kind=d.kind, usual=d.usual, reached=d.reached, lasted=d.lasted)
        for d in watch.drops.all()
    ]


def _marks(watch: Watch) -> list[HandMark]:
    return [HandMark(at=m.at, what=m.what) for m in watch.marks.all()]


def _seconds(watch: Watch) -> float:
    return ((watch.ended_at or steady_clock.moment()) - watch.began_at).total_seconds()


def _summary(watch: Watch) -> str:
    return summary(_seconds(watch), _drops(watch), _marks(watch))


def shown(watch: Watch) -> dict[str, Any]:
    """A watch for a page."""
    drops, marks = _drops(watch), _marks(watch)
    return {
        "id": watch.pk,
        "job": watch.job_id,
        "began_at": watch.began_at,
        "ended_at": watch.ended_at,
        "seconds": _seconds(watch),
        "series": _series(watch, drops),
        "drops": [
            {
                "at": d.at,
                "name": quantity(LIVE_QUANTITIES[d.name]).name,
                "kind": d.kind,
                "usual": _figure(d.name, d.usual),
                "reached": _figure(d.name, d.reached),
                "lasted": d.lasted,
                "after": after_what(d, marks),
            }
            for d in drops
        ],
        "marks": [m.model_dump() for m in marks],
        "summary": _summary(watch),
    }


def _figure(name: Any, value: float) -> str:
    return format_value(value, quantity(LIVE_QUANTITIES[name]).unit, figures=7 if name == "frequency" else 3)


def _series(watch: Watch, drops: list[Drop]) -> list[dict[str, Any]]:
    made = []
    for name, (at, values) in sorted(log_of(watch).items()):
        kept = _kept(at, drops)
        measure = quantity(LIVE_QUANTITIES[name])
        made.append(
            {
                "name": name,
                "title": measure.name,
                "unit": measure.unit,
                "at": at[kept].tolist(),
                "values": values[kept].tolist(),
            }
        )
    return made


def _kept(at: Series, drops: list[Drop]) -> npt.NDArray[np.bool_]:
    """Every so many points, and all of those around drops."""
    step = max(1, len(at) // MOST_POINTS)
    near = np.array(sorted(d.at for d in drops[-40:]) or [-math.inf])
    place = np.searchsorted(near, at)
    apart = np.minimum(abs(at - near[np.maximum(place - 1, 0)]), abs(at - near[np.minimum(place, len(near) - 1)]))
    return np.asarray((np.arange(len(at)) % step == 0) | (apart <= RING_S))
