"""Rows in which every other figure says where: '80 95 40 97 20 99', '160 98w, 80 101', 'ch1 3.9 20 4.0 40 3.8'."""

from collections.abc import Callable

from young_spark.core.entry.facts.bare_beside import with_the_unit_of
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.rows.row_of_megahertz import LEAST_ROW, are_megahertz, frequencies_in, is_swept
from young_spark.core.entry.rows.where_alone import band_at, channel_at

LEAST_MIXED = 3  # bands, of which one is written out and the others are not


def figures_then_places(s: Sentence) -> None:
    """'3.6 / 3.7 / 3.8 on 1/20/40', '14w 13w 11w at 70.2 70.4 70.5': figures, then as many places in their order."""
    half = len(s.items) // 2
    if half < LEAST_ROW or len(s.items) % 2 or any(i.address for i in s.items):
        return
    figures, places = s.items[:half], s.items[half:]
    between = range(figures[-1].at + 1, places[0].at)
    led = len(between) == 1 and s.has_text(between[0], "on", "at", "for", "@")
    inside = [f for f in s.facts[places[0].at : places[-1].at + 1] if f.kind != "figure"]
    if not led or any(f.text != "/" for f in inside) or any(i.fact.unit not in {None, "m"} for i in places):
        return
    points = _points(s, places, figures)
    for place, figure, point in zip(places, figures, points, strict=False):
        figure.address.setdefault(*point)
        s.drop(place)
    if points:
        s.take(between[0], *[n for n, f in enumerate(s.facts) if f.text == "/"])


def every_other_says_where(s: Sentence) -> None:
    """'80 95 40 97 20 99': every other figure is a band, a channel or a frequency, in order."""
    items = s.items
    pair = (
        len(items) == 2
        and not s.free("quantity")
        and (are_megahertz(s, items[:1], items[1:]) or is_swept(s, items[:1], items[1:]))
    )
    if (len(items) < 2 * LEAST_ROW and not pair) or len(items) % 2 or any(i.address for i in items):
        return
    if _say_what_they_read(s, items):
        return
    places, figures = items[::2], items[1::2]
    _megahertz_of_all(places)
    if all(i.fact.unit == "m" and s.ground.as_carrier(i.fact) for i in figures) and len(items) >= 2 * LEAST_ROW:
        places, figures = figures, places  # '.13uv 14m .2uv 28m'
    points = _points(s, places, figures)
    if not points and _each_leads_its_place(s, items):
        places, figures = items[1::2], items[::2]
        points = _points(s, places, figures)
    for place, figure, point in zip(places, figures, points, strict=False):
        figure.address.setdefault(*point)
        s.drop(place)


def _say_what_they_read(s: Sentence, items: list[Item]) -> bool:
    """'60 in 480 out', '27.18503 3.9w': what goes in, or how far off it is, and none of them where."""
    return all(_goes_in(s, i) for i in items[::2]) or any(s.ground.is_a_count(i.fact) for i in items)


def _goes_in(s: Sentence, item: Item) -> bool:
    """'60 in 480 out', '40 -> 400': what an amplifier is driven with, and no band of as many metres."""
    return s.ground.wanted_at_all("drive_power") and (
        s.has_text(item.at + 1, "in", "drive") or s.is_link(item.at + 1, "->")
    )


def _each_leads_its_place(s: Sentence, items: list[Item]) -> bool:
    """'input swr 1.3 80 1.2 40', '1.55w 118 1.6w 127': figures that can be no place, each in front of one that can."""
    figures, places = items[::2], items[1::2]
    if s.free("quantity"):
        return all(i.fact.decimals for i in figures)
    return all(i.fact.unit == "W" for i in figures) and all(i.fact.unit is None for i in places)


def _megahertz_of_all(places: list[Item]) -> None:
    """'3.6mhz 310, 7.1 308, 14.2 305': the unit that the first says is meant for all."""
    first, *others = places
    if first.fact.unit != "Hz" or first.fact.factor != 1e6 or any(i.fact.unit is not None for i in others):
        return
    if all(i.fact.decimals for i in others):
        for item in others:
            with_the_unit_of(item, first)


def bands_behind_a_band(s: Sentence) -> None:
    """'40m 108 20m 102 15 95 10 78', 'ch1 3.9 20 4.0 40 3.8': places that are written out first, and then are not."""
    for key, is_one, name in (("band", band_at, lambda v: f"{int(v)}m"), ("channel", channel_at, lambda v: v)):
        _more_of(s, key, is_one, name)


def places_behind_a_place(s: Sentence) -> None:
    """'swr 1.8 on ch1 1.4 19 1.9 40', '560w 80m 540 40 520 20': each figure in front of its channel or band."""
    written = [n for n in s.free("where") if s.facts[n].of in {"channel", "band"}]
    first = s.item_at(written[0] - 1) if len(written) == 1 else None
    if first is None or s.items[0] is not first or len(s.items) % 2 == 0:
        return
    key, is_ = s.facts[written[0]].of, s.facts[written[0]].is_
    is_one = channel_at if key == "channel" else band_at
    pairs = list(zip(s.items[1::2], s.items[2::2], strict=True))
    led = all(p.at == f.at + 1 and is_one(s, p.fact) and f.fact.unit in {None, first.fact.unit} for f, p in pairs)
    if not pairs or not led:
        return
    for figure, place in pairs:
        figure.address[key] = place.fact.value if key == "channel" else f"{int(place.fact.value)}m"
        s.drop(place)
    first.address[key] = float(str(is_)) if key == "channel" else is_
    s.take(written[0])


def channel_behind_watts(s: Sentence) -> None:
    """'am 3.8w 19' of a set whose plan wants watts on that channel."""
    if len(s.items) != 2 or s.free("where", "quantity", "place"):
        return
    watts, channel = s.items
    wanted = {line.get("channel") for line in s.ground.lines if UNIT_OF.get(str(line.get("quantity"))) == "W"}
    behind = channel.at == watts.at + 1 and watts.fact.unit == "W" and watts.quantity is None
    if behind and channel_at(s, channel.fact) and int(channel.fact.value) in wanted:
        watts.address["channel"] = channel.fact.value
        s.drop(channel)


def _more_of(s: Sentence, key: str, is_one: Callable[[Sentence, Fact], bool], name: Callable[[float], object]) -> None:
    written = [n for n in s.free("where") if s.facts[n].of == key]
    if not written or not all(s.item_at(n + 1) for n in written):
        return
    rest = [i for i in s.items if i.at > written[-1] + 1]
    bands, figures = rest[::2], rest[1::2]
    if (
        len(written) + len(bands) < LEAST_MIXED
        or len(bands) != len(figures)
        or not all(is_one(s, i.fact) for i in bands)
        or any(i.fact.signed for i in figures)
    ):
        return
    for band, figure in zip(bands, figures, strict=True):
        figure.address[key] = name(band.fact.value)
        s.drop(band)


def bands_of_clauses(s: Sentence) -> None:
    """'160 98w, 80 101, 6 88, 2m 47w': between commas a band, written out or not, and its figure."""
    rows = [[i for i in s.items if i.clause == clause] for clause in sorted({i.clause for i in s.items})]
    written = [n for n in s.free("where") if s.facts[n].of == "band"]
    bare = [row for row in rows if len(row) == 2 and band_at(s, row[0].fact)]
    lone = [row for row in rows if len(row) == 1 and row[0].at - 1 in written]
    if len(rows) < LEAST_MIXED or not bare or not lone or len(bare) + len(lone) != len(rows):
        return
    if len(lone) != len(written) or any(i.fact.signed for row in rows for i in row):
        return
    for band, figure in bare:
        figure.address["band"] = f"{int(band.fact.value)}m"
        s.drop(band)


def columns_of_clauses(s: Sentence) -> None:
    """'40m 1010 60 drive; 20m 970 63; 15m 905 66': what each figure is, is said in the first clause only."""
    rows = [[i for i in s.items if i.clause == clause] for clause in sorted({i.clause for i in s.items})]
    wide = len(rows[0]) if rows else 0
    names = s.free("quantity")
    if len(rows) < LEAST_ROW or wide < LEAST_ROW or any(len(row) != wide for row in rows) or not names:
        return
    at_a_place = all(_is_where(s.fact(row[0].at - 1)) for row in rows)
    if not at_a_place or max(names) >= rows[1][0].at or any(i.quantity is not None for i in s.items):
        return
    for column, first in enumerate(rows[0]):
        name = next((s.facts[n].of for n in (first.at + 1, first.at - 1) if n in names), None)
        for row in rows[1:] if name is not None else ():
            row[column].quantity = name


def _is_where(fact: Fact | None) -> bool:
    return fact is not None and fact.kind == "where" and fact.of in {"band", "channel", "frequency_hz"}


def _points(s: Sentence, places: list[Item], figures: list[Item]) -> list[tuple[str, object]]:
    """What every other figure says of where, where all of them say the same of it: bands, channels or frequencies."""
    if all(band_at(s, i.fact) for i in places):
        if any(f.of == "band" for f in s.facts) or len({i.fact.value for i in places}) < len(places):
            return []  # '80m 60 in 480 out, 10m 60 in 150 out': the bands are said
        return [("band", f"{int(i.fact.value)}m") for i in places]
    if all(i.fact.unit == "m" for i in figures) and all(i.fact.unit not in {None, "m"} for i in places):
        return []  # the other way round
    if all(channel_at(s, i.fact) for i in places) and len({i.fact.value for i in places}) == len(places):
        return [("channel", i.fact.value) for i in places]
    return [("frequency_hz", hz) for hz in frequencies_in(s, places, figures)]
