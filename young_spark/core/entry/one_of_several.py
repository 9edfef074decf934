"""Which of several units alike a line is of: 'nr 3 dev .6 should be 2.3', 'unit 2: 3.2w'. Its readings stand apart from
those of the others."""

import re

from young_spark.core.entry.meaning import Meaning, Understanding
from young_spark.core.figure import Conditions

NUMBERED = r"(?:nr|unit|handset|portable|#) ?\d{1,2}"
LED = re.compile(rf"^(?P<unit>{NUMBERED})(?![\w.])[:,]? (?P<read>\S.*)$")
ANOTHER = re.compile(rf"(?<![\w.]){NUMBERED}(?![\w.])")


def of_one_of_several(plain: str) -> tuple[str, str] | None:
    """The unit that a folded text begins with, and what it says of it; None where it begins otherwise, or is a row
    over several."""
    led = LED.match(plain)
    return None if led is None or ANOTHER.search(led["read"]) else (led["unit"], led["read"])


def standing_apart(meant: Understanding, unit: str) -> Understanding:
    """What was understood of one unit, each reading at it."""
    return meant.model_copy(update={"meanings": tuple(_at(meaning, unit) for meaning in meant.meanings)})


def _at(meaning: Meaning, unit: str) -> Meaning:
    each = tuple(_with(meaning.conditions_of(n), unit) for n in range(len(meaning.readings)))
    return meaning.model_copy(update={"conditions": _with(meaning.conditions, unit), "each": each})


def _with(conditions: Conditions, unit: str) -> Conditions:
    told = unit if conditions.setting is None else f"{unit}, {conditions.setting}"
    return conditions.model_copy(update={"setting": told})
