"""The line that a unit comes in by: which unit, whose, what is wrong with it, what came with it, its serial number.

'Tarnbeck M27, marshal 14: no output' is the form that is shown. A hand types otherwise, too: what stands between
commas, dashes and stops is told apart by what it holds; what is told by nothing stays where the form would have it."""

import re
from functools import cache

from young_spark.core.entry import words_of_the_bench
from young_spark.core.gear import kind_named, words_of_gear
from young_spark.core.ground import SHIPPED, Frozen, Spelling, english, load

_BETWEEN = re.compile(
    r"\s*[,;]\s+|\s+[-\u2013\u2014]\s+|(?<![AF]M)(?<!SSB)\s+/\s+|\s*\((?=[^)]*\))|\)\s*,?\s*"
    r"|(?<=\w\w)\.\s+|(?<=\d[wWvV])\.\s+|(?<=\d [wWvV])\.\s+|\s+\.\s+"
)
# words of a form before a colon, which do not end what the unit is
_LABELLED = re.compile(
    r"(?:^|(?<=[\s,;.]))(?P<owner>cust(?:omer)?|owner|own|from|for|client)\s*:\s*"
    r"|(?:^|(?<=[\s,;.]))(?P<with>came with|comes with|with|accessories)\s*:\s*"
    r"|[,;.:]?\s*(?<!\w)(?:fault|complaint|problem|symptoms?|reported|issue)\s*:\s*"
    r"|^(?P<unit>unit|set|radio|model|item)\s*:\s*",
    re.IGNORECASE,
)
_ABBREVIATED = re.compile(
    r"\b(?:mrs?|ms|dr|st|cust|no|ser|incl|dist|mod|mic|int|rec|approx|max|min|freq|pwr|vol|temp|tel|ant|batt?)$",
    re.IGNORECASE,
)
_SERIAL = re.compile(
    r"(?:^|(?<=\s))(?:s/?n|serial(?: ?no\.?| number)?|ser\.? ?no\.?)(?:[\s:#]+|(?=\d{3}))(?P<number>(?=\S*\d)[\w/-]+)",
    re.IGNORECASE,
)
_TITLED = re.compile(
    r"(?:[Oo]ld|Young|Big|Little|Fru|Frau|Herr|Capt\.?|Captain|Skipper|Uncle|Aunt|Father) [A-Z][\w.]*(?: [A-Z]\w*)?"
)
_ENDS_TOO = re.compile(r"\b(?:mics?|mikes?|ant|batts?)$", re.IGNORECASE)  # words as well as what is short for one
_CAME_ALONG = re.compile(
    r"^(?P<what>.*?),? (?:came (?:along|with it)|comes with it|with it|included|in the box|along)$", re.IGNORECASE
)
_SAYS = re.compile(r"(?:says|said|reckons|complains|reports|thinks|states|claims)(?: that| of)?\s+", re.IGNORECASE)
_HAPPENED = re.compile(r"\b[a-z]{3,}(?:ed|ing)\b")
_INITIALS = re.compile(r"(?:[A-Z]\. ?)+[A-Z]\w+")


class _Words(Frozen):
    """The data file: regular expressions of whole words."""

    owner_lead: tuple[str, ...]
    owner: tuple[str, ...]
    came_lead: tuple[str, ...]
    accessory: tuple[str, ...]
    gear: tuple[str, ...]
    complaint: tuple[str, ...]
    inline: tuple[str, ...]


class CheckIn(Frozen):
    """What a line says, in the words that were typed."""

    unit: str
    owner: str = ""
    complaint: str = ""
    came_with: str = ""
    serial: str = ""


def check_in(line: str) -> CheckIn:
    """Take a check-in line apart. The unit is empty where nothing stands before the colon, or before a comma. Words
    that a finger mistyped decide as they were meant, and stay as they were typed."""
    meant = _spelling().mended(line)
    found = _taken_apart(meant)
    slips: dict[str, set[str]] = {}
    for word, said in zip(_EACH.findall(meant), _EACH.findall(line), strict=True):
        slips.setdefault(word, set()).add(said)
    # a word that was typed rightly too, or with two slips, is spelt as it was meant in all its places
    as_typed = {word: said.pop() for word, said in slips.items() if len(said) == 1}
    parts = {
        name: _EACH.sub(lambda word: as_typed.get(word[0], word[0]), part) for name, part in found.model_dump().items()
    }
    return CheckIn(**parts)


_EACH = re.compile(r"[A-Za-z]+")


def _taken_apart(line: str) -> CheckIn:
    serial = _SERIAL.search(line)
    plain = _LABELLED.sub(_label, _SERIAL.sub("", line) if serial else line)
    head, colon, tail = plain.partition(":")
    told = _Told()
    if not head.lstrip().startswith((",", ";")):  # who begins with one left the unit out
        told.read_head(_parts(head), alone=not colon)
    told.read_tail(_parts(tail), tail.strip())
    return CheckIn(
        unit=", ".join(told.unit),
        owner=", ".join(told.owner),
        complaint=", ".join(told.complaint),
        came_with=", ".join(told.came_with),
        serial=serial["number"] if serial else "",
    )


def _label(found: re.Match[str]) -> str:
    """A word of a form as a sentence says it: 'customer: Dale' is 'owner Dale', and 'fault:' the colon of the line."""
    if found["unit"]:
        return ""
    return "owner " if found["owner"] else "with " if found["with"] else ": "


class _Told:
    """The parts of a line as they are told apart."""

    def __init__(self) -> None:
        self.unit: list[str] = []
        self.owner: list[str] = []
        self.complaint: list[str] = []
        self.came_with: list[str] = []
        self.is_named = False  # a name stands in it that nothing but an owner has
        self.is_said = False  # whose it is, by a word for it: other names are of the unit

    def read_head(self, parts: list[str], *, alone: bool) -> None:
        """What stands before the colon; `alone` where there is none: then the complaint stands here, too."""
        if (
            len(parts) > 1
            and _has("owner", parts[0])
            and _has("gear", parts[1])
            and not _is_a_unit(parts[0])
            and not _speaks_of_gear(parts[0])
        ):
            self.owner.append(parts.pop(0))  # 'Kent & Sons, UHF mobile'
        before = ""
        self.is_said = any(_is_said_to_own(part) for part in parts)
        self.is_named = any(_CALLED.fullmatch(part) and _says_nothing(part) for part in parts[1:])
        for part in parts:
            if not self.unit:
                self._read_unit(part)
            elif not self._is_led(part) and not self._is_another(part, before):
                self._read_more(part, alone=alone)
            before = part

    def read_tail(self, parts: list[str], as_typed: str) -> None:
        """What stands behind the colon is the complaint, but for a part that says whose it is or what came with it."""
        led = [part for part in parts if self._is_led(part, of_complaint=True)]
        if as_typed:
            self.complaint.append(", ".join(p for p in parts if p not in led) if led else as_typed)

    def _read_unit(self, part: str) -> None:
        """The first part names the unit; whose it is and what is wrong may stand behind with nothing between."""
        begins = _pattern("inline").search(part)
        if begins is not None and begins.start() > 0:
            self.complaint.append(part[begins.start() :].strip())
            part = part[: begins.start()].strip()
        lead = re.search(rf"\s(?:{'|'.join(_words().owner_lead)})\s+(?!{_GEAR}\b)(?=[A-Z]|the\s)", part)
        if lead is not None:
            self.owner.append(part[lead.end() :].strip())
            part = part[: lead.start()]
        self.unit.append(part.strip())

    def _is_led(self, part: str, *, of_complaint: bool = False) -> bool:
        """Whether a part begins with a word that says what it is: whose, or what came with it. In a complaint the
        short ones are words like any other: 'for an hour', 'with the case off'."""
        owner = re.match(rf"(?:{'|'.join(_words().owner_lead[: 3 if of_complaint else None])})\s+", part, re.IGNORECASE)
        short = of_complaint and not (_has("accessory", part) and not _has("complaint", part))
        came = re.match(rf"(?:{'|'.join(_words().came_lead[: 2 if short else None])})\s+", part, re.IGNORECASE)
        if owner is not None and (says := _SAYS.match(part, owner.end())) is not None:
            self.complaint.append(part[says.end() :])
        elif owner is not None:
            self.owner.append(part[owner.end() :])
        elif came is not None:
            self.came_with.append(part[came.end() :])
        return owner is not None or came is not None

    def _is_another(self, part: str, before: str) -> bool:
        """'with bracket, mic': one more of what came with it."""
        one_more = bool(self.came_with) and self.came_with[-1] in before and _is_accessory(part)
        if one_more:
            self.came_with[-1] += f", {part}"
        return one_more

    def _read_more(self, part: str, *, alone: bool) -> None:
        if (quoted := _QUOTED.fullmatch(part)) is not None:
            self._read_more(quoted["who"], alone=alone)
            self.complaint.append(quoted["said"])
            return
        along = _CAME_ALONG.match(part)
        if along is not None and _has("accessory", part):
            self.came_with.append(along["what"])
        else:
            self._list_for(part, alone=alone).append(part)

    def _list_for(self, part: str, *, alone: bool) -> list[str]:
        """Whether a part says whose it is, what is wrong, or more of what it is."""
        if self._is_called(part):
            return self.unit
        if _is_a_name(part) or (not self.owner and self.complaint and _CALLED.fullmatch(part) and _says_nothing(part)):
            return self.owner
        if alone and (_has("complaint", part) or self.complaint or self._says_more(part) or _tells(part)):
            return self.complaint
        return self.unit if _has("gear", part) and not self.owner else self.owner

    def _is_called(self, part: str) -> bool:
        """What the unit is called; where its owner is said, any other name is its own."""
        named = _NUMBERED.fullmatch(part) or (self.is_named and _MARKED.fullmatch(part))
        return bool(named) or (self.is_said and _says_nothing(part) and not self.complaint)

    def _says_more(self, part: str) -> bool:
        """'(Aslaug) fan screams': behind whose it is, words that begin as no name does."""
        return bool(self.owner) and part[:1].islower() and " " in part and not _has("gear", part)


_GEAR = "(?:CB|HF|VHF|UHF|AM|FM|SSB|CW|DX)"  # 'a linear for CB' is nobody's
# 'Meryl Stagg "deaf on 15"': who came, and what they said
_QUOTED = re.compile(
    r"(?P<who>[^'\"\u201c\u201d\u2018]+?) ?[:,]? ?['\"\u201c\u2018](?P<said>[^'\"\u201c\u201d]+)['\"\u201d\u2019]"
)
# 'Orton 800', 'set 3': what the unit is called, or which of several it is
_NUMBERED = re.compile(
    r"[A-Za-z][\w-]* ?\d{3,4}[A-Za-z]{0,3}"
    r"|(?-i:[A-Z][\w-]+ [A-Z]{1,3}-?\d{1,4}[A-Z]{0,2})|\d{4}s?|(?:set|unit|radio|no\.?|nr\.?|number|#) ?#?\d{1,3}",
    re.IGNORECASE,
)


_MARKED = re.compile(r"[A-Z][a-z]+ \d{1,2}[A-Z]?")  # 'Welland 5', where a person is named beside
# 'smoke, Vic': behind what is wrong, a name
_CALLED = re.compile(r"(?:(?:Mr|Mrs|Ms|Dr)\.? )?[A-Z][a-z'\u2019-]+(?: [A-Z][a-z'\u2019-]+){0,2}")


def _is_said_to_own(part: str) -> bool:
    """'owner Bess Aldham': a part that begins with a word that can mean nothing else."""
    return re.match(rf"(?:{'|'.join(_words().owner_lead[:3])})\s+", part, re.IGNORECASE) is not None


def _says_nothing(part: str) -> bool:
    """Whether a part has no word of gear, of what is wrong or of what comes along."""
    return not any(_has(table, part) for table in ("gear", "complaint", "accessory"))


def _is_a_name(part: str) -> bool:
    titled = _TITLED.fullmatch(part) or _INITIALS.fullmatch(part)
    return titled is not None or (_has("owner", part) and not _has("complaint", part) and not _is_a_unit(part))


def _tells(part: str) -> bool:
    """'tripped breaker', 'screen flickering': words that tell what happened, and no name."""
    return part[:1].islower() and " " in part and not _has("gear", part) and _HAPPENED.search(part) is not None


def _speaks_of_gear(part: str) -> bool:
    """'valve rx/tx station receiver deaf': a unit and what is wrong with it, and no owner's name."""
    return _has("gear", part) and _has("complaint", part)


def _is_a_unit(part: str) -> bool:
    """'boat radio VHF', 'tube CB base station': a kind of gear by its words, whoever's word stands among them."""
    return _has("gear", part) and kind_named(part) is not None


def _is_accessory(part: str) -> bool:
    """Whether a part names what comes with a unit, and nothing else."""
    return (
        re.fullmatch(rf"(?:(?:{'|'.join(_words().accessory)}|and|&|a|the|power|two|2|spare)\s*)+", part, re.IGNORECASE)
        is not None
    )


def _parts(text: str) -> list[str]:
    """What stands between commas, dashes, stops and brackets; a stop behind 'Mrs' parts nothing."""
    parts: list[str] = []
    begin = 0
    for found in _BETWEEN.finditer(text):
        before, behind = text[: found.start()], text[found.end() :]
        begins = _ENDS_TOO.search(before) is not None and _has("complaint", behind)  # 'with mic. no output'
        if found[0].startswith(".") and _ABBREVIATED.search(before) and not begins:
            continue
        parts.append(text[begin : found.start()])
        begin = found.end()
    return [p.strip(_ENDS) for p in (*parts, text[begin:]) if p.strip(_ENDS)]


_ENDS = " ,;-\u2013\u2014"


@cache
def _words() -> _Words:
    return load(SHIPPED / "check_in.toml", _Words)


@cache
def _spelling() -> Spelling:
    """Words that stand in such lines: those of the data file that are whole, of gear, and of the bench."""
    tables = (getattr(_words(), table) for table in _Words.model_fields)
    whole = {word for table in tables for pattern in table for word in re.findall(r"[a-z]{4,}", pattern)}
    meant = words_of_gear().words | {word for word in whole if word in english()}
    return Spelling(meant, words_of_the_bench(), kept=whole)


@cache
def _pattern(table: str) -> re.Pattern[str]:
    words: tuple[str, ...] = getattr(_words(), table)
    return re.compile(rf"(?<![\w'])(?:{'|'.join(words)})(?![\w'])", re.IGNORECASE)


def _has(table: str, part: str) -> bool:
    return _pattern(table).search(part) is not None
