"""A line of several clauses, some of them readings and some words: '3.8w ch19, customer agreed to 80', 'found c41 dried
out; ch16 24w'. Both are filed: the clauses that are words for sure as such, the others as what they are together."""

import re
from dataclasses import dataclass

from young_spark.core.entry.believed.surety import MEASURED_IN, turning
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Ground
from young_spark.core.entry.facts.strangers import is_about_a_stranger
from young_spark.core.entry.lines.moved import moved
from young_spark.core.entry.lines.story_guess import guessed_kind, is_only_told
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.vocabulary import manner

BETWEEN = re.compile(r"(?P<stop>\s*;\s+|\.\s+(?=[a-z\d.+-])|\s+[-\u2013]\s+)|,\s+(?:and |but |then )?")
MOST_CLAUSES = 10
# what was done or turned changes what is read behind it, and was not done yet when what stands before it was read
CHANGING = {"did", "turned"}
# what goes on behind a comma: somebody's words, what is wished, what a part that is waited for is
GOING_ON = {"said", "wish", "wait", "arrived"}
# words of a clause that says how the figures before it were read, or what they should have been
LEANS = {"should", "was", "were", "before", "again", "still", "same", "now", "due", "spec", "limit", "not", "instead"}
LEANING = {"should", "supposed", "spec"}  # at the begin of a clause: of the figure before it
# before an aside that does so
LEADING = {"into", "in", "at", "with", "on", "after", "through", "using", "from", "by", "to", "within", "no", "without"}
OF_A_FIGURE = {"should be", "expected"}
OF_WORDS = {"word", "link", "item"}
OF_WHAT_WAS_SEEN = {*OF_WORDS, "place"}
NEAR = 2  # facts


@dataclass(frozen=True)
class Apart:
    """What of a text was read, and the words beside it; whether those are a line of words for sure."""

    read: str
    words: str
    sure: bool


@dataclass(frozen=True)
class _Clause:
    """A clause as it was typed, where it stands, and whether a stop parts it from the one before it."""

    text: str
    begin: int
    end: int
    stop: bool


def words_between(plain: str, ground: Ground) -> Apart | None:
    """What was read in a folded text apart from its words; None of a text that is one or the other throughout, or in
    which a clause leans on another. Where no clause is a line of words for sure, any words without a figure are one."""
    clauses = _clauses_of(plain)
    if not 1 < len(clauses) <= MOST_CLAUSES:
        return None
    return _apart(plain, clauses, ground, loosely=False) or _apart(plain, clauses, ground, loosely=True)


def _apart(plain: str, clauses: list[_Clause], ground: Ground, *, loosely: bool) -> Apart | None:
    told: list[bool] = []
    for clause in clauses:
        goes_on = bool(told) and told[-1] and not clause.stop and _goes_with_words(clause.text)
        opened = bool(told) and clause.stop and set(moved(cut(as_signs(clause.text)), ground)) == {"covers"}
        told.append(opened or goes_on or _is_told(clause.text, ground, leads=not told, loosely=loosely))
    if all(told) or not any(told) or _is_lost(clauses, told):
        return None
    read = _rest(plain, clauses, told)
    words = ", ".join(clause.text for clause, is_words in zip(clauses, told, strict=True) if is_words)
    return Apart(read, words, sure=not loosely) if _stands_alone(cut(as_signs(read))) else None


def _clauses_of(plain: str) -> list[_Clause]:
    clauses, begin, stop = [], 0, True
    for found in BETWEEN.finditer(plain):
        clauses.append(_Clause(plain[begin : found.start()], begin, found.start(), stop))
        begin, stop = found.end(), found["stop"] is not None
    end = len(plain.rstrip(" .;,"))
    return [*clauses, _Clause(plain[begin:end], begin, end, stop)] if begin < end else clauses


def _rest(plain: str, clauses: list[_Clause], told: list[bool]) -> str:
    """What is no words, as it was typed; what stood on both sides of words is parted by a stop."""
    runs: list[tuple[int, int]] = []
    for n, clause in enumerate(clauses):
        if told[n]:
            continue
        if runs and n > 0 and not told[n - 1]:
            runs[-1] = (runs[-1][0], clause.end)
        else:
            runs.append((clause.begin, clause.end))
    return "; ".join(plain[begin:end] for begin, end in runs)


def _is_lost(clauses: list[_Clause], told: list[bool]) -> bool:
    """Whether something would be taken for what it is not: read before a repair, said by somebody, or measured in words
    that only tell what was found."""
    kinds = [guessed_kind(as_signs(c.text)) if words else None for c, words in zip(clauses, told, strict=True)]
    measured = any(kind == "found" and _has_figures(c.text) for kind, c in zip(kinds, clauses, strict=True))
    going = False
    for clause, kind, words in zip(clauses, kinds, told, strict=True):
        going = (going and not clause.stop) or (words and kind in GOING_ON)
        if going and not words:
            return True  # 'he says it was fine, swr 2.8 at home': what is read behind such words and a comma is theirs
    return measured or not CHANGING.isdisjoint(kinds)


def _is_told(clause: str, ground: Ground, *, leads: bool, loosely: bool) -> bool:
    """Whether a clause is words by itself: a line of words; numbers of what no bench has, behind a reading; what was
    seen, without a figure, a quantity or a result."""
    plain = as_signs(clause)
    facts = cut(plain)
    if any(fact.kind == "figure" for fact in facts):
        return _is_told_with_numbers(plain, facts, leads=leads)
    if is_only_told(plain):
        return True
    if len(facts) == 1:  # an aside; 'into 3:1 for one min' says how what stands beside it was read
        words = facts[0].text.split() if facts[0].kind == "word" else []
        return len(words) > 1 and words[0] not in LEADING
    seen = guessed_kind(plain) is not None and all(fact.kind in OF_WHAT_WAS_SEEN for fact in facts)
    return seen or (loosely and not moved(facts, ground) and _are_words(facts))


def _is_told_with_numbers(plain: str, facts: tuple[Fact, ...], *, leads: bool) -> bool:
    if facts[0].text in LEANING or any(fact.text in OF_A_FIGURE for fact in facts):
        return False
    due = any(fact.text in turning() for fact in facts)
    return is_only_told(plain) or due or (not leads and (is_about_a_stranger(facts) or _counts(facts)))


def _are_words(facts: tuple[Fact, ...]) -> bool:
    """Whether words are a clause of their own, and none that says how the figures before it were read."""
    words = {word for fact in facts for word in fact.text.split()}
    own = len(words) > 1 and not words <= manner() and words.isdisjoint(LEANS)
    return own and all(fact.kind in OF_WORDS for fact in facts)


def _counts(facts: tuple[Fact, ...]) -> bool:
    """'happens every 7 min', 'left it running 3 h': whole numbers of times or of a time, among words."""
    numbers = [f for f in facts if f.kind == "figure"]
    whole = all(f.unit in {None, "s"} and not (f.decimals or f.signed) for f in numbers)
    return whole and _are_words(tuple(f for f in facts if f.kind != "figure" and f.of != "after_s"))


def _has_figures(clause: str) -> bool:
    """'found 3.8w': words that hold what was measured; only as words it would be lost."""
    return any(fact.kind == "figure" and fact.unit in MEASURED_IN for fact in cut(as_signs(clause)))


def _goes_with_words(clause: str) -> bool:
    """'parts arrived, 57.20 with postage': behind words, figures in no unit of the bench without a name or place."""
    facts = cut(as_signs(clause))
    bare = all(fact.unit not in MEASURED_IN for fact in facts if fact.kind == "figure")
    return bare and all(fact.kind in {*OF_WHAT_WAS_SEEN, "figure"} for fact in facts)


def _stands_alone(facts: tuple[Fact, ...]) -> bool:
    """Whether what was read says what it is of without the words: each bare figure is beside a name, a place or a
    figure with its unit."""
    if not any(fact.kind in {"figure", "result"} for fact in facts) or (len(facts) == 1 and facts[0].kind == "result"):
        return False  # 'fan kicks in at 45, ok'
    bare = [n for n, fact in enumerate(facts) if fact.kind == "figure" and fact.unit is None]
    return all(any(_tells(fact) for fact in facts[max(0, n - NEAR) : n + NEAR + 1]) for n in bare)


def _tells(fact: Fact) -> bool:
    return fact.kind in {"quantity", "where", "place"} or (fact.kind == "figure" and fact.unit is not None)
