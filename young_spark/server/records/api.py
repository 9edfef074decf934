"""Records on a job: hand one in, look at it, tell more of it, take its figures."""

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.conf import settings
from django.http import Http404, HttpResponse
from ninja import Field, File, Form, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import ValidationError

from young_spark.core.analysis import Analysis, carrier_watts
from young_spark.core.analysis.instrument_doubt import TYPICAL
from young_spark.core.analysis.marks import LimitMark, limit_marks, mask_marks
from young_spark.core.analysis.record_place import of_another_channel
from young_spark.core.figure import Conditions, Measured
from young_spark.core.judging import VerdictLine, judge_reading
from young_spark.server.accounts.models import SignedIn
from young_spark.server.jobs.models import Line
from young_spark.server.problems import Refused, TooLarge
from young_spark.server.readings.api import find_place
from young_spark.server.readings.models import Reading
from young_spark.server.readings.schemas import LineOut, ReadingOut, line_out, reading_out
from young_spark.server.readings.state import state_of
from young_spark.server.records import services
from young_spark.server.records.drawing import as_csv, as_svg
from young_spark.server.records.models import Record
from young_spark.server.records.services import RecordTold
from young_spark.server.records.sound import encoded

router = Router(tags=["records"])
LARGEST_SOUND = 4 << 20  # bytes


class RecordLineOut(Schema):
    """One line of a record's plot."""

    name: str
    xs: list[float]
    ys: list[float]


class RecordMarkOut(Schema):
    """A point that a figure came from."""

    name: str
    x: float
    y: float


class RecordLimitOut(Schema):
    """A limit in a record's plot, from x to x."""

    name: str
    x_from: float
    x_to: float
    y: float


class RecordRow(Schema):
    """A record of a job."""

    id: UUID
    name: str
    at: datetime
    not_whole: str  # what is wrong with its files; empty where nothing is


class RecordOut(RecordRow):
    """A record with its figures, worked out now from its bytes; `taken` are those that stand on the slip."""

    kind: str
    told: RecordTold
    readings: list[ReadingOut]
    remarks: list[str]
    taken: list[str]
    x: str
    y: str
    lines: list[RecordLineOut]
    marks: list[RecordMarkOut]
    limits: list[RecordLimitOut]
    sound: bool  # whether it can be listened to


class SoundOut(Schema):
    """What was heard just now; the level is over a sine that just fills the scale."""

    level_db: float | None
    level_within_db: float
    clipped: bool
    readings: list[ReadingOut]
    remarks: list[str]


class RecordTakeIn(Schema):
    """Which figure to take, under which chips."""

    id: UUID
    quantity: str = Field(max_length=40)
    conditions: Conditions = Conditions()
    row: str | None = Field(None, max_length=60)


def find_record(record_id: UUID) -> Record:
    """The record, or 404."""
    record = Record.objects.select_related("job", "item").filter(pk=record_id).first()
    if record is None:
        raise Http404
    return record


@dataclass(frozen=True)
class Judged:
    """The figures of a record with their verdicts as they would be on the slip, and the limits that stand in its
    plot."""

    readings: list[tuple[Measured, list[VerdictLine]]]
    limits: tuple[LimitMark, ...]
    remarks: tuple[str, ...] = ()


def judged_of(record: Record, analysis: Analysis, told: RecordTold) -> Judged:
    """The figures of a record held against the limits of the unit it was taken from."""
    state = state_of(record.job, record.item)
    conditions = Conditions(mode=analysis.mode or told.mode, frequency_hz=told.nominal_hz)
    context = state.context(conditions, None)
    situation = context.situation(conditions)
    watts = carrier_watts(analysis)
    situation = situation.model_copy(update={"carrier_w": watts or situation.carrier_w})
    judged = [(r, list(judge_reading(r, context.profiles, situation))) for r in analysis.readings]
    elsewhere = of_another_channel(analysis, told.nominal_hz, context.channel_plan)
    remarks = (elsewhere,) if elsewhere else ()
    if analysis.plot is None:
        return Judged(judged, (), remarks)
    mask = mask_marks(analysis.plot, context.profiles, situation, services.options_of(told).loss_db)
    return Judged(judged, (*limit_marks(analysis.plot, judged), *mask), remarks)


def record_out(record: Record) -> RecordOut:
    """A record for the web, its figures judged as they would be on the slip."""
    capture, told = services.capture_of(record), RecordTold.model_validate(record.told)
    analysis = services.analysis_of(record, capture)
    judged, plot = judged_of(record, analysis, told), analysis.plot
    return RecordOut(
        id=record.pk,
        name=record.name,
        at=record.at,
        not_whole="",  # its bytes were read just now
        kind=analysis.kind,
        told=told,
        readings=[reading_out(r, lines) for r, lines in judged.readings],
        remarks=[*judged.remarks, *analysis.remarks],
        taken=sorted(
            set(
                Reading.objects.filter(line__withdrawn_at=None, line__raw__record=str(record.pk)).values_list(
                    "quantity", flat=True
                )
            )
        ),
        x=plot.x if plot else "",
        y=plot.y if plot else "",
        lines=[RecordLineOut(name=p.name, xs=list(p.xs), ys=list(p.ys)) for p in plot.lines] if plot else [],
        marks=[RecordMarkOut(name=m.name, x=m.x, y=m.y) for m in plot.marks] if plot else [],
        limits=[RecordLimitOut(**asdict(m)) for m in judged.limits],
        sound=services.has_sound(record, capture),
    )


@router.post("/jobs/{job_id}/records", response={201: RecordOut}, by_alias=True, operation_id="record_keep")
def keep(
    request: SignedIn,
    job_id: UUID,
    id: Annotated[UUID, Form()],  # the form's own name
    files: Annotated[list[UploadedFile], File()],
    conditions: Annotated[str, Form(max_length=2000)] = "{}",
    row: Annotated[str, Form(max_length=60)] = "",
    item: Annotated[str, Form(max_length=36)] = "",
) -> Status[RecordOut]:
    """Hand a record in: one file, or the two of a SigMF recording. Refused, with file, line and cause, where it
    cannot be read."""
    try:
        chips = Conditions.model_validate_json(conditions)
        item_id = UUID(item) if item else None
    except (ValidationError, ValueError) as problem:
        raise Refused("The conditions of that record are not understood.") from problem
    if sum(f.size or 0 for f in files) > settings.LARGEST_RECORD:
        raise TooLarge(f"That record is over {settings.LARGEST_RECORD >> 20} MB.")
    job, found = find_place(job_id, item_id)
    assert job is not None
    record = services.keep(
        actor=request.user,
        record_id=id,
        job=job,
        item=found,
        files=[(f.name or "", f.read()) for f in files],
        conditions=chips,
        row=row or None,
    )
    return Status(201, record_out(record))


@router.post("/sound", response=SoundOut, operation_id="sound_heard")
def sound_heard(
    request: SignedIn,
    file: Annotated[UploadedFile, File()],
    clock_ppm: Annotated[float, Form(ge=0, le=10_000)] = TYPICAL["audio"]["reference_ppm"],
) -> SoundOut:
    """What a stretch of sound says, as it was just heard by a clock that is right to so many ppm: nothing of it is
    kept."""
    if (file.size or 0) > LARGEST_SOUND:
        raise TooLarge(f"That stretch is over {LARGEST_SOUND >> 20} MB.")
    found = services.listened_to(file.name or "sound.wav", file.read(), clock_ppm)
    return SoundOut(
        level_db=found.level_db,
        level_within_db=found.level_within_db,
        clipped=found.clipped,
        readings=[reading_out(r, []) for r in found.readings],
        remarks=list(found.remarks),
    )


@router.get("/jobs/{job_id}/records", response=list[RecordRow], operation_id="records")
def listed(request: SignedIn, job_id: UUID) -> list[RecordRow]:
    """The records of a job, oldest first."""
    job, _ = find_place(job_id, None)
    return [
        RecordRow(id=r.pk, name=r.name, at=r.at, not_whole=services.not_whole(r))
        for r in Record.objects.filter(job=job)
    ]


@router.get("/records/{record_id}", response=RecordOut, by_alias=True, operation_id="record")
def one(request: SignedIn, record_id: UUID) -> RecordOut:
    """A record with its figures: the same bytes give the same figures."""
    return record_out(find_record(record_id))


@router.get("/records/{record_id}/plot.svg", operation_id="record_svg")
def svg(request: SignedIn, record_id: UUID) -> HttpResponse:
    """The plot of a record with its limits, as a drawing."""
    record = find_record(record_id)
    analysis = services.analysis_of(record, services.capture_of(record))
    if analysis.plot is None:
        raise Http404
    judged = judged_of(record, analysis, RecordTold.model_validate(record.told))
    return _file(as_svg(analysis.plot, judged.limits, record.name), "image/svg+xml", record, "svg")


@router.get("/records/{record_id}/plot.csv", operation_id="record_csv")
def table(request: SignedIn, record_id: UUID) -> HttpResponse:
    """The plot of a record as a table."""
    record = find_record(record_id)
    plot = services.analysis_of(record, services.capture_of(record)).plot
    if plot is None:
        raise Http404
    return _file(as_csv(plot), "text/csv; charset=utf-8", record, "csv")


@router.get("/records/{record_id}/sound.wav", operation_id="record_sound")
def sound(request: SignedIn, record_id: UUID) -> HttpResponse:
    """What the record sounds like, demodulated: its first minute as WAV. 404 where it has no sound."""
    heard = services.sound_of(find_record(record_id), services.LONGEST_SOUND_S)
    if heard is None:
        raise Http404
    return HttpResponse(encoded(heard, "WAV"), content_type="audio/wav")


def _file(text: str, kind: str, record: Record, ending: str) -> HttpResponse:
    answer = HttpResponse(text, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="plot-{record.pk}.{ending}"'
    return answer


@router.patch("/records/{record_id}", response=RecordOut, by_alias=True, operation_id="record_tell")
def tell(request: SignedIn, record_id: UUID, data: RecordTold) -> RecordOut:
    """Tell more of a record, and see its figures anew."""
    return record_out(services.tell(actor=request.user, record=find_record(record_id), told=data))


@router.post("/records/{record_id}/take", response={201: LineOut}, operation_id="record_take")
def take(request: SignedIn, record_id: UUID, data: RecordTakeIn) -> Status[LineOut]:
    """Take one figure of a record as a line of the slip."""
    line: Line = services.take(
        actor=request.user,
        record=find_record(record_id),
        line_id=data.id,
        quantity_id=data.quantity,
        conditions=data.conditions,
        row=data.row,
    )
    return Status(201, line_out(line, list(Reading.objects.filter(line=line)), {}))
