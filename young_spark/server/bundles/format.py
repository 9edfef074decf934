"""The bundle: jobs as open JSON with their pictures and records, in one zip. Described in docs/formats.md; version 1."""

import re
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

FORMAT, VERSION = "young-spark-bundle", 1
MANIFEST = "bundle.json"
NAMES = re.compile(r"bundle\.json|jobs/[0-9a-f-]{36}\.json|(pictures|records)/[0-9a-f]{64}")


class Part(BaseModel):
    """A part of a bundle: nothing in it that nobody knows."""

    model_config = ConfigDict(extra="forbid")


class Manifest(Part):
    """What the bundle is, and which jobs it holds."""

    format: Literal["young-spark-bundle"]
    version: int
    made_at: datetime
    jobs: list[UUID] = Field(max_length=100_000)


class PictureIn(Part):
    """A picture of a line; its file is named by the hash."""

    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    media_type: Literal["image/jpeg", "image/png", "image/webp"]
    width: int = Field(gt=0, le=20_000)
    height: int = Field(gt=0, le=20_000)


class ReadingIn(Part):
    """A figure as it was worked out and judged then."""

    id: UUID
    position: int = Field(ge=0, le=100)
    quantity: str = Field(max_length=40)
    value: float | None
    unit: str = Field(max_length=8)
    uncertainty: float | None
    bound: Literal["upper", "lower"] | None
    measured: dict[str, Any]
    conditions: dict[str, Any]
    verdicts: list[dict[str, Any]]
    phase: str = Field(max_length=12)
    plan_row: str | None = Field(max_length=60)
    model: str = Field(max_length=50)
    at: datetime


class LineIn(Part):
    """A line of the slip; people by their short names."""

    id: UUID
    item: UUID | None
    number: int = Field(ge=1, le=1_000_000)
    kind: str = Field(max_length=12)
    part: Literal["in", "find", "fix", "prove", "out"]
    phase: str = Field(max_length=12)
    text: str = Field(max_length=10_000)
    raw: dict[str, Any]
    story: dict[str, Any] | None
    at: datetime
    by: str
    settled_at: datetime | None
    settled_by: str | None
    withdrawn_at: datetime | None
    withdrawn_by: str | None
    withdrawn_reason: str = Field(max_length=200)
    superseded_by: UUID | None
    picture: PictureIn | None
    readings: list[ReadingIn] = Field(max_length=100)


class ItemIn(Part):
    """One box of the job."""

    id: UUID
    name: str = Field(max_length=200)
    model: str = Field(max_length=50)
    serial: str = Field(max_length=60)
    selector: str = Field("", max_length=4000)
    position: int = Field(ge=0, le=1000)


class EditIn(Part):
    """A sentence of the report as the technician wanted it."""

    key: str = Field(max_length=90)
    text: str = Field(max_length=2000)
    edited_by: str


class KeyDownIn(Part):
    """One key-down of an item."""

    item: UUID
    began_at: datetime
    ended_at: datetime | None
    by_hand: bool


class WatchIn(Part):
    """A watch with its log, drops and marks."""

    id: UUID
    item: UUID
    by: str
    began_at: datetime
    ended_at: datetime | None
    parts: list[list[tuple[float, str, float]]]
    drops: list[dict[str, Any]]
    marks: list[dict[str, Any]]


class RecordFileIn(Part):
    """A file of a record, as it was handed in; named in the bundle by the hash."""

    name: str = Field(max_length=100, pattern=r"^[\w\- ][\w.\- ]*$")
    sha256: str = Field(pattern="^[0-9a-f]{64}$")


class RecordIn(Part):
    """A record or trace of an instrument, and what was told of it."""

    id: UUID
    item: UUID | None
    name: str = Field(max_length=100)
    files: list[RecordFileIn] = Field(min_length=1, max_length=2)
    told: dict[str, Any]
    by: str
    at: datetime


class LookIn(Part):
    """What a probe answered; `line` is its line of the slip."""

    line: UUID
    probe: str = Field(max_length=60)
    answer: str = Field(max_length=40)


class DoubtIn(Part):
    """A line of the slip that does not count in a trace."""

    line: UUID
    by: str
    at: datetime


class TraceIn(Part):
    """One symptom, traced."""

    id: UUID
    item: UUID | None
    chain: str = Field(max_length=60)
    symptom: str = Field(max_length=200)
    strategy: str = Field(max_length=16)
    proven: str = Field(max_length=60)
    closed_at: datetime | None
    at: datetime
    by: str
    looks: list[LookIn] = Field(max_length=1_000)
    doubts: list[DoubtIn] = Field([], max_length=1_000)


class BoardPinIn(Part):
    """A pin on a board, as shares of the picture's width and height."""

    id: UUID
    probe: str = Field(max_length=60, pattern=r"^[a-z0-9_]*$")
    name: str = Field(min_length=1, max_length=60)
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)


class BoardIn(Part):
    """A picture of the slip that shows a side of a board; `line` is the picture's."""

    line: UUID
    side: Literal["component", "solder"]
    model: str = Field(max_length=60)
    pins: list[BoardPinIn] = Field(max_length=200)


class PathIn(Part):
    """The path between the unit and the instruments; what was confirmed by name is confirmed anew where it is read in."""

    name: str = Field(max_length=60)
    path: dict[str, Any]
    most_w: float | None
    at: datetime


class JobIn(Part):
    """A whole job."""

    id: UUID
    number: int = Field(ge=1, le=10_000_000)
    title: str = Field(max_length=200)
    owner: str = Field(max_length=200)
    came_with: str = Field(max_length=300)
    part: Literal["in", "find", "fix", "prove", "out"]
    value: float | None
    ceiling: float | None
    created_at: datetime
    created_by: str
    handed_back_at: datetime | None
    touched_at: datetime
    people: dict[str, str] = Field(max_length=200)  # short name → name on the slip
    items: list[ItemIn] = Field(min_length=1, max_length=100)
    lines: list[LineIn] = Field(max_length=100_000)
    edits: list[EditIn] = Field(max_length=10_000)
    key_downs: list[KeyDownIn] = Field(max_length=100_000)
    watches: list[WatchIn] = Field(max_length=1_000)
    records: list[RecordIn] = Field([], max_length=10_000)
    traces: list[TraceIn] = Field([], max_length=1_000)
    boards: list[BoardIn] = Field([], max_length=1_000)
    chains: dict[str, str] = Field({}, max_length=100)  # name → text of those chains of its traces that do not ship
    path: PathIn | None = None
