"""A repair as it goes: its plan, what makes a proof stale, its history, where a record belongs, the owner's report."""

from young_spark.core.job import placing, plans, story
from young_spark.core.job.history import Ghost, ghost, minutes_by_part
from young_spark.core.job.placing import Placed
from young_spark.core.job.plans import (
    OpenLine,
    ReadingFact,
    adjustment_warning,
    dependencies,
    due_of,
    not_as_it_leaves,
    open_lines,
    row_label,
)

__all__ = [
    "Ghost",
    "OpenLine",
    "Placed",
    "ReadingFact",
    "adjustment_warning",
    "dependencies",
    "due_of",
    "ghost",
    "minutes_by_part",
    "not_as_it_leaves",
    "open_lines",
    "placing",
    "plans",
    "row_label",
    "story",
]
