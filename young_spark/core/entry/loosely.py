"""What a text may mean that nothing makes sure: senses to be offered as answers, and never taken without one."""

from collections.abc import Iterator
from dataclasses import replace

from young_spark.core.entry.facts import cut
from young_spark.core.entry.frames import read
from young_spark.core.entry.meaning import EntryContext
from young_spark.core.entry.said import Breath
from young_spark.core.entry.several import ground_of
from young_spark.core.entry.surety import is_possible

MOST_CLAUSES = 4


def loose_breaths(plain: str, context: EntryContext) -> Iterator[Breath]:
    """The breaths that a folded text may be: as a whole, clause by clause, and with what is not explained left in the
    remark. None of them holds a figure that cannot be."""
    whole = read(cut(plain), ground_of(context))
    ways = (whole, _by_clauses(plain, context), read(cut(plain), ground_of(context), loosely=True))
    for breath in ways:
        if breath is not None and breath.said and all(s.quantity and is_possible(s, context) for s in breath.said):
            yield breath


def _by_clauses(plain: str, context: EntryContext) -> Breath | None:
    """Each clause for itself, where more than one of them says something."""
    clauses = [c.strip() for c in plain.replace(";", ",").split(", ") if c.strip()]
    if not 1 < len(clauses) <= MOST_CLAUSES:
        return None
    told = [read(cut(clause), ground_of(context)) for clause in clauses]
    if sum(bool(t.said) for t in told) < 1:
        return None
    said = tuple(replace(s, inputs=()) for t in told for s in t.said if not s.derived)
    left = [t.remark if t.said else clause for t, clause in zip(told, clauses, strict=True)]
    return Breath(said, " ".join(words for words in left if words))
