"""Models of gear and their test plans; a generic model stands in for a unit without documents."""

from typing import Annotated, Literal

from pydantic import Field

from young_spark.core.gear.plan_row import PlanRow
from young_spark.core.gear.revision import MOST, Revision
from young_spark.core.gear.sequence import AdjustmentSequence
from young_spark.core.ground import Frozen, shipped
from young_spark.core.judging import Profile

Alias = Annotated[str, Field(min_length=1, max_length=60)]
JobPart = Literal["in", "find", "fix", "prove", "out"]


class Stage(Frozen):
    """A stage of the transmit chain in signal order; `area` says what depends on it (dependencies.toml)."""

    id: str
    name: str
    area: str
    due: str = ""  # the level due there, in its own plane, in words


class ModelNote(Frozen):
    """Something known of a model, or of one revision of it; hearsay is marked unproven. `fault` is the one of its chain
    that it makes `times` as likely."""

    text: str
    proven: bool
    revision: str = ""
    fault: str | None = None
    times: float = Field(3.0, ge=1, le=10, allow_inf_nan=False)


class ModelPoint(Frozen):
    """What this model shows at a probe of its chain: where that is on its board, the range due there in the probe's
    unit, and the level in words."""

    probe: str
    where: str = Field("", max_length=160)
    good: tuple[float, float] | None = None
    level: str = Field("", max_length=120)


class PlugPin(Frozen):
    """One pin of a plug: what it carries, and what to mind of it."""

    pin: str = Field(max_length=12)
    carries: str = Field(max_length=60)
    mind: str = Field("", max_length=120)


class Plug(Frozen):
    """How a plug or a socket of a model is wired: 'microphone', 'supply', 'accessory'."""

    name: str = Field(max_length=40)
    pins: tuple[PlugPin, ...]


class Model(Frozen):
    """A model of gear: what it is and goes by, its revisions, its limits, its stages and the plan that proves it."""

    maker: str
    name: str
    kind: str
    generic: bool = False
    goes_by: tuple[Alias, ...] = Field((), max_length=20)
    revisions: tuple[Revision, ...] = Field((), max_length=MOST)
    profiles: tuple[str, ...]
    channel_plan: str | None = None
    chain: str | None = None  # the transmit chain that it is traced along
    modes: tuple[str, ...]
    supply_v: float | None = None
    greatest_power_w: float
    high_voltage: bool = False
    key_down_s: float | None = None  # longest key-down at full power, and the rest it then needs
    cool_off_s: float | None = None
    value: float | None = None
    kind_id: str | None = None  # of a unit without a model: the kind that stands in
    rated_w: float | None = None  # what a unit of a kind should give
    typical: Profile | None = None  # what is due of the kind
    stages: tuple[Stage, ...]
    plan: tuple[PlanRow, ...]
    notes: tuple[ModelNote, ...] = ()
    points: tuple[ModelPoint, ...] = ()
    plugs: tuple[Plug, ...] = ()
    cautions: tuple[str, ...] = ()
    sequences: tuple[AdjustmentSequence, ...] = ()

    @property
    def title(self) -> str:
        """Maker and name together."""
        return f"{self.maker} {self.name}".strip()

    def row(self, row_id: str | None) -> PlanRow | None:
        """The plan's row of that id."""
        return next((row for row in self.plan if row.id == row_id), None)


def models() -> dict[str, Model]:
    """The shipped models by id."""
    return shipped("models", Model)
