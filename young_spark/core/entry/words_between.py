"""A line of several clauses, some of them readings and some words: '3.8w ch19, customer agreed to 80', 'found c41 dried
out; mod 85%'. Both are filed, each clause for what it is by itself."""

import re
from dataclasses import dataclass

from young_spark.core.entry.fact import Fact
from young_spark.core.entry.facts import cut
from young_spark.core.entry.frames import read
from young_spark.core.entry.moved import moved
from young_spark.core.entry.normal import as_signs
from young_spark.core.entry.said import Ground, Said
from young_spark.core.entry.story_guess import guessed_kind, is_only_told
from young_spark.core.entry.strangers import is_about_a_stranger
from young_spark.core.entry.surety import MEASURED_IN, turning
from young_spark.core.entry.vocabulary import manner

BETWEEN = re.compile(r"(?P<stop>\s*;\s+|\.\s+(?=[a-z\d.+-])|\s+[-\u2013]\s+)|,\s+(?:and |but |then )?")
MOST_CLAUSES = 8
# what was done or turned changes what is read behind it, and was not done yet when what stands before it was read
CHANGING = {"did", "turned"}
# what goes on behind a comma: somebody's words, what is wished, what a part that is waited for is
GOING_ON = {"said", "wish", "wait", "arrived"}
LEANING = {"should", "should be", "expected", "supposed", "spec"}  # of the figure before them
LEANS = {"should", "was", "were", "before", "again", "still", "same", "now", "due", "spec", "limit", "not", "instead"}


@dataclass(frozen=True)
class Apart:
    """The clauses of a text that were read, joined to one, and the words of the others."""

    read: str
    words: str


def words_between(plain: str, ground: Ground) -> Apart | None:
    """The readings of a folded text apart from its words; None of a text that is one or the other throughout, or in
    which a clause leans on another."""
    clauses, stops = _clauses_of(plain)
    if not 1 < len(clauses) <= MOST_CLAUSES:
        return None
    told = _each_told(clauses, stops, ground)
    if told is None or all(told) or not any(told) or _is_lost(clauses, told, stops):
        return None
    parts = list(zip(clauses, told, strict=True))
    if not any(words and _is_a_line(clause) for clause, words in parts):
        return None  # 'power 3.8w, customer happy': words that stay beside it
    return Apart(
        read=", ".join(clause for clause, words in parts if not words),
        words=", ".join(clause for clause, words in parts if words),
    )


def _each_told(clauses: list[str], stops: list[bool], ground: Ground) -> list[bool] | None:
    """Of each clause whether it is words; None where one of them is neither that nor a reading by itself."""
    told: list[bool] = []
    for clause, stop in zip(clauses, stops, strict=True):
        if not is_only_told(as_signs(clause)) and _is_read(as_signs(clause), ground):
            told.append(False)
        elif _is_told(clause, ground, leads=not told) or (told and told[-1] and not stop and _goes_with_words(clause)):
            told.append(True)
        else:
            return None
    return told


def _is_lost(clauses: list[str], told: list[bool], stops: list[bool]) -> bool:
    """Whether something of it would be taken for what it is not: read before a repair, said by somebody, or measured in
    words that only tell what was found."""
    kinds = [guessed_kind(as_signs(clause)) if words else None for clause, words in zip(clauses, told, strict=True)]
    measured = any(kind == "found" and _has_figures(clause) for kind, clause in zip(kinds, clauses, strict=True))
    return measured or not CHANGING.isdisjoint(kinds) or _goes_on(kinds, told, stops)


def _clauses_of(plain: str) -> tuple[list[str], list[bool]]:
    """The clauses, and whether a stop parts each of them from the one before it."""
    clauses, stops, begin = [], [True], 0
    for found in BETWEEN.finditer(plain):
        clauses.append(plain[begin : found.start()])
        stops.append(found["stop"] is not None)
        begin = found.end()
    return [*clauses, plain[begin:].rstrip(" .;,")], stops


def _goes_on(kinds: list[str | None], told: list[bool], stops: list[bool]) -> bool:
    """'he says it was fine, swr 2.8 at home': what is read behind such words and a comma is theirs."""
    going = False
    for kind, words, stop in zip(kinds, told, stops, strict=True):
        going = (going and not stop) or (words and kind in GOING_ON)
        if going and not words:
            return True
    return False


def _is_told(clause: str, ground: Ground, *, leads: bool) -> bool:
    """Whether a clause is words by itself: a line of words, or one without a figure, quantity, result or place; behind
    a reading also numbers of what no bench has."""
    plain = as_signs(clause)
    facts = cut(plain)
    if any(fact.kind == "figure" for fact in facts):
        if {facts[0].text, facts[-1].text} & LEANING:
            return False
        due = any(fact.text in turning() for fact in facts)
        return is_only_told(plain) or due or (not leads and (is_about_a_stranger(facts) or _counts(facts)))
    return is_only_told(plain) or (not moved(facts, ground) and all(map(_says_nothing, facts)) and _speaks(facts))


def _counts(facts: tuple[Fact, ...]) -> bool:
    """'happens every 7 min', 'left it running 3 h': whole numbers of times or of a time, among words."""
    numbers = [f for f in facts if f.kind == "figure"]
    whole = all(f.unit in {None, "s"} and not (f.decimals or f.signed) for f in numbers)
    others = tuple(f for f in facts if f.kind != "figure")
    return whole and all(_says_nothing(f) or f.of == "after_s" for f in others) and _speaks(others)


def _is_a_line(clause: str) -> bool:
    """Whether words would be a line by themselves: they say what kind of one, or hold a number."""
    plain = as_signs(clause)
    return is_only_told(plain) or any(fact.kind == "figure" for fact in cut(plain))


def _has_figures(clause: str) -> bool:
    """'found 3.8w': words that hold what was measured; only as words it would be lost."""
    return any(fact.kind == "figure" and fact.unit in MEASURED_IN for fact in cut(as_signs(clause)))


def _goes_with_words(clause: str) -> bool:
    """'parts arrived, 57.20 with postage': figures behind words that are in no unit of the bench and have no name."""
    facts = cut(as_signs(clause))
    return not any(f.kind == "quantity" or (f.kind == "figure" and f.unit in MEASURED_IN) for f in facts)


def _says_nothing(fact: Fact) -> bool:
    return fact.kind in {"word", "link", "item"}


def _speaks(facts: tuple[Fact, ...]) -> bool:
    """Whether words are a clause of their own, and none that says how the figures before it were read."""
    words = {word for fact in facts for word in fact.text.split()}
    return len(words) > 1 and not words <= manner() and words.isdisjoint(LEANS)


def _is_read(clause: str, ground: Ground) -> bool:
    """Whether every figure of a clause says by itself what it is of."""
    breath = read(cut(clause), ground)
    said = [one for one in breath.said if not one.derived]
    plain = (manner() | MEASURED).issuperset(breath.remark.split())
    return breath.sure and plain and bool(said) and all(map(_in_full, said))


MEASURED = {"measured", "measures", "shows", "showed", "gives", "gave", "makes", "gets", "read", "have", "has"}


def _in_full(said: Said) -> bool:
    there = any(said.address.get(key) for key in ("place", "item", "function"))
    known = said.named or there or (said.in_its_unit and said.result is None)
    return known and not (said.leans or said.lent or said.as_wanted)
