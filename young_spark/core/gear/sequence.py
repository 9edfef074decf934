"""Adjustment sequences: which adjuster, what to read while it is turned, and when it stands right."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from young_spark.core.figure import quantity
from young_spark.core.gear.plan_row import PlanRow
from young_spark.core.ground import Frozen

ID = r"^[a-z0-9-]{1,24}$"  # of a sequence or a step: both make the id of a line, which has sixty signs at most
LONGEST = 200  # signs of a text of a step
MOST_STEPS = 60


class To(Frozen):
    """Turned until a figure is `value`, to within `allowed`, both in the quantity's unit."""

    aim: Literal["to"]
    value: float = Field(allow_inf_nan=False)
    allowed: float = Field(gt=0, allow_inf_nan=False)


class Most(Frozen):
    """Turned until nothing gives more."""

    aim: Literal["most"]


class Least(Frozen):
    """Turned until nothing gives less."""

    aim: Literal["least"]


class Level(Frozen):
    """Turned until the points of a step are alike, to within a share of the greatest."""

    aim: Literal["level"]
    share: float = Field(gt=0, lt=1)


class OwnMeter(Frozen):
    """Turned until the set's own meter shows what was measured at that point, to within a share of it."""

    aim: Literal["own_meter"]
    share: float = Field(gt=0, lt=1)


Aim = Annotated[To | Most | Least | Level | OwnMeter, Field(discriminator="aim")]


class StepPoint(Frozen):
    """Where a step is read; `adjuster` is the one of the step's that tells most there, where it has several."""

    adjuster: str = Field("", max_length=60)
    mode: str | None = None
    channel: int | None = None
    frequency_hz: float | None = Field(None, gt=0, allow_inf_nan=False)
    power_setting: str | None = None
    state: Literal["standby", "receive", "transmit"] | None = None
    modulation: Literal["on", "off"] | None = None


WHERE_READ = tuple(name for name in StepPoint.model_fields if name != "adjuster")


class Step(Frozen):
    """One adjuster: what is read while it is turned, and when it stands right. `upsets` names the steps that must be
    looked at again once it was turned."""

    id: str = Field(pattern=ID)
    adjuster: str = Field(max_length=60)
    where: str = Field("", max_length=LONGEST)  # on the board, and what it is easily mistaken for
    read: str  # a quantity
    at: tuple[StepPoint, ...] = Field((StepPoint(),), min_length=1, max_length=8)
    aim: Aim
    how: str = Field("", max_length=LONGEST)
    mind: str = Field("", max_length=LONGEST)  # a caution
    upsets: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _makes_sense(self) -> "Step":
        quantity(self.read)
        if (len(self.at) > 1) != isinstance(self.aim, Level):
            raise ValueError(f"step {self.id}: two points or more are made level, and one is not")
        return self

    def asks(self) -> str:
        """What to do, in one sentence."""
        return ": ".join(filter(None, (self.adjuster, self.how))) + (f" ({self.where})" if self.where else "")

    def row_id(self, sequence: str, n: int) -> str:
        """The line of the slip that a point of the step is read at."""
        return f"{SETTING_UP}{sequence}:{self.id}:{n}"

    def rows(self, sequence: str) -> tuple[PlanRow, ...]:
        """The points of the step as lines of a slip."""
        aimed = self.aim.value if isinstance(self.aim, To) else None
        return tuple(
            PlanRow(
                id=self.row_id(sequence, n),
                quantity=self.read,
                ask=self.asks(),
                expected=aimed,
                caution=self.mind or None,
                phases=(),
                instrument="own_meter" if isinstance(self.aim, OwnMeter) else None,
                **point.model_dump(exclude={"adjuster"}),
            )
            for n, point in enumerate(self.at)
        )


SETTING_UP = "set-up:"  # what the id of a line begins with that is none of the plan, but of a sequence


class AdjustmentSequence(Frozen):
    """Adjustments in the order in which they do not spoil each other."""

    id: str = Field(pattern=ID)
    title: str = Field(max_length=80)
    source: str = Field("", max_length=LONGEST)
    steps: tuple[Step, ...] = Field(min_length=1, max_length=MOST_STEPS)

    @model_validator(mode="after")
    def _names_its_own_steps(self) -> "AdjustmentSequence":
        known = [step.id for step in self.steps]
        if len(set(known)) < len(known):
            raise ValueError(f"sequence {self.id}: two steps have the same id")
        strange = {name for step in self.steps for name in step.upsets} - set(known)
        if strange:
            raise ValueError(f"sequence {self.id}: there is no step {', '.join(sorted(strange))}")
        return self

    def step(self, step_id: str) -> Step | None:
        """The step of that id."""
        return next((step for step in self.steps if step.id == step_id), None)
