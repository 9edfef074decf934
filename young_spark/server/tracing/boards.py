"""Pictures of boards with pins: where a probe is made, on the component or the solder side."""

import uuid

from django.db import transaction
from django.db.models import Q, QuerySet

from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs.models import Job, Line
from young_spark.server.problems import Conflict, Refused
from young_spark.server.tracing.models import Board, Pin

MOST_PINS = 200
MOST_OF_OTHERS = 6  # boards of the same model on other jobs, the newest ones


def boards_of(job: Job) -> list[Board]:
    """The boards of a job, its own first, then those that other jobs have of the same models."""
    known = _standing().filter(line__job=job)
    models = set(job.items.exclude(model="").values_list("model", flat=True))
    others = _standing().filter(model__in=models).exclude(line__job=job)
    return [*known, *others[:MOST_OF_OTHERS]]


def of_model(name: str) -> list[Board]:
    """The boards that slips of such units have, the newest first."""
    return list(_standing().filter(model=name)[:MOST_OF_OTHERS]) if name else []


def _standing() -> QuerySet[Board]:
    shown = Board.objects.filter(Q(line__withdrawn_at=None) & Q(line__picture__isnull=False))
    return shown.select_related("line__picture", "line__job").prefetch_related("pins")


@transaction.atomic
def keep_board(*, actor: Person, job: Job, line: Line, side: str) -> None:
    """Have a picture of the slip be a side of a board, or another side than it was."""
    require_technician(actor)
    _open(job)
    if line.job_id != job.pk or line.kind != "picture":
        raise Refused("That line of the slip is no picture.")
    item = line.item or job.items.first()
    Board.objects.update_or_create(
        line=line, defaults={"side": side}, create_defaults={"side": side, "model": (item.model if item else "") or ""}
    )
    after_commit("job", {"job": str(job.pk)})


@transaction.atomic
def drop_board(*, actor: Person, job: Job, board: Board) -> None:
    """The picture is no board any more; it stays on the slip. Its pins go."""
    require_technician(actor)
    _open(job)
    if board.line.job_id != job.pk:
        raise Refused("That board is on the slip of another job: take it away there.")
    board.delete()
    after_commit("job", {"job": str(job.pk)})


@transaction.atomic
def keep_pin(*, actor: Person, board: Board, pin_id: uuid.UUID, probe: str, name: str, x: float, y: float) -> None:
    """Put a pin onto a board, move it or name it anew. A probe has one pin on a board. Pins are known of the model,
    so that a job that was handed back is no bar."""
    require_technician(actor)
    if not name.strip():
        raise Refused("A pin wants a name.")
    there = Pin.objects.filter(pk=pin_id).first()
    if there is not None and there.board_id != board.pk:
        raise Conflict("That pin is on another board.")
    if there is None and board.pins.count() >= MOST_PINS:
        raise Refused(f"A board has at most {MOST_PINS} pins.")
    if probe:
        board.pins.filter(probe=probe).exclude(pk=pin_id).delete()
    Pin.objects.update_or_create(
        pk=pin_id, defaults={"board": board, "probe": probe, "name": name.strip(), "x": x, "y": y}
    )
    after_commit("job", {"job": str(board.line.job_id)})


@transaction.atomic
def drop_pin(*, actor: Person, board: Board, pin_id: uuid.UUID) -> None:
    """Take a pin off; one that is gone already is gone."""
    require_technician(actor)
    board.pins.filter(pk=pin_id).delete()
    after_commit("job", {"job": str(board.line.job_id)})


def _open(job: Job | None) -> None:
    if job is None or job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")
