"""One text for all the ways to write it: one hand puts a colon, another an equals sign or 'reads', a third nothing at
all. None of these changes what is understood."""

from young_spark.core.entry.wording.idle_words import Spared, without_idle_words
from young_spark.core.entry.wording.plain_stops import with_plain_stops
from young_spark.core.entry.wording.plain_units import with_plain_units


def evened(text: str) -> Spared:
    """A text in plain units and stops, without its idle words."""
    return without_idle_words(with_plain_stops(with_plain_units(text.strip())))
