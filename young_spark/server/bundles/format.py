"""The bundle: jobs as open JSON with their pictures and records, in one zip. Described in docs/formats.md; version 1.

What a job holds is declared by the apps that own it, each in its `bundled.py`; here they come together."""

import re
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import Field, create_model

from young_spark.server.benches.bundled import PATH
from young_spark.server.handback.bundled import EDITS
from young_spark.server.jobs.bundled import ITEMS
from young_spark.server.jobs.bundling import BundlePart, Section
from young_spark.server.live.bundled import KEY_DOWNS, WATCHES
from young_spark.server.readings.bundled import LINES
from young_spark.server.readings.bundled_gear import CHANNELS, MODELS
from young_spark.server.records.bundled import RECORDS
from young_spark.server.tracing.bundled import BOARDS, CHAINS, TRACES

FORMAT, VERSION = "young-spark-bundle", 1
MANIFEST = "bundle.json"
NAMES = re.compile(r"bundle\.json|jobs/[0-9a-f-]{36}\.json|(pictures|records)/[0-9a-f]{64}")
# in the order in which they are read in: what others lean on comes before them
SECTIONS: tuple[Section, ...] = (
    ITEMS, CHANNELS, MODELS, LINES, EDITS, KEY_DOWNS, WATCHES, RECORDS, CHAINS, TRACES, BOARDS, PATH,
)  # fmt: skip


class Manifest(BundlePart):
    """What the bundle is, and which jobs it holds."""

    format: Literal["young-spark-bundle"]
    version: int
    made_at: datetime
    jobs: list[UUID] = Field(max_length=100_000)
    not_whole: list[str] = Field([], max_length=100_000)  # files that were missing or damaged where it was made


class JobHead(BundlePart):
    """A job without what the apps add to it."""

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


_FIELDS: dict[str, Any] = {section.name: (section.kind, section.default) for section in SECTIONS}
JobIn: type[JobHead] = create_model("JobIn", __base__=JobHead, **_FIELDS)


def people_of(told: JobHead) -> set[str]:
    """The short names of everybody whom a job names."""
    named = {told.created_by}
    for section in SECTIONS:
        named |= {name for name in section.people(getattr(told, section.name)) if name is not None}
    return named
