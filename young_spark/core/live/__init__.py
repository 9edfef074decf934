"""What instruments hand over by themselves: values, what is nothing, the carrier's set, keying, turning, watching."""

from young_spark.core.live.definition_file import (
    Ask,
    Definition,
    NotAFigure,
    TraceAsk,
    definitions,
    figures_of,
    not_overloaded,
    values_of,
)
from young_spark.core.live.drops import RING_S, Drop, Mark, Point, after_what, moments, summary
from young_spark.core.live.key_word import KeyDown, Keying, Seen, keying
from young_spark.core.live.taker import Capture, Captured, CarrierChanged, Event, Misplaced, Source, Unseen, Wanted
from young_spark.core.live.turning import Turning
from young_spark.core.live.values import (
    LIVE_QUANTITIES,
    QUIET_CREST,
    QUIET_DEPTH,
    SOURCES,
    LiveName,
    Steady,
    captured_text,
    is_loud,
    repeat_half_width,
    steadiness_words,
)
from young_spark.core.live.watch import Watch

__all__ = [
    "LIVE_QUANTITIES",
    "QUIET_CREST",
    "QUIET_DEPTH",
    "RING_S",
    "SOURCES",
    "Ask",
    "Capture",
    "Captured",
    "CarrierChanged",
    "Definition",
    "Drop",
    "Event",
    "KeyDown",
    "Keying",
    "LiveName",
    "Mark",
    "Misplaced",
    "NotAFigure",
    "Point",
    "Seen",
    "Source",
    "Steady",
    "TraceAsk",
    "Turning",
    "Unseen",
    "Wanted",
    "Watch",
    "after_what",
    "captured_text",
    "definitions",
    "figures_of",
    "is_loud",
    "keying",
    "moments",
    "not_overloaded",
    "repeat_half_width",
    "steadiness_words",
    "summary",
    "values_of",
]
