"""Parts and pins in a row: 'ic2 pins 1 2 3: 5.0 0 2.4', 'r12 r13 r14 all 100', 'q3 hfe 12 q1 q2 55'."""

import re
from dataclasses import replace

from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence, Unexplained
from young_spark.core.entry.rows.row_of_megahertz import LEAST_ROW


def find_pins(s: Sentence) -> None:
    """'ic2 pins 1 2 3: 5.0 0 2.4'."""
    for n in s.free("place"):
        fact = s.facts[n]
        if fact.of != "pins":
            continue
        part, *pins = str(fact.is_).split(" ")
        figures = [i for i in s.items if i.at > n]
        if len(figures) != len(pins):
            raise Unexplained
        for pin, figure in zip(pins, figures, strict=True):
            figure.address["place"] = f"{part} pin {pin}"
        s.take(n)


def one_figure_of_several_parts(s: Sentence) -> None:
    """'r12 r13 r14 all 100': one figure for several places."""
    places = [n for n in s.free("place") if not s.facts[n].follows]
    if len(places) < LEAST_ROW or len(s.items) != 1 or not any(f.text in {"all", "both", "each"} for f in s.facts):
        return
    first = s.items[0]
    if first.at < places[-1]:
        return
    if any(f.kind == "result" for f in s.facts[: first.at]):
        _same_point_of_each(s, first, places)
        return
    s.items = [replace_item(first, {"place": s.facts[n].is_}) for n in places]
    s.take(*places, *[n for n, f in enumerate(s.facts) if f.text in {"all", "both", "each"}])


def _same_point_of_each(s: Sentence, item: Item, places: list[int]) -> None:
    """'q1 c-e ok, q2 c-e ok, b-e 0.65 both': the point in front of the figure, of each of the parts."""
    point = s.fact(item.at - 1)
    parts = list(dict.fromkeys(s.facts[n].of for n in places if _is_a_part(s, n) or s.facts[n].of[-1:].isdigit()))
    if point is None or point.kind != "place" or not point.follows or len(parts) < LEAST_ROW:
        return
    side = str(point.is_).partition(" ")[2]
    s.items = [replace_item(item, {"place": f"{part} {side}"}) for part in parts]
    s.take(item.at - 1, *[n for n, f in enumerate(s.facts) if f.text in {"all", "both", "each"}])


def one_figure_behind_parts(s: Sentence) -> None:
    """'q3 hfe 12 q1 q2 55': several parts in front of the one figure that all of them read."""
    for item in list(s.items):
        run = [item.at - 1]
        while s.fact(run[0]) is not None and _is_a_part(s, run[0]) and run[0] not in s.taken:
            run.insert(0, run[0] - 1)
        places = run[1:]
        alike = len({str(s.facts[n].is_).rstrip("0123456789") for n in places}) == 1
        others = [i for i in s.items if i is not item]
        if len(places) < LEAST_ROW or not alike or not others:
            continue
        item.address.setdefault("place", s.facts[places[-1]].is_)
        s.items += [replace_item(item, {"place": s.facts[n].is_}) for n in places[:-1]]
        s.take(*places)
    s.items.sort(key=lambda i: i.at)


def _is_a_part(s: Sentence, n: int) -> bool:
    fact = s.fact(n)
    return fact is not None and fact.kind == "place" and re.fullmatch(r"[A-Z]{1,3}\d+", str(fact.is_)) is not None


def replace_item(item: Item, address: dict[str, object]) -> Item:
    """A copy of a figure at another address."""
    return replace(item, address={**item.address, **address}, marks=set(item.marks), besides=dict(item.besides))
