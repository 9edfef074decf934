"""A sequence that is learnt while it is first done: what was turned, in that order, with what was read at the end."""

import re
from collections.abc import Sequence

from young_spark.core.entry import StoryLine, way_turned
from young_spark.core.figure import quantity
from young_spark.core.gear import WHERE_READ, AdjustmentSequence, Aim, Least, Most, Step, StepPoint, To
from young_spark.core.job.plans import ReadingFact

AS_DONE = "as-done-here"
LONGEST_ADJUSTER = 60
LONGEST_ID = 24
MOST_STEPS = 60
SHARE = 0.05  # of a figure: as near as the next hand should come to it
NEAR = {"Hz": 100.0, "dB": 2.0, "dBc": 2.0, "dBm": 2.0}  # and of what is no share of itself
TO_THE_MOST = re.compile(r"\b(?:max|most|peak(?:ed)?|best|null(?:ed)?)\b", re.IGNORECASE)
TO_THE_LEAST = re.compile(r"\b(?:min|least|dip(?:ped)?|lowest)\b", re.IGNORECASE)

Turned = tuple[int, StoryLine]  # its place on the slip, and its words


def learnt(turned: Sequence[Turned], facts: Sequence[ReadingFact], job: int) -> AdjustmentSequence | None:
    """The sequence that a job's own adjustments make: each adjuster where it was turned first, with where it was left
    last; what was turned between two turns of one made it necessary, and upsets it. None where nothing was turned with
    a figure."""
    named = [(order, line) for order, line in turned if line.adjuster]
    steps: dict[str, Step] = {}
    went: list[str] = []
    for n, (order, line) in enumerate(named):
        until = named[n + 1][0] if n + 1 < len(named) else None
        read = _read_then(facts, order, until)
        step = _step(str(line.adjuster)[:LONGEST_ADJUSTER], line, read) if read is not None else None
        if step is None or (step.id not in steps and len(steps) >= MOST_STEPS):
            continue
        if step.id in steps:
            for name in went[len(went) - went[::-1].index(step.id) :]:
                steps[name] = _upsetting(steps[name], step.id)
        steps[step.id] = step.model_copy(update={"upsets": steps[step.id].upsets if step.id in steps else ()})
        went.append(step.id)
    if not steps:
        return None
    return AdjustmentSequence(
        id=AS_DONE, title="As it was set up here", source=f"this shop, job {job}", steps=tuple(steps.values())
    )


def _upsetting(step: Step, other: str) -> Step:
    return step if other in (*step.upsets, step.id) else step.model_copy(update={"upsets": (*step.upsets, other)})


def _read_then(facts: Sequence[ReadingFact], order: int, until: int | None) -> ReadingFact | None:
    """What was read when it was turned: on the line that says so, else before the next was turned."""
    there = [f for f in facts if f.value is not None and order <= f.order and (until is None or f.order < until)]
    own = [f for f in there if f.order == order]
    return next(iter(own or there), None)


def _step(name: str, line: StoryLine, read: ReadingFact) -> Step:
    at = StepPoint(**{field: getattr(read.conditions, field) for field in WHERE_READ})
    if at.channel is not None:
        at = at.model_copy(update={"frequency_hz": None})
    return Step(
        id=re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:LONGEST_ID] or "step",
        adjuster=name,
        read=read.quantity,
        at=(at,),
        aim=_aim(line.words, read),
    )


def _aim(words: str, read: ReadingFact) -> Aim:
    way = way_turned(words)
    unit, value = quantity(read.quantity).unit, read.value or 0.0
    if read.quantity == "frequency_error":
        return To(aim="to", value=0.0, allowed=NEAR[unit])
    if TO_THE_LEAST.search(words) or way == "least":
        return Least(aim="least")
    if TO_THE_MOST.search(words) or way == "most":
        return Most(aim="most")
    return To(aim="to", value=value, allowed=NEAR.get(unit, SHARE * abs(value)) or SHARE)
