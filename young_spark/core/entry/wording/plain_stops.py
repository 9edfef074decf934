"""What stands between the clauses of a text in one way of writing: a line break, a slash, a dash, 'and' or a comma
without its space is a comma where each side says enough to stand alone."""

import re
from collections.abc import Sequence

_I = re.IGNORECASE
_LINES = re.compile(r"[ ,;.]*\n\s*")
_BETWEEN = (" / ", " // ", " | ", " + ", " but ")
_FIGURE = re.compile(r"(?<![\w.])[-+<>]?\.?\d")
_WORD = re.compile(r"(?<![\w.])(?!(?:db|dbm|dbc|hz|khz|mhz|ma|mv|uv|mw|pp|rms)\b)[a-z]{2,}", _I)
_BEGINS = re.compile(r"[a-z]{2,}|[-+]?[\d.]+(?:w|v|a|%)", _I)
_PART_NUMBER = re.compile(r"\b[a-z]{1,2}\d{1,4}\b", _I)
# '780 / 640' without load and with it; 's9 + 40 db' of a meter
_KEPT_TOGETHER = re.compile(r"\d / [-+]?[\d.]+(?![\d.]*[a-z%])|\bs ?\d \+ \d", _I)
# figures that say where or how, and are none that was read
_POINTS = re.compile(
    r"\b(?:ch|chs|channels?|pins?|on|at|tone|between|from|both|bands?) ?[\d.]+\b|\b[\d.]+ ?v (?:rail|reg|line|tx|rx)\b",
    _I,
)
_LONE = re.compile(r"(?:also |then )?[-+<>]?[\d.]+ ?[a-zµ%]{0,3}(?: (?:each|together|both|ok|only|again|now|too))?", _I)
# '10.5,9.8' and 'on 1,3.9': what no number has on both sides of a comma
_COMMA_APART = re.compile(
    r"(?<=[^\W\d]),(?=[^ ])|(?<=\d),(?=[^\d ])|(?<=[a-z]\d),(?=[\d.])|(?<=[a-z]\d\d),(?=[\d.])|,(?=\d{1,2}\.\d)", _I
)


# 'freq error - 60 hz', 'bias - 52v': behind what has a sign a dash is it, and parts nothing
_ITS_SIGN = re.compile(
    r"\b(?P<error>err(?:or)?|off(?:set)?|drift|freq(?:uency)?) [-\u2212\u2013] (?=[\d.]+ ?(?:k?hz|ppm)\b)"
    r"|\b(?P<bias>bias|grid|g1|grid 1|agc|alc)(?P<volts> volts?| voltage| line)? [-\u2212\u2013] "
    r"(?=[\d.]+ ?v?(?:$|[ ,;]))",
    _I,
)


def with_plain_stops(text: str) -> str:
    """A text with commas between its clauses, and signs at their figures; a semicolon stays where commas stand too."""
    plain = _ITS_SIGN.sub(lambda m: f"{m['error'] or m['bias']}{m['volts'] or ''} -", text.replace(", but ", ", "))
    plain = _LINES.sub(", ", plain)
    for mark in _BETWEEN:
        pieces = plain.split(mark)
        if len(pieces) > 1 and _KEPT_TOGETHER.search(plain) is None and _stand_alone(pieces):
            plain = ", ".join(pieces)
    pieces = plain.split(" - ")
    if len(pieces) > 1 and _stand_alone(pieces) and all(map(_BEGINS.match, pieces[1:])):
        plain = ", ".join(pieces)
    plain = ", ".join(map(_with_and_apart, plain.split(", ")))
    if ", " not in plain:
        plain = plain.replace("; ", ", ")
    return _COMMA_APART.sub(", ", plain)


def _stand_alone(pieces: Sequence[str]) -> bool:
    if _FIGURE.search(pieces[0]):
        return all(map(_says_all, pieces))
    return _says_all(pieces[0]) and all(_FIGURE.search(piece) or _says_all(piece) for piece in pieces[1:])


def _says_all(piece: str) -> bool:
    """Whether a piece of a line may stand alone: a figure with a word to it, or words of something done or seen."""
    words = len(_WORD.findall(piece))
    return words > 0 if _FIGURE.search(piece) else words > 1 or (words > 0 and _PART_NUMBER.search(piece) is not None)


def _with_and_apart(clause: str) -> str:
    """'usb +5 and lsb -10' as two; 'on 2 and 3' and '0.52a and 0.49a' stay together."""
    first, *rest = clause.split(" and ")
    for piece in rest:
        together = _LONE.fullmatch(piece) is not None or not _are_two(first, piece)
        first = f"{first}{' and ' if together else ', '}{piece}"
    return first


def _are_two(first: str, piece: str) -> bool:
    read, own = _POINTS.sub("", first), _POINTS.sub("", piece)
    if _says_all(read) and _FIGURE.search(read) and _FIGURE.search(own) and _WORD.search(piece):
        return True
    return len(_FIGURE.findall(own)) > 1 and len(_FIGURE.findall(read)) > 1
