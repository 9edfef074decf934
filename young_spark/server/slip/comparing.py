"""The view that compares a unit: with how it came in, with others on the bench, the last visit, this shop's own."""

from young_spark.core.job import (
    Beside,
    SideBySide,
    as_first_read,
    as_read_last,
    of_healthy_ones,
    of_other_boxes,
    of_the_unit,
    side_by_side,
    why_not_left,
)
from young_spark.server.jobs.models import Item, Job
from young_spark.server.jobs.services import earlier_visit
from young_spark.server.readings.state import State, state_of
from young_spark.server.slip.assemble import healthy_ones


def compared(job: Job, item: Item | None) -> SideBySide:
    """One item of a job beside all that it can be held against."""
    state = state_of(job, item)
    mine = of_the_unit(state.facts)
    columns = [
        as_read_last("now", mine),
        as_first_read("came in", mine),
        *of_other_boxes(state.facts),
        *_other_items(job, state),
    ]
    columns += _last_visit(job, state)
    model = state.item.model if state.item else ""
    columns.append(of_healthy_ones("healthy here", healthy_ones(model, job, list(state.plan_rows)), mine))
    return side_by_side(columns)


def _other_items(job: Job, state: State) -> list[Beside]:
    others = [i for i in job.items.all() if state.item is None or i.pk != state.item.pk]
    return [as_read_last(other.name, of_the_unit(state_of(job, other).facts)) for other in others]


def _last_visit(job: Job, state: State) -> list[Beside]:
    """How it left the last time; of the item by which the shelf knows the job."""
    before = earlier_visit(job) if state.is_first_item else None
    if before is None:
        return []
    then = state_of(before, None)
    left = [f for f in of_the_unit(then.facts) if why_not_left(f, then.stale) is None]
    return [as_read_last(f"left job {before.number}", left)]
