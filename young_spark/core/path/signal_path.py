"""The path from a start (a unit's aerial socket, a plug inside) to loads and instruments: its parts, losses and
correction.

50 Ω throughout. A path is a tree of parts; what reaches each of them is worked out in `path_levels`."""

import itertools
import json
import math
from collections.abc import Callable, Iterator
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter, ValidationError, model_validator

from young_spark.core.figure import format_value
from young_spark.core.ground import CoreError, Frozen, UnknownName

LossTo = Callable[[float], float]

MOST_PARTS = 100
MEASURED_BOUND_DB = 0.1  # of one part's loss that was measured; as marked: 0.2 dB for each 20 dB begun
MARKED_BOUND_DB = 0.2
ASSUMED_HZ = 27e6

Finite = Annotated[float, Field(allow_inf_nan=False, ge=-1e12, le=1e15)]
Watts = Annotated[float, Field(gt=0, le=1e7)]
Seconds = Annotated[float, Field(gt=0, le=1e6)]
Decibels = Annotated[float, Field(allow_inf_nan=False, ge=-100, le=1000)]  # a gain is a loss below 0
Volts = Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e6)]
Table = Annotated[tuple[tuple[Finite, Decibels], ...], Field(min_length=1, max_length=10_000)]
VoltsTable = Annotated[tuple[tuple[Finite, Volts], ...], Field(min_length=1, max_length=10_000)]
Loss = Decibels | Table


class BadPath(CoreError):
    """A path that cannot be: what and where."""

    code = "bad_path"


class Piece(Frozen):
    """What every part has: a name of its own, and words for it. `typical` data are those of its class.

    `instrument` is what it is in the shop, or a class of instruments: then its readings are corrected to the start."""

    id: str = Field(min_length=1, max_length=60)
    name: str = Field("", max_length=60)
    instrument: str | None = Field(None, max_length=60)
    typical: bool = False

    @property
    def title(self) -> str:
        """What a person calls it."""
        return self.name or self.id


class Through(Piece):
    """A part that passes the signal on. `switchable` can be at 0 dB when the key goes down; `rating_s` is how long it
    stands its rating, `cool_off_s` its rest after that; `measured` says that its loss was not read off its label."""

    kind: Literal["adaptor", "cable", "attenuator", "filter", "wattmeter", "dc_block"]
    loss_db: Loss = 0.0
    rating_w: Watts | None = None
    rating_s: Seconds | None = None
    cool_off_s: Seconds | None = None
    switchable: bool = False
    measured: bool = False
    to: str | None = None


class Coupler(Piece):
    """A directional coupler: the main line goes on `through`, a sample `coupling_db` down comes out `coupled`."""

    kind: Literal["coupler"]
    loss_db: Loss = 0.0
    coupling_db: Loss
    directivity_db: Finite | None = None
    rating_w: Watts | None = None
    measured: bool = False
    through: str | None = None
    coupled: str | None = None


class PathProbe(Piece):
    """A probe tapped across the line: it takes nothing, but it stands the line's volts, which fall with frequency."""

    kind: Literal["probe"]
    safe_v: Volts | VoltsTable
    safe_dc_v: Finite | None = None
    to: str | None = None


class End(Piece):
    """Where power may end: a load, an aerial, or a stated other end with a rating of its own."""

    kind: Literal["load", "aerial", "other"]
    rating_w: Watts | None = None
    rating_s: Seconds | None = None
    cool_off_s: Seconds | None = None


class Meter(Piece):
    """An instrument's input: what it survives, and between which levels it reads. A generator's output is one too: what
    it stands from outside."""

    kind: Literal["instrument", "generator"]
    safe_dbm: Decibels
    safe_dc_v: Finite = 0.0
    usable_dbm: tuple[Finite, Finite] | None = None


PathPart = Annotated[Through | Coupler | PathProbe | End | Meter, Field(discriminator="kind")]


class Start(Frozen):
    """Where a path begins. An inner point (an exciter plug, a grid) states the most it can give itself, and its DC."""

    kind: Literal["aerial_socket", "inner"] = "aerial_socket"
    name: str = Field("aerial socket", min_length=1, max_length=60)
    most_w: Watts | None = None
    dc_v: Annotated[float, Field(allow_inf_nan=False, ge=-1e5, le=1e5)] = 0.0

    @model_validator(mode="after")
    def _inner_states_its_most(self) -> "Start":
        if self.kind == "inner" and self.most_w is None:
            raise ValueError("an inner start needs the most it can give, most_w")
        return self


class Path(Frozen):
    """A tree of parts, named `from` its first one."""

    start: str = Field(alias="from")
    begins: Start = Start()
    parts: tuple[PathPart, ...] = Field(min_length=1, max_length=MOST_PARTS)

    @model_validator(mode="after")
    def _is_a_tree(self) -> "Path":
        names = [part.id for part in self.parts]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(f"two parts are called {name!r}")
        fed = [self.start, *(to for part in self.parts for to, _ in outputs(part) if to is not None)]
        for name in fed:
            if name not in names:
                raise ValueError(f"no part is called {name!r}")
            if fed.count(name) > 1:
                raise ValueError(f"{name!r} is fed from two places, or in a circle")
        reached = {part.id for part, _ in walk(self)}
        for name in names:
            if name not in reached:
                raise ValueError(f"{name!r} hangs on nothing")
        return self

    def part(self, part_id: str) -> PathPart:
        """A part by its id. Raises UnknownName."""
        for part in self.parts:
            if part.id == part_id:
                return part
        raise UnknownName("part of the path", part_id, None)


class Correction(Frozen):
    """What the path takes away before an instrument: loss in dB at one frequency, how well it is known, and its sum."""

    loss_db: float
    bound_db: float
    words: str


def read_path(text: str, file: str) -> Path:
    """A path from JSON. Raises BadPath with one sentence."""
    try:
        told = json.loads(text)
    except (ValueError, RecursionError) as problem:
        where = f", line {problem.lineno}" if isinstance(problem, json.JSONDecodeError) else ""
        raise BadPath(f"{file}{where}: not JSON") from problem
    return path_of(told, file)


def path_of(told: object, source: str) -> Path:
    """A path from what JSON holds. Raises BadPath with one sentence that begins with its source."""
    try:
        return TypeAdapter(Path).validate_python(told)
    except ValidationError as problem:
        first = problem.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        words = first["msg"].removeprefix("Value error, ")
        raise BadPath(" ".join(f"{source}: {place + ': ' if place else ''}{words}".split())) from problem


def loss_at(loss: Loss | Volts | VoltsTable, at_hz: float) -> float:
    """A loss in dB (or another figure against frequency), by straight lines between the rows of its table, flat
    beyond them."""
    if isinstance(loss, float | int):
        return float(loss)
    rows = sorted(loss)
    for (f0, y0), (f1, y1) in itertools.pairwise(rows):
        if f0 <= at_hz <= f1:
            return y0 + (y1 - y0) * (at_hz - f0) / (f1 - f0) if f1 > f0 else y0
    return rows[0][1] if at_hz < rows[0][0] else rows[-1][1]


def loss_to(path: Path, part_id: str) -> LossTo:
    """Loss in dB from the start to the input of a part, at a frequency in Hz. Raises UnknownName."""
    for part, steps in walk(path):
        if part.id == part_id:
            return lambda at_hz: sum(loss_at(step, at_hz) for _, step in steps)
    raise UnknownName("part of the path", part_id, None)


def place_of(path: Path, instrument_id: str) -> str | None:
    """The id of the part that is this instrument, or None."""
    return next((part.id for part, _ in walk(path) if part.instrument == instrument_id), None)


def correction(path: Path, part_id: str, at_hz: float | None) -> Correction:
    """What the path takes away before a part, at a frequency in Hz (27 MHz where nobody says one). Raises UnknownName.

    Bounds of the parts' losses are independent of each other, so they add as a root of squares."""
    path.part(part_id)
    said = at_hz is not None
    at_hz = at_hz if at_hz is not None else ASSUMED_HZ
    steps = next(steps for part, steps in walk(path) if part.id == part_id)
    losses = [(part, loss_at(step, at_hz)) for part, step in steps]
    counted = [(part, loss) for part, loss in losses if loss != 0]
    nominal = any(not _is_measured(part) for part, _ in counted)
    words = ", ".join(f"{part.title} {loss:.4g} dB" for part, loss in counted)
    return Correction(
        loss_db=sum(loss for _, loss in losses),
        bound_db=math.hypot(*(_bound_db(part, loss) for part, loss in counted)),
        words=f"{words} at {format_value(at_hz, 'Hz')}{'' if said else ', assumed'}{', as marked' if nominal else ''}"
        if counted
        else "nothing before it",
    )


def _is_measured(part: PathPart) -> bool:
    return isinstance(part, Through | Coupler) and part.measured


def _bound_db(part: PathPart, loss: float) -> float:
    return MEASURED_BOUND_DB if _is_measured(part) else MARKED_BOUND_DB * max(1, math.ceil(abs(loss) / 20))


def outputs(part: PathPart) -> tuple[tuple[str | None, Loss], ...]:
    """Where a part hands the signal to, with its loss on that way; the main line first."""
    if isinstance(part, Coupler):
        return (part.through, part.loss_db), (part.coupled, part.coupling_db)
    if isinstance(part, Through):
        return ((part.to, part.loss_db),)
    if isinstance(part, PathProbe):
        return ((part.to, 0.0),)
    return ()


def walk(path: Path) -> Iterator[tuple[PathPart, tuple[tuple[PathPart, Loss], ...]]]:
    """Each part from the start on, with the parts before it and what each of them takes on the way."""
    by_id = {part.id: part for part in path.parts}
    waiting: list[tuple[str, tuple[tuple[PathPart, Loss], ...]]] = [(path.start, ())]
    seen: set[str] = set()
    while waiting:
        name, steps = waiting.pop(0)
        if name in seen or name not in by_id:
            continue
        seen.add(name)
        part = by_id[name]
        yield part, steps
        waiting += [(to, (*steps, (part, loss))) for to, loss in outputs(part) if to is not None]
