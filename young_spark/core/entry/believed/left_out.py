"""Whether a breath leaves in its remark what was read too: a result, a name, a figure; or reads as a quantity what only
says of which part is spoken."""

import re
from collections.abc import Sequence
from itertools import pairwise

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Breath
from young_spark.core.entry.wording.vocabulary import vocabulary


def leaves_something_out(breath: Breath, plain: str) -> bool:
    """Whether anything of a folded text that was read is missing in a breath of it."""
    facts = cut(plain)
    return (
        _leaves_a_result(breath)
        or _leaves_a_reading(breath, plain)
        or _says_of_which_part(breath, facts)
        or _leaves_a_name(breath, facts)
        or _leaves_a_place(breath)
    )


def _leaves_a_result(breath: Breath) -> bool:
    """'on 40 infinite, on 20 1.3': whether what was seen at one point is left in the remark, beside a figure at
    another."""
    words = set(breath.remark.split()) - {"no"}  # 'no filter': a word of every sentence
    seen = {word for word in words if vocabulary().facts.get(word, ("", "", ""))[2] in SEEN_ALONE}
    return bool(seen) and len(breath.said) > 0 and not any(said.result for said in breath.said)


WHERE = re.compile(
    r"\b(?:(?:160|80|60|40|30|20|17|15|12|10|6)m|ch ?\d{1,2}|collector|emitter|drain|cathode|anode)\b"
    r"(?! (?:line|lead|circuit|choke|coil|resistor|load|tap|cap|bias|bypass|filter))"
)


def _leaves_a_place(breath: Breath) -> bool:
    """'q1 13.6v collector base .1', '80m lpf in swr 4.5': whether a word in the remark says where something was read
    that stands elsewhere."""
    return any(said.value is not None for said in breath.said) and WHERE.search(breath.remark) is not None


def _leaves_a_name(breath: Breath, facts: Sequence[Fact]) -> bool:
    """'2nd -68 3rd below noise': whether a name is left in the remark whose quantity is of the same kind as what was
    read, and which was read too."""
    read = {said.quantity for said in breath.said}
    units = {UNIT_OF.get(quantity or "") for quantity in read} - OF_NOUNS
    remark = f" {breath.remark} "
    left = (f.of for f in facts if f.kind == "quantity" and f"{f.text} " in remark and f.of not in read)
    return any(UNIT_OF.get(of) in units for of in left)


OF_NOUNS = {"1", "W", "V"}  # units whose names are also what a part is called by: 'supply pin', 'peak', 'bias'


READ_THERE = re.compile(r"\b(?:reads|reading|measures|measured|measuring|now|shows) (?P<figure>\d[\d.]*\w*)")


def _leaves_a_reading(breath: Breath, plain: str) -> bool:
    """'r1 47k open, r2 47k reads 46.8k': whether a figure of which the text says that it was read stays in the
    remark, beside what was made of the rest."""
    left = set(breath.remark.split())
    read = {found["figure"] for found in READ_THERE.finditer(plain)}
    return not read.isdisjoint(left) or any(_is_only_where(text, breath, plain) for text in read)


def _is_only_where(text: str, breath: Breath, plain: str) -> bool:
    """'offset 600hz ok, tx 7.030 reads 7.03004': what was counted says where another figure was read, and is none."""
    counted = [f for f in cut(plain) if f.text == text and f.unit is None and f.decimals >= COUNTED]
    values = [said.value for said in breath.said if said.value is not None]
    return any(all(abs(v - f.value * 1e6) > 1 for v in values) for f in counted if f.value > LEAST_MHZ)


COUNTED, LEAST_MHZ = 4, 1.0  # decimals of a MHz, and MHz


SEEN_ALONE = {"over_range", "dead", "none"}


def _says_of_which_part(breath: Breath, facts: Sequence[Fact]) -> bool:
    """'mod transistors q7 6.9v q8 13.1': whether a bare figure is of a name that only says of which parts is spoken."""
    nouns = {
        name.of
        for name, noun in pairwise(facts)
        if name.kind == "quantity"
        and noun.kind in {"word", "place"}
        and not noun.fresh
        and noun.text.split(" ")[0] in PARTS_CALLED
    }
    return any(said.quantity in nouns and not said.in_its_unit and not said.derived for said in breath.said)


PARTS_CALLED = {
    f"{part}{ending}"
    for part in ("transistor", "transformer", "valve", "tube", "diode", "resistor", "cap", "capacitor", "choke", "coil",
                 "relay", "transistor", "fet", "mosfet", "chip", "ic", "amp", "stage", "board", "supply", "winding",
                 "trafo", "tap", "zener", "fuse", "switch", "socket", "plug", "pin", "lead", "cable")
    for ending in ("", "s", "es")
}  # fmt: skip
