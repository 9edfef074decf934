"""The live bench: the seat, keying, taking with Space, turning, watching, and the instruments themselves."""

from datetime import date, datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from django.conf import settings
from django.http import Http404, HttpResponse
from ninja import Field, File, Form, Router, Schema, Status, UploadedFile

from young_spark.core.figure import Conditions, Detector
from young_spark.core.live import Ask, Definition, Gives, Keying, LineManner
from young_spark.server.accounts.models import SignedIn
from young_spark.server.jobs.models import Item, Line
from young_spark.server.live import certificates, instruments, services, traces, trying, watches
from young_spark.server.live.bench import live_bench
from young_spark.server.live.models import Watch
from young_spark.server.problems import TooLarge
from young_spark.server.readings.api import find_place
from young_spark.server.readings.models import Reading
from young_spark.server.readings.schemas import LineOut, MeaningOut, line_out
from young_spark.server.records.api import RecordOut, record_out

router = Router(tags=["bench"])


class ValueOut(Schema):
    """A value of now; `value` is None where there is nothing to measure."""

    value: float | None
    shown: str
    at: float
    instrument: str


class CheckOut(Schema):
    at: datetime
    function: str
    standard: float
    read: float
    percent: float
    outside: bool
    by: str


class FunctionOut(Schema):
    """How far one function of an instrument may be out; `own`: as stated of this one, not typical of its kind."""

    name: str
    unit: str
    own: bool
    percent_of_full_scale: float
    percent_of_reading: float
    absolute: float
    ppm: float
    db: float
    digital: bool


class CertificateOut(Schema):
    id: UUID
    at: datetime


class BenchInstrument(Schema):
    """An instrument with what its line says now."""

    id: str
    name: str
    kind: str
    kind_name: str
    serial: str
    detector: str
    accuracy: list[str]
    functions: list[FunctionOut]
    elements_w: list[float]
    certificates: list[CertificateOut]
    calibrated_on: date | None
    calibration_due: date | None
    overdue: bool
    drifted: bool
    remark: str
    address: str
    definition: str
    connected: bool
    identity: str
    sentence: str
    error: str
    last: str
    last_at: float | None
    checks: list[CheckOut]
    checkable: list[str]


class LastCheckOut(Schema):
    """The last check of everything that is kept: when, as one sentence, and what is not whole."""

    at: datetime
    words: str
    problems: list[str]


class InstrumentsOut(Schema):
    """`present`: whether the bench process is there; `definitions`: id and title of each known file; `values`: what a
    figure of an answer may be, each with its unit; `held`: readings
    that wait at the bench because the data file could not be written; `followers`: tabs that follow what happens, for
    the keeper."""

    instruments: list[BenchInstrument]
    definitions: dict[str, str]
    values: dict[str, str]
    kinds: dict[str, str]
    present: bool
    simulated_hands: str | None
    held: int
    last_check: LastCheckOut | None
    followers: int | None


Bound = Annotated[float, Field(ge=0, le=1e9)]


class AccuracyIn(Schema):
    """How far one function may be out, each figure a hard bound; `absolute` in the function's unit."""

    percent_of_full_scale: Bound = 0.0
    percent_of_reading: Bound = 0.0
    absolute: Bound = 0.0
    ppm: Bound = 0.0
    db: Bound = 0.0
    digital: bool = False


class InstrumentIn(Schema):
    """What is known of an instrument; only what is sent changes."""

    name: str | None = Field(None, min_length=1, max_length=100)
    kind: str | None = Field(None, max_length=40)
    serial: str | None = Field(None, max_length=60)
    address: str | None = Field(None, max_length=120)
    definition: str | None = Field(None, max_length=40)
    calibrated_on: date | None = None
    calibration_due: date | None = None
    remark: str | None = Field(None, max_length=300)
    detector: Detector | None = None
    elements_w: list[Annotated[float, Field(gt=0, le=1e6)]] | None = Field(None, max_length=24)
    functions: dict[str, AccuracyIn | None] | None = Field(None, max_length=24)


class TryIn(Schema):
    """What goes out on which line, how that is spoken on, what comes back (a line of text, a block of floats,
    nothing), and how often it is asked. `gives`: what is named of the answer so far."""

    address: str = Field(min_length=1, max_length=120)
    manner: LineManner = LineManner()
    words: str = Field(min_length=1, max_length=200, pattern=r"^[ -~]+$")
    form: Literal["text", "block", "none"] = "text"
    times: int = Field(1, ge=1, le=20)
    gives: list[Gives] = Field([], max_length=16)


class FigureOut(Schema):
    """A place of the answers: None where no figure stands; `scatter` is how far it went from its mean, with more than
    one answer."""

    index: int
    first: float | None
    mean: float | None
    scatter: float | None


class TriedOut(Schema):
    """What came back: the first answer as it came, the figures in all `count` of them, the s that one took, and what
    *IDN? must match where this was the answer to it. `words`: how what is named would be read."""

    answer: str
    count: int
    took_s: float
    figures: list[FigureOut]
    identity: str
    words: str


class QuickCheckIn(Schema):
    id: UUID
    function: str = Field(max_length=40)
    standard: float = Field(gt=-1e12, lt=1e12)
    read: float = Field(gt=-1e12, lt=1e12)


class SeatIn(Schema):
    """The slip that is open, its current line and its chips."""

    job: UUID
    item: UUID | None = None
    row: str | None = Field(None, max_length=60)
    conditions: Conditions = Conditions()
    along: list[Annotated[str, Field(max_length=120)]] = Field(
        [], max_length=16
    )  # cells of a table's row, by beginning
    follows: bool = False  # where its own seat moved to: nothing where another slip sits by now


class CurrentOut(Schema):
    """The live value at the current line, as it would be taken now."""

    row: str | None
    meaning: MeaningOut


class TurnOut(Schema):
    """An adjuster while it is turned: figures in the quantity's unit, words ready to show."""

    adjuster: str
    name: str
    aim: str
    words: dict[str, str]
    arrow: str
    note: str | None
    pitch_hz: float
    live: bool
    now: float | None
    best: float | None
    found: float | None
    target: float | None


class TraceOffer(Schema):
    """A trace that an instrument would hand over now."""

    instrument: str
    name: str
    trace: str


class TraceTakeIn(Schema):
    """Which trace, for which line of which slip; `id` is the record's."""

    id: UUID
    job: UUID
    item: UUID | None = None
    row: str | None = Field(None, max_length=60)
    conditions: Conditions = Conditions()
    instrument: str = Field(max_length=50)
    trace: str = Field(max_length=40)


class LiveOut(Schema):
    """The bench as it stands after `event`; the event stream goes on from here. `now` is the server's clock, by which
    `keying` counts; `turnable`: the quantities that an instrument shows while something is turned."""

    event: str
    now: float
    present: bool
    talking: int
    connected: list[str]
    faults: list[str]
    up: bool
    job: UUID | None
    say: str
    keying: Keying
    values: dict[str, ValueOut]
    current: CurrentOut | None
    turn: TurnOut | None
    watch: UUID | None
    traces: list[TraceOffer]
    turnable: list[str]


class KeyIn(Schema):
    keyed: bool


class TakeIn(Schema):
    id: UUID


class TurnIn(Schema):
    """What is turned, and what for."""

    adjuster: str = Field(min_length=1, max_length=60)
    quantity: str = Field(max_length=40)
    aim: str = Field("peak", pattern="^(peak|dip|target)$")
    target: float | None = Field(None, gt=-1e12, lt=1e12)
    allowed: float | None = Field(None, gt=0, lt=1e12)


class LeaveIn(Schema):
    """`id` is the line's; without `keep` nothing is written down."""

    id: UUID
    keep: bool = True


class WatchIn(Schema):
    id: UUID
    job: UUID
    item: UUID | None = None


class MarkIn(Schema):
    id: UUID
    what: str = Field(min_length=1, max_length=60)


class EndIn(Schema):
    """`line`: the id of the line that sums the watch up."""

    line: UUID


class DropOut(Schema):
    at: float
    name: str
    kind: str
    usual: str
    reached: str
    lasted: float | None
    after: str


class MarkOut(Schema):
    at: float
    what: str


class SeriesOut(Schema):
    name: str
    title: str
    unit: str
    at: list[float]
    values: list[float]


class WatchOut(Schema):
    """A watch: thinned to what a plot can show, everything kept around the drops."""

    id: UUID
    job: UUID
    began_at: datetime
    ended_at: datetime | None
    seconds: float
    series: list[SeriesOut]
    drops: list[DropOut]
    marks: list[MarkOut]
    summary: str


class WatchRow(Schema):
    id: UUID
    began_at: datetime
    ended_at: datetime | None
    drops: int


def _watch(watch_id: UUID) -> Watch:
    watch = Watch.objects.select_related("job", "item").filter(pk=watch_id).first()
    if watch is None:
        raise Http404
    return watch


def _line(line: Line) -> LineOut:
    return line_out(line, list(Reading.objects.filter(line=line)), {})


@router.get("", response=LiveOut, operation_id="bench_live")
def live(request: SignedIn) -> dict[str, Any]:
    """The live bench as it stands."""
    return services.snapshot()


@router.post("/traces", response={201: RecordOut}, by_alias=True, operation_id="bench_trace")
def trace(request: SignedIn, data: TraceTakeIn) -> Status[RecordOut]:
    """Have an instrument hand over a trace, and keep it as a record of the job."""
    job, item = find_place(data.job, data.item)
    if job is None:
        raise Http404
    kept = traces.take_trace(
        actor=request.user,
        record_id=data.id,
        job=job,
        item=item,
        instrument_id=data.instrument,
        name=data.trace,
        conditions=data.conditions,
        row=data.row,
    )
    return Status(201, record_out(kept))


@router.post("/seat", response=LiveOut, operation_id="bench_seat")
def seat(request: SignedIn, data: SeatIn) -> dict[str, Any]:
    """Sit down with a slip: what the instruments capture goes onto it."""
    job, item = find_place(data.job, data.item)
    if job is None:
        raise Http404
    services.sit(
        actor=request.user,
        job=job,
        item=item or Item.objects.filter(job=job).earliest("position"),
        row=data.row,
        conditions=data.conditions,
        along=data.along,
        follows=data.follows,
    )
    return services.snapshot()


@router.post("/key", response=LiveOut, operation_id="bench_key")
def key(request: SignedIn, data: KeyIn) -> dict[str, Any]:
    """Say that the unit is keyed, or not any more, where no instrument sees it. The program itself keys nothing."""
    services.told(actor=request.user, keyed=data.keyed)
    return services.snapshot()


@router.post("/take", response={201: LineOut}, operation_id="bench_take")
def take(request: SignedIn, data: TakeIn) -> Status[LineOut]:
    """Take what the instruments show now for the current line."""
    return Status(201, _line(live_bench().take_now(actor=request.user, line_id=data.id)))


@router.post("/turn", response=LiveOut, operation_id="bench_turn")
def turn(request: SignedIn, data: TurnIn) -> dict[str, Any]:
    """Begin turning an adjuster: the value found is kept at its first reading."""
    services.begin_turn(
        actor=request.user, adjuster=data.adjuster, wanted=data.quantity, aim=data.aim, target=data.target,
        allowed=data.allowed,
    )  # fmt: skip
    return services.snapshot()


@router.post("/turn/leave", response=LiveOut, operation_id="bench_turn_leave")
def leave(request: SignedIn, data: LeaveIn) -> dict[str, Any]:
    """Stop turning; the line with the value found and the value left goes onto the slip."""
    services.end_turn(actor=request.user, line_id=data.id, keep=data.keep)
    return services.snapshot()


@router.post("/watches", response={201: WatchOut}, operation_id="watch_begin")
def begin_watch(request: SignedIn, data: WatchIn) -> Status[dict[str, Any]]:
    """Begin to watch an item. One is watched at a time."""
    job, item = find_place(data.job, data.item)
    if job is None:
        raise Http404
    return Status(201, watches.shown(watches.begin(actor=request.user, watch_id=data.id, job=job, item=item)))


@router.get("/watches", response=list[WatchRow], operation_id="watches")
def list_watches(request: SignedIn, job: UUID) -> list[WatchRow]:
    """The watches of a job, newest first."""
    watches_of_job = Watch.objects.filter(job=job).order_by("-began_at")[:50]
    return [
        WatchRow(id=w.pk, began_at=w.began_at, ended_at=w.ended_at, drops=watches.moments_of(w)) for w in watches_of_job
    ]


@router.get("/watches/{watch_id}", response=WatchOut, operation_id="watch")
def watch(request: SignedIn, watch_id: UUID) -> dict[str, Any]:
    """A watch with its plot and its events."""
    return watches.shown(_watch(watch_id))


@router.post("/watches/{watch_id}/mark", response=WatchOut, operation_id="watch_mark")
def mark(request: SignedIn, watch_id: UUID, data: MarkIn) -> dict[str, Any]:
    """Mark what the hands did just now."""
    watches.mark(actor=request.user, watch=_watch(watch_id), mark_id=data.id, what=data.what)
    return watches.shown(_watch(watch_id))


@router.post("/watches/{watch_id}/end", response=WatchOut, operation_id="watch_end")
def end_watch(request: SignedIn, watch_id: UUID, data: EndIn) -> dict[str, Any]:
    """End a watch; its sum goes onto the slip as a line."""
    watches.end(actor=request.user, watch=_watch(watch_id), line_id=data.line)
    return watches.shown(_watch(watch_id))


@router.get("/instruments", response=InstrumentsOut, operation_id="instruments")
def list_instruments(request: SignedIn) -> dict[str, Any]:
    """Every instrument of the shop, with what its line says now."""
    return instruments.shown(for_keeper=request.user.is_keeper)


@router.put("/instruments/{instrument_id}", response=InstrumentsOut, operation_id="instrument_keep")
def keep_instrument(request: SignedIn, instrument_id: str, data: InstrumentIn) -> dict[str, Any]:
    """Add an instrument, or change what is known of one."""
    instruments.keep(actor=request.user, instrument_id=instrument_id, changes=data.dict(exclude_unset=True))
    return instruments.shown(for_keeper=request.user.is_keeper)


@router.post("/instruments/{instrument_id}/checks", response={201: InstrumentsOut}, operation_id="instrument_check")
def check(request: SignedIn, instrument_id: str, data: QuickCheckIn) -> Status[dict[str, Any]]:
    """A quick check against the shop's standard."""
    instruments.check(
        actor=request.user,
        instrument_id=instrument_id,
        check_id=data.id,
        function=data.function,
        standard=data.standard,
        read=data.read,
    )
    return Status(201, instruments.shown(for_keeper=request.user.is_keeper))


@router.post("/try", response=TriedOut, operation_id="line_try")
def try_line(request: SignedIn, data: TryIn) -> dict[str, Any]:
    """Send something on a line as it is typed, and see what comes back."""
    shown = trying.tried(
        actor=request.user,
        address=data.address,
        manner=data.manner,
        words=data.words,
        form=data.form,
        times=data.times,
    )
    ask = (
        Ask(command=data.words, form=data.form, gives=tuple(data.gives)) if data.gives and data.form != "none" else None
    )
    return {**shown, "words": trying.read_as(ask, shown["answer"]) if ask is not None else ""}


@router.put("/definitions/{name}", response=InstrumentsOut, operation_id="definition_keep")
def keep_definition(request: SignedIn, name: str, data: Definition) -> dict[str, Any]:
    """Keep how an instrument is asked, as a definition of this shop."""
    trying.keep_definition(actor=request.user, name=name, made=data)
    return instruments.shown(for_keeper=request.user.is_keeper)


@router.post(
    "/instruments/{instrument_id}/certificates", response={201: InstrumentsOut}, operation_id="certificate_add"
)
def add_certificate(
    request: SignedIn, instrument_id: str, file: File[UploadedFile], id: Form[UUID]
) -> Status[dict[str, Any]]:
    """The certificate of a calibration as a picture: JPEG, PNG or WebP of at most 20 MB; re-encoded."""
    if (file.size or 0) > settings.LARGEST_UPLOAD:
        raise TooLarge("That picture is over 20 MB. Take it at a smaller size.")
    certificates.add(actor=request.user, instrument_id=instrument_id, certificate_id=id, data=file.read())
    return Status(201, instruments.shown(for_keeper=request.user.is_keeper))


@router.get("/certificates/{certificate_id}", operation_id="certificate")
def certificate(request: SignedIn, certificate_id: UUID) -> HttpResponse:
    """A certificate's picture."""
    data, media_type = certificates.read(certificate_id)
    response = HttpResponse(data, content_type=media_type)
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@router.post("/find", response={202: None}, operation_id="instruments_find")
def find(request: SignedIn) -> Status[None]:
    """Search the lines of this machine; what is found comes as an event."""
    services.find(actor=request.user)
    return Status(202, None)
