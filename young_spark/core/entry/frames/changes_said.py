"""A figure that went from one to another, in the words of hands: over a time ('104w to 87w in 5 min', '5 min: 95 to
88w', '98w at start, 82w after 10 min'), or by what was done ('mod from 35 to 88%', 'ht 1650 -> 1850v'). Each is written
as the frames read it: 'falls to ... in', and 'was'."""

import re

from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.wording.typed_figures import FIGURE, unit_of

_WHOLE = rf"(?<![\w./+-]){FIGURE}"
_TIME = r"\d+(?:\.\d+)? ?(?:s|secs?|seconds?|mins?|minutes?|hrs?|hours?)(?![\w])"
_GOES = (
    r"(?:falls?|fell|falling|drops?|dropped|dropping|sags?|sagged|sagging|dips?|dipped|goes|going|went|gone|rises?|rose|"
    r"rising|climbs?|climbed|climbing|creeps?|crept|creeping|drifts?|drifted|drifting|fades?|faded|fading|comes|came|"
    r"moves?|moved|settle[sd]?|down|up|back)"
)
_TO = rf"(?:(?:{_GOES} )?(?:{_GOES} |off |away )?to|becom(?:es|ing)|became)"
_LINK = rf"(?: ?(?:->|→) ?|,? (?:and |but )?(?:it )?{_TO} )"
_KEYED = r"(?: (?:of )?(?:key(?:ed)?[- ]?down|keyed|keying|on tx|tx|soak|soaking|on|in|use))?"
_AT_FIRST = (
    r"(?:at (?:the )?(?:start|first|beginning|switch on|outset)|at key down|start|initially|first"
    r"|to (?:start|begin)(?: with)?)"
)
_NAME = r"(?P<name>(?:[a-z][a-z/+]*[ :]+){0,3})"
_FROM = rf"(?:from )?(?P<from>{FIGURE})"

_WITHIN = r"(?:in|over|after|within|during|by)"
IN_A_TIME = re.compile(rf"(?:\bfrom )?(?P<from>{_WHOLE}){_LINK}(?P<to>{FIGURE}),? {_WITHIN} (?P<time>{_TIME}){_KEYED}")
TIME_FIRST = re.compile(
    r"(?:^(?P<keyed>(?:soak|keyed|key(?:ed)? ?down) )?|(?<=, ))(?:after |in |over |for )?"
    rf"(?P<time>{_TIME}){_KEYED}[:,]? {_NAME}{_FROM}{_LINK}(?P<to>{FIGURE})"
)
FROM_THE_START = re.compile(
    rf"(?P<from>{_WHOLE}) {_AT_FIRST}[,;]? (?:and |then |but )?(?P<to>{FIGURE})"
    rf" (?:at |by )?(?:the )?(?:after|end of|in|at|by|into) (?P<time>{_TIME}){_KEYED}"
)
LATER = re.compile(
    rf"(?P<from>{_WHOLE})[,;] (?:and |then |but )?after (?P<time>{_TIME}){_KEYED}:?"
    rf"(?: (?:it |is |only |down to |up to |at ))* ?(?P<to>{FIGURE})(?=$|[,;])"
)
# with what was done between the two, or before and after it
_LED = rf"(?:(?:{_GOES} )*(?:improved )?from|improved|was)"
_IS = r"(?:to|then|(?:now |it )?is|becomes|became)"
# 'bias adjusted from 1.8 to 1.0 a': whoever turns it from one to the other leaves it at the other
TURNED_TO = re.compile(
    rf"\b(?:adj(?:usted)?|re-?set|turned|brought|backed|trimmed|lowered|raised|reduced|corrected|tweaked)"
    rf"(?: (?:up|down|back|off|out))? from (?P<from>{FIGURE}) to (?P<to>{FIGURE})"
)
MADE = re.compile(
    rf"^(?P<name>[a-z0-9][\w /+.-]*?):? (?:(?P<led>{_LED}) )?(?P<from>{FIGURE})"
    rf"(?:(?P<arrow> ?(?:->|→) ?)|,? (?P<link>{_IS}) |,? (?P<goes>(?:{_GOES} )+to) )(?P<to>{FIGURE})(?: now)?$"
)
CAME_FROM = re.compile(
    rf"^(?P<name>[a-z0-9][\w /+.-]*?):? (?P<to>{FIGURE}),? (?:up |down |back )?from (?P<from>{FIGURE})$"
)
ADJUSTER = re.compile(
    r"\b(?:pots?|presets?|trim\w*|cores?|slugs?|coils?|knob|control|screw|link|jumper|taps?|adj\w*|set|turn(?:ed|s)?|"
    r"[a-z]{1,3}\d+[a-z]?(?<!h[2-9])(?<!imd[357]))\b"
)
CLAUSES = re.compile(r"((?:,|;|\.) (?!was |is |now |to |then |up |down |back ))")
SUPPRESSED = re.compile(r"(\b(?:suppression|carrier null|supp)\b[^,;]*\d) ?dbc\b")  # so far below the carrier, in dB
POWERS = {"carrier_power", "drive_power", "peak_envelope_power", "needle_on_audio"}
RUSHING = {"inrush_current"}  # 'inrush 4a then 0.3': what it draws at first, and what it is not
# what creeps by itself; watts and volts that fall do so under a load, or on audio
DRIFTING = {"bias_voltage", "idle_current", "frequency_error", "am_depth", "fm_deviation", "temperature", "swr"}
WHOLE_HERTZ = re.compile(r"[+-]\d{2,}$")  # 'from +200 to -2.4k'
COUNTED = re.compile(r"\d\.\d{4,}$")  # megahertz of a counter; the frames say what drifted


def over_a_time(plain: str, sent_w: float | None = None) -> str:
    """A folded text with what a figure was at first, and what after a time, as 'falls to ... in'. `sent_w` is what the
    unit sent when that was read last, in W: bare figures near it are watts while it is keyed down."""
    for pattern in (IN_A_TIME, TIME_FIRST, FROM_THE_START):
        plain = pattern.sub(lambda found: _falls_in(found, sent_w), plain)
    return LATER.sub(r"\g<from>, \g<to> after \g<time>", plain)


def _falls_in(found: re.Match[str], sent_w: float | None) -> str:
    told = found.groupdict()
    first, last = told["from"], told["to"]
    if COUNTED.search(first) or COUNTED.search(last):
        return found[0]
    if not unit_of(first) and not WHOLE_HERTZ.match(first):
        first += unit_of(last)
    fading = (
        FADING.match(first)
        and not told.get("keyed")
        and _is_of_no_name(found)
        and float(last.strip("+-") or 0) < float(first)
    )
    if fading or _is_near_what_is_sent(found, sent_w):
        first, last = f"{first}w", f"{last}w"
    elif told.get("keyed") and not (unit_of(first) or unit_of(last)):
        return found[0]  # amps and volts fall as well
    return f"{told.get('name') or ''}{first} falls to {last} in {told['time']}"


# bare figures that fall by themselves, named by nothing: what is sent
FADING = re.compile(r"(?:6[1-9]|[7-9]\d|\d{3,4})$")  # and more than any supply has volts
KEYED = re.compile(r"\b(?:key(?:ed)? ?down|keyed|soak)\b")
OF_WHAT_IS_SENT = re.compile(r"(?:[,;:] ?|\b(?:key down|keyed|soak|tx|output|power|out)[,:]? ?)$")


def _is_near_what_is_sent(found: re.Match[str], sent_w: float | None) -> bool:
    """'key down 15 min 3.7 to 3.5' of a unit that sent 3.8 W when that was read last."""
    bare = all(re.fullmatch(r"\d*\.?\d+", found[end]) for end in ("from", "to")) and not found.groupdict().get("name")
    keyed = KEYED.search(found.string[: found.end()]) is not None
    return bare and keyed and sent_w is not None and all(_is_near(float(found[end]), sent_w) for end in ("from", "to"))


def _is_near(value: float, sent_w: float) -> bool:
    return sent_w > 0 and 1 / NEAR_TIMES < value / sent_w < NEAR_TIMES


NEAR_TIMES = 1.6  # about two decibels


def _is_of_no_name(found: re.Match[str]) -> bool:
    bare = not found.groupdict().get("name") and FADING.match(found["to"]) is not None
    return bare and bool(OF_WHAT_IS_SENT.search(found.string[: found.start()]) or KEYED.search(found[0]))


def made_by_the_hand(plain: str) -> str:
    """A folded text in which one quantity of a clause went from one figure to another, as 'now, was before'; as it was
    typed where an adjuster did, where no quantity is named, or where the two figures are the ends of a range."""
    plain = SUPPRESSED.sub(r"\1db", TURNED_TO.sub(_left_at, plain))
    whole = _made(plain)
    return whole if whole != plain else "".join(_made(part) for part in CLAUSES.split(plain))


def _left_at(found: re.Match[str]) -> str:
    now = found["to"] if unit_of(found["to"]) else found["to"] + unit_of(found["from"])
    return f"{now}, was {found['from']}" if _are_alike(found["from"], found["to"]) else found[0]


def _made(plain: str) -> str:
    found = MADE.match(plain) or CAME_FROM.match(plain)
    if found is None or ADJUSTER.search(found["name"]) or not _are_alike(found["from"], found["to"]):
        return plain
    told = found.groupdict()
    names = {fact.of for fact in cut_facts(found["name"]) if fact.kind == "quantity"}
    if not names or names & RUSHING or not _ends_on_the_last(told, names):
        return plain
    now = found["to"] if unit_of(found["to"]) else found["to"] + unit_of(found["from"])
    return f"{found['name']} {now}, was {found['from']}"


def _ends_on_the_last(told: dict[str, str | None], names: set[str]) -> bool:
    """Whether the last figure is what stands now: no end of a range, no power that an arrow says is driven."""
    if told.get("goes"):
        return bool(names & DRIFTING)
    led = told.get("led") is not None or "led" not in told
    is_a_range = told.get("link") == "to"
    is_driven = told.get("arrow") is not None and bool(names & POWERS)
    return led or not (is_a_range or is_driven)


def _are_alike(first: str, last: str) -> bool:
    """Whether both are in one unit, said once or twice."""
    return not unit_of(last) or unit_of(first) in {"", unit_of(last)}
