"""The field: what a text means, and taking it."""

from typing import Any
from uuid import UUID

from django.http import Http404
from ninja import Router, Status

from young_spark.core.figure import Conditions, quantity
from young_spark.core.job import adjustment_warning, row_label
from young_spark.server.accounts.models import SignedIn
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.problems import Refused
from young_spark.server.readings import services
from young_spark.server.readings.models import Reading
from young_spark.server.readings.schemas import (
    ChoiceOut,
    LineIn,
    LineOut,
    SetRightIn,
    SettleIn,
    TextIn,
    UnderstoodOut,
    WithdrawIn,
    line_out,
    meaning_out,
)
from young_spark.server.readings.state import State, state_of

router = Router(tags=["readings"])
LOOSE_SHOWN = 60


def find_line(line_id: UUID) -> Line:
    """The line, or 404."""
    line = Line.objects.select_related("by", "job", "item").filter(pk=line_id).first()
    if line is None:
        raise Http404
    return line


def find_place(job_id: UUID | None, item_id: UUID | None) -> tuple[Job | None, Item | None]:
    """The job and item a request names; 404 for a job that is not, Refused for an item of another job."""
    if job_id is None:
        return None, None
    job = Job.objects.filter(pk=job_id).first()
    if job is None:
        raise Http404
    item = Item.objects.filter(pk=item_id, job=job).first() if item_id else None
    if item_id and item is None:
        raise Refused("That item belongs to another job.")
    return job, item


def _one(line: Line) -> LineOut:
    return line_out(line, list(Reading.objects.filter(line=line)), {})


def _warning(state: State, kind: str | None) -> str | None:
    if kind != "adjusted" or state.job is None:
        return None
    states = [story.state for _, story in state.stories if story.state]
    return adjustment_warning([line.kind for line in state.standing], states)


def _answers_words(state: State, answered: str | None, current: str | None) -> str | None:
    """The other open line that the text answers, in words; None when it is the current one."""
    row = state.row(answered)
    return f"{quantity(row.quantity).name}, {row_label(row)}" if row is not None and answered != current else None


def _set(sets: dict[str, Any]) -> Conditions | None:
    return Conditions.model_validate({k: v for k, v in sets.items() if k in Conditions.model_fields}) if sets else None


@router.post("/understand", response=UnderstoodOut, operation_id="understand")
def understand(request: SignedIn, data: TextIn) -> UnderstoodOut:
    """What the text would be on this slip: figures with sums, spread and verdicts, or one question. Stores nothing."""
    state = state_of(*find_place(data.job, data.item), loose_model=data.model)
    place = services.placed(state, data.text, data.conditions, data.row)
    meant = place.meant
    return UnderstoodOut(
        text=meant.text,
        answers=_answers_words(state, place.row.id if place.row else data.row, data.row),
        meanings=[meaning_out(m) for m in meant.meanings],
        chosen=meant.chosen,
        story=meant.story,
        question=meant.question,
        as_note=meant.as_note,
        sets=_set(meant.sets),
        choices=[ChoiceOut(label=c.label, sense=c.sense, sets=_set(c.sets)) for c in meant.choices],
        guards=list(meant.guards),
        warning=_warning(state, meant.story.kind if meant.story else None),
    )


@router.post("/lines", response={201: LineOut}, operation_id="line_take")
def take_line(request: SignedIn, data: LineIn) -> Status[LineOut]:
    """Take a line. The same id again gives the stored line; with other inputs it is a conflict."""
    job, item = find_place(data.job, data.item)
    line = services.take_line(
        actor=request.user,
        line_id=data.id,
        text=data.text,
        job=job,
        item=item,
        conditions=data.conditions,
        row=data.row,
        model=data.model,
        sense=data.sense,
        supersedes=services.line_of(data.supersedes),
        reason=data.reason,
        as_note=data.as_note,
    )
    return Status(201, _one(line))


@router.get("/lines/loose", response=list[LineOut], operation_id="lines_loose")
def loose(request: SignedIn) -> list[LineOut]:
    """The newest loose lines, oldest first: figures typed before there was a job."""
    lines = list(Line.objects.filter(job=None).select_related("by").order_by("-number")[:LOOSE_SHOWN])[::-1]
    by_line: dict[UUID, list[Reading]] = {}
    for reading in Reading.objects.filter(line__in=lines):
        by_line.setdefault(reading.line_id, []).append(reading)
    return [line_out(line, by_line.get(line.pk, []), {}) for line in lines]


@router.post("/lines/{line_id}/withdraw", response=LineOut, operation_id="line_withdraw")
def withdraw(request: SignedIn, line_id: UUID, data: WithdrawIn) -> LineOut:
    """Take a line back with a reason ('retaken' when none is given)."""
    return _one(services.take_back(actor=request.user, line=find_line(line_id), reason=data.reason))


@router.post("/lines/{line_id}/reinstate", response=LineOut, operation_id="line_reinstate")
def reinstate(request: SignedIn, line_id: UUID) -> LineOut:
    """Put a line that was taken back onto the slip again."""
    return _one(services.put_back(actor=request.user, line=find_line(line_id)))


@router.post("/lines/{line_id}/set-right", response=LineOut, operation_id="line_set_right")
def set_right(request: SignedIn, line_id: UUID, data: SetRightIn) -> LineOut:
    """Say what kind of words a line is, or what the repair that it tells can have changed."""
    line = find_line(line_id)
    return _one(services.set_right(actor=request.user, line=line, kind=data.kind, area=data.area))


@router.post("/lines/{line_id}/settle", response=LineOut, operation_id="line_settle")
def settle(request: SignedIn, line_id: UUID, data: SettleIn) -> LineOut:
    """Tick a wish or a thing awaited off, or untick it."""
    return _one(services.tick(actor=request.user, line=find_line(line_id), settled=data.settled))
