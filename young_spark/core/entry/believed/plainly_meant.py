"""Whether the one sense that a text is offered in is all of it: every figure says by its unit or its name what it is,
stands in that sense, and no word beside them can change what it says. Such a sense is taken; words stay beside it."""

from collections.abc import Sequence

from young_spark.core.entry.believed.nothing_lost import lost, stands_where
from young_spark.core.entry.believed.surety import doubting
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Meaning

LEAST = 2  # figures: of a single one nothing beside it bears witness
# words that make of a reading what it was, should be, or is of
CHANGING = {
    "not", "no", "was", "were", "before", "after", "should", "if", "when", "until", "unless", "than", "claimed",
    "says", "said", "want", "wanted", "due", "limit", "drops", "falls", "fell", "dropped", "rises", "from", "to",
    "then", "used", "instead", "rated", "nominal", "spec", "max", "min", "or", "per", "each", "about", "between",
    "except", "but", "without", "with", "new", "old", "sister", "other", "good", "bad", "now", "only", "half",
    "first", "last", "same", "both", "again", "still", "input", "in", "off", "on",
}  # fmt: skip


def is_plainly_meant(plain: str, meaning: Meaning) -> bool:
    """Whether a folded text says this and nothing else."""
    facts = cut(plain)
    figures = [n for n, fact in enumerate(facts) if fact.kind == "figure"]
    words = {word for fact in facts if fact.kind not in {"figure", "where"} for word in fact.text.split()}
    if len(figures) < LEAST or words & (CHANGING | doubting()):
        return False
    said_only = _without_words(meaning)
    if lost(plain, said_only, None) or says_one_thing_twice(meaning):
        return False
    return all(_says_what_it_is(facts, n, meaning) for n in figures)


def _without_words(meaning: Meaning) -> Meaning:
    """A meaning without its remark: what stands there only is not understood."""
    bare = tuple(reading.model_copy(update={"remarks": ()}) for reading in meaning.readings)
    return meaning.model_copy(update={"remark": "", "readings": bare})


def says_one_thing_twice(meaning: Meaning) -> bool:
    """Whether two readings of one quantity stand at the same place."""
    there = [(r.quantity, meaning.conditions_of(n).model_dump_json()) for n, r in enumerate(meaning.readings)]
    return len(set(there)) < len(there)


def _says_what_it_is(facts: Sequence[Fact], n: int, meaning: Meaning) -> bool:
    """By its unit, by the name in front of it, or as where something was read."""
    if facts[n].unit is not None:
        return True
    led = next((m for m in reversed(range(n)) if facts[m].kind in {"figure", "quantity"}), None)
    if led is not None and facts[led].kind == "quantity" and not _names_the_one_before(facts, led):
        return True
    read = {abs(r.value) for r in meaning.readings if r.value is not None}
    return abs(facts[n].value) not in read and stands_where(facts[n], meaning)


def _names_the_one_before(facts: Sequence[Fact], n: int) -> bool:
    """'3.7w carrier ch 20 13.8': the name behind a figure in its unit that no other leads is of that figure."""
    behind = n > 0 and facts[n - 1].kind == "figure" and facts[n - 1].unit is not None
    return behind and not any(fact.kind == "quantity" for fact in facts[: n - 1])
