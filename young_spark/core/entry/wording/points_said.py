"""Points inside as hands speak of them, written in the one way that places are cut from: the part, its electrode or
junction, then what was seen there."""

import re

from young_spark.core.entry.wording.places import ELECTRODES, JUNCTIONS, PART, Place, place_at

_TRANSISTOR = r"(?:q|tr|t)\d{1,3}[a-z]?"
_ENDS = "|".join(sorted((e for e in ELECTRODES if not e.startswith(("g1", "g2", "gate "))), key=len, reverse=True))
_LONG_ENDS = "|".join(sorted((e for e in ELECTRODES if len(e) > 2 and " " not in e), key=len, reverse=True))
_JOINED = rf"(?P<one>{_ENDS})(?: to |-|/)(?P<two>{_ENDS})|(?P<three>{_LONG_ENDS}) (?P<four>{_LONG_ENDS})"
_BOTH = r"(?P<both>be|bc|ce|eb|cb|ec|ds|gs|dg)"
_BROKEN = r"(?:dead |is |was )?(?:short(?:ed)?|open|s/c|o/c)(?: circuit)?"
JUNCTION_BEHIND = re.compile(
    rf"(?P<part>{_TRANSISTOR}) (?:(?:is|was|has a|has gone) )?(?P<seen>{_BROKEN} )?"
    rf"(?:{_JOINED}|{_BOTH}(?= short| open| s/c| o/c|$))(?![\w/-])(?! (?:{_ENDS})\b)"
)
JUNCTION_BEFORE = re.compile(
    rf"(?P<seen>{_BROKEN} )?(?:{_JOINED}) (?:on|of|in|across) (?P<part>{_TRANSISTOR})(?![\w/-])"
)
LETTER_OF = re.compile(rf"(?<![\w.])(?:the )?(?P<end>[bcegds]) of (?P<part>{_TRANSISTOR})(?![\w/-])")
LETTER_BEHIND = re.compile(
    rf"(?<![\w.])(?P<part>{_TRANSISTOR}) (?P<end>[bcegds])(?= (?:sits|stands|is|at|but|and|measured|shows|has|"
    r"goes|rises|drops|falls|on|in|when|to ground|side)\b|$)"
)
MEETING = re.compile(
    rf"(?<![\w.])(?:(?:where|between) (?P<one>{PART}) (?:meets|joins|and) (?P<two>{PART})"
    rf"|(?P<three>{PART})(?:/| and )(?P<four>{PART}) (?:junction|joint|node))(?![\w.])"
)
OF_WHAT_LIES_BETWEEN = re.compile(r"\d ?(?:k|m)?(?:ohms?|r)\b|\b(?:open|short|continuity|arc\w*|track|link|bridge)\b")
PIN_BEHIND_A_DASH = re.compile(r"(?<![\w.])(?P<part>ic\d+|u\d+)-(?P<pin>\d{1,2})(?= |$|:)(?! (?:dbm?|m?v)\b)")
THERE = r"(?:rf|signal|audio|drive|volts|voltage|dc|lo)"
NOT_THERE = re.compile(
    rf"^(?:(?:no|zero) (?P<what>{THERE})|nothing)(?: at all| present| there)? (?:at|on|in|from) (?:the )?"
)
IS_WELL = re.compile(
    rf"^(?P<what>{THERE})(?: is)? (?:ok|good|fine) (?:at|on) (?:the )?"  # that it is there says not that it is well
)
VOLTS_AT = re.compile(r"^(?:the )?(?:dc )?(?:volts|voltage|dc) (?:on|at) (?:the )?")
BARE = re.compile(r"(?P<led> |: ?| ?= ?| is | reads )(?P<volts>[+-]?\d*\.?\d+)(?: ?v(?:olts)?)?$")
HAS_NONE = re.compile(rf" (?:has|gets)(?: got)? no (?P<what>{THERE})(?: on it)?$")
STANDS_AT = re.compile(r" (?:runs?|running|sits|sitting|stands|rests|is|hangs) at (?=[+-]?[\d.])")
# names of where power leaves, of a meter, or of no point at all
NOT_INSIDE = re.compile(
    r"after |before the duplexer|air|left|right|.* of the band|LPF output|S-meter|balun|earth bond|across "
)
# what is said there, as the facts name what is not, or is; audio and drive are quantities of the whole unit elsewhere
ABSENT = {
    "volts": "no volts",
    "voltage": "no volts",
    "dc": "no volts",
    "rf": "no rf",
    "drive": "no drive",
    None: "nothing",
}
WELL = {"rf": "rf ok", "volts": "ok", "voltage": "ok", "dc": "ok"}
LAST = {"PA", "final", "finals"}
NO_SIGNAL, A_SIGNAL = "nothing signal", "signal ok"


def points_said(plain: str) -> str:
    """A folded text with the points inside that it speaks of in their own order."""
    plain = PIN_BEHIND_A_DASH.sub(r"\g<part> pin \g<pin>", plain)
    plain = LETTER_OF.sub(_with_its_end, plain)
    plain = JUNCTION_BEHIND.sub(_with_its_junction, JUNCTION_BEFORE.sub(_with_its_junction, plain))
    plain = LETTER_BEHIND.sub(_with_its_end, plain)
    if OF_WHAT_LIES_BETWEEN.search(plain) is None:
        plain = MEETING.sub(_where_they_meet, plain)
    return _seen_at(plain)


def _with_its_end(found: re.Match[str]) -> str:
    return f"{found['part']} {ELECTRODES[found['end']]}"


def _with_its_junction(found: re.Match[str]) -> str:
    said = found.groupdict()
    one, two = said["one"] or said["three"], said["two"] or said["four"]
    ends = said.get("both") or "".join(ELECTRODES[end][0] for end in (one, two) if end)
    if ends not in JUNCTIONS:
        return found[0]
    seen = (said["seen"] or "").strip()
    return f"{said['part']} {ends[0]}-{ends[1]}{' ' + seen if seen else ''}"


def _where_they_meet(found: re.Match[str]) -> str:
    return f"junction of {found['one'] or found['three']} and {found['two'] or found['four']}"


def _seen_at(plain: str) -> str:
    """'no rf at q8 base', 'rf ok at tp2', 'the vco runs at 16.3 mhz': the point leads."""
    if (absent := NOT_THERE.match(plain)) and (point := _point(plain[absent.end() :])):
        if " from " in absent[0] and point.of in LAST:
            return plain  # 'no rf from the pa': what the last stage gives leaves the unit
        return f"{point.typed} {ABSENT.get(absent['what'], NO_SIGNAL)}{plain[absent.end() + len(point.typed) :]}"
    if (there := IS_WELL.match(plain)) and (point := _point(plain[there.end() :])):
        return f"{point.typed} {WELL.get(there['what'], A_SIGNAL)}{plain[there.end() + len(point.typed) :]}"
    if (named := VOLTS_AT.match(plain)) and (point := _point(plain[named.end() :])):
        read = BARE.fullmatch(plain[named.end() + len(point.typed) :])
        return f"{point.typed} {read['volts']}v" if read else plain
    leads = plain.removeprefix("the ")
    if (point := _point(leads)) is None:
        return plain
    behind = leads[len(point.typed) :]
    if (has := HAS_NONE.fullmatch(behind)) is not None:
        return f"{point.typed} {ABSENT.get(has['what'], NO_SIGNAL)}"
    return f"{point.typed}{STANDS_AT.sub(' ', behind, count=1)}" if STANDS_AT.match(behind) else plain


def _point(rest: str) -> Place | None:
    point = place_at(rest, "")
    return None if point is None or NOT_INSIDE.match(point.name) else point
