"""A text cut into facts, in their order: figures, quantity words, where, how, results, places, and the rest.

Nothing is decided here and nothing dropped: every letter of the text is in one of the facts."""

import difflib
import re
from dataclasses import dataclass
from functools import cache

from young_spark.core.entry.vocabulary import Kind, vocabulary

BANDS_M = {
    160: 1.85e6, 80: 3.65e6, 60: 5.36e6, 40: 7.1e6, 30: 10.12e6, 20: 14.2e6, 17: 18.1e6, 15: 21.2e6, 12: 24.93e6,
    10: 28.5e6, 6: 50.1e6, 4: 70.2e6, 2: 145e6,
}  # fmt: skip
# unit as typed → plain unit and factor; those that are letters of other meanings too must touch their figure
UNITS: dict[str, tuple[str, float]] = {
    "w": ("W", 1), "watt": ("W", 1), "watts": ("W", 1), "kw": ("W", 1e3), "mw": ("W", 1e-3), "milliwatts": ("W", 1e-3),
    "uw": ("W", 1e-6), "v": ("V", 1), "volt": ("V", 1), "volts": ("V", 1), "mv": ("V", 1e-3), "kv": ("V", 1e3),
    "uv": ("uV", 1), "microvolt": ("uV", 1), "microvolts": ("uV", 1), "vpp": ("Vpp", 1), "mvpp": ("Vpp", 1e-3),
    "vrms": ("Vrms", 1), "a": ("A", 1), "amp": ("A", 1), "amps": ("A", 1), "ma": ("A", 1e-3), "milliamps": ("A", 1e-3),
    "ua": ("A", 1e-6), "hz": ("Hz", 1), "khz": ("Hz", 1e3), "mhz": ("Hz", 1e6), "ghz": ("Hz", 1e9), "%": ("%", 1),
    "percent": ("%", 1), "pct": ("%", 1), "db": ("dB", 1), "dbm": ("dBm", 1), "dbc": ("dBc", 1), "ppm": ("ppm", 1),
    "ohm": ("Ω", 1), "ohms": ("Ω", 1), "ω": ("Ω", 1), "kohm": ("Ω", 1e3), "kω": ("Ω", 1e3), "mω": ("Ω", 1e6),
    "mohm": ("Ω", 1e6), "uf": ("F", 1e-6), "nf": ("F", 1e-9), "pf": ("F", 1e-12), "uh": ("H", 1e-6), "mh": ("H", 1e-3),
    "nh": ("H", 1e-9), "ms": ("s", 1e-3), "us": ("s", 1e-6), "s": ("s", 1), "sec": ("s", 1), "secs": ("s", 1),
    "seconds": ("s", 1), "min": ("s", 60), "mins": ("s", 60), "minutes": ("s", 60), "deg": ("°C", 1), "°c": ("°C", 1),
    "degrees": ("°C", 1), "div": ("div", 1), "divs": ("div", 1),
}  # fmt: skip
SHORTEST_MISTYPED = 4
TOUCHING: dict[str, tuple[str, float]] = {
    "k": ("k", 1e3), "m": ("m", 1), "r": ("Ω", 1), "u": ("F", 1e-6), "n": ("F", 1e-9), "p": ("F", 1e-12),
    "c": ("°C", 1),
}  # fmt: skip
INSIDE = {
    "w": ("W", 1.0),
    "k": ("k", 1e3),
    "r": ("Ω", 1.0),
    "v": ("V", 1.0),
    "u": ("F", 1e-6),
    "n": ("F", 1e-9),
    "p": ("F", 1e-12),
}
_UNIT = "|".join(sorted(map(re.escape, UNITS), key=len, reverse=True))
_NUMBER = r"[+-]?(?:\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d+(?:[.,]\d+)?|[.,]\d+)"
FIGURE = re.compile(
    rf"(?P<inside>\d+(?P<letter>[wkrvunp])\d+)(?![\w.])|(?P<number>{_NUMBER})"
    rf"(?:\s*(?P<unit>{_UNIT})(?![a-zω°]|-[a-z])|(?P<touching>[kmrunpc])(?![a-zω\d]))?(?P<more>\+(?!\d))?"
)
PART = r"(?:rfc|tp|tr|ic|vr|rv|zd|rl|ry|fl|cn|sk|q|r|c|l|d|u|t|f|v|x|k|j|p)\d{1,3}[a-z]?"
ELECTRODES = {
    "b": "base", "base": "base", "c": "collector", "col": "collector", "collector": "collector", "e": "emitter",
    "em": "emitter", "emitter": "emitter", "g": "gate", "gate": "gate", "drain": "drain", "source": "source",
    "anode": "anode", "plate": "anode", "cathode": "cathode", "grid": "grid", "g1": "grid", "screen": "screen",
    "primary": "primary", "secondary": "secondary", "wiper": "wiper", "in": "in", "out": "out",
}  # fmt: skip
_LONG = "|".join(sorted((e for e in ELECTRODES if len(e) > 2 or e in {"g1", "em"}), key=len, reverse=True))
PLACES = (
    re.compile(r"(?P<pin>pin \d+) (?:of )?(?P<part>ic\d+|u\d+)\b"),
    re.compile(r"(?P<part>ic\d+|u\d+) ?(?P<pin>pin ?\d+|p\d+)\b"),
    re.compile(rf"(?:the )?(?P<electrode>{_LONG}) of (?P<part>{PART})\b"),
    re.compile(rf"(?P<part>{PART}) (?P<electrode>{_LONG}|[bceg](?= ?[\d.+-]|$))(?![\w])"),
    re.compile(rf"(?P<part>{PART})(?![\w.])"),
)
RAIL = re.compile(r"(?P<volts>[+-]?\d+(?:\.\d+)?) ?(?P<v>v)? ?(?P<what>rail|line)\b")
BESIDE = re.compile(r"(?:before|after|behind|across) the (?:fuse|switch|relay|regulator|choke|diode)")
WORD = re.compile(r"[a-zω°][\w'/+-]*|\d\w*|.", re.DOTALL)


@dataclass(frozen=True, slots=True)
class Fact:
    """One fact: what it is, as it was typed, and what it says.

    A figure has `value` in `unit` (plain, prefix worked in) or in none; other facts say `of` (a quantity's id, a key
    of the address) and `is_` (its value)."""

    kind: Kind
    text: str
    of: str = ""
    is_: str | float = ""
    value: float = 0.0
    unit: str | None = None
    signed: bool = False
    bound: str | None = None
    decimals: int = 0
    factor: float = 1.0  # of the prefix that was typed


def cut(text: str) -> list[Fact]:
    """The facts of a folded text."""
    facts: list[Fact] = []
    at = 0
    while at < len(text):
        if text[at] in " ,;:=":
            at += 1
            continue
        fact, length = _next(text, at, facts)
        facts.append(fact)
        at += length
    return facts


def _next(text: str, at: int, before: list[Fact]) -> tuple[Fact, int]:
    rest = text[at:]
    for take in (_sign, _ratio, _beside, _rail, _where, _phrase, _place, _figure):
        if (found := take(rest, text, at, before)) is not None:
            return found
    word = WORD.match(rest)
    assert word is not None
    meant = nearly(word[0])
    if meant is not None:
        kind, of, is_ = vocabulary().facts[meant]
        return Fact(kind, word[0], of=of, is_=is_), len(word[0])
    return Fact("word", word[0]), len(word[0])


def nearly(word: str) -> str | None:
    """The word of the trade that a word of four letters or more is with one letter wrong."""
    if len(word) < SHORTEST_MISTYPED or word in UNITS:
        return None
    near = difflib.get_close_matches(word, _single_words(), n=1, cutoff=0.8)
    return near[0] if near and near[0][0] == word[0] and abs(len(near[0]) - len(word)) <= 1 else None


@cache
def _single_words() -> tuple[str, ...]:
    return tuple(
        w for w, (kind, _, _) in vocabulary().facts.items() if kind == "quantity" and len(w) >= 4 and " " not in w
    )


Found = tuple[Fact, int] | None
SIGNS = {"<": "upper", "≤": "upper", ">": "lower", "≥": "lower", "~": "about", "≈": "about"}


def _sign(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if rest.startswith(("->", "=>")):
        return Fact("link", "->", of="->", is_="->"), 2
    if rest[0] in SIGNS:
        return Fact("link", rest[0], of=SIGNS[rest[0]], is_=rest[0]), 1
    return None


def _ratio(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    """'1.5:1', '1:1.5', '1.5 to 1': an SWR."""
    found = re.match(r"(\d+(?:\.\d+)?) ?(?::|to) ?1(?![\w.])|1 ?: ?(\d+(?:\.\d+)?)(?![\w.])", rest)
    if found is None or (at and text[at - 1] in ".-+"):
        return None
    return Fact("figure", found[0], value=float(found[1] or found[2]), unit="1", decimals=1), found.end()


def _beside(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if (found := BESIDE.match(rest)) is None:
        return None
    return Fact("place", found[0], of="place", is_=found[0]), found.end()


def _rail(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if (found := RAIL.match(rest)) is None:
        return None
    name = f"{found['volts']}{' V' if found['v'] else ''} {found['what']}"
    return Fact("place", found[0], of="place", is_=name), found.end()


def _place(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if at and (text[at - 1].isalnum() or text[at - 1] in ".-+"):
        return None
    for pattern in PLACES:
        if (found := pattern.match(rest)) is not None:
            told = found.groupdict()
            part = told["part"].upper()
            name = part
            if told.get("pin"):
                name = f"{part} pin {re.sub(r'[^0-9]', '', told['pin'])}"
            elif told.get("electrode"):
                name = f"{part} {ELECTRODES[told['electrode']]}"
            return Fact("place", found[0], of=part, is_=name), found.end()
    if (found := re.match(r"(base|collector|emitter|gate|drain|source|b|c|e)(?= ?[+-]?[\d.])", rest)) is not None:
        part = next((f.of for f in reversed(before) if f.kind == "place" and f.of != "place"), "")
        if part:
            return Fact("place", found[0], of=part, is_=f"{part} {ELECTRODES[found[1]]}"), found.end()
    return None


def _where(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    found = re.match(r"(?:on )?(?:channel|chan|ch)\.? ?(\d{1,3})(?![\w.])", rest)
    if found is not None:
        return Fact("where", found[0], of="channel", is_=float(found[1])), found.end()
    if (found := re.match(r"(?:on )?(\d{1,3}) ?m(?![\w.])(?! ?hz)", rest)) is not None and int(found[1]) in BANDS_M:
        return Fact("where", found[0], of="band", is_=f"{found[1]}m"), found.end()
    if found := re.match(r"(?:after|for|in) (\d+(?:\.\d+)?) ?(s|sec|secs|seconds|min|mins|minutes)(?!\w)", rest):
        seconds = float(found[1]) * (60 if found[2].startswith("m") else 1)
        return Fact("how", found[0], of="after_s", is_=seconds), found.end()
    if (found := re.match(r"at (\d+(?:[.,]\d+)?) ?(k?hz|m(?:hz)?)(?!\w)", rest)) is not None:
        factor = {"k": 1e3, "h": 1.0, "m": 1e6}[found[2][0]]
        return Fact("how", found[0], of="at_hz", is_=float(found[1].replace(",", ".")) * factor), found.end()
    if (found := re.match(r"(?:at|@) ?(\d+(?:[.,]\d+)?) ?v(?:olts?)?(?!\w)", rest)) is not None:
        return Fact("how", found[0], of="supply_v", is_=float(found[1].replace(",", "."))), found.end()
    if (found := re.match(r"(?:into|in|on) (\d+) ?(?:r|ohms?|ω)(?!\w)", rest)) is not None:
        return Fact("how", found[0], of="load_ohm", is_=float(found[1])), found.end()
    return None


def _phrase(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if at and text[at - 1].isalnum():
        return None
    found = _phrases().match(rest)
    if found is None:
        return None
    kind, of, is_ = vocabulary().facts[found[0]]
    return Fact(kind, found[0], of=of, is_=is_), found.end()


@cache
def _phrases() -> re.Pattern[str]:
    every = sorted(vocabulary().facts, key=len, reverse=True)
    return re.compile("(?:" + "|".join(map(re.escape, every)) + r")(?![\w])")


def _figure(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if at and (text[at - 1].isalpha() or text[at - 1].isdigit()):
        return None
    found = FIGURE.match(rest)
    if found is None:
        return None
    if found["inside"]:
        letter = found["letter"]
        unit, factor = INSIDE[letter]
        value = float(found["inside"].replace(letter, ".")) * factor
        return Fact("figure", found[0], value=value, unit=unit, decimals=1, factor=factor), found.end()
    return _plain_figure(found), found.end()


def _plain_figure(found: re.Match[str]) -> Fact:
    typed = found["number"]
    plain = typed.replace(",", "") if re.fullmatch(r"[+-]?\d{1,3}(,\d{3})+(\.\d+)?", typed) and "." in typed else typed
    plain = plain.replace(",", ".") if plain.count(",") == 1 and "." not in plain else plain.replace(",", "")
    unit: str | None = None
    factor = 1.0
    if found["unit"]:
        unit, factor = UNITS[found["unit"]]
    elif found["touching"]:
        unit, factor = TOUCHING[found["touching"]]
    decimals = len(plain.partition(".")[2])
    return Fact(
        "figure", found[0], value=float(plain) * factor, unit=unit, signed=typed[0] in "+-", decimals=decimals,
        bound="lower" if found["more"] else None, factor=factor,
    )  # fmt: skip
