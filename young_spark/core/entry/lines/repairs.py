"""What can be told apart in the words of a repair: parts out and in, why, what they cost, how long it took."""

import re

REASONS = (
    ("company_damage", r"\bcompany(?:[ _]damage)?\b|\btaken with it\b|\bwent with it\b"),
    ("owners_wish", r"\bowner'?s?[ _]wish\b"),
    ("precaution", r"\bprecaution\b"),
    ("suspect", r"\bsuspect\b"),
    ("bad", r"\bbad\b|\bfailed\b|\bopen\b|\bshort(?:ed)?\b|\bdried out\b|\bwas (?:low|leaky|dead|open)\b|\bblown\b"),
)
MONEY = re.compile(
    r"(?:[£€$]\s*(\d+(?:[.,]\d{1,2})?))"
    r"|(?:(?<![\w./])(?<!\d )(?<!cleaned )(?<!now )(?<!reads )"  # '80 0.45' is a row of figures
    r"(?<!each at )(?<!each )(?<!both )(?<!ma at )"
    r"(?<!contact )(?<!contacts )(?<!esr )(?<!swr )(?<!gate )(?<!base )(?<!collector )(?<!drain )(?<!idle )(?<!bias )"
    r"(\d+[.,]\d{2})(?![\w.]"
    r"| ?(?:[kmu]?[vaw]|v?rms|vpp|[km]?hz|k|r|%|db\w?|m?ohms?|[unp]f|[um]h|°?c|swr)\b| ?[%Ω]))"
    r"|(\d+(?:\.\d\d)?) (?:quid|pounds|euros?|eur|dollars|bucks)\b"
    r"|^(?:charged?|bill(?:ed)?|invoiced?):? (\d+(?:\.\d\d)?)(?=$|,| (?:plus|and|for|parts)\b)",
    re.IGNORECASE,
)
SOLD_W = {0.125, 0.25, 0.33, 0.4, 0.5, 0.6, 1, 2, 3, 4, 5, 6, 7, 10, 11, 15, 20, 25, 50, 100}  # of resistors
MINUTES = re.compile(r"(?<![\w.])(?<!hz in )(?<!hz over )(?<!w after )(\d{1,4})\s*min(?:utes?|s)?\b", re.IGNORECASE)
SPELT = re.compile(r"(?<![\w.])(\d{1,2})(?:h| ?hours? )(\d{2})\b", re.IGNORECASE)  # 1h20
HOURS = re.compile(r"(?<![\w.])(\d{1,2}(?:\.\d)?)\s*h(?:(?:ou)?rs?)?\b", re.IGNORECASE)
HOURS_SPELT = re.compile(r"\b(half an|an|one|two|three|four|five|six) hours?\b( and a half)?", re.IGNORECASE)
SPELT_HOURS = {"half an": 0.5, "an": 1.0, "one": 1.0, "two": 2.0, "three": 3.0, "four": 4.0, "five": 5.0, "six": 6.0}
HOURS_BOOKED = re.compile(
    r"\b(?:hours|labou?r|time|bench time)[: ]+(\d{1,2}(?:\.\d+)?)(?: ?h(?:ou)?rs?)?(?=$|,|;| parts)", re.IGNORECASE
)
_WITH = re.compile(r"^(?:replaced )?(?P<out>.+?) with (?P<into>.+)", re.IGNORECASE)
DONE_LAST = re.compile(r" (?:was |were |is |are )?(?:replaced|changed|swapped|renewed|fitted)$", re.IGNORECASE)
DONE = re.compile(r"(?:replaced|changed|swapped|renewed|fitted)", re.IGNORECASE)
_OUT_IN = re.compile(r"^(?P<out>.+?) out,? (?:new )?(?P<into>.+?) in\b", re.IGNORECASE)
_WENT = re.compile(r"^(?P<out>\S+) went with it,? fitted (?P<into>\S+)", re.IGNORECASE)
_NEW_FITTED = re.compile(r"^new (?P<what>.+?) (?:fitted|in)\b", re.IGNORECASE)
_NEW_AT = re.compile(r"^new (?P<what>\S.*?) (?:fitted )?(?:in|at|for) (?P<part>[a-z]{1,3}\d+)\b", re.IGNORECASE)
_NEW = re.compile(r"^new (?P<into>.+)", re.IGNORECASE)
# 'new choke collector 3.1': where was read what then
_THEN_AT = re.compile(r" (?=(?:collector|base|emitter|gate|drain|source|anode|grid|output|out|power) [+-]?[\d.])")
_READ_THEN = re.compile(r",? \d*\.\d{1,3}$")  # 'new plug 1.4'
_BACK_TO = re.compile(r"^fuse back to (?P<into>.+)", re.IGNORECASE)
_SWAPPED = re.compile(r"^(?P<into>[a-z][a-z ]+?) (?:swapped|replaced|renewed)\b", re.IGNORECASE)
_PART = r"[a-z]{1,3}\d{1,4}[a-z]?"
_NO_PART = r"(?!(?:q|r|c|l|d|t|v|k|x|tr|ic|vr|tc|rl)\d{1,3}\b)"  # 'swapped q1 q2' exchanges them
_VALUE = _NO_PART + (r"(?:[a-z]*\d[\w./]*|mica|ceramic|film|electrolytic|tantalum|carbon|metal|wire|type|pair)")
# 'fitted r88 4r7', 'replaced c204 150p 500v mica'
_FITTED_PART = re.compile(
    rf"^(?:re)?(?:fitted|placed|changed|newed|swapped) (?:new )?(?P<part>{_PART})(?P<value>(?: {_VALUE})*)"
    r"(?: (?:from|off) (?:a |the )?(?P<donor>donor|spares?|scrap(?: \w+)?|stock))?$",
    re.IGNORECASE,
)
# 'fitted r88 4r7 and d201 1n4006'
_ONE_OF_SEVERAL = re.compile(rf"(?P<part>{_PART})(?P<value>(?: {_VALUE})*)", re.IGNORECASE)
_FITTED_SEVERAL = re.compile(
    rf"^(?:(?:re)?(?:fitted|placed|changed|newed) (?:new )?|new )(?P<all>{_PART}(?: {_VALUE})*"
    rf"(?:(?:, | and | & ){_PART}(?: {_VALUE})*)+)$",
    re.IGNORECASE,
)
# 'r5 replaced 1k5', 'c204 changed for 150p'
_PART_FITTED = re.compile(
    rf"^(?P<part>{_PART}) (?:replaced|changed|swapped|renewed)(?: (?:with|by|for|to))?(?: a| new)?"
    rf"(?P<value>(?: {_VALUE})+)$",
    re.IGNORECASE,
)
_ENDS = re.compile(
    r"(?:,.*|\b(?:still|but|and now|now) .*|\bowner'?s? wish.*|\bprecaution.*|\bsuspect.*|"
    r"\bwas (?:low|leaky|dead|open).*|\bbad\b.*|\bold one.*|\bearth tested.*)$",
    re.IGNORECASE,
)


def parts_of(words: str) -> tuple[str | None, str | None]:
    """The part that went out and the one that came in, as they were named: no figure that was read then."""
    out, into = _parts_named(words)
    return _without_a_reading(out), _without_a_reading(into)


# '3.9w', 'coax swr', 'crystal 27.18512': watts, shares and counts are marked on no part
_READING = re.compile(
    r"(?:(?:^|new and )[+-]?[\d.]+ ?(?:m?w(?:atts?)?|%|db[cm]?|[km]?hz)| v?swr\b[ \d.]*| \d+\.\d{3,})"
    r"(?: [+-]?[\d.]+ ?(?:m?[wav]|%|db[cm]?|[km]?hz))*"
    r"(?: (?:out|now|on|at)\b.*)?$",
    re.IGNORECASE,
)


def _without_a_reading(part: str | None) -> str | None:
    return (_READING.sub("", part).strip() or None) if part else part


def _parts_named(words: str) -> tuple[str | None, str | None]:
    words = _clause_with_its_part(words.split(": ")[0])  # 'new r41: gate 3.8': what was read behind it is no part
    if sides := arrow(words.split(",")[0].split(";")[0]):
        return sides
    whole = HOURS.sub("", MINUTES.sub("", MONEY.sub("", words)))
    plain = " ".join(_ENDS.sub("", whole).split())
    if (several := _FITTED_SEVERAL.match(" ".join(whole.split())) or _FITTED_SEVERAL.match(plain)) is not None:
        return _each_of(several["all"])
    if (numbered := _numbered(plain)) is not None:
        return numbered
    for pattern in (_WENT, _WITH, _OUT_IN):
        if found := pattern.search(words if pattern is _WENT else plain):
            if DONE.fullmatch(found["out"].strip()):
                return None, found["into"].strip()  # 'replaced with 47u 800v': what was said before
            return DONE_LAST.sub("", found["out"].strip()), found["into"].strip()
    if found := _NEW_AT.search(plain):
        return found["part"].upper(), f"new {found['what'].strip()}"
    if found := _NEW_FITTED.search(plain):
        return found["what"].strip(), f"new {found['what'].strip()}"
    for pattern in (_BACK_TO, _NEW, _SWAPPED):
        if found := pattern.search(plain):
            into = _READ_THEN.sub("", _THEN_AT.split(found["into"].strip())[0])
            return None, into if " and " not in into else None
    return None, None


def _clause_with_its_part(words: str) -> str:
    """'backlight led replaced' of 'lcd dim left half, backlight led replaced': the clause that says by itself which
    part was replaced, where none in front of it says so; else the whole."""
    for clause in words.split(", ")[1:]:
        if _SWAPPED.search(clause) is not None and CHANGING.search(words[: words.index(clause)]) is None:
            return clause
    return words


CHANGING = re.compile(r"->|→|\b(?:replaced|swapped|renewed|changed|fitted|new|out|in|with)\b", re.IGNORECASE)


def _each_of(several: str) -> tuple[str, str]:
    """Parts that are named one after the other, each with what came in, where that was said."""
    parts = [(found["part"].upper(), found["value"].strip()) for found in _ONE_OF_SEVERAL.finditer(several)]
    into = " and ".join(value or "new" for _, value in parts) if any(value for _, value in parts) else "new"
    return " and ".join(part for part, _ in parts), into


def _numbered(plain: str) -> tuple[str | None, str | None] | None:
    """The parts that are named by their numbers with what was fitted there; none where that was not said. None of a
    text that names them otherwise."""
    new = _FITTED_PART.match(plain) or _PART_FITTED.match(plain)
    if new is None:
        return None
    donor = new.groupdict().get("donor")
    into = " ".join(filter(None, (new["value"].strip() or (donor and "one"), donor and f"from {donor}")))
    return (new["part"].upper(), into) if into else (None, None)


def without_costs(words: str) -> str:
    """The words without what it cost and how long it took: those are no concern of who reads what was done."""
    plain = HOURS.sub("", MINUTES.sub("", SPELT.sub("", MONEY.sub("", words))))
    plain = re.sub(r"\(\s*\)", "", plain)
    return re.sub(r"\s*,(?:\s*,)*\s*(?=$|,)", "", " ".join(plain.split())).strip(" ,;")


def arrow(words: str) -> tuple[str, str] | None:
    """Both sides of an arrow."""
    parts = re.split(r"\s*(?:->|→)\s*", words, maxsplit=1)
    if len(parts) < 2 or not all(part.strip() for part in parts) or _WAS_SET.match(parts[1].strip()):
        return None
    return parts[0].strip(), parts[1].strip()


_WAS_SET = re.compile(r"(?:re-?)?(?:set|adjusted|trimmed|turned|tuned|peaked|now|ok|fine)\b", re.IGNORECASE)


def reason_of(words: str) -> str | None:
    """Why a part went."""
    return next((reason for reason, pattern in REASONS if re.search(pattern, words, re.IGNORECASE)), None)


def cost_of(words: str) -> float | None:
    """What it cost, or may cost at most."""
    money = MONEY.search(words)
    return float(next(m for m in money.groups() if m).replace(",", ".")) if money else None


def minutes_of(words: str) -> float | None:
    """How long it took."""
    if spelt := SPELT.search(words):
        return float(spelt[1]) * 60 + float(spelt[2])
    if words_of := HOURS_SPELT.search(words):
        return 60 * (SPELT_HOURS[words_of[1].lower()] + (0.5 if words_of[2] else 0.0))
    minutes, hours = MINUTES.search(words), HOURS.search(words) or HOURS_BOOKED.search(words)
    if minutes is None and hours is None:
        return None
    return (float(minutes[1]) if minutes else 0.0) + (float(hours[1]) * 60 if hours else 0.0)
