"""A row over frequencies, bands or channels with words for all of it, told apart: 'rx 28.4 .2uv 29.6 .25uv 10db' as
'28.4mhz rx .2uv 10db' and '29.6mhz rx .25uv 10db'. What each says is read by itself, so that whatever can be read at
one point can be read at several."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.said import Ground
from young_spark.core.entry.rows.one_of_several import NUMBERED
from young_spark.core.entry.rows.row_of_megahertz import AMATEUR_MHZ
from young_spark.core.entry.wording.typed_figures import FIGURE, UNIT, unit_of

LEAST, MOST = 2, 12  # points of a row
OF_ONE_SIZE = 50.0  # times: 'err +2.1k, -300' are not both kilohertz
NEAR = 0.02  # of a frequency that is known: '118' for 118.1 MHz
POINT = re.compile(
    rf"(?<![\w.+/-])(?P<point>{NUMBERED}(?=[ ,:])|ch ?\d{{1,2}}|\d{{1,3}} ?m(?=[ ,:]|$)|\d{{1,3}}\.\d{{1,3}}|\d{{3,5}})"
    rf"(?: ?mhz| ?khz)?(?![\w.%/+:]| ?{UNIT}(?![\w.]))"
)
A_FIGURE = re.compile(rf"(?<![\w.]){FIGURE}")
LEADS_A_POINT = re.compile(r"[\s,;:]*\b(?:on|at|@|in|for)?[\s,;:]*$")
BREAK = re.compile(r"^[\s,;:]+|[\s,;:]+$")
NO_ROW = re.compile(r"->|=>|/|\bfrom\b|\bto\b|\bshould\b|\bwas\b|\bcal\b|\bnow\b|\bset\b")
OF_ONE_FIGURE = re.compile(r"(?:in|out|drive|driven)\b.*\d")  # '5w in 121w out' at the last point only
BARE = re.compile(r"[+-]?[\d.]+")
OF_A_NAME = re.compile(r"\b(?:2nd|3rd|[45]th|h[2-9]|s9|1[02] ?db)\b")


@dataclass(frozen=True)
class _Row:
    """Where each point stands, what leads or trails it, and the words in front of all."""

    points: tuple[str, ...]
    parts: tuple[str, ...]
    front: str = ""


def spread(plain: str, ground: Ground) -> tuple[tuple[str, ...], ...]:
    """What a folded text says at each of its points, in the ways in which it may be written; nothing where it is no
    such row."""
    if NO_ROW.search(plain) is not None:
        return ()
    found = [point for point in POINT.finditer(plain) if _is_point(point["point"], ground)]
    labels = [_as_typed(point["point"], ground) for point in found]
    if not LEAST <= len(found) <= MOST or len(set(labels)) < len(labels):
        return ()
    row = _leading(plain, found, labels) or _trailing(plain, found, labels)
    return () if row is None else _at_each(row)


def _is_point(typed: str, ground: Ground) -> bool:
    if re.fullmatch(NUMBERED, typed):
        return True
    if not re.fullmatch(r"[\d.]+", typed):
        return typed.startswith("ch") == bool(ground.channel_hz)
    value = float(typed)
    if "." not in typed and value >= LEAST_KHZ:
        return ground.as_kilohertz(cut(typed)[0]) is not None
    known = any(abs(value * 1e6 / hz - 1) < NEAR for hz in (*ground.frequencies, *ground.read_at))
    amateur = "." in typed and any(low <= value <= high for low, high in AMATEUR_MHZ)
    return not ground.channel_hz and (amateur or (known and value >= LEAST_WHOLE_MHZ))


LEAST_KHZ, LEAST_WHOLE_MHZ = 1605.0, 30.0


def _as_typed(point: str, ground: Ground) -> str:
    """A point as what it is: '28.4mhz', '2182khz', '20m', 'ch5'."""
    if not re.fullmatch(r"[\d.]+", point):
        return point if re.fullmatch(NUMBERED, point) else point.replace(" ", "")
    return f"{point}khz" if "." not in point and float(point) >= LEAST_KHZ else f"{point}mhz"


def _leading(plain: str, found: Sequence[re.Match[str]], labels: Sequence[str]) -> _Row | None:
    """Each point with its figures behind it; words only in front of the first."""
    front = plain[: found[0].start()]
    if _figures(front):
        return None
    ends = [*(point.start() for point in found[1:]), len(plain)]
    parts = [BREAK.sub("", plain[point.end() : end]) for point, end in zip(found, ends, strict=True)]
    return _Row(tuple(labels), tuple(parts), LEADS_A_POINT.sub("", front)) if all(map(_figures, parts)) else None


def _trailing(plain: str, found: Sequence[re.Match[str]], labels: Sequence[str]) -> _Row | None:
    """Each point with its figures in front of it; no figure behind the last."""
    behind = plain[found[-1].end() :]
    starts = [0, *(point.end() for point in found[:-1])]
    parts = [plain[start : point.start()] for start, point in zip(starts, found, strict=True)]
    parts = [BREAK.sub("", LEADS_A_POINT.sub("", part)) for part in parts]
    if _figures(behind) or not all(map(_figures, parts)):
        return None
    front, first = _words_in_front(parts[0])
    return _Row(tuple(labels), (first, *parts[1:-1], f"{parts[-1]} {BREAK.sub('', behind)}".strip()), front)


def _words_in_front(part: str) -> tuple[str, str]:
    first = A_FIGURE.search(OF_A_NAME.sub(lambda name: "x" * len(name[0]), part))
    return ("", part) if first is None else (part[: first.start()].strip(), part[first.start() :])


def _figures(part: str) -> list[re.Match[str]]:
    return list(A_FIGURE.finditer(OF_A_NAME.sub(lambda name: "x" * len(name[0]), part)))


def _at_each(row: _Row) -> tuple[tuple[str, ...], ...]:
    """Each point with the words in front of all, its own figures, and what one part has more than the others."""
    many = min(len(_figures(part)) for part in row.parts)
    cuts = [_after(part, many) for part in row.parts]
    rests = {part[at:].strip(" ,;") for part, at in zip(row.parts, cuts, strict=True)} - {""}
    if len(rests) > 1 or any(
        OF_ONE_FIGURE.match(rest) or A_FIGURE.fullmatch(OF_A_NAME.sub("", rest)) for rest in rests
    ):
        return ()
    own = _in_one_unit([part[:at].strip(" ,;") for part, at in zip(row.parts, cuts, strict=True)])
    rest = next(iter(rests), "")
    if not (row.front or rest) and all(BARE.fullmatch(part) for part in own):
        return ()  # nothing says what such figures are
    said = [(at, " ".join(filter(None, (row.front, what, rest)))) for at, what in zip(row.points, own, strict=True)]
    return tuple((f"{at} {words}", f"{words} at {at}") for at, words in said)


def _after(part: str, many: int) -> int:
    """Where so many figures of a part end."""
    return _figures(part)[many - 1].end()


def _in_one_unit(parts: Sequence[str]) -> list[str]:
    """'.2uv' and '.25': the unit of one figure a part is the unit of all, where the others carry none."""
    units = {unit_of(part) for part in parts if len(_figures(part)) == 1} - {""}
    alone = all(BARE.fullmatch(part) or unit_of(part) in units for part in parts)
    sizes = [abs(fact.value / fact.factor) for part in parts for fact in cut(part) if fact.kind == "figure"]
    if len(units) != 1 or not alone or not sizes or max(sizes) > OF_ONE_SIZE * min(sizes):
        return list(parts)
    unit = units.pop()
    return [part if unit_of(part) else f"{part}{unit}" for part in parts]
