"""A text cut into facts, in their order: figures, quantity words, where, how, results, places, and the rest.

Nothing is decided here and nothing dropped: every letter of the text is in one of the facts."""

import re
from dataclasses import replace
from functools import cache, lru_cache

from young_spark.core.entry.facts.asides import aside_at
from young_spark.core.entry.facts.circumstances import BESIDE as BESIDE_A_FIGURE
from young_spark.core.entry.facts.fact import AS_TYPED, Fact
from young_spark.core.entry.facts.where import Found, where_at
from young_spark.core.entry.wording.mistyped import no_points, other_words
from young_spark.core.entry.wording.places import PINS, RAIL, place_at
from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.ground import is_slip

# unit as typed → plain unit and factor; those that are letters of other meanings too must touch their figure
UNITS: dict[str, tuple[str, float]] = {
    "w": ("W", 1), "watt": ("W", 1), "watts": ("W", 1), "kw": ("W", 1e3), "mw": ("W", 1e-3), "milliwatts": ("W", 1e-3),
    "milliwatt": ("W", 1e-3), "uw": ("W", 1e-6), "nw": ("W", 1e-9), "v": ("V", 1), "volt": ("V", 1), "volts": ("V", 1),
    "mv": ("V", 1e-3), "millivolts": ("V", 1e-3), "kv": ("V", 1e3), "uv": ("uV", 1), "microvolt": ("uV", 1),
    "microvolts": ("uV", 1), "vpp": ("Vpp", 1), "mvpp": ("Vpp", 1e-3), "vp": ("Vp", 1), "mvp": ("Vp", 1e-3),
    "vrms": ("Vrms", 1), "mvrms": ("Vrms", 1e-3), "a": ("A", 1), "amp": ("A", 1), "amps": ("A", 1), "ma": ("A", 1e-3),
    "milliamps": ("A", 1e-3), "ua": ("A", 1e-6), "hz": ("Hz", 1), "khz": ("Hz", 1e3), "mhz": ("Hz", 1e6),
    "ghz": ("Hz", 1e9), "%": ("%", 1), "percent": ("%", 1), "pct": ("%", 1), "db": ("dB", 1), "dbm": ("dBm", 1),
    "dbw": ("dBw", 1), "dbc": ("dBc", 1), "ppm": ("ppm", 1), "ohm": ("Ω", 1), "ohms": ("Ω", 1), "ω": ("Ω", 1),
    "kohm": ("Ω", 1e3), "kω": ("Ω", 1e3), "mω": ("Ω", 1e6), "mohm": ("Ω", 1e6), "meg": ("Ω", 1e6), "gohm": ("Ω", 1e9),
    "uf": ("F", 1e-6), "mfd": ("F", 1e-6), "mf": ("F", 1e-6), "nf": ("F", 1e-9), "pf": ("F", 1e-12), "uh": ("H", 1e-6),
    "mh": ("H", 1e-3), "nh": ("H", 1e-9), "ms": ("s", 1e-3), "us": ("s", 1e-6), "s": ("s", 1), "sec": ("s", 1),
    "secs": ("s", 1), "seconds": ("s", 1), "min": ("s", 60), "mins": ("s", 60), "minutes": ("s", 60), "deg": ("°C", 1),
    "hertz": ("Hz", 1), "kilohertz": ("Hz", 1e3), "megahertz": ("Hz", 1e6), "cycles": ("Hz", 1),
    "kilocycles": ("Hz", 1e3), "decibels": ("dB", 1), "decibel": ("dB", 1), "kilovolts": ("V", 1e3),
    "kilovolt": ("V", 1e3), "mils": ("A", 1e-3), "milliamp": ("A", 1e-3), "microamps": ("A", 1e-6),
    "kilohms": ("Ω", 1e3), "kilohm": ("Ω", 1e3), "megohms": ("Ω", 1e6), "megohm": ("Ω", 1e6),
    "microfarads": ("F", 1e-6), "picofarads": ("F", 1e-12),
    "°c": ("°C", 1), "degc": ("°C", 1), "degrees": ("°C", 1), "div": ("div", 1), "divs": ("div", 1),
}  # fmt: skip
_PREFIXES = {"pico": 1e-12, "nano": 1e-9, "micro": 1e-6, "milli": 1e-3, "": 1.0, "kilo": 1e3, "mega": 1e6}
_SPELT = {
    "ohm": "Ω", "ohms": "Ω", "farad": "F", "farads": "F", "henry": "H", "henries": "H", "henrys": "H", "amp": "A",
    "amps": "A", "ampere": "A", "amperes": "A", "volt": "V", "volts": "V", "watt": "W", "watts": "W",
}  # fmt: skip
# 'milliohms', 'picofarads'; microvolts are levels, and stay as they are
UNITS |= {
    f"{prefix}{unit}": (plain, factor)
    for prefix, factor in _PREFIXES.items()
    for unit, plain in _SPELT.items()
    if f"{prefix}{unit}" not in UNITS
}
TOUCHING: dict[str, tuple[str, float]] = {
    "k": ("k", 1e3), "m": ("m", 1), "r": ("Ω", 1), "u": ("F", 1e-6), "n": ("F", 1e-9), "p": ("F", 1e-12),
    "c": ("°C", 1), "g": ("Ω", 1e9),
}  # fmt: skip
INSIDE = {
    "w": ("W", 1.0), "k": ("k", 1e3), "r": ("Ω", 1.0), "v": ("V", 1.0), "u": ("F", 1e-6), "n": ("F", 1e-9),
    "p": ("F", 1e-12), "a": ("A", 1.0), "m": ("m", 1.0),
}  # fmt: skip
WORN = {"½": ".5", "¼": ".25", "¾": ".75"}  # signs of a single key
_UNIT = "|".join(sorted(map(re.escape, UNITS), key=len, reverse=True))
_BEFORE_A_UNIT = r"(?= ?(?:v|[km]?hz|ω)(?![a-z]))"
_BEFORE_WATTS = r"(?= ?k?w(?![a-z]))"  # of one digit only: '80 110w' is a band and its watts
_THOUSANDS = (
    rf"\d{{1,3}}(?:,\d{{3}})+(?!\d)(?:\.\d+)?|\d{{1,3}}\.\d{{3}}\.\d{{3}}|\d{{1,3}}(?: \d{{3}})+{_BEFORE_A_UNIT}"
    rf"|\d \d{{3}}{_BEFORE_WATTS}"
)
_NUMBER = rf"[+-]?(?:{_THOUSANDS}|\d+(?:[.,]\d+)?|[.,]\d+)"
FIGURE = re.compile(
    rf"(?P<inside>\d+(?P<letter>[wkrvunpam])\d{{1,3}})(?![\w.])|(?P<number>{_NUMBER})"
    rf"(?:\s*(?P<unit>{_UNIT})(?![a-zω°\d]|-[a-z])|(?P<touching>[kmrunpcg])(?![a-zω\d]))?(?P<more>\+(?!\d))?"
)
WRONG_UNITS = {
    "kzh": "khz", "hkz": "khz", "mzh": "mhz", "hz.": "hz", "wtts": "watts", "wats": "watts", "watss": "watts",
    "wattts": "watts", "votls": "volts", "vots": "volts", "voltss": "volts", "apms": "amps", "ampss": "amps",
    "hrz": "hz", "ohsm": "ohms", "omhs": "ohms",
}  # fmt: skip
TOUCHED = re.compile(r"\d(?P<word>[a-z]+)")
ENDINGS = {"ish", "st", "nd", "rd", "th"}
WORD = re.compile(r"[a-zω°][\w'/+-]*|\d\w*|.", re.DOTALL)


@lru_cache(maxsize=512)
def cut(text: str) -> tuple[Fact, ...]:
    """The facts of a folded text."""
    facts: list[Fact] = []
    at, fresh = 0, False
    while at < len(text):
        if text[at] in " ,;:=":
            fresh = fresh or text[at] in ",;"
            if text[at] == ":" and facts:
                facts[-1] = replace(facts[-1], labels=True)
            at += 1
            continue
        fact, length = _next(text, at, facts)
        facts.append(replace(fact, fresh=True) if fresh and facts else fact)
        at, fresh = at + length, False
    return tuple(facts)


def _next(text: str, at: int, before: list[Fact]) -> tuple[Fact, int]:
    rest = text[at:]
    for take in (_aside, _sign, _clock, _ratio, _where, _longest, _figure):
        if (found := take(rest, text, at, before)) is not None:
            return found
    if (point := _called_behind_at(rest, before)) is not None:
        return point
    word = WORD.match(rest)
    assert word is not None
    meant = nearly(word[0])
    if meant is not None:
        kind, of, is_ = vocabulary().facts[meant]
        return Fact(kind, word[0], of=of, is_=is_), len(word[0])
    return Fact("word", word[0]), len(word[0])


# '13.8v at lugs', '220mv at injection port': a point that no list has, behind what is read at points
CALLED_BEHIND_AT = re.compile(r"(?:the )?(?P<name>[a-z]{3,}(?: [a-z]{3,})?)(?=$|[,;)]| \(| [+-]?\.?\d)")
READ_AT_POINTS = {"V", "Vpp", "Vrms", "Ω", "uV", "dBm"}
LEADING_TO_A_POINT = {"at", "across"}


def _called_behind_at(rest: str, before: list[Fact]) -> Found:
    """A point by words that nothing knows, directly behind 'at' or 'across' and a figure that is read at points."""
    if len(before) < LEAST_BEFORE or before[-1].text not in LEADING_TO_A_POINT:
        return None
    read, found = before[-2], CALLED_BEHIND_AT.match(rest)
    at_a_point = read.unit in READ_AT_POINTS or (read.unit is None and read.may_feed and read.decimals > 0)
    if found is None or read.kind != "figure" or not at_a_point:
        return None
    words = found["name"].split()
    if any(word in no_points() or word in UNITS or word in vocabulary().facts for word in words):
        return None
    return Fact("place", found[0], of=found["name"], is_=found["name"]), found.end()


LEAST_BEFORE = 2


@lru_cache(maxsize=2048)
def nearly(word: str) -> str | None:
    """The word of the trade that a word was meant to be, or None."""
    if word in UNITS or word in other_words():
        return None
    return next((meant for meant in _single_words() if is_slip(word, meant)), None)


@cache
def _single_words() -> tuple[str, ...]:
    return tuple(
        w for w, (kind, _, _) in vocabulary().facts.items() if kind == "quantity" and len(w) >= 4 and " " not in w
    )


NOMINAL = re.compile(r"\d{1,2}(?:\.\d)? ?v (?:supply|psu)(?= (?:is |reads |at )?\d)")  # what it is called by its volts
INTO_IT = re.compile(
    r" ?(?:[\d.=:,]|below|under|about|over|is|was|now|of|only|reads|measured|ok|high|low|flat|on \d|to the|$)"
)
POINTED = {"left", "right"}  # sides of a pair, before their figure only
GLUED = re.compile(
    r"(?!ig[123]\b)(?:swr|vswr|pwr|psu|dev|mod|sens|ip|ig|hv|ht|temp|bias|idle|idq|alc|thd)(?=\d*\.?\d)"
)  # 'swr1.4'
# what else happened, or how it stood, when the figures beside it were read
BESIDE = re.compile(
    r"(?:trips?|tripped|cuts? out|shuts? down) (?:at|after|in) \d+ ?(?:min\w*|m|s|secs?)\b|at (?:the )?trip\b"
    r"|\d[\d.]* ?(?:khz |m )?(?=lpf|bpf|low[- ]?pass|band[- ]?pass)|\d[\d.]*[unp]f? (?=leaky|leaks|bulged|dried)"
    r"|no (?:low[- ]?pass |output )?filter(?: in it| inside| fitted| in)?\b"
    r"|with (?:the |an |a |his |its )?(?:atu|tuner|aerial tuner)\b|at (?:a )?normal (?:voice|speech|level)\b"
    r"|(?:ht|hv|h\.t\.|mains|psu|supply|power|plug) (?:off|out|disconnected|unplugged|pulled|discharged)"
    r"(?:,? (?:and )?(?:shorted|discharged|grounded|earthed|bled|safe|stick(?: on)?))+"
    r"|(?:plate |anode )?(?:load|loading|tune|tuning)(?: cap| control)? (?:moved |turned |set |shifted )?"
    r"(?:at |from )?\d{1,3} (?:(?:up |down |back )?to|->) \d{1,3}"
    r"(?![\d.]| ?[a-zω%])"
    r"|(?:at|with) (?:the )?same \d+ ?w?(?: in| drive)?(?![\w.])"
    r"|(?:(?:at|with) )?(?:the )?same (?:drive|power|supply|level|input|volts|output|current)(?![\w])"
    r"|warm(?:ed)?[- ]?up (?:for |time )?\d+ ?(?:s|secs?|seconds|mins?|minutes|m)\b|(?:no|without) drive(?=, )"
    r"|(?:(?:and|then) )*(?:it )?(?:cuts|switches|shuts|turns|drops) (?:off|out|itself off)(?: again)?$"
    r"|fans? (?:comes? |goes |kicks? |cuts? )?(?:on|in|starts?)(?: at)? \d+ ?(?:deg\w*|c)?(?![\w.])"
    r"|no shorts?(?: to (?:the )?(?:chassis|frame|ground|gnd|earth|case|metalwork))?(?![\w-])(?! (?:on|at|in|across) )"
    r"|(?:flat )?(?:to )?within \d[\d.]* ?db(?![a-z])"
    r"|[a-z]{1,2}\d{1,3} ?(?:-|to) ?[a-z]{1,2}\d{1,3}(?=,)"
    r"|(?:tune |plate |current )*dips? (?:from )?\d+ to \d+(?= (?:nice|ok|good|fine|sharp|well|broad|deep)\w*$|$)"
    r"|new (?:one|ones|valve|tube) £?\d+\.\d\d(?!\d)|into (?:a )?\d(?:\.\d)? ?: ?1(?: (?:for|load)[\w ]*)?"
    r"|(?:it )?used to (?:be|do|give|make) \d[\d.]* ?(?:m?w|watts?|v|m?a)?(?![\w.])"
    r"|(?:at full(?: drive| power| output)?|full (?:drive|output))(?=$|,)"
    r"|trips$|\d[\d.]*[rkm]?\d*(?: \d+ ?w)? (?=reads (?:open|short))"
    r"|(?:current[- ])?limit(?:ed)?(?: to| at)? \d+(?:\.\d+)? ?m?a:|at s[1-9](?: ?\+ ?\d+)?$"
)
NO_DRIVE = re.compile(r"(?:with )?(?:no|without) drive$")  # behind 'on key'; elsewhere it is a result
ASIDE = re.compile(r"\((?:new|was|before|old|used|after|with|ex|from|see|job|approx)\b[^()]*\)")


def _aside(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    """'(new: 110)', '(was 3.1)', 'trips at 8 min': what is only told beside; a figure in brackets by itself may be what
    is due."""
    if (marked := BESIDE_A_FIGURE.match(rest)) is not None:
        return Fact("word", marked["words"], of=AS_TYPED), marked.end()
    found = (
        ASIDE.match(rest)
        or BESIDE.match(rest)
        or (NO_DRIVE.match(rest) if before and before[-1].of == "state" else None)
    )
    if found is not None:
        return Fact("word", found[0]), found.end()
    return aside_at(rest) if not (at and text[at - 1].isalnum()) else None


SIGNS = {"<": "upper", "≤": "upper", ">": "lower", "≥": "lower", "~": "about", "≈": "about"}


def _sign(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if rest.startswith(("->", "=>")):
        return Fact("link", "->", of="->", is_="->"), 2
    if found := re.match(r"\.\.\.?", rest):
        return Fact("link", found[0], of="..", is_=".."), found.end()
    if rest[0] == "/":
        return Fact("link", "/", of="/", is_="/"), 1
    if rest.startswith("→"):
        return Fact("link", "→", of="->", is_="->"), 1
    if rest[0] == ">" and _leads_on(rest, text, at, before):
        return Fact("link", "->", of="->", is_="->"), 1
    if rest[0] in SIGNS:
        return Fact("link", rest[0], of=SIGNS[rest[0]], is_=rest[0]), 1
    if found := re.match(r"(?:±|\+/-) ?\d+(?:\.\d+)? ?%", rest):
        return Fact("word", found[0]), found.end()
    if found := re.match(r"±|\+/-", rest):
        return Fact("link", found[0], of="either side", is_="±"), found.end()
    if (found := re.match(r"[a-zω]?(\.)(?=\s|$)|[!?]+(?=\s|$)", rest)) and found.end() and rest[0] in ".!?":
        return Fact("word", found[0]), found.end()
    return None


def _leads_on(rest: str, text: str, at: int, before: list[Fact]) -> bool:
    """'25 > 590 out', '3w>11w': from one figure to the next; '58 >60' is a figure, and one that is more than that."""
    behind = bool(before) and before[-1].kind == "figure"
    evenly = bool(re.match(r"> \.?\d", rest)) if at and text[at - 1] == " " else bool(re.match(r">\.?\d", rest))
    return behind and evenly


def _clock(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    """'10:15 25w': when it was read, which stays beside it as words."""
    found = re.match(r"(?:[01]?\d|2[0-3]):[0-5]\d(?![\d.:])", rest)
    if found is None or (at and text[at - 1] not in " ,;"):
        return None
    return Fact("word", found[0]), found.end()


def _ratio(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    """'1.5:1', '1:1.5', '1.5 to 1': an SWR."""
    found = re.match(r"(\d+(?:\.\d+)?) ?(?::|to) ?1(?![\w.])|1 ?: ?(\d+(?:\.\d+)?)(?![\w.])", rest)
    if found is None or (at and text[at - 1] in ".-+"):
        return None
    return Fact("figure", found[0], value=float(found[1] or found[2]), unit="1", decimals=1), found.end()


def _where(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    """Where and how; a number inside of a word says neither."""
    return None if at and text[at - 1].isalnum() else where_at(rest, before)


def _longest(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    """A phrase of the vocabulary, or a place; where both begin here, the longer of them."""
    if at and ((text[at - 1].isalpha() and rest[0].isalnum()) or (text[at - 1] in ".-+" and rest[0].isdigit())):
        return None
    if found := PINS.match(rest):
        return Fact("place", found[0], of="pins", is_=f"{found['part'].upper()} {found['pins']}"), found.end()
    at_a_point = bool(before) and before[-1].kind in {"place", "quantity"}  # 'tp3 4.1v supply 13.2v'
    if not at_a_point and (supply := NOMINAL.match(rest)) is not None:
        return Fact("quantity", supply[0], of="supply_voltage", is_="supply_voltage"), supply.end()
    place, phrase = _place(rest, before), _phrase(rest)
    return max((f for f in (place, phrase) if f is not None), key=lambda f: f[1], default=None)


def _place(rest: str, before: list[Fact]) -> Found:
    last = next((f.of for f in reversed(before) if f.kind == "place" and f.of != "place"), "")
    if before and _waits_for_volts(before[-1]) and RAIL.match(rest):
        return None  # 'tx rail 8.1 rx rail 0': what the first reads, and no name of the second
    found = place_at(rest, last)
    if found is None:
        return None
    return Fact("place", found.typed, of=found.of, is_=found.name, follows=found.follows), len(found.typed)


def _waits_for_volts(fact: Fact) -> bool:
    """Whether a rail was just named, and not by its volts."""
    return fact.kind == "place" and fact.text.endswith(RAILS) and not any(c.isdigit() for c in fact.text)


RAILS = ("rail", "line", "bus")


def _phrase(rest: str) -> Found:
    found = GLUED.match(rest) or _phrases().match(rest)
    if found is not None and found[0] == "swr in" and not INTO_IT.match(rest, found.end()):
        found = _phrases().match("swr")  # 'swr in his truck'
    if found is None or (found[0] in POINTED and not re.match(r" ?[+-]?\d", rest[found.end() :])):
        return None
    kind, of, is_ = vocabulary().facts[found[0]]
    return Fact(kind, found[0], of=of, is_=is_), found.end()


@cache
def _phrases() -> re.Pattern[str]:
    every = sorted(vocabulary().facts, key=len, reverse=True)
    return re.compile("(?:" + "|".join(map(re.escape, every)) + r")(?![\w])")


def _figure(rest: str, text: str, at: int, before: list[Fact]) -> Found:
    if at and text[at - 1].isalnum() and rest[0] not in "+-" and not _touches_its_name(before):
        return None
    if (said := _in_words(rest)) is not None:
        return said
    found = FIGURE.match(rest)
    if found is None or (_begins_a_word(text, at) and TYPE.match(rest)):
        return None
    if found["inside"]:
        letter = found["letter"]
        unit, factor = INSIDE[letter]
        value = float(found["inside"].replace(letter, ".")) * factor
        return Fact("figure", found[0], value=value, unit=unit, decimals=1, factor=factor), found.end()
    if not (found["unit"] or found["touching"] or found["more"]) and _is_a_type(rest, found.end()):
        return None
    fact = _plain_figure(found)
    return _with_mistyped_unit(fact, rest, found.end()) or (fact, found.end())


def _begins_a_word(text: str, at: int) -> bool:
    return not at or not text[at - 1].isalnum()


TYPE = re.compile(r"[1-4](?:n|s[a-d]|sk)\d{3,5}[a-z]{0,3}(?![\w.])")  # of a diode or a transistor


def _is_a_type(rest: str, end: int) -> bool:
    """Whether letters that are neither a unit nor a word run on behind a number: what is printed on a part, or a count
    ('14qk5', '2n9077', '4x'). In '62in' and '21pk' they are words."""
    told = TOUCHED.match(rest, end - 1)
    if told is None or told["word"] in {*ENDINGS, *WRONG_UNITS}:
        return False
    counted = told["word"] == "x" and re.match(r" ?\d", rest[told.end() :])  # '4x 90ma'; '3.8x' is asked about
    return bool(counted) or told["word"] not in vocabulary().facts


def _in_words(rest: str) -> Found:
    """'1½w', 'half a watt', 'a couple of watts'."""
    if found := re.match(r"(\d*)([½¼¾])(?:\s*(w|v|a)(?![a-z]))?", rest):
        unit, factor = UNITS[found[3]] if found[3] else (None, 1.0)
        value = float((found[1] or "0") + WORN[found[2]])
        return Fact("figure", found[0], value=value * factor, unit=unit, decimals=2), found.end()
    if found := re.match(r"(half|quarter) (?:of )?an? (watt|volt|amp)(?!\w)", rest):
        unit, _ = UNITS[found[2]]
        share = {"half": 0.5, "quarter": 0.25}[found[1]]
        return Fact("figure", found[0], of="a rough word", value=share, unit=unit, decimals=1), found.end()
    if found := re.match(r"(?:a )?(couple|few) (?:of )?(watts|volts|amps|ma|mv|mw|w|v|a)(?!\w)", rest):
        unit, factor = UNITS[found[2]]
        value = {"couple": 2, "few": 3}[found[1]] * factor
        return Fact("figure", found[0], of="kept words", value=value, unit=unit, factor=factor), found.end()
    return None


def _with_mistyped_unit(fact: Fact, rest: str, end: int) -> Found:
    """'4.1 wtts': a figure with the unit that was meant."""
    mistyped = re.match(r"\s*([a-z]{3,6})\.?(?![\w])", rest[end:]) if fact.unit is None else None
    unit_word = WRONG_UNITS.get(mistyped[1]) if mistyped is not None else None
    if mistyped is None or unit_word is None:
        return None
    unit, factor = UNITS[unit_word]
    length = end + mistyped.end()
    meant = replace(fact, text=rest[:length], value=fact.value * factor, unit=unit, bound=None, factor=factor)
    return meant, length


def _touches_its_name(before: list[Fact]) -> bool:
    """'swr1.4', 'pwr3.8': a name and its figure without a space."""
    return bool(before) and before[-1].kind == "quantity" and len(before[-1].text) > 2


def _plain_figure(found: re.Match[str]) -> Fact:
    typed = found["number"]
    unit: str | None = None
    factor = 1.0
    if found["unit"]:
        unit, factor = UNITS[found["unit"]]
    elif found["touching"]:
        unit, factor = TOUCHING[found["touching"]]
    plain = _without_thousands(typed, unit)
    decimals = len(plain.partition(".")[2])
    value = float(plain) * factor
    if unit is None and re.fullmatch(r"[+-]?\d{1,3}\.\d{3}\.\d{3}", typed):
        unit = "Hz"  # a counter's groups of three
    elif unit is None and re.fullmatch(r"\d{1,3},\d{3}\.\d", typed):
        unit, factor, value = "Hz", 1e3, value * 1e3  # kHz with a comma between the thousands
    return Fact(
        "figure", found[0], value=value, unit=unit, signed=typed[0] in "+-", decimals=decimals,
        bound="lower" if found["more"] else None, factor=factor,
    )  # fmt: skip


def _without_thousands(typed: str, unit: str | None) -> str:
    if re.fullmatch(r"[+-]?\d{1,3}\.\d{3}\.\d{3}", typed):
        return typed.replace(".", "")
    typed = typed.replace(" ", "")
    if "." in typed or typed.count(",") > 1:
        return typed.replace(",", "")
    return typed.replace(",", ".")
