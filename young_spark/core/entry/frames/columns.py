"""Rows of several columns: '20m 104w 19.8a, 80m 98w 19.2, 10m 91w 20.6'. Each point leads as many figures as every
other, and a column is of one unit."""

import re

from young_spark.core.entry.facts.bare_beside import with_the_unit_of
from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.naming.pointing import value_of

LEAST_ROWS = 2
LEAST_COLUMNS = 2
POINTS = {"band", "channel"}


def find_columns(s: Sentence) -> None:
    """Give each figure of such rows its point, and the unit that its column has in another row."""
    leads = [n for n in s.free("where") if s.facts[n].of in POINTS] or _settings(s)
    rows = _rows(s, leads)
    points = [_point(s, n) for n in leads]
    alike = len(rows) >= LEAST_ROWS and len({len(row) for row in rows}) == 1 and len({key for key, _ in points}) == 1
    if not alike or s.free("quantity", "place", "item"):
        return
    if len(rows[0]) < LEAST_COLUMNS or not _are_of_one_unit(rows):
        return
    for column in zip(*rows, strict=True):
        source = next(item for item in column if item.fact.unit is not None)
        for item in column:
            if item.fact.unit is None:
                with_the_unit_of(item, source)
    for (key, value), row in zip(points, rows, strict=True):
        for item in row:
            item.address.setdefault(key, value)
    s.take(*leads)


def _settings(s: Sentence) -> list[int]:
    """'tx hi 5.1w 1.75a lo 1.1w .75a': the settings of the power, where watts are in each row."""
    found = [n for n in s.free("how", "side") if s.facts[n].is_ in SETTINGS]
    watts = [i for i in s.items if i.fact.unit == "W"]
    return found if len(found) == len(watts) >= LEAST_ROWS else []


SETTINGS = {"high", "mid", "low"}


def find_amps_of_bands(s: Sentence) -> None:
    """'8.9a 10m 8.4a 6m': what the whole unit draws, each in front of the band that it was keyed on."""
    points = [n for n in s.free("where") if s.facts[n].of in POINTS]
    amps = [s.item_at(n - 1) for n in points]
    alike = len(amps) >= LEAST_ROWS and len(amps) == len(s.items) and not s.free("quantity", "place")
    if not alike or any(item is None or item.fact.unit != "A" for item in amps):
        return
    for n, item in zip(points, amps, strict=True):
        if item is not None:
            item.address.setdefault(*_point(s, n))
    s.take(*points)


def _point(s: Sentence, n: int) -> tuple[str, object]:
    """Where a row stands, in the words of an address: amps stand there too, and at no band of their own."""
    if s.facts[n].is_ in SETTINGS:
        return "power_setting", s.facts[n].is_
    if s.facts[n].of == "band" and str(s.facts[n].is_).rstrip("m").isdigit():
        return "frequency_hz", s.ground.frequency_of_band(str(s.facts[n].is_))
    return s.facts[n].of, value_of(s, n)


def find_sisters(s: Sentence) -> None:
    """'v1 80 v2 85 v3 0 v4 78 ma': parts of one letter, each before its figure, and the unit once at the end."""
    run = [i for i in s.items if _sister(s, i.at - 1)]
    letters = {re.sub(r"\d", "", s.facts[i.at - 1].of) for i in run}
    ends = run and run[-1] is s.items[-1] and run[-1].fact.unit in {"A", "Ω", "V", "°C", "F"}
    if len(run) < LEAST_SISTERS or len(letters) > 1 or not ends or any(i.fact.unit is not None for i in run[:-1]):
        return
    for item in run[:-1]:
        with_the_unit_of(item, run[-1])


LEAST_SISTERS = 3


def _sister(s: Sentence, n: int) -> bool:
    fact = s.fact(n)
    return fact is not None and fact.kind == "place" and re.fullmatch(r"[A-Z]{1,2}\d{1,3}", fact.of) is not None


def _rows(s: Sentence, leads: list[int]) -> list[list[Item]]:
    """The figures behind each point; none where a figure stands in front of them all."""
    if not leads or any(i.at < leads[0] for i in s.items):
        return []
    ends = [*leads[1:], len(s.facts)]
    return [[i for i in s.items if lead < i.at < end] for lead, end in zip(leads, ends, strict=True)]


def _are_of_one_unit(rows: list[list[Item]]) -> bool:
    """Whether the figures of each column are of one unit, bare ones apart, and no two columns are of the same."""
    units = [{item.fact.unit for item in column} - {None} for column in zip(*rows, strict=True)]
    return all(len(unit) == 1 for unit in units) and len({*map(frozenset, units)}) == len(units)
