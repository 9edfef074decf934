"""A repair as it goes: its plan, what makes a proof stale, its history, where a record belongs, the owner's report."""

from young_spark.core.job import phases, placing, plans, story
from young_spark.core.job.change import Change, dependencies
from young_spark.core.job.check_in import CheckIn, check_in
from young_spark.core.job.compared import Comparison, compare, what_was_not_measured
from young_spark.core.job.costs import Cost, costs, spent
from young_spark.core.job.followed_step import StepStanding, Turn, aim_words
from young_spark.core.job.history import Ghost, ghost, minutes_by_part
from young_spark.core.job.in_words import words_apart
from young_spark.core.job.keeping import as_model
from young_spark.core.job.learning import learnt
from young_spark.core.job.placing import Placed, Spoken, is_said_in
from young_spark.core.job.plans import (
    OpenLine,
    ReadingFact,
    adjustment_warning,
    as_left,
    as_received,
    due_of,
    not_as_it_leaves,
    open_lines,
    row_label,
    why_not_left,
)
from young_spark.core.job.setting_up import (
    Begun,
    SetUpStanding,
    area_read_in,
    area_turned_at,
    how_it_ended,
    lines_of,
    set_up,
    with_the_step,
)
from young_spark.core.job.settling import Pending, still_pending
from young_spark.core.job.side_by_side import (
    Beside,
    SideBySide,
    as_first_read,
    as_read_last,
    of_healthy_ones,
    of_other_boxes,
    of_the_unit,
    side_by_side,
)
from young_spark.core.job.tables import Table, as_printed, tables
from young_spark.core.job.touched_before import area_from_before

__all__ = [
    "Begun",
    "Beside",
    "Change",
    "CheckIn",
    "Comparison",
    "Cost",
    "Ghost",
    "OpenLine",
    "Pending",
    "Placed",
    "ReadingFact",
    "SetUpStanding",
    "SideBySide",
    "Spoken",
    "StepStanding",
    "Table",
    "Turn",
    "adjustment_warning",
    "aim_words",
    "area_from_before",
    "area_read_in",
    "area_turned_at",
    "as_first_read",
    "as_left",
    "as_model",
    "as_printed",
    "as_read_last",
    "as_received",
    "check_in",
    "compare",
    "costs",
    "dependencies",
    "due_of",
    "ghost",
    "how_it_ended",
    "is_said_in",
    "learnt",
    "lines_of",
    "minutes_by_part",
    "not_as_it_leaves",
    "of_healthy_ones",
    "of_other_boxes",
    "of_the_unit",
    "open_lines",
    "phases",
    "placing",
    "plans",
    "row_label",
    "set_up",
    "side_by_side",
    "spent",
    "still_pending",
    "story",
    "tables",
    "what_was_not_measured",
    "why_not_left",
    "with_the_step",
    "words_apart",
]
