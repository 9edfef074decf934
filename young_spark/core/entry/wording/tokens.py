"""Cutting hurried text into figures with units, marks and words."""

import re
from dataclasses import dataclass


class Unclear(Exception):
    """The text has no single sense; str() is the one short question to ask."""


class NotOneFigure(Unclear):
    """More than the grammar of one figure holds: several figures, or words that it does not know."""


@dataclass(frozen=True, slots=True)
class Figure:
    """A number as typed: `value` in `unit` (a plain unit, prefix taken in), `step` its last digit in the same unit."""

    value: float
    unit: str | None
    step: float
    text: str
    signed: bool = False
    factor: float = 1.0  # of the prefix typed with the unit

    def in_unit(self, unit: str, factor: float = 1.0) -> "Figure":
        """The same number read in a unit it was typed without."""
        return Figure(self.value * factor, unit, self.step * factor, self.text, self.signed, factor)


@dataclass(frozen=True, slots=True)
class Mark:
    """A sign between figures: / .. x of to < > and 'between', 'and', 'loss', 'el', 'cal'."""

    kind: str


@dataclass(frozen=True, slots=True)
class Word:
    """A word that is neither unit nor mark."""

    text: str


Token = Figure | Mark | Word

# unit as typed in lower case → plain unit and factor; m is milli, except before Hz and ohm
UNITS: dict[str, tuple[str, float]] = {
    "w": ("W", 1),
    "watt": ("W", 1),
    "watts": ("W", 1),
    "kw": ("W", 1e3),
    "mw": ("W", 1e-3),
    "uw": ("W", 1e-6),
    "nw": ("W", 1e-9),
    "v": ("V", 1),
    "volt": ("V", 1),
    "volts": ("V", 1),
    "mv": ("V", 1e-3),
    "kv": ("V", 1e3),
    "uv": ("V", 1e-6),
    "vpp": ("Vpp", 1),
    "mvpp": ("Vpp", 1e-3),
    "vp": ("Vp", 1),
    "mvp": ("Vp", 1e-3),
    "a": ("A", 1),
    "amp": ("A", 1),
    "amps": ("A", 1),
    "ma": ("A", 1e-3),
    "ua": ("A", 1e-6),
    "hz": ("Hz", 1),
    "khz": ("Hz", 1e3),
    "mhz": ("Hz", 1e6),
    "ghz": ("Hz", 1e9),
    "k": ("k", 1),
    "m": ("m", 1),
    "%": ("%", 1),
    "pct": ("%", 1),
    "percent": ("%", 1),
    "db": ("dB", 1),
    "dbm": ("dBm", 1),
    "dbc": ("dBc", 1),
    "dbw": ("dBw", 1),
    "ppm": ("ppm", 1),
    "ohm": ("Ω", 1),
    "ohms": ("Ω", 1),
    "ω": ("Ω", 1),
    "r": ("Ω", 1),
    "kohm": ("Ω", 1e3),
    "mohm": ("Ω", 1e6),
    "c": ("°C", 1),
    "°c": ("°C", 1),
    "deg": ("°C", 1),
    "s": ("s", 1),
    "sec": ("s", 1),
    "ms": ("s", 1e-3),
    "uf": ("F", 1e-6),
    "nf": ("F", 1e-9),
    "pf": ("F", 1e-12),
    "khz/v": ("Hz/V", 1e3),
    "k/v": ("Hz/V", 1e3),
    "hz/v": ("Hz/V", 1),
    "div": ("div", 1),
    "divs": ("div", 1),
}

_MARKS = {
    "/": "/",
    "..": "..",
    "...": "..",
    "x": "x",
    "*": "x",
    "×": "x",
    "of": "of",
    "to": "..",
    "->": "->",
    "<": "<",
    ">": ">",
    "between": "between",
    "and": "and",
    "loss": "loss",
    "el": "el",
    "element": "el",
    "cal": "cal",
    "half": "half",
    "at": "at",
    "@": "at",
}

_NUMBER = r"(?P<number>[+-]?(?:\d+(?:[.,]\d+)?|[.,]\d+))"
_UNIT = r"(?:\s*(?P<unit>" + "|".join(sorted((re.escape(u) for u in UNITS), key=len, reverse=True)) + r")(?![a-zω°%]))?"
_TOKEN = re.compile(
    r"\s*(?:(?P<mark>->|\.\.\.?|[/×*<>@]|x(?=\s*[\d.]))|" + _NUMBER + _UNIT + r"|(?P<word>[^\W\d_][\w'’-]*|%|.))",
    re.IGNORECASE,
)
_GROUPED = re.compile(
    r"(?<![\d.,])(\d{1,3})((?: \d{3})+)(?=(?:[.,]\d+)? ?(?:w|kw|mw|v|mv|hz|khz|mhz|ma|ω)\b)", re.IGNORECASE
)
_FOLD = str.maketrans(
    {
        "−": "-",
        "–": "-",
        "—": "-",
        "‐": "-",
        "μ": "u",
        "µ": "u",
        "\xa0": " ",
        "\u202f": " ",
        "…": "..",
        "\u2126": "ω",
        "Ω": "ω",
        "’": "'",
        **dict.fromkeys("⟨⟩⟪⟫", " "),  # by which the program marks what it told apart
    }
)


def folded(text: str) -> str:
    """The text with its look-alike signs made plain, lower case, single spaces, without the stop of a sentence."""
    plain = re.sub(r"(?<=\d)·(?=\d)", ".", text.translate(_FOLD).lower())
    return re.sub(r"(?<=[\w%])[.,;]$", "", re.sub(r"\s+", " ", plain).strip())


def _number(text: str, unit: str | None) -> tuple[float, float]:
    """Value and last digit. A comma with three digits behind it has two readings, unless a unit settles it."""
    if "," in text and re.fullmatch(r"[+-]?[1-9]\d{0,2},\d{3}", text) and unit not in {"mhz", "ghz", "m"}:
        point, plain = text.replace(",", "."), text.replace(",", "")
        raise Unclear(f"{text}: {point} or {plain}?")
    plain = text.replace(",", ".")
    decimals = len(plain.split(".")[1]) if "." in plain else 0
    return float(plain), 10.0**-decimals


def _figure(match: re.Match[str]) -> Figure:
    typed, unit = match["number"], match["unit"]
    value, step = _number(typed, unit)
    plain, factor = UNITS[unit] if unit else (None, 1.0)
    return Figure(value * factor, plain, step * factor, match[0].strip(), typed[0] in "+-", factor)


def cut(text: str) -> list[Token]:
    """The tokens of folded text. Raises Unclear for a number with two readings or too long a text."""
    if len(text) > 200:
        raise Unclear("That is long for a figure. Is it a note? Begin with 'note'.")
    text = _GROUPED.sub(lambda m: m[1] + m[2].replace(" ", ""), text)
    tokens: list[Token] = []
    for match in _TOKEN.finditer(text):
        if match["number"]:
            tokens.append(_figure(match))
        elif match["mark"]:
            tokens.append(Mark(_MARKS[match["mark"]]))
        elif match["word"]:
            word = match["word"]
            tokens.append(Mark(_MARKS[word]) if word in _MARKS else Word(word))
    return tokens
