"""The input or the output of a stage that has no name but its words: 'mic amp out 1.2v ac', '0.4v at the buffer stage
in'."""

from young_spark.core.entry.fact import Fact
from young_spark.core.entry.sentence import LONELY_WORDS, Sentence
from young_spark.core.entry.vocabulary import vocabulary

ENDS = {"out": "output", "output": "output", "in": "input", "input": "input"}
INSIDE = {"V", "Vpp", "Vp", "Vrms", "dBm", "Ω"}  # units of what is read inside of a unit


def find_stage_ends(s: Sentence) -> None:
    """Make one place of such words; watts and amps are read at no stage."""
    if not s.items or any(i.fact.unit not in INSIDE for i in s.items):
        return
    for n in range(1, len(s.facts)):
        if s.facts[n].text in ENDS and n not in s.taken and (head := _stage_before(s, n)) is not None:
            words = [str(f.is_) if f.kind == "place" else f.text for f in s.facts[head:n]]
            s.facts[n] = Fact("place", s.facts[n].text, is_=" ".join([*words, ENDS[s.facts[n].text]]), of="stage")
            s.take(*range(head, n))


def _stage_before(s: Sentence, end: int) -> int | None:
    """Where the words of a stage begin that stand right before its end; None where no part is among them."""
    head = end
    while head > 0 and _is_of_a_name(s, head - 1):
        head -= 1
    parts = vocabulary().file.words["parts"]
    return head if any(s.facts[n].text in parts for n in range(head, end)) else None


def _is_of_a_name(s: Sentence, n: int) -> bool:
    fact = s.facts[n]
    plain = fact.kind in {"word", "item", "place", "quantity"} and n not in s.taken
    return plain and fact.text.replace(" ", "").isalnum() and fact.text not in LONELY_WORDS
