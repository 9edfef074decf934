"""Markings of parts, read: colour rings and letter codes of resistors, three figures of capacitors (IEC 60062)."""

import re

from young_spark.core.figure import format_value
from young_spark.core.reference.asked import Asked
from young_spark.core.reference.table import Row, Table

DIGITS = {
    "black": 0,
    "brown": 1,
    "red": 2,
    "orange": 3,
    "yellow": 4,
    "green": 5,
    "blue": 6,
    "violet": 7,
    "purple": 7,
    "grey": 8,
    "gray": 8,
    "white": 9,
}
POWERS = {**DIGITS, "gold": -1, "silver": -2, "pink": -3}
TOLERANCE = {
    "brown": "1 %",
    "red": "2 %",
    "orange": "0.05 %",
    "yellow": "0.02 %",
    "green": "0.5 %",
    "blue": "0.25 %",
    "violet": "0.1 %",
    "purple": "0.1 %",
    "grey": "0.01 %",
    "gray": "0.01 %",
    "gold": "5 %",
    "silver": "10 %",
}
LETTERS = {"F": "1 %", "G": "2 %", "J": "5 %", "K": "10 %", "M": "20 %", "Z": "\N{MINUS SIGN}20 +80 %"}
SMALL = {"B": "0.1 pF", "C": "0.25 pF", "D": "0.5 pF"}  # below 10 pF a tolerance is one in pF
THREE = re.compile(r"([1-9]\d)(\d)([bcdfgjkmz])?")
LETTER = re.compile(r"(\d{0,3})([rkm])(\d{0,2})", re.IGNORECASE)
SOURCE = "IEC 60062"
COLUMNS = ("Marking", "Value", "Tolerance")


def _ohms(value: float) -> str:
    for scale, letter in ((1e6, "M"), (1e3, "k")):
        if value >= scale:
            return f"{value / scale:g} {letter}Ω"
    return f"{value:g} Ω"


def _typed(ohms: float) -> str:
    """A resistance as the field takes it: 4.7k."""
    return _ohms(ohms).replace(" ", "").replace("Ω", "") if ohms >= 1e3 else f"{ohms:g} ohm"


def ring_value(colours: tuple[str, ...]) -> tuple[float, str] | None:
    """Ohms and tolerance of three to six rings, or None where they are no resistor's: two or three figures, a power of
    ten, a tolerance, a temperature coefficient that is not read."""
    if not 3 <= len(colours) <= 6 or colours[0] == "black":
        return None
    count = 2 if len(colours) <= 4 else 3
    figures, power, rest = colours[:count], colours[count], colours[count + 1 :]
    if not all(c in DIGITS for c in figures) or power not in POWERS or not all(c in TOLERANCE for c in rest[:1]):
        return None
    value = float("".join(str(DIGITS[c]) for c in figures)) * 10.0 ** POWERS[power]
    return float(f"{value:.6g}"), TOLERANCE[rest[0]] if rest else "20 %"


def _rings(words: tuple[str, ...]) -> list[Row]:
    """The rings one way, and the other way where they make a resistor too."""
    rows = []
    for colours in dict.fromkeys((words, words[::-1])):
        read = ring_value(colours)
        if read is not None:
            rows.append(Row(cells=(" ".join(colours), _ohms(read[0]), f"± {read[1]}"), field=_typed(read[0])))
    return rows


def three_figures(code: str) -> tuple[float, str] | None:
    """Picofarads and tolerance of a capacitor's three figures: 104k is 100 nF ± 10 %; an 8 or 9 at the end is one
    hundredth and one tenth."""
    match = THREE.fullmatch(code)
    if match is None:
        return None
    power = {8: -2, 9: -1}.get(int(match[2]), int(match[2]))
    picofarads = int(match[1]) * 10.0**power
    letter = (match[3] or "").upper()
    if picofarads < 10 and letter in {"F", "G"}:
        return picofarads, {"F": "1 pF", "G": "2 pF"}[letter]
    return picofarads, SMALL.get(letter, LETTERS.get(letter, ""))


def _capacitor(code: str) -> list[Row]:
    read = three_figures(code)
    if read is None:
        return []
    value = format_value(read[0] * 1e-12, "F")
    said = f"± {read[1]}" if read[1] and not read[1].startswith("\N{MINUS SIGN}") else read[1] or "not marked"
    as_ohms = int(code[:2]) * 10.0 ** int(code[2])
    rows = [Row(cells=(f"{code.upper()} on a capacitor", value, said), field=value.replace(" ", "").replace("µ", "u"))]
    if code[:3] == code:  # a letter is a capacitor's
        rows.append(Row(cells=(f"{code} on a resistor", _ohms(as_ohms), "± 5 %, usually"), field=_typed(as_ohms)))
    return rows


def letter_value(code: str) -> float | None:
    """Ohms of a letter code: 4k7 is 4.7 kΩ, R47 is 0.47 Ω."""
    match = LETTER.fullmatch(code)
    if match is None or not (match[1] or match[3]):
        return None
    scale = {"r": 1.0, "k": 1e3, "m": 1e6}[match[2].lower()]
    return float(f"{match[1] or '0'}.{match[3] or '0'}") * scale


def marking(wanted: Asked) -> Table | None:
    """What a marking says, where the whole search is one."""
    words = wanted.words
    rows: list[Row] = []
    if words and all(w in POWERS for w in words):
        rows = _rings(words)
    elif len(words) == 1:
        rows = _capacitor(words[0])
        if (ohms := letter_value(words[0])) is not None:
            rows.append(Row(cells=(words[0].upper(), _ohms(ohms), "by the letter behind"), field=_typed(ohms)))
    if not rows:
        return None
    return Table(title="What the marking says", source=SOURCE, columns=COLUMNS, rows=tuple(rows))
