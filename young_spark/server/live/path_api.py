"""The path on a job: taking a bench, changing it, confirming by name what cannot be waved away."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from ninja import Field, File, Router, Schema, Status
from ninja.files import UploadedFile

from young_spark.core.path import Node, Path, PathPart, PathState, part_classes, typical_part
from young_spark.core.path.guard import Hazard, highest_hz
from young_spark.server.accounts.models import SignedIn
from young_spark.server.accounts.services import require_technician
from young_spark.server.benches import services
from young_spark.server.benches.models import SavedBench
from young_spark.server.jobs.models import Job
from young_spark.server.library.services import known_plans
from young_spark.server.live.bench import live_bench
from young_spark.server.readings.api import find_place
from young_spark.server.readings.services import refresh

router = Router(tags=["path"])


class BenchRow(Schema):
    """A saved bench, to be taken in one tap."""

    id: UUID
    name: str
    path: Path


class PartClassOut(Schema):
    """A part as benches usually have it."""

    id: str
    part: PathPart


class HazardOut(Schema):
    """A hazard that stands, and who confirmed it."""

    hazard: Hazard
    words: str
    by: str | None
    at: datetime | None


class OverOut(Schema):
    """A part that would see more than it stands, and who let it."""

    part: str
    words: str
    by: str | None
    at: datetime | None


class PathOut(Schema):
    """The path in use with what it would do for the most that its start could give; `path` is None while none is in
    use."""

    name: str
    path: Path | None
    most_w: float | None  # as somebody stated it
    mean_w: float | None
    crest_w: float | None
    at_hz: float
    state: PathState | None
    nodes: list[Node]
    hazards: list[HazardOut]
    over: list[OverOut]
    barred: str
    keyed: bool
    benches: list[BenchRow]
    classes: list[PartClassOut]


class PathIn(Schema):
    """The path to use; none takes it off. `sure` says by name that it is changed while keyed."""

    path: Path | None
    name: str = Field("", max_length=60)
    most_w: float | None = Field(None, gt=0, le=1e6)
    sure: bool = False


class PadIn(Schema):
    """Another pad before an instrument of the path."""

    instrument: str | None = Field(None, max_length=60)
    pad_db: float = Field(ge=0, le=100)
    sure: bool = False


class HazardIn(Schema):
    hazard: Hazard


class OverrideIn(Schema):
    part: str = Field(max_length=60)


class BenchIn(Schema):
    name: str = Field(max_length=60)
    path: Path


class LossOut(Schema):
    """Loss in dB against Hz, read from a file."""

    loss_db: list[tuple[float, float]]


def path_out(job: Job) -> PathOut:
    """The path of a job for the web."""
    row = services.in_use(job)
    if row is None:
        told = _without_a_path(job)
    else:
        told = {"name": row.name, "most_w": row.most_w} | _guarded_out(services.guarded(job, row))
    return PathOut(
        **told,
        keyed=_keyed(job),
        benches=[BenchRow(id=b.pk, name=b.name, path=Path.model_validate(b.path)) for b in SavedBench.objects.all()],
        classes=[PartClassOut(id=name, part=typical_part(name, name)) for name in part_classes()],
    )


def _without_a_path(job: Job) -> dict[str, Any]:
    at_hz = highest_hz(services.units_of(job), known_plans())
    nothing: dict[str, Any] = dict.fromkeys(("path", "most_w", "mean_w", "crest_w", "state"))
    return nothing | {"name": "", "at_hz": at_hz, "nodes": [], "hazards": [], "over": [], "barred": ""}


def _guarded_out(guard: services.Guarded) -> dict[str, Any]:
    return {
        "path": guard.path,
        "mean_w": guard.drive.mean_w if guard.drive else None,
        "crest_w": guard.drive.crest_w if guard.drive else None,
        "at_hz": guard.at_hz,
        "state": guard.found.state if guard.found else None,
        "nodes": list(guard.found.nodes) if guard.found else [],
        "hazards": [HazardOut(hazard=h.hazard, words=h.words, **_signed(s)) for h, s in guard.hazards],
        "over": [OverOut(part=part, words=words, **_signed(s)) for part, words, s in guard.over],
        "barred": guard.barred,
    }


def _signed(by_name: services.Said | None) -> dict[str, Any]:
    return {"by": by_name.by if by_name else None, "at": by_name.at if by_name else None}


def _keyed(job: Job) -> bool:
    place = live_bench().seated
    return live_bench().clock.up and place is not None and place.seat.job_id == job.pk


def _job(job_id: UUID) -> Job:
    job, _ = find_place(job_id, None)
    assert job is not None
    return job


def _changed(job: Job) -> PathOut:
    refresh(job)
    return path_out(job)


@router.get("/jobs/{job_id}/path", response=PathOut, by_alias=True, operation_id="path")
def one(request: SignedIn, job_id: UUID) -> PathOut:
    """The path in use on a job, worked out now, with the benches and parts there are."""
    return path_out(_job(job_id))


@router.put("/jobs/{job_id}/path", response=PathOut, by_alias=True, operation_id="path_use")
def use(request: SignedIn, job_id: UUID, data: PathIn) -> PathOut:
    """Put a path in use, or take it off. While keyed only for who says `sure`."""
    job = _job(job_id)
    services.use(
        actor=request.user,
        job=job,
        path=data.path,
        name=data.name,
        most_w=data.most_w,
        keyed=_keyed(job),
        sure=data.sure,
    )
    return _changed(job)


@router.post("/jobs/{job_id}/path/pad", response=PathOut, by_alias=True, operation_id="path_pad")
def pad(request: SignedIn, job_id: UUID, data: PadIn) -> PathOut:
    """Another pad before an instrument: what the chip of the slip changes."""
    job = _job(job_id)
    services.set_pad(
        actor=request.user, job=job, instrument=data.instrument, pad_db=data.pad_db, keyed=_keyed(job), sure=data.sure
    )
    return _changed(job)


@router.post("/jobs/{job_id}/path/confirm", response=PathOut, by_alias=True, operation_id="path_confirm")
def confirm(request: SignedIn, job_id: UUID, data: HazardIn) -> PathOut:
    """Confirm by name a hazard that stands."""
    job = _job(job_id)
    services.confirm(actor=request.user, job=job, hazard=data.hazard)
    return _changed(job)


@router.post("/jobs/{job_id}/path/override", response=PathOut, by_alias=True, operation_id="path_override")
def override(request: SignedIn, job_id: UUID, data: OverrideIn) -> PathOut:
    """Let one named part see more than it stands, for the next key-down."""
    job = _job(job_id)
    services.override(actor=request.user, job=job, part=data.part)
    return _changed(job)


@router.post("/benches", response={201: BenchRow}, by_alias=True, operation_id="bench_save")
def save(request: SignedIn, data: BenchIn) -> Status[BenchRow]:
    """Keep a path under a name."""
    kept = services.save_bench(actor=request.user, name=data.name, path=data.path)
    return Status(201, BenchRow(id=kept.pk, name=kept.name, path=Path.model_validate(kept.path)))


@router.post("/benches/loss", response=LossOut, operation_id="bench_loss")
def loss(request: SignedIn, file: Annotated[UploadedFile, File()]) -> LossOut:
    """Read a part's loss from a two-port Touchstone file; nothing is kept."""
    require_technician(request.user)
    return LossOut(loss_db=services.losses_in((file.name or "file")[-80:], file.read(services.LARGEST_LOSS_FILE + 1)))
