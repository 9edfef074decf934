"""What a text may mean that nothing makes sure: senses to be offered as answers, and never taken without one."""

import re
from collections.abc import Iterator
from dataclasses import replace

from young_spark.core.entry.believed.misread import is_misread
from young_spark.core.entry.believed.stolen_labels import has_a_stolen_label
from young_spark.core.entry.believed.surety import is_possible, tells_apart, turns
from young_spark.core.entry.believed.usual import OUT_OF_RANGE as UNUSUAL
from young_spark.core.entry.believed.usual import how_far
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.entry.facts.said import Breath
from young_spark.core.entry.frames.together import read
from young_spark.core.entry.understood.several import ground_of
from young_spark.core.entry.wording.changes import FALLS, RISES

MOST_CLAUSES = 4
FELL = re.compile(rf"\b(?:{'|'.join((*FALLS, *RISES))}|goes|down|up) ?(?:to|from)?\b|->| at [\d.]+ ?w")


def loose_breaths(plain: str, context: EntryContext) -> Iterator[Breath]:
    """The breaths that a folded text may be: as a whole, clause by clause, and with what is not explained left in the
    remark. None of them holds a figure that cannot be."""
    ways = (_whole, _by_clauses, _with_a_rest)
    offered = (breath for way in ways if (breath := way(plain, context)) is not None)
    return (b for b in offered if b.said and _may_be_offered(b, plain, context))


def _whole(plain: str, context: EntryContext) -> Breath | None:
    return read(cut(plain), ground_of(context))


def _with_a_rest(plain: str, context: EntryContext) -> Breath | None:
    return read(cut(plain), ground_of(context), loosely=True)


def _may_be_offered(breath: Breath, plain: str, context: EntryContext) -> bool:
    """Whether each figure can be, was read, and stands where no other of the breath does unless it fell to it."""
    if not all(s.quantity and is_possible(s, context) for s in breath.said):
        return False
    if turns(breath) or is_misread(breath, plain) or has_a_stolen_label(breath, cut(plain)):
        return False
    return tells_apart(breath) or bool(FELL.search(plain)) or _is_of_one_name(breath, context)


def _is_of_one_name(breath: Breath, context: EntryContext) -> bool:
    """'eht 2300 2050', 'idles 500 505 500 510': the same again and again, which a hand may want as it stands."""
    said = [s for s in breath.said if not s.derived]
    named = {s.quantity for s in said if s.named}
    usual = all(how_far(s, context) < UNUSUAL for s in said)
    return breath.sure and len(said) <= MOST_AGAIN and usual and all(s.quantity in named for s in said)


MOST_AGAIN = 6  # figures


def _by_clauses(plain: str, context: EntryContext) -> Breath | None:
    """Each clause for itself, where more than one of them says something."""
    clauses = [c.strip() for c in plain.replace(";", ",").split(", ") if c.strip()]
    if not 1 < len(clauses) <= MOST_CLAUSES:
        return None
    told = []
    for clause in clauses:
        told.append(read(cut(clause), ground_of(context)))
        context = _where_it_says(told[-1], context)
    if sum(bool(t.said) for t in told) < 1:
        return None
    said = tuple(replace(s, inputs=()) for t in told for s in t.said if not s.derived)
    left = [t.remark if t.said else clause for t, clause in zip(told, clauses, strict=True)]
    return Breath(said, " ".join(words for words in left if words))


def _where_it_says(told: Breath, context: EntryContext) -> EntryContext:
    """The context with the hand where a clause says that it stands: in one breath it is still there."""
    there = next((s.address for s in reversed(told.said) if not s.where_added and not s.derived), None)
    keys: tuple[str, ...] = () if there is None else ("channel", "frequency_hz")
    said = {key: there[key] for key in keys if there is not None and key in there}
    if not said:
        return context
    moved: dict[str, object] = {"channel": None, "frequency_hz": None, "band": None, **said}
    return context.model_copy(update={"conditions": context.conditions.model_copy(update=moved)})
