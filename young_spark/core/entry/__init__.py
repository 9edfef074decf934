"""What a person types in the one field: what it means, or what is unclear."""

from young_spark.core.entry.figures import POWERS
from young_spark.core.entry.meaning import (
    OF_AN_AERIAL,
    Earlier,
    EntryContext,
    Expected,
    Guard,
    Point,
    Repeated,
    StoryLine,
)
from young_spark.core.entry.tokens import UNITS
from young_spark.core.entry.understanding import Meaning, Understanding, figure_words, understand

__all__ = [
    "OF_AN_AERIAL",
    "POWERS",
    "UNITS",
    "Earlier",
    "EntryContext",
    "Expected",
    "Guard",
    "Meaning",
    "Point",
    "Repeated",
    "StoryLine",
    "Understanding",
    "figure_words",
    "understand",
]
