"""Words of every sentence that a finger mistyped: 'shuld be 13', 'repalced q9'. Names of quantities are mended where
they are looked up; a word that is known, or looks like none of these, stays as it was typed."""

import re
from functools import cache, lru_cache

from young_spark.core.entry.wording.slips import is_slip
from young_spark.core.entry.wording.vocabulary import vocabulary

MEANT = (
    "should", "replaced", "changed", "fitted", "cleaned", "soldered", "resoldered", "adjusted", "trimmed", "swapped",
    "measured", "expected", "steady", "before", "marked", "reads", "collector", "emitter", "driver", "regulator",
    "receiver", "transmit", "receive", "standby", "channel", "battery", "aerial", "antenna", "positive", "negative",
    "shorted", "leaky", "percent", "watts", "volts", "resistor", "capacitor", "transistor", "microphone", "speaker",
    "protection", "tripped", "distorted", "nothing", "voltage",
)  # fmt: skip
SHORTEST = 5  # letters
WORD = re.compile(r"(?<![\w'.-])[a-z]{5,}(?![\w'.-])")


CELSIUS = re.compile(r"(?<![\w.])(?<!to )(\d{2,3}(?:\.\d)?) (?:deg(?:rees)? ?)?c(?:elsius)?(?![\w.])")


def as_spelt(plain: str) -> str:
    """A folded text with such words as they are spelt, and degrees beside their figure."""
    plain = plain.replace(" @ ", " at ")
    return CELSIUS.sub(r"\1c", WORD.sub(lambda found: _meant(found[0]), plain))


@lru_cache(maxsize=2048)
def _meant(word: str) -> str:
    if word in _known():
        return word
    return next((meant for meant in MEANT if is_slip(word, meant, another_key=False)), word)


@cache
def _known() -> frozenset[str]:
    """Every word that some list has."""
    file = vocabulary().file
    story = (phrase for told in file.story for phrase in (*told.words, *told.begins, *told.ends, *told.not_))
    listed = (phrase for table in file.words.values() for phrase in table)
    return frozenset(word for phrase in (*vocabulary().facts, *story, *listed, *MEANT) for word in phrase.split(" "))
