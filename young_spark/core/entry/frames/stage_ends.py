"""The input or the output of a stage that has no name but its words: 'mic amp out 1.2v ac', '0.4v at the buffer stage
in'."""

import re

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.sentence import LONELY_WORDS, Sentence
from young_spark.core.entry.wording.vocabulary import vocabulary

ENDS = {"out": "output", "output": "output", "in": "input", "input": "input"}
INSIDE = {"V", "Vpp", "Vp", "Vrms", "dBm", "Ω"}  # units of what is read inside of a unit


def find_stage_ends(s: Sentence) -> None:
    """Make one place of such words; watts and amps are read at no stage."""
    if not s.items or any(i.fact.unit not in {*INSIDE, None} for i in s.items):
        return
    bare = all(i.fact.unit is None for i in s.items)
    for n in range(1, len(s.facts)):
        if s.facts[n].text in ENDS and n not in s.taken and (head := _stage_before(s, n, bare)) is not None:
            words = [str(f.is_) if f.kind == "place" else f.text for f in s.facts[head:n]]
            name = " ".join(words)
            s.facts[n] = Fact("place", s.facts[n].text, is_=f"{name} {ENDS[s.facts[n].text]}", of="stage")
            s.take(*range(head, n))
            _other_end(s, n, name)


def _other_end(s: Sentence, end: int, name: str) -> None:
    """'u2 out 0.3v, in 28v': the stage's other end, behind the figure of the first."""
    other = s.fact(end + 2)
    if other is None or s.item_at(end + 1) is None or s.item_at(end + 3) is None or end + 2 in s.taken:
        return
    if ENDS.get(other.text) not in {None, ENDS[s.facts[end].text]}:
        s.facts[end + 2] = Fact("place", other.text, is_=f"{name} {ENDS[other.text]}", of="stage", fresh=other.fresh)


def _stage_before(s: Sentence, end: int, bare: bool) -> int | None:
    """Where the words of a stage begin that stand right before its end; None where no part is among them. Figures
    without a unit are read at a part's own name only: 'ic7 out 8.02'."""
    head = end
    while head > 0 and _is_of_a_name(s, head - 1):
        head -= 1
    parts = vocabulary().file.words["parts"]
    named = any(f.kind == "place" and re.search(r"\d", str(f.is_)) for f in s.facts[head:end])
    return head if named or (not bare and any(f.text in parts for f in s.facts[head:end])) else None


def _is_of_a_name(s: Sentence, n: int) -> bool:
    fact = s.facts[n]
    plain = fact.kind in {"word", "item", "place", "quantity"} and n not in s.taken
    return plain and fact.text.replace(" ", "").isalnum() and fact.text not in LONELY_WORDS
