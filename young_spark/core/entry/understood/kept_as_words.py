"""Figures of the bench that a line of words keeps: it says so, since no sum and no table knows them."""

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Guard, StoryLine, Understanding
from young_spark.core.entry.lines.repairs import cost_of
from young_spark.core.entry.understood.then_read import RESISTOR
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.figure import format_value

WITH_FIGURES = {"note", "found", "did", "adjusted"}
OF_A_DEED = {"did", "adjusted"}
OF_THE_BENCH = {"W", "%", "dBm", "dBc", "uV", "°C"}  # and printed on no part but a resistor
WITHOUT_UNIT = {"swr", "input_swr", "imd3", "imd5", "am_depth", "fm_deviation", "harmonic_2", "harmonic_3"}
MOST_NAMED = 2


def saying_what_is_in_words(meant: Understanding, plain: str) -> Understanding:
    """'heats up, then folds to 28w' as a note, with the words that 28 W is in no sum; anything else as it was."""
    if meant.story is None or meant.meanings or meant.story.kind not in WITH_FIGURES or RESISTOR.search(plain):
        return meant
    facts = cut(as_signs(plain))
    kept = [said for n, fact in enumerate(facts) if fact.kind == "figure" and (said := _said(facts, n, meant.story))]
    if not kept:
        return meant
    stand = "stands" if len(kept) == 1 else "stand"
    said = f"Kept as words: {' and '.join(kept[:MOST_NAMED])} {stand} in no table and no sum."
    return meant.model_copy(update={"guards": (*meant.guards, Guard(code="in_words", text=said))})


def _said(facts: tuple[Fact, ...], n: int, story: StoryLine) -> str:
    """A figure in a unit of the bench, directly behind the name of what was read without one, or left over beside what
    was done; else nothing."""
    fact, name = facts[n], facts[n - 1] if n else None
    if _is_told_otherwise(fact, story):
        return ""
    if fact.unit in OF_THE_BENCH:
        return fact.text if fact.unit == "uV" else format_value(fact.value, str(fact.unit))
    if story.kind in OF_A_DEED and (fact.signed or fact.unit == "Hz" or (fact.unit is None and fact.decimals)):
        return fact.text  # 'transistor replaced .2', 'reference trimmed ch16 +40': what was read then, as it seems
    named = name is not None and name.kind == "quantity" and name.of in WITHOUT_UNIT and fact.unit in {None, "k"}
    return f"{name.text} {fact.text}" if named and name is not None else ""


def _is_told_otherwise(fact: Fact, story: StoryLine) -> bool:
    """Whether a figure is of the part, of its knob, or what it cost."""
    fields = (story.part_out, story.part_in, story.value_found, story.value_left)
    words = " ".join(filter(None, fields)).lower().split()
    return fact.text.lower() in words or (story.cost is not None and cost_of(fact.text) == story.cost)
