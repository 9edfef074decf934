"""'now 3.7w' behind what was done: the same once more, where it was read last, whatever line the plan wants next. Else
a fault would be found on one channel and mended on another."""

import re
from collections.abc import Callable

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.meaning import Earlier, EntryContext, Meaning, Understanding
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.tokens import folded
from young_spark.core.figure import quantity

_NOW = re.compile(r"(?:^|, |; )(?:and |so |it'?s |it is )?now\b|\bnow(?=$|,)|\bnow (?=[-+.\d])")
_SAYS_WHERE = {"channel", "frequency_hz", "band", "place", "item"}
_OF_A_POINT = ("channel", "frequency_hz", "power_setting")


Reader = Callable[[str, EntryContext], Understanding]


def read_now_where_it_was(text: str, meant: Understanding, context: EntryContext, read: Reader) -> Understanding:
    """What a text says now at the point that its quantity was read at last; as it was understood where the text
    says another point, where a hand set one, or where no such figure stands."""
    if meant.question is not None and (once_more := _said_in_full(folded(text), context)) is not None:
        named = read(once_more, context)
        meant = named if named.chosen is not None and named.story is None else meant
        text = f"now {once_more}"
    plain = folded(text)
    if meant.chosen is None or meant.sets or not _NOW.search(plain) or _says_where(plain):
        return meant
    taken = meant.meanings[meant.chosen]
    last = _last_of_all(taken, context)
    if last is None:
        return meant
    at = {name: getattr(last.conditions, name) for name in _OF_A_POINT if name not in context.set_by_hand}
    if all(getattr(taken.conditions_of(n), name) == at[name] for name in at for n in range(len(taken.readings))):
        return meant
    there = context.conditions.model_copy(update=at)
    again = read(text, context.model_copy(update={"conditions": there, "lent": ()}))
    return again if _is_the_same(again, taken) else meant


_BARE = re.compile(r"(?:and |so )?(?:it'?s |it is )?now (?P<figure>[-+]?\d*\.?\d+)")
_MOST_TIMES = 5.0  # what was read just before


def _said_in_full(plain: str, context: EntryContext) -> str | None:
    """'swr 1.1' of 'now 1.1' behind an SWR of 1.3: what the newest line read, by a figure of its size."""
    found = _BARE.fullmatch(plain)
    last = context.earlier[-1] if context.earlier and context.newest_words is None else None
    if found is None or last is None or last.conditions.place or last.conditions.item not in {None, "aerial"}:
        return None
    near = last.value != 0 and 1 / _MOST_TIMES < float(found["figure"]) / last.value < _MOST_TIMES
    item = "aerial " if last.conditions.item else ""
    return f"{item}{quantity(last.quantity).name.lower()} {found['figure']}" if near else None


def _says_where(plain: str) -> bool:
    return any(fact.kind in {"where", "place", "item"} or fact.of in _SAYS_WHERE for fact in cut(as_signs(plain)))


def _last_of_all(taken: Meaning, context: EntryContext) -> Earlier | None:
    """What was read last of the quantity, where all figures are of one that was read before."""
    names = {reading.quantity for reading in taken.readings}
    last = context.last(next(iter(names))) if len(names) == 1 else None
    inside = last is not None and (last.conditions.place or last.conditions.item)
    return None if inside else last


def _is_the_same(again: Understanding, taken: Meaning) -> bool:
    if again.chosen is None:
        return False
    read = again.meanings[again.chosen].readings
    return [(r.quantity, r.value) for r in read] == [(r.quantity, r.value) for r in taken.readings]
