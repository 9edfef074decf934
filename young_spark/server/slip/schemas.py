"""What the web is told of jobs: the shelf's rows and the whole slip."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Field, Schema

from young_spark.core.figure import Conditions
from young_spark.core.job import Ghost, SetUpStanding, Table
from young_spark.core.judging import VerdictLine
from young_spark.server.readings.schemas import LineOut


class JobRow(Schema):
    """A job on the shelf."""

    id: UUID
    number: int
    title: str
    owner: str
    part: str
    waiting_for: str
    locked_because: str
    next_step: str
    touched_at: datetime
    handed_back_at: datetime | None


class ShelfOut(Schema):
    """Jobs by what each waits for; `total` counts those that were not shown too."""

    on_the_bench: list[JobRow]
    waiting: list[JobRow]
    handed_back: list[JobRow]
    total: int


class PositionOut(Schema):
    """A position of a mapped selector: its words, and whether it may be transmitted on."""

    position: int
    words: str
    allowed: bool


class ItemOut(Schema):
    id: UUID
    name: str
    model: str
    serial: str
    selector: str
    rated_w: float | None  # what a unit of a kind should give, as somebody said


class StageOut(Schema):
    """A stage of the chain with what was last said of it by hand."""

    id: str
    name: str
    due: str
    state: str | None
    seen: str | None


class OpenLineOut(Schema):
    """A figure the plan still wants: what, where, how, and what to expect."""

    row: str
    quantity: str
    name: str
    unit: str
    where: str
    ask: str
    phase: str
    why: str | None
    caution: str | None
    conditions: Conditions
    expected: str | None
    expected_value: float | None
    ghost: Ghost | None
    limits: list[VerdictLine]
    before: str | None
    first_power: bool


class NoteOut(Schema):
    text: str
    proven: bool


class EarlierVisitOut(Schema):
    """The last time this unit was here."""

    id: UUID
    number: int
    handed_back_at: datetime
    watch: list[str]
    since: list[str]


class SequenceOut(Schema):
    """A sequence of adjustments that this unit has."""

    id: str
    title: str
    source: str
    steps: int


class SetUpIn(Schema):
    """What is done with a sequence; `id` is that of the line that says so."""

    id: UUID
    item: UUID | None = None
    sequence: str = Field(max_length=40)
    act: Literal["begin", "end", "leave out", "take up"]
    step: str | None = Field(None, max_length=40)


class ModelChangeOut(Schema):
    """One thing that is other in the newest version of a unit's model."""

    what: str
    here: str  # as this unit keeps it
    there: str


class SlipOut(Schema):
    """A job on its slip."""

    id: UUID
    number: int
    title: str
    owner: str
    came_with: str
    part: str
    phase: str
    value: float | None
    ceiling: float | None
    spent: float
    created_at: datetime
    handed_back_at: datetime | None
    waiting_for: str
    locked_because: str
    next_step: str
    items: list[ItemOut]
    item: UUID | None
    model: str | None
    model_title: str | None
    model_changes: list[ModelChangeOut]  # since it came in: it keeps to the version that it was planned by
    is_kind: bool  # no model: its kind stands in
    due_from: Literal["maker", "shop", "kind"]  # by whose word its plan says what a healthy one gives
    should_give_w: float | None  # what a unit of a kind should give
    modes: list[str]
    channels: list[int]
    selector: list[PositionOut]  # of a modified unit
    high_voltage: bool
    notes: list[NoteOut]
    cautions: list[str]
    stages: list[StageOut]
    tracing: bool  # a symptom is being traced
    areas: dict[str, str]  # what a repair can have touched, by its id
    lines: list[LineOut]
    open_lines: list[OpenLineOut]
    next_row: str | None  # the open line that comes next: forwards from what was read last
    retest: list[str]
    open_by_part: dict[str, int]
    minutes: dict[str, int]
    warning: str | None
    earlier: EarlierVisitOut | None
    tables: list[Table]  # figures of one kind at several places, side by side
    sequences: list[SequenceOut]
    set_up: SetUpStanding | None  # the sequence that is followed now


class CheckIn(Schema):
    id: UUID
    words: str = Field(max_length=1000)


class JobChange(Schema):
    """Only what is sent changes."""

    title: str | None = Field(None, max_length=200, min_length=1)
    owner: str | None = Field(None, max_length=200)
    came_with: str | None = Field(None, max_length=300)
    part: str | None = Field(None, max_length=5)
    value: float | None = Field(None, ge=0, le=1e6)
    ceiling: float | None = Field(None, ge=0, le=1e6)


class ItemIn(Schema):
    id: UUID
    name: str = Field(max_length=200, min_length=1)


class ItemChange(Schema):
    name: str | None = Field(None, max_length=200)
    model: str | None = Field(None, max_length=60)
    serial: str | None = Field(None, max_length=60)
    selector: str | None = Field(None, max_length=4000)  # of a modified unit: position and MHz, one a line
    rated_w: float | None = Field(None, ge=0, le=1e6)  # what it should give, in W; 0: as its kind


class KeepAsModelIn(Schema):
    name: str = Field(max_length=100)  # maker and model, as they stand on the unit


class PinIn(Schema):
    lines: list[UUID] = Field(max_length=200)


class BackIn(Schema):
    back: bool
