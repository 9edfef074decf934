"""Boards of a job with their pins."""

from typing import Literal, cast
from uuid import UUID, uuid5

from django.http import Http404
from ninja import Field, Router, Schema

from young_spark.server.accounts.models import SignedIn
from young_spark.server.jobs.models import Job
from young_spark.server.readings.api import find_line, find_place
from young_spark.server.tracing import boards, gear_boards
from young_spark.server.tracing.models import Board

router = Router(tags=["tracing"])
Side = Literal["component", "solder"]


class PinOut(Schema):
    """A pin, as shares of the picture's width and height from its upper left corner."""

    id: UUID
    probe: str
    name: str
    x: float
    y: float


class BoardOut(Schema):
    """A side of a board: the picture, and the pins on it. `ours` where the picture is on this job's slip; `fixed` where
    it is on the model's sheet, and its pins are set there."""

    line: UUID
    sha256: str
    width: int
    height: int
    words: str
    side: Side
    ours: bool
    fixed: bool
    pins: list[PinOut]


class BoardIn(Schema):
    side: Side


class BoardPinIn(Schema):
    """A pin; one that is not known is new."""

    probe: str = Field("", max_length=60, pattern=r"^[a-z0-9_]*$")
    name: str = Field(max_length=60)
    x: float = Field(ge=0, le=1, allow_inf_nan=False)
    y: float = Field(ge=0, le=1, allow_inf_nan=False)


def boards_out(job: Job) -> list[BoardOut]:
    """Every board that helps on a job."""
    of_slips = [
        BoardOut(
            line=b.line_id,
            sha256=b.line.picture.sha256,
            width=b.line.picture.width,
            height=b.line.picture.height,
            words=b.line.text,
            side=cast(Side, b.side),
            ours=b.line.job_id == job.pk,
            fixed=False,
            pins=[PinOut(id=p.pk, probe=p.probe, name=p.name, x=p.x, y=p.y) for p in b.pins.all()],
        )
        for b in boards.boards_of(job)
    ]
    there = {b.sha256 for b in of_slips}
    return of_slips + [b for b in _of_sheets(job) if b.sha256 not in there]


def _of_sheets(job: Job) -> list[BoardOut]:
    """The boards on the sheets of a job's models."""
    models = set(job.items.exclude(model="").values_list("model", flat=True))
    return [
        BoardOut(
            line=b.id,
            sha256=b.sha256,
            width=b.width,
            height=b.height,
            words=b.words,
            side=b.side,
            ours=False,
            fixed=True,
            pins=[PinOut(id=uuid5(b.id, str(n)), **pin.model_dump()) for n, pin in enumerate(b.pins)],
        )
        for model in sorted(models)
        for b in gear_boards.boards_of_model(model)
        if b.on_sheet
    ]


def _place(job_id: UUID, line_id: UUID) -> tuple[Job, Board]:
    """A job, and a board that it shows; 404 otherwise."""
    job, _ = find_place(job_id, None)
    assert job is not None
    board = next((b for b in boards.boards_of(job) if b.line_id == line_id), None)
    if board is None:
        raise Http404
    return job, board


@router.get("/jobs/{job_id}/boards", response=list[BoardOut], operation_id="boards")
def all_boards(request: SignedIn, job_id: UUID) -> list[BoardOut]:
    """The boards of a job, and those that other jobs have of the same model."""
    job, _ = find_place(job_id, None)
    assert job is not None
    return boards_out(job)


@router.put("/jobs/{job_id}/boards/{line_id}", response=list[BoardOut], operation_id="board_keep")
def keep(request: SignedIn, job_id: UUID, line_id: UUID, data: BoardIn) -> list[BoardOut]:
    """Have a picture of the slip be a side of a board."""
    job, _ = find_place(job_id, None)
    assert job is not None
    boards.keep_board(actor=request.user, job=job, line=find_line(line_id), side=data.side)
    return boards_out(job)


@router.delete("/jobs/{job_id}/boards/{line_id}", response=list[BoardOut], operation_id="board_drop")
def drop(request: SignedIn, job_id: UUID, line_id: UUID) -> list[BoardOut]:
    """The picture is no board any more."""
    job, board = _place(job_id, line_id)
    boards.drop_board(actor=request.user, job=job, board=board)
    return boards_out(job)


@router.put("/jobs/{job_id}/boards/{line_id}/pins/{pin_id}", response=list[BoardOut], operation_id="pin_keep")
def keep_pin(request: SignedIn, job_id: UUID, line_id: UUID, pin_id: UUID, data: BoardPinIn) -> list[BoardOut]:
    """Put a pin onto a board, move it, or name it anew."""
    job, board = _place(job_id, line_id)
    boards.keep_pin(actor=request.user, board=board, pin_id=pin_id, **data.model_dump())
    return boards_out(job)


@router.delete("/jobs/{job_id}/boards/{line_id}/pins/{pin_id}", response=list[BoardOut], operation_id="pin_drop")
def drop_pin(request: SignedIn, job_id: UUID, line_id: UUID, pin_id: UUID) -> list[BoardOut]:
    """Take a pin off."""
    job, board = _place(job_id, line_id)
    boards.drop_pin(actor=request.user, board=board, pin_id=pin_id)
    return boards_out(job)
