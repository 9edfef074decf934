"""Rows over amateur bands, each band written with its metres: '80 606w plate 425ma, 15 632w plate 460ma' and 'swr
160/80/40 1.4/1.3/2.0'. Of units without channels only; a channel is a number as well."""

import re
from itertools import pairwise

from young_spark.core.entry.wording.labels_and_figures import in_the_unit_of_the_last
from young_spark.core.gear import BANDS_M

_BAND = "|".join(str(band) for band in sorted(BANDS_M, reverse=True))
_UNIT = r"k?hz|khz|mhz|m?w|watts?|m?v|volts?|m?a|amps?|k|%|db\w*|uv|min\w*|s|secs?|deg\w*|c|ohms?|pep|turns?|div|years?"
BAND = re.compile(
    rf"(?<![\w.+/-])(?<![a-gi-z]\d )(?P<metres>{_BAND})(?: ?m(?:etres?)?)?(?![\w.%/+])"
    rf"(?! (?:{_UNIT}|in|out|drive|up|down|high|low)\b)(?! ?[-=]?>)(?! ?[x*])(?P<sign> ?[:=] ?)?"
)
_FIGURE = r"[+-]?\d*\.?\d+ ?(?:m?[wva]|khz|k|hz|%|dbm|dbc|db|uv)?"
BY_TURNS = re.compile(
    rf"(?<![\w.+/-])(?P<labels>(?:{_BAND})(?: ?m)?(?: ?/ ?(?:{_BAND})(?: ?m)?)+):? "
    rf"(?P<figures>{_FIGURE}(?: ?/ ?{_FIGURE})+)$"
)
# numbers in names, which are no figures of the row
IN_NAMES = re.compile(r"\b(?:2nd|3rd|[45]th|h[2-9]|[2-9]f|1[02] ?db (?:sinad|s/n|s\+n/n)|harmonic [2-9]|s9)\b")
FIGURE = re.compile(r"[+-]?\d*\.?\d+")
TELLING = re.compile(r"\d\.\d|\d ?(?:m?[wva]|khz|k|hz|%|dbm|dbc|db|uv)\b|\d ?%")
BESIDE = re.compile(r"(?:\d ?(?:m?[wva]|khz|k|hz|%|dbm|dbc|db|uv)?|\b(?:on|at|in)),? $")
# what a number is that such a word leads
NO_BAND_BEFORE = re.compile(
    r"\b(?:ch|chan|channel|channels|pin|cal|step|no|of|by|for|after|was|from|to|about|s|drive|in)$"
)


def bands_in_rows(plain: str) -> str:
    """A folded text with each band of a row in metres, as it was typed where it is no row over bands."""
    if (turns := BY_TURNS.search(plain)) is not None:
        return plain[: turns.start()] + _each_with_its_band(turns)
    found = [
        band
        for band in BAND.finditer(plain)
        if NO_BAND_BEFORE.search(plain[: band.start()].rstrip()) is None and not _is_in_a_setting(plain, band)
    ]
    metres = [int(band["metres"]) for band in found]
    in_order = all(a > b for a, b in pairwise(metres)) or all(a < b for a, b in pairwise(metres))
    if len(found) > 1 and in_order and (_leads(plain, found) or _trails(plain, found)):
        at = {band.start() for band in found}
        return BAND.sub(lambda band: _in_metres(band) if band.start() in at else band[0], plain)
    return plain


def _is_in_a_setting(plain: str, band: re.Match[str]) -> bool:
    """'⟨band 2⟩' of a receiver, by its number."""
    begin = band.start()
    return any(plain.rfind(opens, 0, begin) > plain.rfind(closes, 0, begin) for opens, closes in ("⟨⟩", "⟪⟫"))


def _in_metres(band: re.Match[str]) -> str:
    return f"{band['metres']}m{' ' if band['sign'] else ''}"


def _each_with_its_band(turns: re.Match[str]) -> str:
    labels, figures = re.findall(r"\d+", turns["labels"]), [f.strip() for f in turns["figures"].split("/")]
    if len(labels) != len(figures):
        return turns[0]
    whole = in_the_unit_of_the_last(figures)
    return ", ".join(f"{label}m {figure}" for label, figure in zip(labels, whole, strict=True))


def _leads(plain: str, found: list[re.Match[str]]) -> bool:
    """Each band with its figures behind it, and no figure in front of them all."""
    ends = [*(band.start() for band in found[1:]), len(plain)]
    behind = [plain[band.end() : end] for band, end in zip(found, ends, strict=True)]
    return not _figures(plain[: found[0].start()]) and all(_figures(part) for part in behind) and _is_told(plain, found)


def _trails(plain: str, found: list[re.Match[str]]) -> bool:
    """Each band with its figures in front of it, and no figure behind them all."""
    starts = [0, *(band.end() for band in found[:-1])]
    before = [plain[start : band.start()] for start, band in zip(starts, found, strict=True)]
    beside = all(_figures(part) and BESIDE.search(part) for part in before)
    return not _figures(plain[found[-1].end() :]) and beside and _is_told(plain, found)


def _figures(part: str) -> list[str]:
    return FIGURE.findall(IN_NAMES.sub("", part))


def _is_told(plain: str, found: list[re.Match[str]]) -> bool:
    """Whether anything besides the bands says what stands there: a unit, a decimal, a word, metres that were typed."""
    rest = BAND.sub(" ", plain)
    metres = any(re.search(r"\d ?m", band[0]) for band in found)
    return metres or TELLING.search(rest) is not None or re.search(r"[a-z]{2}|h\d", rest) is not None
