"""'ic3 pin 1 220mv rms, pin 7 1.4v': at another point of a part whose signal was read the volts may be of that signal
or at rest, and nobody says which. It is asked, with both as answers."""

import re
from collections.abc import Callable

from young_spark.core.entry.facts.meaning import Choice, Meaning, Understanding
from young_spark.core.entry.lines.story_guess import note_of
from young_spark.core.entry.understood.answers import label_of
from young_spark.core.entry.wording.tokens import folded

_SIGNAL = re.compile(r"(?<![\w.])[\d.]+ ?(?P<volts>m?v) ?(?P<form>rms|pp|p-p|rf|ac)\b", re.IGNORECASE)
_BARE = re.compile(r"(?<![\w.])(?P<figure>[\d.]+ ?m?v)(?! ?(?:rms|pp|p-p|rf|ac|dc)|\w)", re.IGNORECASE)
_DC = re.compile(r"\bv?dc\b", re.IGNORECASE)
_PART = re.compile(r"(?P<part>.+) (?:pin \d+|base|collector|emitter|gate|drain|source|anode|cathode|grid|plate|screen)")


def asked_whether_signal(text: str, meant: Understanding, understood: Callable[[str], Understanding]) -> Understanding:
    """A text that may mean either, as a question; any other as it was understood."""
    signal = _SIGNAL.search(text)
    bare = _BARE.search(text, signal.end()) if signal is not None else None
    if signal is None or bare is None or _DC.search(text) or meant.chosen is None:
        return meant
    at_rest = meant.meanings[meant.chosen]
    if not _are_of_one_part(at_rest):
        return meant
    said = understood(f"{text[: bare.end()]} {signal['form']}{text[bare.end() :]}")
    if said.chosen is None or len(said.meanings[said.chosen].readings) != len(at_rest.readings):
        return meant
    alike = said.meanings[said.chosen]
    choices = (Choice(label=label_of(alike), sense=0), Choice(label=label_of(at_rest), sense=1))
    return Understanding(
        text=text, meanings=(alike, at_rest), choices=choices, as_note=meant.as_note or note_of(text, folded(text)),
        question=f"{bare['figure']}: the signal there, or DC?",
    )  # fmt: skip


def _are_of_one_part(meaning: Meaning) -> bool:
    """Whether volts DC stand behind the signal of the same part."""
    parts: set[str] = set()
    for n, reading in enumerate(meaning.readings):
        part = _PART.fullmatch(meaning.conditions_of(n).place or "")
        if part is not None and reading.quantity == "dc_voltage" and part["part"] in parts:
            return True
        if part is not None and reading.quantity == "ac_voltage":
            parts.add(part["part"])
    return False
