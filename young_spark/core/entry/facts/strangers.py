"""Bare numbers beside words that no bench has: 'insurance claim 419', 'helper did 2 hours'. They were not measured."""

import difflib
from collections.abc import Sequence
from functools import cache

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.wording.vocabulary import manner, vocabulary

SHORTEST_NOUN = 5  # letters; a shorter one may be anything
NEAR = 0.75  # of a word that was meant and mistyped
OF_NOTHING = {"word", "figure", "link"}


def is_about_a_stranger(facts: Sequence[Fact]) -> bool:
    """Whether every figure is a bare whole number, nothing says a quantity or a place, and of several words that lead
    one is none that was mistyped: 'lovely 92' may be a reading, and is asked about."""
    figures = [fact for fact in facts if fact.kind == "figure"]
    counts = bool(figures) and all(f.unit is None and not (f.signed or f.decimals) for f in figures)
    if not counts or any(fact.kind not in OF_NOTHING for fact in facts):
        return False
    words = [fact.text for fact in facts if fact.kind == "word"]
    return len(words) > 1 and facts[0].kind == "word" and any(map(_is_a_stranger, words))


@cache
def _known() -> tuple[str, ...]:
    words = {word for phrase in vocabulary().facts for word in phrase.split()} | set(manner())
    return tuple(sorted(word for word in words if word.isalpha()))


def _is_a_stranger(word: str) -> bool:
    known = not word.isalpha() or len(word) < SHORTEST_NOUN or word in _known()
    return not known and not difflib.get_close_matches(word, _known(), n=1, cutoff=NEAR)
