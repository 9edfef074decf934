"""The path from a start (a unit's aerial socket, a plug inside) to loads and instruments: levels, ratings, correction.

50 Ω throughout. A path is a tree of parts; each node is what reaches the input of one part."""

import itertools
import json
import math
from collections.abc import Callable, Iterator
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter, ValidationError, model_validator

from young_spark.core.errors import CoreError, UnknownName
from young_spark.core.quantities import format_value
from young_spark.core.reading import Frozen

PathState = Literal["ok", "too_low", "over_range", "too_high", "no_load"]
PathMode = Literal["am", "fm", "cw", "ssb"]
LossTo = Callable[[float], float]

WORST_FIRST: tuple[PathState, ...] = ("no_load", "too_high", "over_range", "too_low", "ok")
PADS_DB = (3, 6, 10, 20, 30, 40, 50, 60)
RATINGS_W = (2, 5, 10, 25, 50, 100, 250, 500, 1000, 2000)
# of the power that is stated: what heats, and what the crest is (AM at 100 % of a sine: 1.5 and 4)
MEAN_AND_CREST: dict[PathMode, tuple[float, float]] = {
    "am": (1.5, 4.0),
    "fm": (1.0, 1.0),
    "cw": (1.0, 1.0),
    "ssb": (1.0, 1.0),
}
OHM = 50.0
OPEN = 2.0  # volts across a line whose load falls off, against those of the matched line
MOST_PARTS = 100

Finite = Annotated[float, Field(allow_inf_nan=False, ge=-1e12, le=1e15)]
Watts = Annotated[float, Field(gt=0, le=1e7)]
Table = Annotated[tuple[tuple[Finite, Finite], ...], Field(min_length=1, max_length=10_000)]
Loss = Finite | Table


class BadPath(CoreError):
    """A path that cannot be: what and where."""

    code = "bad_path"


class Piece(Frozen):
    """What every part has: a name of its own."""

    id: str = Field(min_length=1, max_length=60)


class Through(Piece):
    """A part that passes the signal on: adaptor, cable, attenuator, filter. `switchable` can be at 0 dB when the key goes down."""

    kind: Literal["adaptor", "cable", "attenuator", "filter"]
    loss_db: Loss = 0.0
    rating_w: Watts | None = None
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


class Probe(Piece):
    """A probe tapped across the line: it takes nothing, but it stands the line's volts, which fall with frequency."""

    kind: Literal["probe"]
    safe_v: Loss
    to: str | None = None


class End(Piece):
    """Where power may end: a load, an aerial, or a stated other end with a rating of its own."""

    kind: Literal["load", "aerial", "other"]
    rating_w: Watts | None = None
    rating_s: Finite | None = None


class Meter(Piece):
    """An instrument's input: what it survives, and between which levels it reads."""

    kind: Literal["instrument"]
    safe_dbm: Finite
    safe_dc_v: Finite = 0.0
    usable_dbm: tuple[Finite, Finite] | None = None


Part = Annotated[Through | Coupler | Probe | End | Meter, Field(discriminator="kind")]


class Path(Frozen):
    """A tree of parts, named `from` its first one."""

    start: str = Field(alias="from")
    parts: tuple[Part, ...] = Field(min_length=1, max_length=MOST_PARTS)

    @model_validator(mode="after")
    def _is_a_tree(self) -> "Path":
        names = [part.id for part in self.parts]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(f"two parts are called {name!r}")
        fed = [self.start, *(to for part in self.parts for to, _ in _outputs(part) if to is not None)]
        for name in fed:
            if name not in names:
                raise ValueError(f"no part is called {name!r}")
            if fed.count(name) > 1:
                raise ValueError(f"{name!r} is fed from two places, or in a circle")
        reached = {part.id for part, _ in _walk(self)}
        for name in names:
            if name not in reached:
                raise ValueError(f"{name!r} hangs on nothing")
        return self


class Node(Frozen):
    """What reaches the input of one part. `rating_dbm` is what it stands; None where nothing is stated."""

    part: str
    mean_dbm: float
    pep_dbm: float
    peak_v: float
    rating_dbm: float | None
    state: PathState
    advice: str = ""


class Levels(Frozen):
    """Every node, and the worst state of all."""

    state: PathState
    nodes: tuple[Node, ...]


def read_path(text: str, file: str) -> Path:
    """A path from JSON. Raises BadPath with one sentence."""
    try:
        told = json.loads(text)
    except (ValueError, RecursionError) as problem:
        where = f", line {problem.lineno}" if isinstance(problem, json.JSONDecodeError) else ""
        raise BadPath(f"{file}{where}: not JSON") from problem
    try:
        return TypeAdapter(Path).validate_python(told)
    except ValidationError as problem:
        first = problem.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        words = first["msg"].removeprefix("Value error, ")
        raise BadPath(" ".join(f"{file}: {place + ': ' if place else ''}{words}".split())) from problem


def loss_at(loss: Loss, at_hz: float) -> float:
    """A loss in dB (or another figure against frequency), by straight lines between the rows of its table, flat beyond them."""
    if isinstance(loss, float | int):
        return float(loss)
    rows = sorted(loss)
    for (f0, y0), (f1, y1) in itertools.pairwise(rows):
        if f0 <= at_hz <= f1:
            return y0 + (y1 - y0) * (at_hz - f0) / (f1 - f0) if f1 > f0 else y0
    return rows[0][1] if at_hz < rows[0][0] else rows[-1][1]


def loss_to(path: Path, part_id: str) -> LossTo:
    """Loss in dB from the start to the input of a part, at a frequency in Hz. Raises UnknownName."""
    for part, steps in _walk(path):
        if part.id == part_id:
            return lambda at_hz: sum(loss_at(step, at_hz) for step in steps)
    raise UnknownName("part of the path", part_id, None)


def _outputs(part: Part) -> tuple[tuple[str | None, Loss], ...]:
    if isinstance(part, Coupler):
        return (part.through, part.loss_db), (part.coupled, part.coupling_db)
    if isinstance(part, Through):
        return ((part.to, part.loss_db),)
    if isinstance(part, Probe):
        return ((part.to, 0.0),)
    return ()


def _walk(path: Path) -> Iterator[tuple[Part, tuple[Loss, ...]]]:
    """Each part from the start on, with the losses before it."""
    by_id = {part.id: part for part in path.parts}
    waiting: list[tuple[str, tuple[Loss, ...]]] = [(path.start, ())]
    seen: set[str] = set()
    while waiting:
        name, steps = waiting.pop(0)
        if name in seen or name not in by_id:
            continue
        seen.add(name)
        part = by_id[name]
        yield part, steps
        waiting += [(to, (*steps, loss)) for to, loss in _outputs(part) if to is not None]


def levels(path: Path, power_w: float, at_hz: float, mode: PathMode = "cw") -> Levels:
    """Mean and crest at each node for a power in W (the carrier; the PEP for SSB) that the start could give.

    What protects must do so with every switchable attenuator at 0 dB; what reads is judged with them as they stand."""
    mean, crest = (10 * math.log10(power_w * factor) + 30 for factor in MEAN_AND_CREST[mode])
    bare = path.model_copy(update={"parts": tuple(_at_zero(part) for part in path.parts)})
    hardest = {part.id: sum(loss_at(step, at_hz) for step in steps) for part, steps in _walk(bare)}
    nodes = []
    for part, steps in _walk(path):
        loss = sum(loss_at(step, at_hz) for step in steps)
        volts = math.sqrt(2 * OHM * 10 ** ((crest - loss) / 10 - 3))
        state, advice = _judged(part, mean - loss, crest - loss, hardest[part.id] - loss, volts, at_hz)
        nodes.append(
            Node(
                part=part.id,
                mean_dbm=mean - loss,
                pep_dbm=crest - loss,
                peak_v=volts,
                rating_dbm=_rating(part),
                state=state,
                advice=advice,
            )
        )
    return Levels(state=min((n.state for n in nodes), key=WORST_FIRST.index), nodes=tuple(nodes))


def _at_zero(part: Part) -> Part:
    return part.model_copy(update={"loss_db": 0.0}) if isinstance(part, Through) and part.switchable else part


def _rating(part: Part) -> float | None:
    if isinstance(part, Meter):
        return part.safe_dbm
    rating = None if isinstance(part, Probe) else part.rating_w
    return None if rating is None else 10 * math.log10(rating) + 30


def _judged(
    part: Part, mean: float, crest: float, switched: float, volts: float, at_hz: float
) -> tuple[PathState, str]:
    """State and advice; `switched` (<= 0) is how much less loss protects when attenuators are switched out."""
    if isinstance(part, Meter):
        return _judged_meter(part, mean, crest, switched)
    if isinstance(part, Probe):
        stands = loss_at(part.safe_v, at_hz)
        if OPEN * volts > stands:
            return "too_high", (
                f"{part.id} would see {format_value(volts, 'V', figures=3)} peak, twice that if the load falls off; it stands "
                f"{format_value(stands, 'V', figures=3)} at {format_value(at_hz, 'Hz')}: tap behind a pad or a coupler"
            )
    rating, heat = _rating(part), mean - switched
    if rating is not None and heat > rating:
        watts = 10 ** (heat / 10 - 3)
        needed = next((r for r in RATINGS_W if r >= watts), RATINGS_W[-1])
        stands = 10 ** (rating / 10 - 3)
        return "too_high", (
            f"{part.id} would take {format_value(watts, 'W', figures=3)}; it stands {format_value(stands, 'W', figures=3)}: "
            f"use one for {needed} W, or put loss before it"
        )
    if any(to is None for to, _ in _outputs(part)[:1]):
        return "no_load", f"nothing is behind {part.id}: end the line in a load"
    return "ok", ""


def _judged_meter(part: Meter, mean: float, crest: float, switched: float) -> tuple[PathState, str]:
    if crest - switched > part.safe_dbm:
        room = min(part.safe_dbm, part.usable_dbm[1] if part.usable_dbm else part.safe_dbm)
        out = " with the switched attenuators at 0 dB" if switched < 0 and crest <= part.safe_dbm else ""
        return "too_high", (
            f"{crest - switched:+.1f} dBm would reach {part.id}{out}, which stands {part.safe_dbm:+.1f} dBm: "
            f"put {_pad_for(crest - switched - room)} more before it"
        )
    if part.usable_dbm is None:
        return "ok", ""
    low, high = part.usable_dbm
    if crest > high:
        return (
            "over_range",
            f"{crest:+.1f} dBm is above what {part.id} reads ({high:+.1f} dBm): put {_pad_for(crest - high)} more before it",
        )
    if mean < low:
        fits = [pad for pad in PADS_DB if low - mean <= pad <= high - crest]
        cure = f"take {fits[0]} dB out" if fits else "take loss out"
        return (
            "too_low",
            f"{mean:+.1f} dBm is below what {part.id} reads ({low:+.1f} dBm), the reading would sit in the noise: {cure}",
        )
    return "ok", ""


def _pad_for(excess_db: float) -> str:
    """The smallest usual pad that takes an excess away."""
    pad = next((p for p in PADS_DB if p >= excess_db), None)
    return f"a {pad} dB pad" if pad is not None else f"{math.ceil(excess_db)} dB"
