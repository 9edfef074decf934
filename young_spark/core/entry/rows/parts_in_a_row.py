"""Parts alike that were measured one after the other: 'filter caps 6x 220uf: 211 208 31 215', 'cells 1.21 0.4 1.2'."""

import re
from dataclasses import replace

from young_spark.core.entry.facts.bare_beside import with_the_unit_of
from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence

ALIKE = {
    "caps": "cap", "capacitors": "capacitor", "electrolytics": "electrolytic", "resistors": "resistor",
    "bleeders": "bleeder", "coils": "coil", "chokes": "choke",
}  # fmt: skip
OF_A_PART = {"F": "capacitance", "Ω": "resistance", "k": "resistance", "H": "inductance"}
CELLS = {"cells", "cell"}
LEAST_PARTS = 3
MOST_CELL_V = 5.0
COUNT = re.compile(r"\d?x?|each|per|all")


def find_parts_in_a_row(s: Sentence) -> None:
    """Number the parts in their order; of a row of caps or resistors the first figure is what is printed on each where
    a colon, a count or the unit that only it has sets it off ('bleeders 98k 102k 97k' are three that were read)."""
    if len(s.items) < LEAST_PARTS or _cells(s):
        return
    noun = next((n for n, f in enumerate(s.facts[: s.items[0].at]) if f.text in ALIKE), None)
    if noun is None or any(COUNT.fullmatch(f.text) is None for f in s.facts[noun + 1 : s.items[0].at]):
        return
    if not _printed_once(s, noun):
        _each_read(s, noun)


def _printed_once(s: Sentence, noun: int) -> bool:
    printed, row = s.items[0], s.items[1:]
    if len(row) < LEAST_PARTS or not _are_alike(row, s) or not _is_set_off(s, noun, printed, row):
        return False
    if not _numbered(s, noun, row, printed.fact.unit):
        return False
    for item in row:
        item.besides["marked"] = printed.fact
    s.drop(printed)
    s.take(*[n for n in range(printed.at, row[0].at) if COUNT.fullmatch(s.facts[n].text)])
    return True


def _is_set_off(s: Sentence, noun: int, printed: Item, row: list[Item]) -> bool:
    counted = any(COUNT.fullmatch(f.text) for f in s.facts[noun + 1 : row[0].at] if f.kind != "figure")
    return printed.fact.labels or counted or all(item.fact.unit is None for item in row)


def _each_read(s: Sentence, noun: int) -> None:
    """All of them with the unit, or with it on the last: 'bleeders 98k 102k 97k', 'resistors 0.33 0.34 0.9 ohm'."""
    units = [item.fact.unit for item in s.items]
    if _are_alike(s.items, s) and (None not in units or not any(units[:-1])):
        _numbered(s, noun, s.items, units[-1])


def _numbered(s: Sentence, noun: int, row: list[Item], unit: str | None) -> bool:
    """Give each of a row its number, and the unit of the one that has it."""
    quantity = OF_A_PART.get(unit or "")
    bearer = next((item for item in s.items if item.fact.unit == unit), None)
    if quantity is None or bearer is None:
        return False
    name = " ".join((*(f.text for f in s.facts[:noun]), ALIKE[s.facts[noun].text]))
    for number, item in enumerate(row, 1):
        if item.fact.unit is None:
            with_the_unit_of(item, bearer)
        item.quantity = quantity
        item.address["place"] = f"{name} {number}"
    s.take(*range(s.items[0].at))
    return True


def _cells(s: Sentence) -> bool:
    """A battery cell by cell."""
    first = s.items[0].at
    cells = first == 1 and s.facts[0].text in CELLS
    if not cells or not _are_alike(s.items, s) or any(i.fact.value > MOST_CELL_V for i in s.items):
        return False
    for number, item in enumerate(s.items, 1):
        item.quantity = "dc_voltage"
        item.address["place"] = f"cell {number}"
    s.facts[0] = replace(s.facts[0], kind="word")
    s.take(0)
    return True


def _are_alike(row: list[Item], s: Sentence) -> bool:
    """Whether figures without a sign or a name stand side by side, in one unit at most."""
    units = {i.fact.unit for i in row} - {None}
    together = row[-1].at - row[0].at == len(row) - 1
    last = s.fact(row[-1].at + 1)
    return (
        together and len(units) <= 1 and not any(i.fact.signed for i in row) and (last is None or last.kind == "word")
    )
