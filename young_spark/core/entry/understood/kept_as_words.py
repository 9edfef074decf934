"""Figures of the bench that a line of words keeps: it says so, since no sum and no table knows them."""

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Guard, Understanding
from young_spark.core.entry.understood.then_read import RESISTOR
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.figure import format_value

WITH_FIGURES = {"note", "found", "did"}
OF_THE_BENCH = {"W", "%", "dBm", "dBc", "uV", "°C"}  # and printed on no part but a resistor
WITHOUT_UNIT = {"swr", "input_swr", "imd3", "imd5", "am_depth", "fm_deviation", "harmonic_2", "harmonic_3"}
MOST_NAMED = 2


def saying_what_is_in_words(meant: Understanding, plain: str) -> Understanding:
    """'heats up, then folds to 28w' as a note, with the words that 28 W is in no sum; anything else as it was."""
    if meant.story is None or meant.meanings or meant.story.kind not in WITH_FIGURES or RESISTOR.search(plain):
        return meant
    facts = cut(as_signs(plain))
    kept = [said for n, fact in enumerate(facts) if fact.kind == "figure" and (said := _said(facts, n))]
    if not kept:
        return meant
    stand = "stands" if len(kept) == 1 else "stand"
    said = f"Kept as words: {' and '.join(kept[:MOST_NAMED])} {stand} in no table and no sum."
    return meant.model_copy(update={"guards": (*meant.guards, Guard(code="in_words", text=said))})


def _said(facts: tuple[Fact, ...], n: int) -> str:
    """A figure in a unit of the bench, or directly behind the name of what was read without one; else nothing."""
    fact, name = facts[n], facts[n - 1] if n else None
    if fact.unit in OF_THE_BENCH:
        return fact.text if fact.unit == "uV" else format_value(fact.value, str(fact.unit))
    named = name is not None and name.kind == "quantity" and name.of in WITHOUT_UNIT and fact.unit is None
    return f"{name.text} {fact.text}" if named and name is not None else ""
