"""What a search asks: its words, and the figures with units that a worked table takes."""

import re
from dataclasses import dataclass

FIGURE = re.compile(r"(\d+(?:\.\d+)?)(ghz|mhz|khz|hz|kw|mw|dbm|db|w|m|ft)?")
SIGNED = re.compile(r"([-+]?\d+(?:\.\d+)?)dbm")
CHANNEL = re.compile(r"(?:ch|chan|channel)\s*(\d{1,3})\b")
SPACED = re.compile(r"(?<![\w.])([-+]?\d+(?:\.\d+)?) +(ghz|mhz|khz|hz|kw|mw|dbm|db|w|m|ft)\b")
SCALES = {
    "ghz": ("hz", 1e9),
    "mhz": ("hz", 1e6),
    "khz": ("hz", 1e3),
    "hz": ("hz", 1.0),
    "kw": ("watts", 1e3),
    "w": ("watts", 1.0),
    "mw": ("watts", 1e-3),
    "m": ("metres", 1.0),
    "ft": ("metres", 0.3048),
    "db": ("db", 1.0),
    "dbm": ("dbm", 1.0),
}


@dataclass(frozen=True, slots=True)
class Asked:
    """A search taken apart: words in order as they are compared, figures by what they measure (Hz, W, m, dB, dBm or a
    channel's number), and the text itself in lower case."""

    text: str
    words: tuple[str, ...]
    figures: dict[str, float]

    def figure(self, name: str, otherwise: float) -> float:
        """The figure of that name, or what stands in where none was typed."""
        return self.figures.get(name, otherwise)


def compared(word: str) -> str:
    """A word as it is compared: small letters, without the signs that hands leave out."""
    return re.sub(r"[-\u2010\u2011\u2013\u2212_/(),;:·]", "", word.casefold())


def asked(typed: str) -> Asked:
    """What a search asks for: 'rg58 145 mhz 20m' is one word, a frequency and a length."""
    text = " ".join(typed.casefold().replace(",", ".").replace("\u2212", "-").split())
    figures: dict[str, float] = {}
    if channel := CHANNEL.search(text):
        figures["channel"] = float(channel[1])
    words = []
    for word in SPACED.sub(r"\1\2", CHANNEL.sub(" ", text)).split():
        found = SIGNED.fullmatch(word) or FIGURE.fullmatch(word)
        unit = "dbm" if word.endswith("dbm") else (found[2] if found else None)
        if found and unit:
            name, scale = SCALES[unit]
            figures[name] = float(found[1]) * scale
        elif plain := compared(word):
            words.append(plain)
    return Asked(text, tuple(words), figures)
