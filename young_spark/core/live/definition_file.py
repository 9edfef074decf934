"""Definition files of instruments that talk: which question gives which value. A new instrument needs a new file and
no code."""

import re
from collections.abc import Iterable
from typing import Literal

from pydantic import Field, field_validator, model_validator

from young_spark.core.captures import COLUMN_UNITS, TraceKind
from young_spark.core.figure import instrument_classes
from young_spark.core.ground import Frozen, parse, shipped
from young_spark.core.live.values import LiveName

OVERLOAD = 9.9e37  # SCPI's infinity: over the range
LONGEST_IDENTITY = 200  # of an answer to *IDN?
# an identity is matched in the process that reads every instrument, and a hand wrote it: no pattern that takes for ever
MOST_REPEATS = 3
REPEATS, REPEATED_GROUP = re.compile(r"(?<!\\)[*+{]"), re.compile(r"(?<!\\)\)[*+{]")
NO_FLOOR, IN_DECIBELS = -1000.0, {"level", "sinad"}
NO_FIGURE = 9.91e37  # SCPI's not-a-number: nothing to measure


class Gives(Frozen):
    """One value of an answer. `scatter` (own unit) and `scatter_percent` (of reading) are what a still input shows;
    below `floor` (own unit) the instrument sees nothing; a value in decibels has none where none is said."""

    value: LiveName
    index: int = Field(0, ge=0, le=63)
    factor: float = 1.0
    scatter: float = Field(0.0, ge=0)
    scatter_percent: float = Field(0.0, ge=0)
    floor: float = Field(0.0, ge=NO_FLOOR)

    @model_validator(mode="before")
    @classmethod
    def _of_a_ratio(cls, told: object) -> object:
        if isinstance(told, dict) and isinstance(told.get("value"), str) and told["value"] in IN_DECIBELS:
            return {"floor": NO_FLOOR, **told}
        return told


class Ask(Frozen):
    """One question: an answer of figures between commas, or an IEEE 488.2 block of big-endian 32-bit floats."""

    command: str
    form: Literal["text", "block"] = "text"
    gives: tuple[Gives, ...] = Field(min_length=1)


class TraceAsk(Frozen):
    """How a whole trace is had: `setup` is sent first, `start` and `stop` ask for the first and the last place on
    its axis (Hz, or s of a scope), `values` for an IEEE 488.2 block of big-endian 32-bit floats, evenly spaced:
    dBm of a spectrum, V of a scope, real and imaginary part of S11 in turn of a reflection."""

    name: str = Field(min_length=1, max_length=40)
    kind: TraceKind
    setup: tuple[str, ...] = ()
    start: str
    stop: str
    values: str


class IqStream(Frozen):
    """A receiver that sends what it hears without being asked: unsigned 8-bit I and Q in turn, after a header of 12
    bytes (four letters, then two big-endian 32-bit counts: its tuner, and how many gains it has); orders to it are one
    byte and a big-endian 32-bit figure. `rate_hz` is what it is set to; it is tuned `beside_hz` under the carrier,
    since such receivers hear themselves in the middle of their band; figures are of stretches of `stretch_s`."""

    rate_hz: int = Field(240_000, ge=200_000, le=3_200_000)
    beside_hz: float = Field(30_000.0, ge=5_000)
    stretch_s: float = Field(0.25, ge=0.1, le=2.0)
    gives: tuple[Gives, ...] = Field(min_length=1)


class LineManner(Frozen):
    """How a line is spoken on: patience for one answer, how lines end, and the rate of a serial one."""

    timeout_ms: int = Field(1000, ge=50, le=20_000)
    read_termination: str = Field("\n", max_length=4)
    write_termination: str = Field("\n", max_length=4)
    baud_rate: int | None = Field(None, ge=50, le=4_000_000)


class Definition(LineManner):
    """How to talk to one kind of instrument."""

    title: str = Field(min_length=1, max_length=80)
    kind: str = Field(max_length=40)  # its class, as in knowledge/instruments
    identity: str = Field(min_length=1, max_length=200)  # what its answer to *IDN? must match
    setup: tuple[str, ...] = ()
    errors: str = "SYST:ERR?"  # the question for the oldest error; empty where there is no queue
    asks: tuple[Ask, ...] = ()
    traces: tuple[TraceAsk, ...] = ()
    stream: IqStream | None = None  # of one that is not asked at all
    columns: dict[str, str] = Field({}, max_length=32)  # of the tables that it exports: unit by name

    @model_validator(mode="after")
    def _gives_something(self) -> "Definition":
        if not self.asks and not self.traces and self.stream is None and not self.columns:
            raise ValueError("it asks for nothing: neither a value nor a trace")
        if self.stream is not None and (self.asks or self.traces):
            raise ValueError("what streams is asked for nothing")
        return self

    @field_validator("kind")
    @classmethod
    def _is_a_kind(cls, value: str) -> str:
        if value not in instrument_classes():
            raise ValueError(f"no kind of instrument is called {value!r}: {', '.join(instrument_classes())}")
        return value

    @field_validator("columns")
    @classmethod
    def _in_known_units(cls, value: dict[str, str]) -> dict[str, str]:
        for name, unit in value.items():
            if unit.lower() not in COLUMN_UNITS:
                raise ValueError(f"column {name!r} is in {unit!r}; known are {', '.join(sorted(COLUMN_UNITS))}")
        return {name.strip(): unit.lower() for name, unit in value.items()}

    @field_validator("identity")
    @classmethod
    def _is_a_pattern(cls, value: str) -> str:
        if len(REPEATS.findall(value)) > MOST_REPEATS or REPEATED_GROUP.search(value):
            raise ValueError(f"a pattern of a name: at most {MOST_REPEATS} of * + {{}}, and none of a whole group")
        try:
            re.compile(value)
        except re.error as problem:
            raise ValueError(f"not a pattern: {problem}") from problem
        return value

    @property
    def manner(self) -> LineManner:
        """How its line is spoken on."""
        return LineManner(**{name: getattr(self, name) for name in LineManner.model_fields})

    def fits(self, identity: str) -> bool:
        """Whether an answer to *IDN? is that of this kind of instrument."""
        return re.search(self.identity, identity[:LONGEST_IDENTITY], re.IGNORECASE) is not None

    @property
    def given(self) -> tuple[Gives, ...]:
        """Every value that it gives."""
        asked = tuple(gives for ask in self.asks for gives in ask.gives)
        return asked if self.stream is None else self.stream.gives

    def gives(self, name: LiveName) -> Gives | None:
        """What is known of a value that it gives, or None."""
        return next((g for g in self.given if g.value == name), None)


class NotAFigure(ValueError):
    """An answer that holds no figure where one is due."""


GROUPED = re.compile(r"[+-]?\d{1,3}(?:,\d{3})+(?:\.\d*)?")  # 27,185,000: thousands, or a list of figures
GROUP_IN_A_LIST = re.compile(r"(?:^|,)[+-]?\d{1,3},\d{3}(?:[.,]|$)")


def figures_of(answer: str, wanted: int = 1) -> tuple[float, ...]:
    """The figures of a text answer of which the first `wanted` are used. Raises NotAFigure for anything else, and for
    figures that may as well be one with its thousands set off."""
    plain = answer.strip()
    parts = plain.split(",")
    if wanted == 1 and GROUPED.fullmatch(plain):
        if len(parts) == 2 and not parts[1].startswith("0"):
            raise NotAFigure(plain[:40])
        return (float(plain.replace(",", "")),)
    if len(parts) > wanted and GROUP_IN_A_LIST.search(plain):
        raise NotAFigure(plain[:40])
    try:
        return tuple(float(part) for part in parts)
    except ValueError as problem:
        raise NotAFigure(plain[:40]) from problem


def values_of(ask: Ask, figures: tuple[float, ...]) -> dict[LiveName, float | None]:
    """The values of an answer, each in the unit of its quantity; None where there is nothing to measure.

    Raises NotAFigure when a figure is missing or is no number, and OverflowError for an overload."""
    values: dict[LiveName, float | None] = {}
    for gives in ask.gives:
        if gives.index >= len(figures) or figures[gives.index] != figures[gives.index]:
            raise NotAFigure(f"figure {gives.index + 1} is missing")
        value = figures[gives.index]
        if abs(value) >= NO_FIGURE * 0.9999:
            values[gives.value] = None
        elif abs(value) >= OVERLOAD * 0.9999:
            raise OverflowError
        else:
            values[gives.value] = value * gives.factor
    return values


def not_overloaded(values: tuple[float, ...]) -> tuple[float, ...]:
    """The values of a trace. Raises OverflowError where one of them says overload."""
    if any(abs(v) >= OVERLOAD * 0.9999 for v in values):
        raise OverflowError
    return values


def definition(text: str, name: str) -> Definition:
    """A definition file's text. Raises BadKnowledge with line and cause of each problem."""
    return parse(text, f"{name}.toml", Definition)


def columns_of(known: Iterable[Definition]) -> dict[str, str]:
    """Units of columns by name, as these definitions say; a name of which two say otherwise is none that is known."""
    told: dict[str, set[str]] = {}
    for one in known:
        for name, unit in one.columns.items():
            told.setdefault(name.casefold(), set()).add(unit)
    return {name: next(iter(units)) for name, units in told.items() if len(units) == 1}


def definitions() -> dict[str, Definition]:
    """The shipped definition files by id."""
    return shipped("definitions", Definition)
