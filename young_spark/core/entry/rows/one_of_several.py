"""Which of several units alike a line begins with: 'nr 3 dev .6 should be 2.3', 'unit 2: 3.2w'. The first is the one on
the slip; readings of another stand apart, at an item of their own."""

import re

from young_spark.core.entry.facts.meaning import EntryContext, Meaning, Understanding
from young_spark.core.entry.facts.verdicts import verdicts_of
from young_spark.core.figure import Conditions

NUMBERED = r"(?:(?:nr\.?|unit|radio|rig|handset|portable) ?|# ?)[1-9]"
LED = re.compile(rf"^(?P<unit>{NUMBERED})(?![\w.])[:,]? (?P<read>\S.*)$")
ANOTHER = re.compile(rf"(?<![\w.]){NUMBERED}(?![\w.])")
FIRST = "1"


def of_one_of_several(plain: str) -> tuple[str, str] | None:
    """The number of the unit that a folded text begins with, and what it says of it; None where it begins otherwise,
    or is a row over several."""
    led = LED.match(plain)
    return None if led is None or ANOTHER.search(led["read"]) else (led["unit"][-1], led["read"])


def standing_apart(meant: Understanding, number: str, context: EntryContext) -> Understanding:
    """What was understood of one unit, each reading at it, and judged there."""
    if number == FIRST:
        return meant
    return meant.model_copy(update={"meanings": tuple(_at(meaning, number, context) for meaning in meant.meanings)})


def _at(meaning: Meaning, number: str, context: EntryContext) -> Meaning:
    each = tuple(_with(meaning.conditions_of(n), number) for n in range(len(meaning.readings)))
    verdicts = tuple(verdicts_of(r, at, context) for r, at in zip(meaning.readings, each, strict=True))
    return meaning.model_copy(
        update={"conditions": _with(meaning.conditions, number), "each": each, "verdicts": verdicts}
    )


def _with(conditions: Conditions, number: str) -> Conditions:
    """At the unit; what is beside one of its own ('battery') is told in full."""
    item = f"unit {number}" if conditions.item in {None, "microphone"} else f"{conditions.item} of unit {number}"
    return conditions.model_copy(update={"item": item})
