"""What a hand in a hurry typed, as it was meant: a word with one slip of a finger in it, and words or figures that
stand against each other without a space ('plate520ma', 'platecurrent').

A word of the bench is looked for only where what was typed is no word at all: neither of the bench, nor of English, nor
a name of the unit that stands there. Where two words are as near, it stays as it was typed."""

import re
from collections.abc import Iterable
from functools import cache, lru_cache

from young_spark.core.entry.wording.tokens import UNITS
from young_spark.core.entry.wording.vocabulary import manner, vocabulary
from young_spark.core.ground import SHIPPED, Frozen, Spelling, load

SHORTEST_PART = 3  # letters of a word that stands against another
_UNIT = (
    r"(?:[kmµu]?[wva]|[km]?hz|ghz|%|dbm?|dbc|vpp|v?rms|ohms?|k?ohm|[unp]f|watts?|volts?|amps?|mins?|minutes|s(?:ec)?|"
    r"deg[cf]?|(?<=\d\d)[rkcpnu])(?![a-z\d])"
)
_UNITS_OF_TWO = r"(?:ohms?|[kmg]?hz|db[mc]?|vpp|[uµmk][vwa]|mins?)"
AGAINST_A_FIGURE = re.compile(
    rf"(?<![\w.'/-])(?P<word>[a-z]{{3,}})(?=(?P<figure>-?(?:\d+[.,]\d+|\.\d+|\d+(?= ?{_UNIT})|\d{{2,}}(?![\w.]))))",
    re.I,
)
AGAINST_A_UNIT = re.compile(rf"(?<=\d){_UNITS_OF_TWO}(?=\d|(?P<word>[a-z]{{3,}})(?![\w'-]))", re.I)
AGAINST_A_WORD = re.compile(r"(?<![\w'./&-])[A-Za-z]{6,}(?![\w'/&-]|\.\w)")
TOUCHING = re.compile(_UNIT, re.I)
LEADS_TO = frozenset({"gets", "found", "drops", "only", "right", "left", "about"})  # and what is behind it is a figure
NUMBERED = frozenset({"place", "item", "form"})  # what may have a number of its own: 'relay3', 'cell12'


class _WordsFile(Frozen):
    """A data file of words."""

    words: tuple[str, ...]


def as_meant(text: str, names: frozenset[str] = frozenset()) -> str:
    """A text without such slips; `names` are words in small letters that stand for something here and are none."""
    apart = AGAINST_A_UNIT.sub(_unit_apart, AGAINST_A_FIGURE.sub(_figure_apart, text))
    apart = AGAINST_A_WORD.sub(lambda found: found[0] if found[0].lower() in names else _words_apart(found[0]), apart)
    return spelling().mended(apart, names)


@cache
def spelling() -> Spelling:
    """The words of the bench: names of what is measured, where and how first, then all others."""
    facts = _words_of(phrase for phrase, (kind, _, _) in vocabulary().facts.items() if kind not in {"link", "word"})
    return Spelling(facts, words_of_the_bench() - facts, kept=other_words() | UNITS.keys())


@cache
def other_words() -> frozenset[str]:
    """Words that no slip made."""
    return frozenset(load(SHIPPED / "entry" / "other_words.toml", _WordsFile).words)


@cache
def no_points() -> frozenset[str]:
    """Words behind 'at' that name no point."""
    return frozenset(load(SHIPPED / "entry" / "no_points.toml", _WordsFile).words)


@cache
def words_of_the_bench() -> frozenset[str]:
    """Every word that some list has."""
    file = vocabulary().file
    story = (phrase for told in file.story for phrase in (*told.words, *told.begins, *told.ends, *told.not_))
    listed = (phrase for table in file.words.values() for phrase in table)
    own = load(SHIPPED / "entry" / "bench_words.toml", _WordsFile).words
    return _words_of((*vocabulary().facts, *story, *listed, *own))


def _words_of(phrases: Iterable[str]) -> frozenset[str]:
    words = (word for phrase in phrases for word in phrase.split(" "))
    return frozenset(word for word in words if word.isalpha() and len(word) >= SHORTEST_PART)


def _figure_apart(found: re.Match[str]) -> str:
    """A name ends where a broken figure begins; what has numbers of its own may have a whole one in it."""
    word, figure = found["word"].lower(), found["figure"]
    kind = vocabulary().facts.get(word, ("", "", ""))[0]
    measured = not figure.isdigit() or (len(figure) > 1 and TOUCHING.match(found.string, found.end("figure")))
    named = not measured and (kind in NUMBERED or not (kind or word in manner() or word in LEADS_TO))
    return found["word"] if named else f"{found['word']} "


def _unit_apart(found: re.Match[str]) -> str:
    word = found["word"]
    return found[0] if word is not None and word.lower() not in words_of_the_bench() else f"{found[0]} "


@lru_cache(maxsize=4096)
def _words_apart(typed: str) -> str:
    """Two words of the bench without their space, where it is none and can be cut in one way only."""
    word = typed.lower()
    if spelling().is_a_word(word) or spelling().nearest(word) != word:
        return typed
    cuts = range(SHORTEST_PART, len(word) - SHORTEST_PART + 1)
    both = [at for at in cuts if word[:at] in words_of_the_bench() and word[at:] in words_of_the_bench()]
    return f"{typed[: both[0]]} {typed[both[0] :]}" if len(both) == 1 else typed
