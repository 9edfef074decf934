"""'rear tag 22mv', 'front panel lamp 0v', 'heatsink tab 3.3v': a point that no list has is called by all the words in
front of its figure. With the last of them alone, two points would be one."""

from collections.abc import Sequence

from young_spark.core.entry.facts.fact import AS_TYPED, Fact
from young_spark.core.entry.facts.sentence import LONELY_WORDS
from young_spark.core.entry.naming.no_names import NO_NAMES, OF_NO_PLACE
from young_spark.core.entry.wording.places import ELECTRODES
from young_spark.core.entry.wording.vocabulary import manner, vocabulary

READ_AT_A_POINT = {"V", "Vpp", "Vrms", "Ω", "°C", "F"}  # units of figures that stand at one
READ_ELSEWHERE_TOO = {"A", "dBm", "M", "Hz"}  # and of those that do where a part is named
SIDES = {"left", "right"}
# how it is, and not which one
OF_ITS_STATE = {
    "full", "half", "new", "old", "bad", "dead", "spare", "own", "other", "bare", "whole", "original", "orig",
    "second", "replacement", "faulty", "suspect", "burnt", "loose", "open", "shorted", "leaky", "clean", "dirty", "any",
    "his", "her", "their", "your", "our", "this", "one", "two", "some", "more", "less", "max", "min", "not", "was",
    "out", "total", "another",
}  # fmt: skip
ENDS = {"in", "out"}
# that end as what is done does
NOUNS = {
    "string", "winding", "ring", "spring", "casing", "housing", "bearing", "bushing", "wiring", "coupling",
    "shed", "feed", "bleed", "reed", "led",
}  # fmt: skip
SHORT_ELECTRODES = {name for name in ELECTRODES if len(name) < len("base")} | {"cath", "coll"}
MOST_WORDS = 5
SHORTEST = 3  # signs of a word


def with_names_of_points(facts: Sequence[Fact]) -> list[Fact]:
    """The facts, with the words of each such name as one place."""
    told, n = list(facts), len(facts) - 1
    while n > 0:
        n = _join_in_front_of(told, n) if _is_read_at_a_point(told[n]) else n - 1
    return told


def _is_read_at_a_point(fact: Fact) -> bool:
    read = fact.kind == "figure" and fact.unit in {*READ_AT_A_POINT, *READ_ELSEWHERE_TOO}
    return (read or fact.kind == "result") and not fact.fresh


def _join_in_front_of(facts: list[Fact], n: int) -> int:
    """Make the words in front of a figure one place, where they are a name of several words; where they begin."""
    end = n
    while end > 0 and facts[end - 1].text in OF_NO_PLACE and not facts[end].fresh:
        end -= 1
    number = _number_behind_a_name(facts, end) if facts[n].kind == "figure" else []
    begin = last = end - len(number)
    while begin > 0 and _goes_on(facts, begin, last, facts[n].unit):
        begin -= 1
    name = facts[begin:last]
    of_a_part = begin > 0 and facts[begin - 1].kind == "place"  # 'r12 emitter resistor': what the part is
    if of_a_part or not _is_sure(name, facts[n]) or not (_is_a_name(name) or (name and number)):
        return n - 1
    called = " ".join([*(_as_listed(fact) for fact in name), *number])
    between = [fact for fact in facts[end:n] if fact.kind != "word"]
    facts[begin:n] = [Fact("place", called, of=called, is_=called, fresh=name[0].fresh), *between]
    return begin


def _is_sure(name: Sequence[Fact], read: Fact) -> bool:
    """Whether what is read says that words name a point, or one of them does; a result, only where the last does."""
    if read.kind == "result":
        return bool(name) and name[-1].kind == "place"
    return read.unit in READ_AT_A_POINT or any(_is_a_part(fact) for fact in name)


def _number_behind_a_name(facts: Sequence[Fact], end: int) -> list[str]:
    """'tag 3 12.1v': which of several it is."""
    if end < LEAST_NUMBERED:
        return []
    number, noun = facts[end - 1], facts[end - 2]
    whole = number.kind == "figure" and number.text.isdigit() and 1 <= number.value <= MOST_NUMBERED
    return [number.text] if whole and not number.fresh and noun.kind == "word" and _is_of_a_name(noun) else []


LEAST_NUMBERED, MOST_NUMBERED = 2, 30


def _is_a_part(fact: Fact) -> bool:
    return fact.kind == "place" or fact.text in vocabulary().file.words["parts"]


def _as_listed(fact: Fact) -> str:
    """A word of a name as the list writes it: 'PA', 'VCO', 'speaker'."""
    listed = str(fact.is_)
    return listed if fact.kind == "place" and listed.isalpha() else fact.text


def _goes_on(facts: Sequence[Fact], begin: int, end: int, unit: str | None) -> bool:
    """Whether a name has one more word in front: one that no list knows, 'to' between two of them, or the name of a
    quantity that the figure cannot be of, as of 'power lamp'."""
    before, last = facts[begin - 1], begin == end
    if end - begin >= MOST_WORDS or (not last and facts[begin].fresh):
        return False
    if last:
        return _is_of_a_name(before)
    if before.text == "to":  # 'primary to core 500v >500meg': the volts are the tester's
        return begin > 1 and _is_of_a_name(facts[begin - 2]) and not _is_tested_with(facts, end)
    if before.kind == "quantity":
        return facts[begin].text.isalpha() and not _may_be_of(before, unit)
    return _is_of_a_name(before) or (before.text in {"hot", "cold"} and facts[begin].text in {"end", "side"})


def _is_tested_with(facts: Sequence[Fact], n: int) -> bool:
    return facts[n].unit == "V" and n + 1 < len(facts) and facts[n + 1].kind in {"link", "figure"}


def _may_be_of(name: Fact, unit: str | None) -> bool:
    """Whether a figure in this unit may be of the quantity that a name says; 'bias final 55ma' is an idle current."""
    return unit in READ_ELSEWHERE_TOO or name.text in ENDS or unit in _units_of(name.of)


def _units_of(quantity: str) -> tuple[str, ...]:
    said = vocabulary().file.quantity.get(quantity)
    return () if said is None else said.units


def _is_a_name(name: Sequence[Fact]) -> bool:
    """Whether several words are the name of one point: at least one of them that no list knows, and one of a list at
    either end at most, or two where the last says which part of them."""
    listed = sum(fact.kind == "place" for fact in name)
    ends = 1 + sum(fact.text == "to" for fact in name)
    most = ends + (name[-1].kind == "word") if name else ends
    return len(name) > 1 and listed <= most and listed < len(name) and name[-1].text not in SIDES


def _is_of_a_name(fact: Fact) -> bool:
    if not fact.text.replace(" ", "").isalpha() or fact.labels:
        return False
    if fact.kind == "place":
        of_its_own = not fact.follows or not fact.of  # and of no part that was named before
        return of_its_own and fact.text not in SHORT_ELECTRODES and " to " not in fact.text
    return fact.text in SIDES or (fact.kind == "word" and fact.of != AS_TYPED and may_be_of_a_name(fact.text))


def may_be_of_a_name(word: str) -> bool:
    """Whether a word that no list knows may be one of the name of a point: none that says how it is, or what was
    done."""
    if len(word) < SHORTEST or (word.endswith(("ly", "ing", "ed")) and word not in NOUNS):
        return False
    known = manner() | LONELY_WORDS | NO_NAMES | OF_NO_PLACE | OF_ITS_STATE
    return word not in known and word not in vocabulary().file.words["doing"]
