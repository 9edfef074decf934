"""What a person types in the one field: what it means, or what is unclear."""

from young_spark.core.entry.facts.fact import FigureRead
from young_spark.core.entry.facts.meaning import (
    OF_AN_AERIAL,
    Earlier,
    EntryContext,
    Expected,
    Guard,
    Point,
    Repeated,
    SetUpAct,
    StoryKind,
    StoryLine,
)
from young_spark.core.entry.facts.verdicts import verdicts_of
from young_spark.core.entry.lines.repairs import without_costs
from young_spark.core.entry.lines.story_words import BOOKED, NOT_NOTED, area_turned, part_in, set_right
from young_spark.core.entry.lines.turned_series import figures_on_the_way, way_turned
from young_spark.core.entry.sums.figures import POWERS
from young_spark.core.entry.understood.understanding import Meaning, Understanding, figure_words, understand
from young_spark.core.entry.wording.mistyped import as_meant, words_of_the_bench
from young_spark.core.entry.wording.own_words import OwnWords
from young_spark.core.entry.wording.tokens import UNITS, Unclear

__all__ = [
    "BOOKED",
    "NOT_NOTED",
    "OF_AN_AERIAL",
    "POWERS",
    "UNITS",
    "Earlier",
    "EntryContext",
    "Expected",
    "FigureRead",
    "Guard",
    "Meaning",
    "OwnWords",
    "Point",
    "Repeated",
    "SetUpAct",
    "StoryKind",
    "StoryLine",
    "Unclear",
    "Understanding",
    "area_turned",
    "as_meant",
    "figure_words",
    "figures_on_the_way",
    "part_in",
    "set_right",
    "understand",
    "verdicts_of",
    "way_turned",
    "without_costs",
    "words_of_the_bench",
]
