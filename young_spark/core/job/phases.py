"""Before and after, and where the work stands: both follow from what was done; nobody presses them.

As received is what was read before anything that it depends on was changed; as left is the newest that nothing has
made stale. One figure may be both: what nobody touched leaves as it came."""

from collections.abc import Sequence
from typing import Literal

from young_spark.core.figure import Conditions, Phase
from young_spark.core.gear import JobPart, PlanRow
from young_spark.core.job.change import Change, Dependencies

BY_HAND = ("repair", "adjustment")


def touched(changes: Sequence[Change]) -> bool:
    """Whether hands have repaired or turned anything yet."""
    return any(change.kind in BY_HAND for change in changes)


def phase_of(
    quantity_id: str,
    order: int,
    changes: Sequence[Change],
    depends: Dependencies,
    conditions: Conditions | None = None,
) -> Phase:
    """The phase of a figure at its place on the slip, read under these conditions."""
    before = (c for c in changes if c.order < order and c.kind in BY_HAND)
    return "as_left" if any(depends.moves(c, quantity_id, conditions) for c in before) else "as_received"


def wanted_phase(part: JobPart, changes: Sequence[Change]) -> Literal["as_received", "as_left"]:
    """Which figures are still to be taken: what hands have touched is proven, and received no more."""
    return "as_left" if touched(changes) or part in {"prove", "out"} else "as_received"


def part_of_reading(part: JobPart, row: PlanRow | None, conditions: Conditions, changes: Sequence[Change]) -> JobPart:
    """The part of the job that a figure belongs to, and that the work stands in after it."""
    inner = conditions.place is not None
    if touched(changes):
        return part if inner or row is None else "prove"
    if part == "in":
        return "in" if not inner and (row is None or row.first_power) else "find"
    return "find" if part == "fix" else part


MOVED_BY = {"did", "adjusted", "found", "stage"}  # kinds of words that move the work, whatever was read beside them


def part_of_words(part: JobPart, kind: str) -> JobPart:
    """The part of the job that a line of words belongs to, and that the work stands in after it."""
    if kind in {"did", "adjusted"}:
        return "fix"
    if kind in {"found", "stage"} and part in {"fix", "prove"}:
        return "find"  # faults come in twos and threes
    return "find" if kind == "stage" and part == "in" else part
