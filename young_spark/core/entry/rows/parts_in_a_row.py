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
    """Number the parts in their order; the first figure of a row of caps or resistors is what is printed on each."""
    if len(s.items) >= LEAST_PARTS and not _cells(s):
        _printed_once(s)


def _printed_once(s: Sentence) -> None:
    printed, row = s.items[0], s.items[1:]
    noun = next((n for n, f in enumerate(s.facts[: printed.at]) if f.text in ALIKE), None)
    quantity = OF_A_PART.get(printed.fact.unit or "")
    if noun is None or quantity is None or len(row) < LEAST_PARTS or not _are_alike(row, s):
        return
    if any(COUNT.fullmatch(f.text) is None for f in s.facts[noun + 1 : printed.at]):
        return
    name = " ".join((*(f.text for f in s.facts[:noun]), ALIKE[s.facts[noun].text]))
    for number, item in enumerate(row, 1):
        if item.fact.unit is None:
            with_the_unit_of(item, printed)
        item.quantity = quantity
        item.address["place"] = f"{name} {number}"
        item.besides["marked"] = printed.fact
    s.drop(printed)
    s.take(*range(printed.at), *[n for n in range(printed.at, row[0].at) if COUNT.fullmatch(s.facts[n].text)])


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
