"""Units and decimals of a text in one way of writing: '8 volts' and '8 v' as '8v', '3,9' as '3.9' of a hand that writes
no points."""

import re

_I = re.IGNORECASE
_NUMBER = r"[-+<>]?\d*[.,]?\d+"
SPELT = {
    "w": r"watts?", "mw": r"milliwatts?", "v": r"volts?", "mv": r"millivolts?", "uv": r"microvolts?",
    "kv": r"kilovolts?", "ma": r"milliamps?|milliamperes?", "a": r"amps?|amperes?", "hz": r"hertz|hz",
    "khz": r"kilohertz", "mhz": r"megahertz", "db": r"decibels?", "%": r"percent|per cent|pct", "min": r"minutes?",
}  # fmt: skip
_SPELT_OUT = re.compile(
    rf"(?<![\w.,-])({_NUMBER}) ?(?:{'|'.join(f'(?P<u{n}>{said})' for n, said in enumerate(SPELT.values()))})\b", _I
)
# 'volts 13.8 amps 1.2': a hand that writes each unit before its figure
_UNITS_LEAD = re.compile(rf"(?:ch ?\d+|[^\d])*?\b(?:{'|'.join(SPELT.values())}) [-+]?\.?\d", _I)
_APART = re.compile(rf"(?<![\w.])({_NUMBER}) (mw|w|mv|uv|kv|ma|khz|hz|dbm|dbc|dbw|db|%|vpp|vdc|vac)(?![\w/.])", _I)
_LETTER_APART = re.compile(rf"(?<![\w.])({_NUMBER}) (v|a)(?![\w/.])", _I)
_OTHER_LETTERS = re.compile(r"(?<![\w.])[uk](?![\w.])", _I)  # 'v' and 'u' of two bands, 'a' and 'k' of a diode
_OHMS = re.compile(r"(?<=\d)ohms?\b", _I)
_POINT = re.compile(r"\d\.\d")
_NO_NUMBERS_OF_POINTS = "".join(
    rf"(?<!\b{word})" for word in ("ch ", "ch", "channels ", "channel ", "chs ", "pins ", "bands ", "band ", "on ")
)
_DECIMAL_COMMA = re.compile(
    rf"(?<![\d.,]){_NO_NUMBERS_OF_POINTS}(\d+)(?:,(?=\d{{1,2}}(?!\d)|\d{{4,6}}(?!\d))|(?<=\d{{4}}),(?=\d{{3}}(?!\d)))"
    r"(\d+)(?![\d.]|,\d|[a-z]*\d)",
    _I,
)
# '78 deg after 4:30': minutes and seconds; 'at 14:30' is the time of day
_ON_A_STOPWATCH = re.compile(
    r"\b(?P<lead>after|for|within) (?P<m>\d{1,2}):(?P<s>[0-5]\d)(?: ?min(?:ute)?s?\b)?(?![\d:.])", _I
)
_BARE_POINT = re.compile(r"(?<![\w.,])\.(?=\d)")
_GROUPED_BY_COMMAS = re.compile(r"(?<![\d.,])(\d{1,3}),(\d{3}),(\d|\d{3})(?![\w.,])")


def with_plain_units(text: str) -> str:
    """A text with its decimals behind a figure and a point, and the letters of each unit at its figure."""
    text = _BARE_POINT.sub("0.", text)
    plain = _ON_A_STOPWATCH.sub(lambda m: f"{m['lead']} {60 * int(m['m']) + int(m['s'])}s", text)
    plain = _GROUPED_BY_COMMAS.sub(r"\1.\2.\3", plain)
    if not _POINT.search(plain):
        plain = _DECIMAL_COMMA.sub(r"\1.\2", plain)
    if _UNITS_LEAD.match(plain) is None:
        plain = _SPELT_OUT.sub(_in_letters, plain)
    plain = _APART.sub(r"\1\2", plain)
    if not _OTHER_LETTERS.search(plain):
        plain = _LETTER_APART.sub(r"\1\2", plain)
    return _OHMS.sub(" ohm", plain)


def _in_letters(found: re.Match[str]) -> str:
    return f"{found[1]}{next(unit for n, unit in enumerate(SPELT) if found[f'u{n}'])}"
