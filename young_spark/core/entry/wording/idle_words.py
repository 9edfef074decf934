"""Words of a text that name nothing: how a hand begins, how a figure strikes it, that it finds it good. A figure is
read as if they were not there; those that say something to whoever reads the line are kept for its remark."""

import re
from dataclasses import dataclass

from young_spark.core.entry.wording.vocabulary import vocabulary

_I = re.IGNORECASE
_BY_CHANCE = (
    r"hot|warm|cold|wet|worse|better|louder|quieter|loose|stuck|knocked|dropped|hit|wired|damaged|it|to|a|the|no"
)
_LEADS_IN = re.compile(
    r"^(?:(?:ok(?:ay)?|(?:right|well)(?=[,:])|hm+|and|the|now|so|then|still|only|i (?:get|got|see|read|measure)|"
    rf"getting|seeing|got(?! (?:{_BY_CHANCE})\b))[,:]? )+(?=[^ ])",
    _I,
)
_UNIT = r"(?:m?w|m?v|m?a|%|k?hz|db[cm]?|uv|kv|c)"
_STRIKES = re.compile(
    rf"(?<=[\w%:,]) (?P<said>(?:only just|just about|only|just|still|now)(?= [-+]?\.?\d[\d.]* ?{_UNIT}(?![\w/]))"
    r"|only(?= [-+]?\.?\d[\d.]*(?:$|[,;])))",
    _I,
)
_AT_THE_END = re.compile(
    rf"(?<=\d)(?P<read> ?{_UNIT}?(?: (?:on|ch|tx|rx|keyed|am|fm|usb|lsb|cw|[\d.]+))*)"
    r" (?P<said>still|again|measured|only|now)(?=$|[,;.])",
    _I,
)
_NAMED_NOW = re.compile(r"^(?P<name>(?:the )?[a-z]{3,}(?: [a-z]+)?) now (?=[-+]?\.?\d)", _I)
_CHANGE = re.compile(
    r"\b(?:was|were|before|from|to|went|same|both|each|nominal|no|should|supposed|expected|due|of)\b|->|=>", _I
)
KEPT = frozenset(
    {
        "dvm",
        "dmm",
        "multimeter",
        "vtvm",
        "bench meter",
        "now",
        "still",
        "again",
        "only",
        "just",
        "only just",
        "just about",
    }
)
# 'ok' behind a figure is said of that figure, which its limit judges
_SAID_OK = re.compile(
    r"(?P<read>[^,;]+?),? (?:is |are |all |so |seems |looks )?(?:ok|okay|fine|good)(?=\.?$|, |; )", _I
)
# 'not ok', 'no good', 'almost fine': the other way round, and not idle at all
_SAID_NOT = re.compile(
    r"(?:\b(?:not|no|never|nearly|almost|hardly|barely|less than)|n'?t)(?: quite| very| so| that| too| really)*$", _I
)
_WITH_ITS_UNIT = re.compile(
    r"(?<![\w.])(?:\d(?:[\d.,]*\d)? ?(?:m?w|m?v|m?a|%|db[cm]?|k?hz|mhz|uv|ohm|c|deg|mils|vpp|kv)|"
    r"\d{2,3}[.,]\d{3,}(?:\.\d+)?)(?![\w/])",
    _I,
)
_POINTS = re.compile(r"\b(?:ch|chs|channels?|pins?|on|at|bands?) ?[\d.]+\b|\b[\d.]+ ?v (?:rail|reg|line|tx|rx)\b", _I)
_NAMED_FIGURE = re.compile(r"(?<![\w.])(?P<word>[a-z][a-z0-9]+) (?P<figure>-?[\d.]+)(?![\w.])", _I)
_LABELLED = re.compile(r"(?<![\w.])(?P<word>[a-z]{2}[a-z0-9]*)(?: ?= ?|: ?)(?=[-+<>]?\.?\d)", _I)
# 'cell 2 = 0.9'; behind more words than a name has it says what something led to
_ARTICLE = re.compile(
    r"(?<![\w.])a (?=(?:bit|little|touch|tad|shade|lot|hair|whisker) (?:too |on the )?(?:low|high|weak|strong|hot)\b)",
    _I,
)
_EQUALS = re.compile(
    r"(?P<name>(?:^|[,;.] |\d[a-z%]* )(?:(?!p )[^ ,;=]+ ){0,3}(?!p )[a-z][a-z0-9]+) ?= ?(?=[-+<>]?\.?\d)", _I
)
LABELS = frozenset({"quantity", "place", "item"})  # what the word before a colon may be of
_ELECTRODES = re.compile(
    r"pin|base|collector|emitter|gate|drain|source|anode|cathode|plate|screen|grid|primary|secondary|wide|narrow|"
    r"[a-z]{1,2}\d{1,4}",
    _I,
)
# 'the final reads 11.9', where no figure is before that tells what it should be
_SAID_TO_BE = re.compile(
    r"(?P<lead>(?:^|[,;] )(?:the )?(?:(?!\d)[^,;\s]+ ){1,4}?)"
    r"(?P<verb>is reading|is at|is now|reads at|is|reads|reading|shows|measures|measured|indicates|indicated|"
    r"(?:comes|came|works|worked) (?:out )?(?:to|at|as)|turns out (?:to be|at)|(?:seems|appears)(?: to be)?|looks like|"
    r"now (?:reads|shows|is|at|measures))(?: a)? (?=[-+<>]?\.?\d)"
    r"(?![-+<>\d.]+ ?(?:%|db|hz|khz|v|w|a)? ?(?:high|low|over|under|too|more|less|short|off|down|up)\b)",
    _I,
)


_OF_THE_BENCH = ("wattmeter", "watt meter", "power meter", "scope", "analyser", "analyzer", "counter")
_INSTRUMENTS = (  # 'the meter' may be the set's own
    *(f"my {instrument}" for instrument in ("meter", "swr meter", *_OF_THE_BENCH)),
    *(f"the {instrument}" for instrument in ("spectrum analyser", "frequency counter", "clamp meter", *_OF_THE_BENCH)),
)
_METER = re.compile(
    r",? (?:(?:(?:on|with|by|using) (?:the |my )?)?(?P<said>dvm|dmm|multimeter|vtvm|bench meter)"
    rf"|(?:on|with|by|using) (?P<mine>{'|'.join(_INSTRUMENTS)}))(?=$|[,;.])",
    _I,
)


_IS_RATED = frozenset(
    f"{part}{ending}"
    for part in ("load", "fuse", "resistor", "cap", "capacitor", "psu", "lamp", "bulb", "relay", "crystal", "xtal",
                 "meter", "coax", "pad", "attenuator", "transformer", "choke", "valve", "tube", "transistor", "diode",
                 "zener", "one", "set", "radio", "amp", "rig", "he", "it", "which", "there", "that", "rating", "limit")
    for ending in ("", "s")
)  # fmt: skip
_ENDS_AN_ACTION = frozenset({"out", "in", "off", "back", "up", "down"})
_BEGINS_A_CLAUSE = re.compile(r"(?:^|[,;] )(?:[a-z0-9.]+ )?$", _I)


@dataclass(frozen=True)
class Spared:
    """A text without its idle words, and those of them that its remark keeps: from its beginning, and from the rest."""

    text: str
    before: str = ""
    behind: str = ""


def without_lead_in(text: str) -> Spared | None:
    """A text without the words that only begin it ('ok, got', 'now'); None where it begins with none."""
    lead = _LEADS_IN.match(text)
    if lead is None:
        return None
    return Spared(text[lead.end() :], " ".join(word for word in re.findall(r"\w+", lead[0].lower()) if word in KEPT))


def without_idle_words(text: str) -> Spared:
    """The text as its figures and names stand; nothing else of it changes, its capitals included."""
    lead = _LEADS_IN.match(text)
    plain = text[lead.end() :] if lead else text
    plain = _ARTICLE.sub("", plain)  # it is no ampere
    plain = _LABELLED.sub(_under_its_label, _EQUALS.sub(r"\g<name> ", plain))
    behind = [(found["said"] or found["mine"]).lower() for found in _METER.finditer(plain)]
    plain = _METER.sub("", plain)
    if not _CHANGE.search(plain):
        behind += ["now"] if _NAMED_NOW.match(plain) else []
        plain = _NAMED_NOW.sub(r"\g<name> ", plain)
        for pattern in (_STRIKES, _AT_THE_END):
            behind += [found["said"].lower() for found in pattern.finditer(plain)]
            plain = pattern.sub(lambda found: found.groupdict().get("read") or "", plain)
    plain = _SAID_TO_BE.sub(_without_its_verb, _SAID_OK.sub(_without_ok, plain))
    before = [word for word in re.findall(r"\w+", lead[0].lower() if lead else "") if word in KEPT]
    return Spared(plain, " ".join(before), " ".join(word for word in behind if word in KEPT))


def _under_its_label(found: re.Match[str]) -> str:
    word = found["word"].lower()
    if word in _ENDS_AN_ACTION and not _BEGINS_A_CLAUSE.search(found.string[: found.start()]):
        return found[0]  # 'dried out: 3.8w'
    known = vocabulary().facts.get(word, ("",))[0] in LABELS or _ELECTRODES.fullmatch(word)
    return f"{found['word']} " if known else found[0]


def _without_its_verb(found: re.Match[str]) -> str:
    """'dummy load is 41 w' is what it is made for: what 'is' stands behind says what was read."""
    word = found["lead"].split()[-1].lower() if found["lead"].split() else ""
    named = vocabulary().facts.get(word, ("",))[0] in LABELS or found["verb"].lower() in _OF_ANYTHING
    return found[0] if not named or (word in _IS_RATED and found["verb"].lower() == "is") else found["lead"]


# 'friend measured 5w': of whatever is in front of the others nobody knows that it is what was read
_OF_ANYTHING = frozenset({"is reading", "is at", "reads at", "is", "reads", "reading", "shows", "measures"})


def _without_ok(found: re.Match[str]) -> str:
    if _SAID_NOT.search(found["read"]) or _is_of_what_works(found["read"]):
        return found[0]
    read = _POINTS.sub("", found["read"])
    named = any(_is_of_its_name(m["word"].lower(), m["figure"]) for m in _NAMED_FIGURE.finditer(read))
    return found["read"] if named or _WITH_ITS_UNIT.search(read) else found[0]


def _is_of_what_works(read: str) -> bool:
    """'3.9w rx ok': the receiver; '180ma rx ok' is what it draws then."""
    before, _, last = read.lower().rpartition(" ")
    return last in vocabulary().functions and bool(before) and _AMPS.search(before) is None


_AMPS = re.compile(r"\d ?m?a(?:mps?)?(?: on| in| at)?$")


def _is_of_its_name(word: str, figure: str) -> bool:
    """Whether a figure is read there; 'relay 2' and 'fan 3' are names."""
    kind = vocabulary().facts.get(word, ("",))[0]
    return kind == "quantity" or (kind in LABELS and (len(figure) > 1 or not figure.isdigit()))
