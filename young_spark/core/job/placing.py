"""Which line of the plan a text answers: the current one, or the first open one of its own kind."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from young_spark.core.entry import EntryContext, Understanding, understand
from young_spark.core.figure import Conditions
from young_spark.core.gear import PlanRow
from young_spark.core.job.plans import OpenLine


@dataclass(frozen=True)
class Placed:
    """What a text means, the open line it answers, and the conditions it is taken under."""

    meant: Understanding
    row: PlanRow | None
    conditions: Conditions


def placed(
    text: str,
    conditions: Conditions,
    current: PlanRow | None,
    open_lines: Sequence[OpenLine],
    context_of: Callable[[Conditions, PlanRow | None], EntryContext],
) -> Placed:
    """What a text would be on a slip. A figure of another kind than the current line wants answers the first open
    line of its own kind, under that line's conditions: hands do not always follow the order of the plan."""
    meant = understand(text, context_of(conditions, current))
    if _answers(meant, current) or meant.chosen is None:
        return Placed(meant, current, conditions)
    base = current.left_behind(conditions) if current else conditions
    for line in open_lines:
        if line.row.quantity not in {r.quantity for r in meant.meanings[meant.chosen].readings}:
            continue
        there = line.row.conditions(base)
        again = understand(text, context_of(there, line.row))
        if _answers(again, line.row):
            return Placed(again, line.row, there)
    return Placed(meant, current, conditions)


def _answers(meant: Understanding, row: PlanRow | None) -> bool:
    """Whether the chosen sense gives what the row wants, in the state of the supply that it wants."""
    if row is None or meant.chosen is None:
        return False
    meaning = meant.meanings[meant.chosen]
    return row.quantity in {r.quantity for r in meaning.readings} and row.state in {None, meaning.conditions.state}
