"""Whether a word that says where or how one figure was read went to another: 'tx 620ma rx 75ma lamp 25' with the lamp
at the 75 mA, or 'am 2.6, rx .5' with the receiver at the 2.6. Whichever frame did that, it is not sure."""

import re
from collections.abc import Collection, Iterator, Mapping, Sequence
from itertools import accumulate, pairwise

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Breath, Said

LABELS = {"place", "item", "how", "where", "side"}
LEADING, TRAILING = re.compile(r"(?:LF){2,}"), re.compile(r"(?:FL){3,}")
TRAILING_WORDS = re.compile(r"(?:at|in|on|off|to|with|after) ")  # of labels that stand behind their figure by nature


def has_a_stolen_label(breath: Breath, facts: Sequence[Fact]) -> bool:
    """Whether a label stands at a figure of another clause, or of another place in a row of labels and figures, and at
    none of its own."""
    read = _read_at(breath, facts)
    if len(read) < 2:
        return False
    if _lies_between_two(read, facts):
        return True
    labels = [n for n, fact in enumerate(facts) if fact.kind in LABELS and _is_once(fact, facts)]
    return any(
        not any(_has(read[m], facts[n]) for m in own) and any(_has(read[m], facts[n]) for m in read if m not in own)
        for n, own in _figures_of(labels, read, facts)
    )


def _lies_between_two(read: Mapping[int, Said], facts: Sequence[Fact]) -> bool:
    """'5.1w uhf 4.2': one label between two figures of one quantity, and no word besides: it may be of either."""
    if len(facts) != 3 or sorted(read) != [0, 2] or facts[1].kind not in LABELS or facts[2].fresh:
        return False
    before, behind = read[0], read[2]
    return before.quantity == behind.quantity and _has(before, facts[1]) != _has(behind, facts[1])


def _read_at(breath: Breath, facts: Sequence[Fact]) -> dict[int, Said]:
    """The readings by where their figures stand; empty where that is not known of each."""
    said = [one for one in breath.said if not one.derived]
    known = {one.at: one for one in said if 0 <= one.at < len(facts) and facts[one.at].kind == "figure"}
    return known if len(known) == len(said) else {}


def _figures_of(
    labels: Sequence[int], read: Mapping[int, Said], facts: Sequence[Fact]
) -> Iterator[tuple[int, frozenset[int]]]:
    """Each label with the figures that it can belong to: those of its clause on either side, and the one that it leads
    in a row."""
    clauses = list(accumulate(int(fact.fresh) for fact in facts))
    row = [n for n, fact in enumerate(facts) if n in read or fact.kind in LABELS]
    step = _step(row, read, facts)
    for n in labels:
        inside = frozenset(m for m in read if clauses[m] == clauses[n])
        of_its_clause = _beside(n, inside) if _takes_turns(n, labels, read, facts) else inside
        if of_its_clause and not _trails_all(facts[n]) and facts[n - 1].of != "to":
            yield n, of_its_clause
            if step:
                yield n, frozenset({row[row.index(n) + step]})


def _step(row: Sequence[int], read: Mapping[int, Said], facts: Sequence[Fact]) -> int:
    """From a label to its figure in a row where they take turns: 1 where each leads, -1 where each trails, else 0."""
    shape = "".join("F" if n in read else "L" for n in row)
    if LEADING.fullmatch(shape):
        return 1
    if row and _trails_all(facts[row[-1]]):  # '1.25a am 1.2 fm 0.3 rx at 13.6'
        row, shape = row[:-1], shape[:-1]
    states = all(n in read or facts[n].of in {"mode", "state", "side", "setting_word"} for n in row)
    return -1 if states and TRAILING.fullmatch(shape) else 0


def _trails_all(label: Fact) -> bool:
    return TRAILING_WORDS.match(label.text) is not None


def _beside(n: int, figures: Collection[int]) -> frozenset[int]:
    """The nearest figures on either side."""
    before, behind = [m for m in figures if m < n], [m for m in figures if m > n]
    return frozenset((*before[-1:], *behind[:1]))


def _takes_turns(n: int, labels: Sequence[int], read: Mapping[int, Said], facts: Sequence[Fact]) -> bool:
    """Whether labels of one kind stand apart, with figures between them: no list of labels behind one of figures."""
    alike = [m for m in labels if _key(facts[m]) == _key(facts[n])]
    return len(alike) > 1 and all(any(a < m < b for m in read) for a, b in pairwise(alike))


def _key(label: Fact) -> str:
    return "side" if label.of == "setting_word" else label.of


def _is_once(label: Fact, facts: Sequence[Fact]) -> bool:
    return sum(fact.kind in LABELS and str(fact.is_) == str(label.is_) for fact in facts) == 1


def _has(said: Said, label: Fact) -> bool:
    """Whether a reading stands where a label says."""
    there = {str(value) for value in said.address.values()}
    if label.kind in {"place", "item"}:
        return any(str(label.is_).lower() in value.lower() for value in there if label.is_)
    return str(label.is_) in there or (isinstance(label.is_, float) and f"{label.is_:g}" in there)
