"""A sequence as it is followed: what stands right, what was upset and comes again, what is next.

Every figure is a reading of the slip and every turn one of its lines; nothing is kept beside them but which sequence
was begun, and what was left out of it. They are gone through in their order, since a figure belongs to the step that
was next when it was read."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from young_spark.core.gear import AdjustmentSequence, PlanRow, Step
from young_spark.core.ground import Frozen
from young_spark.core.job.followed_step import (
    AREA_READ_IN,
    FollowedStep,
    StepStanding,
    Turn,
    is_at,
    is_told_by_its_meter,
    may_be_of,
)
from young_spark.core.job.plans import OpenLine, ReadingFact

TWICE = 2
SETTLED = {"in", "left out"}
NEITHER = {"out", "again"}  # as it was found, nor as it should be
OF_A_POINT = ("quantity", "mode", "channel", "frequency_hz", "power_setting", "state", "modulation", "instrument")


@dataclass(frozen=True)
class Begun:
    """A sequence that was begun, where on the slip, and the steps that were left out since."""

    sequence: AdjustmentSequence
    order: int
    left_out: frozenset[str] = frozenset()


class SetUpStanding(Frozen):
    """A sequence as it stands; `current` is the step that is next, None once every one stands right or was left out."""

    id: str
    title: str
    source: str
    steps: tuple[StepStanding, ...]
    current: str | None
    says: str

    @property
    def next_step(self) -> StepStanding | None:
        """The step that is next."""
        return next((step for step in self.steps if step.id == self.current), None)


def lines_of(sequence: AdjustmentSequence, plan: Sequence[PlanRow]) -> tuple[PlanRow, ...]:
    """The lines that a sequence adds to a slip: a point that the plan wants too is the plan's own line."""
    rows = [row for step in sequence.steps for row in step.rows(sequence.id)]
    return tuple(row for row in rows if _in_the_plan(row, plan) is None)


def with_the_step(
    standing: SetUpStanding | None, rows: Iterable[PlanRow], open_now: Sequence[OpenLine]
) -> tuple[OpenLine, ...]:
    """The open lines with that of the step that is next before them, as what it asks for."""
    step = standing.next_step if standing is not None else None
    row = next((row for row in rows if step is not None and row.id == step.row), None)
    if row is None or step is None:
        return tuple(open_now)
    asked = row.model_copy(update={"ask": step.asks, "caution": step.mind or row.caution})
    return (OpenLine(row=asked, phase="in_work"), *(line for line in open_now if line.row.id != row.id))


def set_up(begun: Begun, facts: Sequence[ReadingFact], turns: Sequence[Turn], plan: Sequence[PlanRow]) -> SetUpStanding:
    """How a sequence stands by what was read and turned since it was begun."""
    steps = {step.id: _followed(step, begun, facts, plan) for step in begun.sequence.steps}
    since: list[Turn | ReadingFact] = [t for t in turns if t.order > begun.order]
    since += [f for f in facts if f.order > begun.order and f.value is not None]
    for event in sorted(since, key=lambda e: (e.order, isinstance(e, ReadingFact))):
        _go_on(steps, event)
    standings = tuple(one.standing() for one in steps.values())
    return SetUpStanding(
        id=begun.sequence.id,
        title=begun.sequence.title,
        source=begun.sequence.source,
        steps=standings,
        current=_current(steps),
        says=_in_all(standings),
    )


def area_turned_at(standing: SetUpStanding | None, adjuster: str | None) -> str | None:
    """What an adjuster can change that nobody said an area of: that of the step that is next, where it may be of it."""
    step = standing.next_step if standing is not None else None
    if step is None or not adjuster:
        return None
    return step.area if adjuster == step.adjuster or may_be_of(adjuster, step.adjuster) else None


def area_read_in(quantities: Sequence[str]) -> str | None:
    """What an adjuster can change of which nothing is known but what was read when it was left: None where that was of
    several areas, or of none."""
    areas = {area for name in quantities if (area := AREA_READ_IN.get(name)) is not None}
    return areas.pop() if len(areas) == 1 else None


def how_it_ended(standing: SetUpStanding) -> str:
    """What stands right, and what is neither as it was found nor as it should be; for the slip."""
    right = [s for s in standing.steps if s.state == "in"]
    neither = [f"{s.adjuster}{f' (found {s.found})' if s.found else ''}" for s in standing.steps if s.state in NEITHER]
    untouched = [s.adjuster for s in standing.steps if s.state == "open" and not s.figures]
    halfway = [s.adjuster for s in standing.steps if s.state == "open" and s.figures]
    parts = [f"{standing.title} ended: {len(right)} of {len(standing.steps)} stand right"]
    parts += [f"turned and not right: {', '.join(neither)}"] if neither else []
    parts += [f"not read at every point: {', '.join(halfway)}"] if halfway else []
    parts += [f"not looked at: {', '.join(untouched)}"] if untouched else []
    return "; ".join(parts)


def _current(steps: dict[str, FollowedStep]) -> str | None:
    return next((name for name, one in steps.items() if one.judged()[0] not in SETTLED), None)


def _go_on(steps: dict[str, FollowedStep], event: Turn | ReadingFact) -> None:
    touched = _turned(steps, event) if isinstance(event, Turn) else _read(steps, event)
    for one in touched:
        gained = one.has_moved()
        if gained or one.was_turned_about():
            for other in map(steps.__getitem__, one.step.upsets):
                # a pair is through once both were looked for twice, neither gained, and both read as they were left
                other.upset(one.step.adjuster, read_once_more=not (gained or other.gained or other.times < TWICE))
            one.settle(gained=gained)


def _turned(steps: dict[str, FollowedStep], turn: Turn) -> list[FollowedStep]:
    touched = [one for one in steps.values() if turn.is_of(one.step.adjuster)]
    if not touched and (current := _current(steps)) is not None:
        touched = [steps[current]] if may_be_of(turn.adjuster, steps[current].step.adjuster) else []
    for one in touched:
        one.turn(turn)
    return touched


def _read(steps: dict[str, FollowedStep], fact: ReadingFact) -> list[FollowedStep]:
    """A figure is of the step that is next, where it was read there; else of each that is read there."""
    for one in steps.values():
        one.measured_beside(fact)
    there = [one for one in steps.values() if one.is_read_at(fact)]
    waiting = [one for one in there if one.waits]
    current = [one for one in there if one.step.id == _current(steps)]
    touched = waiting or current or there
    for one in touched:
        one.read(fact)
    return touched


def _in_all(steps: Sequence[StepStanding]) -> str:
    right, left = sum(s.state == "in" for s in steps), sum(s.state == "left out" for s in steps)
    rest = f", {left} left out" if left else ""
    again = [s.adjuster for s in steps if s.state == "again"]
    if right + left == len(steps):
        return f"Through: {right} of {len(steps)} stand right{rest}."
    return f"{right} of {len(steps)} stand right{rest}." + (f" Again: {', '.join(again)}." if again else "")


def _followed(step: Step, begun: Begun, facts: Sequence[ReadingFact], plan: Sequence[PlanRow]) -> FollowedStep:
    lines = [_in_the_plan(row, plan) or row for row in step.rows(begun.sequence.id)]
    before = [f for f in facts if f.order <= begun.order and f.quantity == step.read and is_at(f, lines[0])]
    found = next((f.figure for f in reversed(before) if is_told_by_its_meter(f, step)), "")
    one = FollowedStep(step, lines, is_left_out=step.id in begun.left_out, found=found)
    for fact in before:
        one.measured_beside(fact)
    return one


def _in_the_plan(row: PlanRow, plan: Sequence[PlanRow]) -> PlanRow | None:
    return next((p for p in plan if all(getattr(p, name) == getattr(row, name) for name in OF_A_POINT)), None)
