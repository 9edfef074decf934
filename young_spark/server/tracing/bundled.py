"""Traces, the chains of this shop that they go along, and boards with their pins, in bundles."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import Field

from young_spark.core.ground import CoreError
from young_spark.core.trace import STRATEGIES, chain_from
from young_spark.server.jobs.bundling import BundlePart, Joining, Section
from young_spark.server.jobs.models import Job
from young_spark.server.problems import Conflict, Refused
from young_spark.server.tracing.chains import OWN_CHAINS, chain_of
from young_spark.server.tracing.models import Board, Doubt, Look, Pin, Trace


class BundledLook(BundlePart):
    """What a probe answered; `line` is its line of the slip."""

    line: UUID
    probe: str = Field(max_length=60)
    answer: str = Field(max_length=40)


class BundledDoubt(BundlePart):
    """A line of the slip that does not count in a trace."""

    line: UUID
    by: str
    at: datetime


class BundledTrace(BundlePart):
    """One symptom, traced."""

    id: UUID
    item: UUID | None
    chain: str = Field(max_length=60)
    symptom: str = Field(max_length=200)
    strategy: str = Field(max_length=16)
    proven: str = Field(max_length=60)
    closed_at: datetime | None
    at: datetime
    by: str
    looks: list[BundledLook] = Field(max_length=1_000)
    doubts: list[BundledDoubt] = Field([], max_length=1_000)


class BundledBoardPin(BundlePart):
    """A pin on a board, as shares of the picture's width and height."""

    id: UUID
    probe: str = Field(max_length=60, pattern=r"^[a-z0-9_]*$")
    name: str = Field(min_length=1, max_length=60)
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)


class BundledBoard(BundlePart):
    """A picture of the slip that shows a side of a board; `line` is the picture's."""

    line: UUID
    side: Literal["component", "solder"]
    model: str = Field(max_length=60)
    pins: list[BundledBoardPin] = Field(max_length=200)


def _written_chains(job: Job) -> dict[str, str]:
    used = set(job.traces.values_list("chain", flat=True))
    return {name: own.text for name, own in OWN_CHAINS.standing().items() if name in used}


def _merge_chains(into: Joining, told: dict[str, str]) -> None:
    here = OWN_CHAINS.standing()
    for name, text in told.items():
        if name not in here:  # a chain that this shop has is its own
            OWN_CHAINS.add(name, text, into.job.created_by)


def _written_traces(job: Job) -> list[BundledTrace]:
    return [
        BundledTrace(
            **{n: getattr(t, n) for n in ("id", "chain", "symptom", "strategy", "proven", "closed_at", "at")},
            item=t.item_id,
            by=t.by.username,
            looks=[BundledLook(line=k.line_id, probe=k.probe, answer=k.answer) for k in t.looks.all()],
            doubts=[BundledDoubt(line=d.line_id, by=d.by.username, at=d.at) for d in t.doubts.select_related("by")],
        )
        for t in job.traces.select_related("by").order_by("at")
    ]


def _people(told: list[BundledTrace]) -> Iterable[str | None]:
    return (name for trace in told for name in (trace.by, *(doubt.by for doubt in trace.doubts)))


def _check_traces(job: Any, told: list[BundledTrace]) -> None:
    lines = {line.id for line in job.lines}
    for trace in told:
        _check_trace(job, trace, lines)


def _check_trace(job: Any, trace: BundledTrace, lines: set[UUID]) -> None:
    where = f"A trace of job {job.number} in the bundle"
    text = job.chains.get(trace.chain)
    try:
        chain = chain_of(trace.chain)[0] if text is None else chain_from(text, trace.chain, trace.chain)
    except CoreError as refusal:
        raise Refused(f"{where}: {refusal}.") from refusal
    if trace.strategy not in STRATEGIES or (trace.proven and trace.proven not in chain.by_fault):
        raise Refused(f"{where} has an order or a fault that its chain does not know.")
    if {*(look.line for look in trace.looks), *(doubt.line for doubt in trace.doubts)} - lines:
        raise Refused(f"{where} has a look at a line that is not there, or doubts one.")


def _merge_traces(into: Joining, told: list[BundledTrace]) -> None:
    for trace in told:
        if trace.item is None or trace.item in into.items:
            _merge_trace(into, trace)


def _merge_trace(into: Joining, trace: BundledTrace) -> None:
    """Add a trace and the looks that are not here; one that was closed there is closed here too."""
    same = trace.model_dump(include={"chain", "symptom", "strategy", "proven", "closed_at", "at"})
    made, fresh = Trace.objects.get_or_create(
        pk=trace.id, defaults={"job": into.job, "item_id": trace.item, "by": into.people[trace.by]} | same
    )
    if made.job_id != into.job.pk:
        raise Conflict(f"A trace of job {into.job.number} belongs to another job here.")
    if not fresh and made.closed_at is None and trace.closed_at is not None:
        made.closed_at, made.proven = trace.closed_at, trace.proven
        made.save()
    for look in trace.looks:
        Look.objects.get_or_create(
            line_id=look.line, defaults={"trace": made, "probe": look.probe, "answer": look.answer}
        )
    for doubt in trace.doubts:
        Doubt.objects.get_or_create(
            trace=made, line_id=doubt.line, defaults={"by": into.people[doubt.by], "at": doubt.at}
        )


def _written_boards(job: Job) -> list[BundledBoard]:
    return [
        BundledBoard(
            line=b.line_id,
            side=b.side,
            model=b.model,
            pins=[BundledBoardPin(**{n: getattr(p, n) for n in BundledBoardPin.model_fields}) for p in b.pins.all()],
        )
        for b in Board.objects.filter(line__job=job).order_by("line__number")
    ]


def _check_boards(job: Any, told: list[BundledBoard]) -> None:
    pictured = {line.id for line in job.lines if line.picture is not None}
    if any(board.line not in pictured for board in told):
        raise Refused(f"A board of job {job.number} names a picture that is not there.")


def _merge_boards(into: Joining, told: list[BundledBoard]) -> None:
    for board in told:
        _merge_board(board)


def _merge_board(board: BundledBoard) -> None:
    """Add a board and the pins that are not here; a pin that is here stays where it was put."""
    made, _ = Board.objects.get_or_create(line_id=board.line, defaults={"side": board.side, "model": board.model})
    taken = {p.probe for p in made.pins.all() if p.probe}
    for pin in board.pins:
        if pin.probe not in taken and not Pin.objects.filter(pk=pin.id).exists():
            Pin.objects.create(board=made, **pin.model_dump())


CHAINS = Section("chains", dict[str, str], Field({}, max_length=100), _written_chains, _merge_chains)
TRACES = Section(
    "traces",
    list[BundledTrace],
    Field([], max_length=1_000),
    _written_traces,
    _merge_traces,
    people=_people,
    check=_check_traces,
)
BOARDS = Section(
    "boards", list[BundledBoard], Field([], max_length=1_000), _written_boards, _merge_boards, check=_check_boards
)
