"""Figures of the bench that a line of words keeps: it says so, since no sum and no table knows them."""

from young_spark.core.entry.facts import cut
from young_spark.core.entry.meaning import Guard, Understanding
from young_spark.core.entry.normal import as_signs
from young_spark.core.entry.then_read import RESISTOR
from young_spark.core.figure import format_value

WITH_FIGURES = {"note", "found", "did"}
OF_THE_BENCH = {"W", "%", "dBm", "dBc", "uV", "°C"}  # and printed on no part but a resistor
MOST_NAMED = 2


def saying_what_is_in_words(meant: Understanding, plain: str) -> Understanding:
    """'heats up, then folds to 28w' as a note, with the words that 28 W is in no sum; anything else as it was."""
    if meant.story is None or meant.meanings or meant.story.kind not in WITH_FIGURES or RESISTOR.search(plain):
        return meant
    figures = [f for f in cut(as_signs(plain)) if f.kind == "figure" and f.unit in OF_THE_BENCH]
    kept = [f.text if f.unit == "uV" else format_value(f.value, str(f.unit)) for f in figures]
    if not kept:
        return meant
    stand = "stands" if len(kept) == 1 else "stand"
    said = f"Kept as words: {' and '.join(kept[:MOST_NAMED])} {stand} in no table and no sum."
    return meant.model_copy(update={"guards": (*meant.guards, Guard(code="in_words", text=said))})
