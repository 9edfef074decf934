"""Figures that each say at what they were read, without a comma between them: '4.1v at 144 3.2 at 148', '480mv 3.5mhz,
210 at 28', '6db s/n at 1.1uv, 10 db at 1.9'. The unit that the first figure carries is meant for all of them, and that
of the first point for all points."""

import re
from itertools import pairwise

from young_spark.core.entry.wording.typed_figures import FIGURE, unit_of

_MHZ = r"\d{1,3}(?:\.\d{1,6})? ?mhz"
_PAIR = re.compile(
    rf"(?P<figure>(?<![\w.+-])(?=(?P<number>[+-]?\d*\.?\d+)){FIGURE})(?P<of>(?: (?!at\b|for\b)[a-z/+]{{1,6}})?)"
    rf"(?: (?:at|@|for) (?P<at>{FIGURE})| (?P<swept>{_MHZ})(?![\w.]))"
)
_BETWEEN = re.compile(r"(?:,|;)? (?:and |then )?|[,;]")
_BESIDE = re.compile(rf"{FIGURE} ?$")  # another figure at the first point
_OF_A_POINT = re.compile(r"(?:mhz|khz|hz|uv|mv|dbm|v|w|k|m)$")
_MOST_TIMES = 30.0  # from one figure to another of the same kind
_MOST_DB = 40.0
_DECIBELS = {"db", "dbm", "dbc"}


def figures_at_places(plain: str) -> str:
    """A folded text with each of such figures in a clause of its own, with its unit and that of its point; as it was
    typed where one of them is of something else, or where two figures stand at one point."""
    pairs = list(_PAIR.finditer(plain))
    if len(pairs) < _LEAST or not _follow_each_other(pairs, plain) or _BESIDE.search(plain[: pairs[0].start()]):
        return plain
    units = {unit_of(pair["figure"]) for pair in pairs} - {""}
    of_points = {unit_of(_point(pair)) for pair in pairs} - {""}
    if len(units) != 1 or len(of_points) > 1 or not _are_of_a_size(pairs, *units):
        return plain
    unit, of_point = next(iter(units)), next(iter(of_points), "")
    if of_point and not _OF_A_POINT.match(of_point):
        return plain
    clauses = [f"{_with(pair['figure'], unit)}{pair['of']} at {_with(_point(pair), of_point)}" for pair in pairs]
    return plain[: pairs[0].start()] + ", ".join(clauses) + plain[pairs[-1].end() :]


_LEAST = 2


def _point(pair: re.Match[str]) -> str:
    return str(pair["at"] or pair["swept"])


def _with(figure: str, unit: str) -> str:
    return figure if unit_of(figure) or ":" in figure else figure + unit


def _follow_each_other(pairs: list[re.Match[str]], plain: str) -> bool:
    between = (plain[one.end() : other.start()] for one, other in pairwise(pairs))
    return all(_BETWEEN.fullmatch(words) for words in between)


def _are_of_a_size(pairs: list[re.Match[str]], unit: str) -> bool:
    values = [abs(float(pair["number"])) for pair in pairs]
    if unit in _DECIBELS:
        return max(values) - min(values) <= _MOST_DB
    return min(values) > 0 and max(values) / min(values) <= _MOST_TIMES
