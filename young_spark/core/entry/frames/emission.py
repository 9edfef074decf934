"""What a valve tester shows: shares of a new valve's emission, and no depth of modulation."""

import re

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence

VALVE = re.compile(r"V\d{1,2}|(?:left|right) valve")
VALVES = {"tube", "tubes", "valve", "valves", "bottle", "bottles"}
TESTER = {"tester", "emission", "checker"}
MOST_PERCENT = 130.0  # of a new one


def find_emission(s: Sentence) -> None:
    """'v5 weak on tester 55%', 'tubes: v1 90% v2 85 v3 88': each share belongs to the valve in front of it."""
    named = any(f.of == "valve_emission" for f in s.facts)
    if _are_tested(s):
        s.items[0].quantity = "valve_emission"  # 'both output valves test around 60 percent'
        return
    shares = [i for i in s.items if i.fact.unit == "%" or (named and i.fact.unit is None)]
    if not shares or any(i.quantity for i in s.items) or not _are_of_valves(s):
        return
    for item in s.items:
        valve = _valve_of(s, item)
        if valve is None or item.fact.unit not in {"%", None} or not 0 <= item.fact.value <= MOST_PERCENT:
            continue
        item.quantity = "valve_emission"
        item.address["place"] = s.facts[valve].is_
    s.take(*[n for n, f in enumerate(s.facts) if f.kind == "quantity" and f.of == "valve_emission"])


def _are_tested(s: Sentence) -> bool:
    """Whether valves without a number are said to be tested, at one share."""
    if len(s.items) != 1 or s.items[0].fact.unit != "%":
        return False
    words = {f.text for f in s.facts}
    numbered = any(f.kind == "place" and VALVE.fullmatch(str(f.is_)) for f in s.facts)
    return bool(words & VALVES) and bool(words & TESTED) and not numbered and s.items[0].quantity is None


TESTED = {"test", "tests", "tested"}


def _are_of_valves(s: Sentence) -> bool:
    """Whether nothing but valves, their tester and their state is spoken of."""
    named = [n for n in s.free("quantity") if s.facts[n].of != "valve_emission"]
    valves = [f for f in s.facts if f.kind == "place" and VALVE.fullmatch(str(f.is_))]
    others = [
        f
        for before, f in zip((None, *s.facts), s.facts, strict=False)
        if f.kind == "place" and not VALVE.fullmatch(str(f.is_)) and not _is_of_a_valve(before)
    ]
    return bool(valves) and not named and not others


def _is_of_a_valve(before: Fact | None) -> bool:
    """'v2 mixer 85%': what the valve does."""
    return before is not None and before.kind == "place" and VALVE.fullmatch(str(before.is_)) is not None


def _valve_of(s: Sentence, item: Item) -> int | None:
    """The valve that stands in front of a share in the same clause."""
    for n in range(item.at - 1, -1, -1):
        fact = s.facts[n]
        if fact.kind == "place" and VALVE.fullmatch(str(fact.is_)):
            return n
        if fact.kind == "figure" or s.facts[n + 1].fresh:
            return None
    return None
