"""Insulation under a test voltage: 'pri to core 500v >200M', and the windings that follow it."""

import re
from dataclasses import replace

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Item, Said
from young_spark.core.entry.facts.sentence import LONELY_WORDS, Sentence
from young_spark.core.entry.frames.own_frames import Frame, named, typed, use

TESTERS_V = {50.0, 100.0, 250.0, 500.0, 1000.0, 2500.0, 5000.0}
LEAST_OHM = 1e5
LEAST_TEST_V = 50.0
MEGOHMS = re.compile(r"(\d+(?:\.\d+)?)m")  # what elsewhere is a band in metres


def _insulation(s: Sentence) -> list[Said]:
    """Volts of a tester, and the megohms that it showed: one reading, between what was named before it."""
    names = named(s, "insulation_resistance", "leakage_current")
    again = s.ground.last is not None and s.ground.last[0] == "insulation_resistance"
    volts = next((i for i in s.items if i.fact.unit == "V" and i.fact.value in TESTERS_V), None)
    tested = typed(s, "test", "tested", "tester", "megger")
    if volts is None or not (names or again or tested or _lies_between(s)):
        return []
    shown = next((i for i in s.items if i is not volts and _is_of_ohms(i.fact)), None) or _instead_of_a_band(s)
    if shown is None:
        return []
    shown.quantity = "insulation_resistance"
    shown.fact = replace(shown.fact, unit="Ω", value=shown.fact.value * (1e6 if shown.fact.unit == "m" else 1.0))
    shown.address["test_v"] = volts.fact.value
    use(s, volts)
    s.take(*names, *tested)
    _between(s, shown, range(min(volts.at, shown.at))) or _between(s, shown, range(shown.at, len(s.facts)))
    return []


def _lies_between(s: Sentence) -> bool:
    """'primary to core 500v >500meg': volts of a tester and megohms, from one point to another."""
    return any(s.has_text(n, "to") and not (s.item_at(n - 1) or s.item_at(n + 1)) for n in range(1, len(s.facts) - 1))


def _is_of_ohms(fact: Fact) -> bool:
    return fact.unit == "m" or (fact.unit == "Ω" and fact.value >= LEAST_OHM)


def _instead_of_a_band(s: Sentence) -> Item | None:
    for n in s.free("where"):
        found = MEGOHMS.fullmatch(s.facts[n].text)
        if s.facts[n].of == "band" and found is not None:
            s.facts[n] = Fact("figure", found[0], value=float(found[1]), unit="m")
            item = Item(s.facts[n], n)
            s.items.append(item)
            return item
    return None


def _between(s: Sentence, item: Item, among: range) -> bool:
    """What the tester hung at, if it is among these: every word that is not explained."""
    left = [n for n in among if n not in s.taken and s.facts[n].kind in {"word", "place", "item", "link"}]
    while left and s.facts[left[0]].text in LONELY_WORDS:
        left.pop(0)
    while left and s.facts[left[-1]].kind == "link":
        left.pop()
    if left:
        item.address["place"] = " ".join(s.facts[n].text for n in left)
        s.take(*left)
    return bool(left)


def _leakage(s: Sentence) -> list[Said]:
    """'hipot plate choke 3kv 2ua': amps that leak under the volts of a tester."""
    names = named(s, "leakage_current")
    amps = [i for i in s.items if i.fact.unit == "A"]
    volts = [i for i in s.items if i.fact.unit == "V" and i.fact.value >= LEAST_TEST_V]
    if not names or len(amps) != 1 or len(volts) != 1 or len(s.items) != 2:
        return []
    amps[0].quantity = "leakage_current"
    amps[0].address["test_v"] = volts[0].fact.value
    use(s, volts[0])
    s.take(*names)
    for n in s.free("quantity"):  # 'plate choke': the first word only says which choke
        if (after := s.fact(n + 1)) is not None and after.kind == "place":
            amps[0].address["place"] = f"{s.facts[n].text} {after.is_}"
            s.take(n, n + 1)
    return []


FRAMES: tuple[Frame, ...] = (_insulation, _leakage)
