"""Rows of a table whose columns were named once: '80m 62 1010 600 200' behind '20m drive 60 out 980 ip 610 ig 190'."""

from dataclasses import dataclass, replace

from young_spark.core.entry.facts.in_unit import in_unit
from young_spark.core.entry.facts.said import UNIT_OF, Ground, Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.gear import BANDS_M

LEAST_COLUMNS = 2
ALIKE = 6.0  # times the figure of that column in the row before
NEAR_DB = 30.0
DECIBELS = {"dB", "dBc", "dBm"}
BETWEEN = {"/", "->"}  # figures of a row: '40m 60/990'
OF_A_ROW = {"band", "channel", "frequency_hz"}


def find_row_as_before(s: Sentence) -> None:
    """As many bare figures as a line of late read, at another band, channel or frequency: each is of its column."""
    place = _place(s) if s.ground.rows_before else None
    if place is None:
        return
    row = s.items[1:] if place.item is not None else s.items
    columns = next((columns for columns in s.ground.rows_before if _fits(row, columns, s.ground)), None)
    names = s.free("quantity")
    if columns is None or not all(_is_named_as(s, n, row, columns) for n in names):
        return
    s.take(*names)
    for item, (quantity, _) in zip(row, columns, strict=True):
        item.quantity = quantity
        item.address[place.key] = place.value
    if place.item is not None:
        s.drop(place.item)
    s.take(*place.at)


def find_same_places(s: Sentence) -> None:
    """'62 60 61 63ma' behind 'v1 15ma v2 210ma v3 60 v4 62': as many figures as points, in their order."""
    points = s.ground.places_before
    if len(points) < LEAST_POINTS or len(s.facts) != len(s.items) or len(s.items) != len(points):
        return
    quantity = points[0][0]
    if any(i.quantity is not None or i.fact.signed or i.upper is not None for i in s.items):
        return
    units = {i.fact.unit for i in s.items}
    if units <= {None, UNIT_OF.get(quantity)} and (units != {None} or s.ground.wants == quantity):
        factor = next((i.fact.factor for i in reversed(s.items) if i.fact.unit is not None), None)
        for item, (_, place) in zip(s.items, points, strict=True):
            item.quantity, item.address["place"] = quantity, place
            if item.fact.unit is None and factor is not None:
                item.fact = replace(item.fact, unit=UNIT_OF[quantity], value=item.fact.value * factor, factor=factor)


def find_same_channels(s: Sentence) -> None:
    """'swr now 1.6 1.3 1.5' behind 'swr 3.8 ch1 3.1 ch20 2.6 ch40', 'power now 7.7 7.8 7.9' behind watts at three
    frequencies: at the same points, in their order."""
    on_channels = [(quantity, "channel", float(channel)) for quantity, channel in s.ground.channels_before]
    before = on_channels or [(quantity, "frequency_hz", hz) for quantity, hz in s.ground.frequencies_before]
    names = s.free("quantity")
    others = [f for n, f in enumerate(s.facts) if f.kind != "figure" and n not in names and f.text not in AGAIN]
    alike = len(before) == len(s.items) >= LEAST_POINTS and len(names) == 1 and not others
    if not alike or s.facts[names[0]].of != before[0][0] or names[0] > s.items[0].at:
        return
    if any(i.fact.signed or i.upper is not None for i in s.items):
        return
    for item, (quantity, key, point) in zip(s.items, before, strict=True):
        item.quantity, item.address[key] = quantity, point
    s.take(*names)


def _is_named_as(s: Sentence, n: int, row: list[Item], columns: tuple[tuple[str, float], ...]) -> bool:
    """'20 55w 540 ip 505 ig 118': whether the figure behind a name is in its column."""
    of = next((column for item, (column, _) in zip(row, columns, strict=True) if item.at == n + 1), None)
    return of == s.facts[n].of


AGAIN = {"now", "again", "is"}
LEAST_POINTS = 3


def _fits(row: list[Item], columns: tuple[tuple[str, float], ...], ground: Ground) -> bool:
    alike = LEAST_COLUMNS <= len(columns) == len(row)
    return alike and all(_may_be_of(item, column, ground) for item, column in zip(row, columns, strict=True))


@dataclass(frozen=True)
class _Where:
    key: str
    value: object
    at: tuple[int, ...] = ()
    item: Item | None = None  # the bare figure that says it: '80 62 1010'


def _place(s: Sentence) -> _Where | None:
    """The one place that leads a line of figures, or None: '80m', 'ch 19', '80'."""
    free, strokes = s.free("where"), tuple(n for n, f in enumerate(s.facts) if f.kind == "link" and f.of in BETWEEN)
    others = len(s.facts) - len(strokes) - len(s.items) - len(s.free("quantity"))
    if len(free) == 1 and s.facts[free[0]].of in OF_A_ROW and others == 1:
        return _Where(s.facts[free[0]].of, s.facts[free[0]].is_, (free[0], *strokes))
    return None if free or others or strokes or not s.items else _bare_place(s.items[0], s.ground)


def _bare_place(first: Item, ground: Ground) -> _Where | None:
    """The bare figure in front of a row as a channel of the unit, or as a band."""
    if first.fact.unit is not None or first.fact.decimals or first.fact.signed:
        return None
    number = int(first.fact.value)
    if number in ground.channel_hz:
        return _Where("channel", first.fact.value, item=first)
    return _Where("band", f"{number}m", item=first) if number in BANDS_M and not ground.channel_hz else None


def _may_be_of(item: Item, column: tuple[str, float], ground: Ground) -> bool:
    """Whether a figure carries the unit of a column or none, and is of a size with what stands there."""
    quantity, before = column
    unit = UNIT_OF.get(quantity)
    if item.quantity is not None or item.fact.unit not in {None, unit} or item.upper is not None:
        return False
    value = in_unit(item, item.fact, quantity, ground)
    if unit in DECIBELS:
        return abs(value - before) < NEAR_DB
    if unit == "Hz":
        return item.fact.signed or item.fact.unit is not None
    return before > 0 and before / ALIKE < value < before * ALIKE
