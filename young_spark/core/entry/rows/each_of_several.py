"""The same of several parts in a row: 'idle each device: 510, 495, 0, 505 ma'."""

from dataclasses import replace

from young_spark.core.entry.facts.bare_beside import with_the_unit_of
from young_spark.core.entry.facts.sentence import Sentence

PARTS = {
    "device": "device", "devices": "device", "fet": "device", "fets": "device", "mosfet": "device",
    "mosfets": "device", "transistor": "device", "transistors": "device", "tube": "valve", "tubes": "valve",
    "valve": "valve", "valves": "valve", "bottle": "valve", "bottles": "valve", "cell": "cell", "cells": "cell",
    "pallet": "pallet", "pallets": "pallet", "module": "module", "modules": "module", "side": "side",
}  # fmt: skip
LEAST_PARTS = 2
COUNTING = {"each", "per", "four", "three", "two", "six", "eight", "all"}


def find_each_of_several(s: Sentence) -> None:
    """Number the parts that a row of figures behind one name is of, in their order."""
    names = s.free("quantity")
    part = next((n for n, f in enumerate(s.facts) if f.text in PARTS), None)
    if len(names) != 1 or part is None or len(s.items) < LEAST_PARTS or not s.has_text(part - 1, *COUNTING):
        return
    first = s.items[0].at
    between = [f for n, f in enumerate(s.facts) if first < n < s.items[-1].at and s.item_at(n) is None]
    if max(part, names[0]) > first or any(f.text not in {"and", ","} for f in between):
        return
    source = next((i for i in reversed(s.items) if i.fact.unit is not None), None)
    for number, item in enumerate(s.items, 1):
        if source is not None and item.fact.unit is None:
            with_the_unit_of(item, source)
        item.quantity = s.facts[names[0]].of
        item.address["place"] = f"{PARTS[s.facts[part].text]} {number}"
    s.facts[part] = replace(s.facts[part], kind="word")
    s.take(part, names[0], *[n for n in range(part) if s.facts[n].text in COUNTING])
