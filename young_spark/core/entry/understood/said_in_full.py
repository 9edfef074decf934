"""A text as it would be if its hand had said every unit and every name again: 'idle pa 180ma, driver 60' for 'idle pa
180ma, idle driver 60ma'. What is left out goes on from the figure before it."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact

NEAR_OHMS = 40.0  # of contacts and windings, in ohms without a prefix
NEAR_UNLIKE = 10.0  # of such that are not called alike
NAMED = re.compile(r"(?P<stem>[a-z]+) ?\d{0,4}(?: [a-z]+){0,3} \d*\.?\d+ ?(?P<unit>[kmµupn]?(?:ohms?|Ω|r|f|h|v)|k)")
BARE = re.compile(r"[a-z]+ ?\d{0,4}(?: [a-z]+){0,2} \d*\.?\d+")
ELECTRODE = re.compile(r"\b(?:emitter|base|collector|source|gate|drain|anode|plate|grid|screen|cathode|pin|rail)\b")
OF_VOLTS = re.compile(r"(?:tp|q|tr|ic|u|d|v|z) ?\d|batt?(?:ery)?\b|cell\b|ptt\b|supply\b|mains\b|ht\b|b\+")
OHMS = re.compile(r"[km]?(?:ohms?|Ω|r)|k")
OF_A_CHANNEL = re.compile(r"\bch(?:an(?:nel)?)? ?\d{1,2}\b")
ROW_IN_A_MODE = re.compile(
    r"(?P<mode>am|fm|usb|lsb|cw) (?P<row>(?:ch(?:an(?:nel)?)? ?\d{1,2}:? [\d.]+ ?(?:w|%|k|khz|hz)?(?:, ?| |$)){2,})"
)
PREFIXES = "kmµupn"
NEAR = 6.0  # times the figure before it: what goes on is of the same kind, and of the same size
CLAUSES = re.compile(r"(\s*[,;]\s+)")
TYPED_UNIT = re.compile(r"(?<=\d) ?(?P<unit>[a-zµμΩ%°]+)$", re.IGNORECASE)
WHERE = {"place", "item", "where", "how", "side", "setting"}


@dataclass(frozen=True)
class _Unit:
    """A unit as it was typed, and the size of the figure that carried it."""

    typed: str
    value: float


def said_in_full(plain: str) -> Iterator[str]:
    """The texts that a folded text may stand for, none of them the text itself: with units, then with names too."""
    with_units = _with_units(plain)
    forms = (with_units, _with_names(with_units))
    yield from dict.fromkeys(form for form in forms if form != plain)


def with_the_unit_of_alike(plain: str) -> str:
    """'r12 4.7k, r13 5.1' with the unit said again: clauses of nothing but a name and a figure go on from the first,
    where they are of parts that are called alike, or where it is in ohms."""
    first, *others = CLAUSES.split(plain)[::2]
    named = NAMED.fullmatch(first)
    if named is None or not others or not all(map(_is_bare, others)):
        return plain
    ohms = OHMS.fullmatch(named["unit"]) is not None
    stem = f"{named['stem']} ?\\d"
    alike = all(re.match(stem, part) for part in others)
    if not alike and (not ohms or any(map(OF_VOLTS.match, others))):
        return plain
    if named["unit"][0] in PREFIXES:
        return _with_units(plain)
    return _with_units(plain, NEAR_OHMS if alike else NEAR_UNLIKE)


def with_the_mode_of_its_row(plain: str) -> str:
    """'am ch1 3.6w, ch20 3.7w' with the mode said of every channel of the row."""
    row = ROW_IN_A_MODE.fullmatch(plain)
    if row is None:
        return plain
    return OF_A_CHANNEL.sub(lambda found: f"{row['mode']} {found[0]}", row["row"])


def _is_bare(part: str) -> bool:
    """Whether a clause is a name and a figure without a unit, and says nothing of what was read."""
    if BARE.fullmatch(part) is None:
        return False
    said = {fact.kind for fact in cut(part)} | {"unit" for fact in cut(part) if fact.kind == "figure" and fact.unit}
    return said.isdisjoint({"quantity", "how", "unit"}) and not ELECTRODE.search(part)


def _with_units(plain: str, near: float = NEAR) -> str:
    """Each bare figure with the unit of the one before it, where it is of that size."""
    told, at, unit = [], 0, None
    for fact in cut(plain):
        if fact.kind != "figure":
            continue
        start = plain.find(fact.text, at)
        if start < 0:
            return plain
        end = start + len(fact.text)
        told.append(plain[at:end])
        at = end
        if fact.unit is not None:
            unit = _unit_of(fact)
        elif unit is not None and _is_of_its_size(fact, unit, near):
            told.append(unit.typed)
    return "".join((*told, plain[at:]))


def _unit_of(fact: Fact) -> _Unit | None:
    typed = TYPED_UNIT.search(fact.text)
    return None if typed is None or not fact.value else _Unit(typed["unit"], abs(fact.value / fact.factor))


def _is_of_its_size(fact: Fact, unit: _Unit, near: float) -> bool:
    return fact.value != 0 and 1 / near <= abs(fact.value) / unit.value <= near


def _with_names(plain: str) -> str:
    """Each clause that says only where and how much with the name that the clause before it began with."""
    name, told = None, []
    for part in CLAUSES.split(plain):
        facts = cut(part)
        first = next((f for f in facts if f.kind == "quantity"), None)
        if first is not None:
            name = first.text
        elif name is not None and facts and all(f.kind in WHERE or f.kind == "figure" for f in facts):
            part = f"{name} {part}"
        told.append(part)
    return "".join(told)
