"""Sequences of a kind of gear: general ones, that go by the lines of its plan."""

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import Field

from young_spark.core.gear.plan_row import PlanRow
from young_spark.core.gear.sequence import (
    WHERE_READ,
    AdjustmentSequence,
    Least,
    Level,
    Most,
    OwnMeter,
    Step,
    StepPoint,
    To,
)
from young_spark.core.ground import Frozen

Due = Mapping[str, tuple[float, float]]  # least and greatest that is due, by the line of the plan


class ToDue(Frozen):
    """Turned until a figure is what the line of the plan expects, to within a share of what is allowed there."""

    aim: Literal["due"]
    share: float = Field(0.5, gt=0, le=1)

    def at(self, line: PlanRow, due: tuple[float, float]) -> To:
        """The aim in the line's own unit."""
        value = line.expected if line.expected is not None else sum(due) / 2
        return To(aim="to", value=value, allowed=self.share * min(value - due[0], due[1] - value))


class ToRated(Frozen):
    """Turned until a power is so many times what the unit should give."""

    aim: Literal["rated"]
    times: float = Field(gt=0, allow_inf_nan=False)
    allowed_times: float = Field(gt=0, allow_inf_nan=False)


class KindStep(Frozen):
    """A step of a kind, read at the first of its lines that a unit's plan has; at all of them in one mode where they
    are made level. Without one of them the unit has no such step. `read` is another quantity at that point."""

    id: str
    adjuster: str
    where: str = ""
    how: str = ""
    mind: str = ""
    lines: tuple[str, ...] = Field(min_length=1)
    read: str | None = None
    aim: Annotated[To | ToDue | ToRated | Most | Least | Level | OwnMeter, Field(discriminator="aim")]
    upsets: tuple[str, ...] = ()

    def for_unit(self, lines: Mapping[str, PlanRow], due: Due, rated_w: float) -> Step | None:
        """The step of a unit, or None where it has none."""
        there = [lines[name] for name in self.lines if name in lines]
        at = [line for line in there if line.mode == there[0].mode] if isinstance(self.aim, Level) else there[:1]
        aim = self._aim(at[0], due, rated_w) if at else None
        if aim is None or (isinstance(self.aim, Level) and len(at) < 2):
            return None
        points = tuple(StepPoint(**{name: getattr(line, name) for name in WHERE_READ}) for line in at)
        told = {name: getattr(self, name) for name in ("id", "adjuster", "where", "how", "mind", "upsets")}
        return Step(**told, read=self.read or at[0].quantity, at=points, aim=aim)

    def _aim(self, line: PlanRow, due: Due, rated_w: float) -> To | Most | Least | Level | OwnMeter | None:
        if isinstance(self.aim, ToDue):
            return self.aim.at(line, due[line.id]) if line.id in due else None
        if isinstance(self.aim, ToRated):
            allowed = self.aim.allowed_times * rated_w
            return To(aim="to", value=self.aim.times * rated_w, allowed=allowed) if rated_w else None
        return self.aim


class KindSequence(Frozen):
    """A sequence of a kind of gear: general, and safe for any unit of it."""

    id: str
    title: str
    steps: tuple[KindStep, ...]

    def for_unit(self, rows: Sequence[PlanRow], due: Due, rated_w: float, source: str) -> AdjustmentSequence | None:
        """The sequence of a unit with this plan; None where nothing of it remains."""
        lines = {row.id: row for row in rows}
        steps = [s for step in self.steps if (s := step.for_unit(lines, due, rated_w)) is not None]
        there = {step.id for step in steps}
        kept = [step.model_copy(update={"upsets": tuple(u for u in step.upsets if u in there)}) for step in steps]
        if not kept:
            return None
        return AdjustmentSequence(id=self.id, title=self.title, source=source, steps=tuple(kept))
