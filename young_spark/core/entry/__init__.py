"""What a person types in the one field: what it means, or what is unclear."""

from young_spark.core.entry.fact import FigureRead
from young_spark.core.entry.figures import POWERS
from young_spark.core.entry.meaning import (
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
from young_spark.core.entry.own_words import OwnWords
from young_spark.core.entry.repairs import without_costs
from young_spark.core.entry.story_words import BOOKED, NOT_NOTED, area_turned, part_in, set_right
from young_spark.core.entry.tokens import UNITS, Unclear
from young_spark.core.entry.turned_series import figures_on_the_way, way_turned
from young_spark.core.entry.understanding import Meaning, Understanding, figure_words, understand
from young_spark.core.entry.verdicts import verdicts_of

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
    "figure_words",
    "figures_on_the_way",
    "part_in",
    "set_right",
    "understand",
    "verdicts_of",
    "way_turned",
    "without_costs",
]
