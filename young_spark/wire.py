"""What the bench process and the web say to each other: one JSON object a line, each of a kind that both ends know.

`FromBench` comes from the bench process, `Order` from the web. Times are s since 1970 unless a field says otherwise.
A line that is no message of its side raises Garbled; who reads it logs that and answers NotUnderstood."""

from typing import Annotated, Any, Literal, TypeVar
from uuid import UUID

from pydantic import ConfigDict, Field, TypeAdapter, ValidationError

from young_spark.core.figure import Conditions
from young_spark.core.ground import Frozen
from young_spark.core.live import BesideCarrier, Definition, Drop, LineManner, LiveName, Steady, Wanted

Spoken = TypeVar("Spoken")
LONGEST_LINE = 4_000_000  # bytes
DOOR_FILE = "bench-door.json"  # in the data folder: the port that the web listens on, and the token that lets in
SIMULATED_FILE = "simulated-bench.json"  # in the data folder: the ports of the simulated bench, by name


class Garbled(ValueError):
    """A line that is no message: `of` is its kind where that can be told, `why` the first thing that is wrong."""

    def __init__(self, of: str, why: str) -> None:
        super().__init__(of, why)
        self.of, self.why = of, why

    def __str__(self) -> str:
        return f"'{self.of}': {self.why}"


class Message(Frozen):
    """What every message is: frozen, no field that the other end does not know, infinities kept as they are."""

    model_config = ConfigDict(ser_json_inf_nan="constants")


class NotUnderstoodMessage(Message):
    """The answer to a line that was no message: its kind where that can be told, and the first thing that is wrong."""

    kind: Literal["not_understood"] = "not_understood"
    of: str
    why: str


class Place(Frozen):
    """Whose the captured readings are: the slip, its chips and current row, and the person who sat down."""

    job: UUID
    item: UUID
    by: int
    conditions: Conditions
    row: str | None


# from the bench process ----------------------------------------------------------------------------------------------


class Hello(Message):
    """The first line: it came in, with the token of the door."""

    kind: Literal["hello"] = "hello"
    token: str = ""


class LineState(Message):
    """How the line of an instrument stands: `sentence` says what is wrong in words, empty while it is well."""

    kind: Literal["state"] = "state"
    instrument: str
    connected: bool
    identity: str = ""
    sentence: str = ""
    error: str = ""


class ValuesMessage(Message):
    """One answer of an instrument, each value in its own unit; None is nothing to measure."""

    kind: Literal["values"] = "values"
    instrument: str
    at: float
    values: dict[LiveName, float | None]


class SpectrumMessage(Message):
    """What stands beside the carrier that an instrument just heard."""

    kind: Literal["spectrum"] = "spectrum"
    instrument: str
    at: float
    beside: BesideCarrier


class CarrierMessage(Message):
    """The carrier came or went; `again` where a web that is new is told how it stands."""

    kind: Literal["carrier"] = "carrier"
    up: bool
    at: float
    again: bool = False


class Left(Message):
    """The plan's rows that this key-down, or the next, can still give."""

    kind: Literal["left"] = "left"
    rows: tuple[str, ...]
    up: bool


class CapturedMessage(Message):
    """A reading that stood still: the mean of every value it is made of, and the samples, [time, value] each."""

    kind: Literal["captured"] = "captured"
    id: UUID
    place: Place
    row: str
    quantity: str
    values: dict[LiveName, float]
    steadiness: Steady
    instruments: dict[LiveName, str]
    samples: dict[LiveName, tuple[tuple[float, float], ...]]
    at: float


class MisplacedMessage(Message):
    """A carrier stands still, but on a frequency (Hz) where nothing is wanted."""

    kind: Literal["misplaced"] = "misplaced"
    frequency_hz: float


class UnseenMessage(Message):
    """A carrier stands still, but no instrument sees modulation."""

    kind: Literal["unseen"] = "unseen"


class FoundLine(Frozen):
    """A line of this machine that something answers on."""

    address: str
    words: str


class FoundMessage(Message):
    """What the search of the lines found."""

    kind: Literal["found"] = "found"
    addresses: tuple[FoundLine, ...]


class Traced(Message):
    """The trace that was asked for by this id, evenly spaced from `start` to `stop`; `sentence` says why there is
    none."""

    kind: Literal["traced"] = "traced"
    id: str
    start: float = 0.0
    stop: float = 0.0
    values: tuple[float, ...] = ()
    sentence: str = ""


class Tried(Message):
    """What came back on the line that was tried by this id: each answer as it came, and the s that one took;
    `sentence` says why there is none."""

    kind: Literal["tried"] = "tried"
    id: str
    answers: tuple[str, ...] = ()
    took_s: float = 0.0
    sentence: str = ""


class Watched(Message):
    """A part of a watch's log, [s since it began, name, value] each, and the drops that began or ended in it."""

    kind: Literal["watched"] = "watched"
    id: UUID
    drops: tuple[Drop, ...]
    points: tuple[tuple[float, LiveName, float], ...]


# orders of the web ---------------------------------------------------------------------------------------------------


class Talking(Frozen):
    """An instrument of the shop that talks: where, by which definition file, and how far its own reference is off.
    `asked` is what that file says; None where there is no such file."""

    id: str
    name: str
    address: str
    definition: str
    asked: Definition | None
    reference_ppm: float = 0.0


class OwnInstruments(Message):
    """Own these instruments, and no others."""

    kind: Literal["instruments"] = "instruments"
    instruments: tuple[Talking, ...]


class LookFor(Message):
    """Capture these rows, for the slip at this place; `carrier_hz` is where its carrier is expected."""

    kind: Literal["wanted"] = "wanted"
    place: Place
    rows: tuple[Wanted, ...]
    carrier_hz: float | None = None


class Attend(Message):
    """How closely to look: nobody looks, a page shows live values, something is turned."""

    kind: Literal["attention"] = "attention"
    level: Literal["idle", "looking", "turning"]


class KeepWatch(Message):
    """Watch, or go on with a watch that `began` then; no id: watch no more."""

    kind: Literal["watch"] = "watch"
    id: UUID | None
    began: float | None = None


class Acknowledged(Message):
    """What was captured under this id is on disk."""

    kind: Literal["acknowledged"] = "acknowledged"
    id: UUID


class AskTrace(Message):
    """Have a trace of an instrument; the answer is Traced with this id."""

    kind: Literal["trace"] = "trace"
    id: str
    instrument: str
    trace: str


class TryLine(Message):
    """Send these words on a line, as often as `times` says; the answer is Tried with this id. `form` says what comes
    back: a line of text, an IEEE 488.2 block of big-endian 32-bit floats, or nothing."""

    kind: Literal["try"] = "try"
    id: str
    address: str
    manner: LineManner
    words: str
    form: Literal["text", "block", "none"] = "text"
    times: int = Field(1, ge=1, le=20)


class FindLines(Message):
    """Search the lines of this machine; the answer is Found."""

    kind: Literal["find"] = "find"


FromBench = (
    Hello
    | LineState
    | ValuesMessage
    | SpectrumMessage
    | CarrierMessage
    | Left
    | CapturedMessage
    | MisplacedMessage
    | UnseenMessage
    | FoundMessage
    | Traced
    | Tried
    | Watched
    | NotUnderstoodMessage
)
Order = (
    OwnInstruments | LookFor | Attend | KeepWatch | Acknowledged | AskTrace | TryLine | FindLines | NotUnderstoodMessage
)

_TOLD: TypeAdapter[FromBench] = TypeAdapter(Annotated[FromBench, Field(discriminator="kind")])
_ORDER: TypeAdapter[Order] = TypeAdapter(Annotated[Order, Field(discriminator="kind")])


def line_of(message: FromBench | Order) -> bytes:
    """A message as its line."""
    return message.model_dump_json().encode() + b"\n"


def told_in(line: bytes) -> FromBench:
    """What the bench process said. Raises Garbled."""
    return _read(_TOLD, line)


def order_in(line: bytes) -> Order:
    """What the web ordered. Raises Garbled."""
    return _read(_ORDER, line)


def _read(adapter: TypeAdapter[Spoken], line: bytes) -> Spoken:
    try:
        return adapter.validate_json(line)
    except ValidationError as problem:
        first = problem.errors(include_url=False)[0]
        words = ": ".join(filter(None, (".".join(str(part) for part in first["loc"]), first["msg"])))
        raise Garbled(_kind_of(first["input"], first["loc"]), words[:200]) from problem


def _kind_of(sent: Any, where: tuple[int | str, ...]) -> str:
    """The kind of a line that is no message: the first step into it, or what it called itself."""
    if where:
        return str(where[0])[:40]
    return str(sent.get("kind", ""))[:40] if isinstance(sent, dict) else ""
