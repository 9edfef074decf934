"""Adjustments as hands write them: which adjuster, from what to what, and the figure that it ended on."""

import re
from dataclasses import dataclass

from young_spark.core.entry.wording.places import TRIMMER
from young_spark.core.entry.wording.tokens import UNITS

_FIGURE = r"[+-]?\d*\.?\d+ ?(?:mw|kw|w|khz|hz|mv|v|ma|a|k|r|%|turns?|o'?clock)?"
_PARTS = rf"\b(?:{TRIMMER}|l|t|r)\d{{1,3}}(?: and (?:{TRIMMER}|l|t)\d{{1,3}})?"
_ADJUSTER = rf"(?P<adjuster>{_PARTS}|(?:\w+ )?(?:pot|trimmer|core|slug|preset))"
_UNTIL = r"(?:till|until|for max|set for|set to|for|to)"
_SET = r"(?:re)?(?:set|trimmed|adjusted|tuned|pulled|brought|turned)(?: back| up| down)?"
_LEFT = rf"(?P<left>{_FIGURE})$"
_POSITION = rf"(?:\d/\d(?: turns?)?|{_FIGURE})"
FOUND_AND_LEFT = re.compile(
    rf"{_ADJUSTER},? (?P<between>.*?)(?:was )?found (?:at |on )?(?P<found>{_POSITION}),? (?:and )?"
    rf"left (?:at |on )?(?P<left>{_POSITION})$"
)
PATTERNS = (
    re.compile(rf"{_ADJUSTER} (?P<between>.*?)(?:was|from) (?P<found>{_FIGURE}) (?:now|to) {_LEFT}"),
    re.compile(rf"{_ADJUSTER} (?P<between>.*?)(?:was )?(?P<found>{_FIGURE}),? (?:set|now) {_LEFT}"),
    re.compile(rf"{_ADJUSTER} (?P<between>.*?)(?P<found>{_FIGURE}) ?(?:->|to) ?{_LEFT}"),
    re.compile(rf"(?:turned |peaked )?{_ADJUSTER} (?P<between>.*?){_UNTIL} {_LEFT}"),
    re.compile(rf"{_ADJUSTER}(?P<between> )set (?:to )?(?P<left>{_FIGURE}) was (?P<found>{_FIGURE})$"),
    re.compile(rf"(?:set )?{_ADJUSTER}(?P<between> )(?:to|for) (?P<left>{_FIGURE}) was (?P<found>{_FIGURE})$"),
    re.compile(
        rf"(?P<adjuster>bias|idle|dev|deviation|power|pwr|alc)(?P<between> )set (?:to )?(?P<left>{_FIGURE})"
        rf" (?:from|was) (?P<found>{_FIGURE})$"
    ),
    re.compile(
        r"set (?P<adjuster>bias|dev|deviation|power|pwr)(?P<between> )(?:to )?"
        rf"(?P<left>{_FIGURE}) was (?P<found>{_FIGURE})$"
    ),
    re.compile(
        rf"(?<![\w.])(?P<adjuster>[a-z][a-z ]+?)(?P<between> )(?:was )?(?P<found>{_FIGURE}),? {_SET} (?:to )?"
        rf"(?P<left>{_FIGURE})(?: (?:as|per) .*)?$"
    ),
)
ONTO_A_FREQUENCY = re.compile(
    r"\b(?:trimmed|set|adjusted|pulled|netted|tuned) (?:back )?(?:to|onto) (?P<counted>\d{1,4}\.\d{3,7})"
    rf"(?: (?:with|by|at|using|on) (?:the )?(?:{TRIMMER}|l|t)\d{{1,3}})?$"
)
COUNTED_LAST = re.compile(
    r"(?:->|\b(?:to|onto|now|is|reads|netted|zeroed|trimmed|set|"
    r"(?:tc|ct|vc|cv|l|t)\d{1,3})\b|[,:=]) ?(?P<counted>\d{1,4}\.\d{4,7})(?: ?mhz)?$"
)
MODE = re.compile(r"\b(?:usb|lsb|am|fm|cw)\b")
EACH_WITH_ITS_FIGURE = re.compile(rf"\b(?:{TRIMMER}|l|t)\d{{1,3}} [+-]?\d*\.?\d+")
DIRECTIONS = re.compile(r"\b(?:up|down|out|in|back|backed off|for|pot|trimmer|set|turned|max)\b")
OF_THE_KNOB = re.compile(r"(?:k|r|turns?|o'?clock)$")  # what the adjuster itself reads is no reading of the unit
SHARES = re.compile(r"[\d.]+ ?% [\d.]+ ?%")  # 'vr11 was 40% now 55%': of its own travel
IN_KILOHERTZ = re.compile(r"\b(?:dev|deviation|freq|frequency|err|error)\b")
ON_FREQUENCY = re.compile(r"tc\d|ct\d|vc\d|cv\d|(?:\w+ )?(?:trimmer|core|slug)$")
BARE = re.compile(r"[+-]?\d*\.?\d+$")


@dataclass(frozen=True, slots=True)
class Adjustment:
    """The adjuster, what was found and left as they were typed, and what of the text says the figure it ended on."""

    adjuster: str
    found: str | None
    left: str
    ended_on: str | None


def adjustment_in(plain: str) -> Adjustment | None:
    """The adjustment that a folded text tells of, or None."""
    if len(EACH_WITH_ITS_FIGURE.findall(plain)) > 1:
        return None  # 'vr8 11 to 50ma, vr9 9 to 50': of which of them a figure is, no frame here tells
    if (both := FOUND_AND_LEFT.search(plain)) is not None and "/" in both["left"]:
        return Adjustment(_named(both["adjuster"]), both["found"].strip(), both["left"].strip(), None)
    for pattern in (FOUND_AND_LEFT, *PATTERNS):
        if (match := pattern.search(plain)) is None:
            continue
        if pattern is PATTERNS[0] and SHARES.fullmatch(f"{match['found']} {match['left']}") and not match["between"]:
            return Adjustment(_named(match["adjuster"]), match["found"].strip(), match["left"].strip(), None)
        told = match.groupdict()
        left, found = str(told["left"]).strip(), told.get("found")
        unit = re.sub(r"[^a-z%']", "", left)
        found = f"{found.strip()}{unit}" if found and BARE.fullmatch(found.strip()) else found
        adjuster = str(told["adjuster"])
        if adjuster.split(" ")[0] in UNITS:
            continue  # '10 mhz off by +3 hz, trimmed to 0': no knob is called by a unit
        return Adjustment(_named(adjuster), found, left, _ended_on(adjuster, str(told["between"]), left))
    return None


def figure_at_the_end(plain: str) -> str | None:
    """'tuned l14 l15 for max: 4.1w', 'backed l14 to 3.9w for cleaner mod': what was read when it was left, in a unit
    that no knob has."""
    if (counted := ONTO_A_FREQUENCY.search(plain) or COUNTED_LAST.search(plain)) is not None:
        return " ".join((*MODE.findall(plain)[-1:], counted["counted"]))
    if (netted := NETTED.search(plain)) is not None:
        return f"err {netted['off']}{netted['where'] or ''}"
    if (first := ADJUSTER_FIRST.search(plain)) is not None:
        off = first["left"][0] in "+-" and first["unit"] is None and re.search(r"\b(?:trimmer|core|slug)\b", plain)
        return f"err {first['left']}" if off else first["left"]
    if (biased := BIAS_FOR.match(plain)) is not None:
        return f"idle {biased['idle']} bias {biased['bias']}"
    if SET_AT.search(plain) is not None or OF_A_STAGE.search(plain) is not None:
        return named_by_its_adjuster(plain)
    found = LEFT_AT.findall(plain)
    return str(found[-1]).strip() if found else None


# 'set bias for 60ma, -41v': what flows at rest, and the volts that make it
BIAS_FOR = re.compile(
    r"^(?:re-?)?set (?:the )?bias (?:for|to|at) (?P<idle>[\d.]+ ?m?a)(?: idle)?,? "
    r"(?:at |now |is )?(?P<bias>-?[\d.]+ ?v)$"
)
NAMING_A_KNOB = re.compile(
    r"\b(?P<name>dev|deviation|mod|power|pwr|alc|bias|idle|squelch|null)\b(?: \w+){0,2}? (?:pot|preset|trimmer)\b"
)
SET_TO = re.compile(
    rf"\b(?P<name>dev|mod|power|pwr|alc|bias|idle) (?:adj|adjust|set|preset|pot) (?:{TRIMMER})\d+,? (?:turned )?"
    r"(?:up|down|back)(?: a bit| slightly)? to (?P<figure>[\d.]+)$"
)
NETTED = re.compile(
    rf"\b(?:netted|zeroed|trimmed|pulled)(?: it| (?:{TRIMMER}|x|l|t)\d{{1,3}})? (?:back )?(?:to|onto) "
    r"(?P<off>[+-]\d{1,5})(?: ?hz)?(?P<where> (?:on|at) (?:ch ?)?\d{1,4}(?:\.\d{1,4})?m?)?$"
)
NAMED_KNOB = re.compile(
    r"^(?P<name>dev|deviation|mod|power|pwr|alc|bias|idle) (?:pot|preset|trimmer)(?: (?:up|down|back|set|turned|now))* "
    r"(?:to |at )?(?P<left>\d*\.?\d+ ?[a-z%]*)$"
)
# what only guards the unit: where that is set was not read
GUARDS = re.compile(
    r"\b(?:trip\w*|threshold|thermostat|alarm|timer|time-?out|limit(?:er)?|fold-?back|cut-?out|breaker)\b"
)
LEFT_AS = re.compile(r", (?P<read>[\d.]+ ?(?:k|%|w)?(?: (?:[a-z]+|[\d.]+ ?(?:k|%|w)?)){0,6})$")


# 'bias set 120ma', 'idle .5a set', 'dev trimmed to 2.4'
_KNOB_OF = r"(?:dev|deviation|bias|idle|mod|power|pwr|pep|alc|freq|frequency|carrier)"
_READ = r"[+-]?\d*\.?\d+ ?[a-z%]*"
SET_AT = re.compile(
    rf"^(?P<name>{_KNOB_OF}(?: (?:usb|lsb|am|fm|cw))?) "
    rf"(?:{_SET} (?:to |at |for )?(?P<left>{_READ})|(?P<before>{_READ}) (?:re)?set)$"
)
# 'vco trimmer, +20', 'pa bias pot, 500mw'
_NUMBERED = rf"(?:{TRIMMER}|l|t)\d{{1,3}}"
ADJUSTER_FIRST = re.compile(
    rf"^(?:(?:[a-z][\w-]* ){{0,3}}(?:pot|preset|trimmer|core|slug)(?: {_NUMBERED})?|{_NUMBERED})"
    r"(?: (?:up|down|in|out|back))?, (?P<left>[+-]?\d*\.?\d+ ?(?P<unit>mw|w|%|k|khz|hz|ma|a|db)?)$"
)


OF_A_STAGE = re.compile(
    r"^(?P<stage>(?:q|tr|v|fet)\d{1,2}(?:/\d{1,2})?)(?: idle| bias| current| quiescent)* (?:re)?set (?:to|at) "
    r"(?P<left>[\d.]+ ?ma)$"
)


_SET = (
    r"(?:re-?)?(?:set|adjusted|trimmed|tuned|brought|lowered|raised|reduced|increased|turned|backed(?: off)?)"
    r"(?: up| down| back)?"
)
NAME_SET_TO = re.compile(
    rf"(?:the )?(?P<name>[a-z][a-z0-9 ]{{1,30}}?)(?: was| is| now)* {_SET} (?:to|at) (?P<figure>{_FIGURE})"
)


def name_set_to(plain: str) -> str | None:
    """'pa idle current 400 ma' of 'pa idle current set to 400 ma': what was set by the name of what was read, and no
    knob by what it is called."""
    found = NAME_SET_TO.fullmatch(plain)
    return None if found is None or A_KNOB.search(found["name"]) else f"{found['name']} {found['figure']}"


A_KNOB = re.compile(r"\b(?:pot|preset|trimmer|core|slug|control|knob|(?:vr|rv|tc|ct|l|t|c|r)\d{1,3})\b")


def named_by_its_adjuster(plain: str) -> str | None:
    """'dev pot rv2 turned back, 2.4 whistle 2.1 speech': what the adjuster is called by is what was read then."""
    if (stage := OF_A_STAGE.search(plain)) is not None:
        return f"{stage['stage']} idle {stage['left']}"  # 'q3 set to 200ma'
    if (knob := NAMED_KNOB.search(plain)) is not None:
        return f"{knob['name']} {knob['left']}"
    if (set_at := SET_AT.search(plain)) is not None:
        return f"{set_at['name']} {set_at['left'] or set_at['before']}"
    if (set_to := SET_TO.search(plain)) is not None:
        return f"{set_to['name']} {set_to['figure']}"  # 'mod adj vr3 up to 88'
    named, left = NAMING_A_KNOB.search(plain), LEFT_AS.search(plain)
    return None if named is None or left is None else f"{named['name']} {left['read']}"


_WORD = r"(?:carrier|power|pep|mod|dev|idle|alc|out|swr|err|freq|usb|lsb|am|fm|ssb|h[2-9]|\d{1,3}m)"
_OF_A_UNIT = r"[+-]?\d*\.?\d+ ?(?:mw|kw|w|watts|%|khz|hz|db|dbc|dbm|uv|ma|a)"
_OFF = r"(?:usb|lsb|am|fm|freq|err) [+-]\d+"  # hertz
_WHERE = r"(?: on (?:ch ?)?\d{1,3}m?| (?:on )?(?:usb|lsb|am|fm))?"
LEFT_AT = re.compile(
    rf"((?:{_WORD} ){{0,2}}{_OF_A_UNIT}{_WHERE}|{_OFF})(?=$|,? (?:for|so|now|and|with|as|to be)\b|[.!])"
)


def _named(adjuster: str) -> str:
    return " ".join(w.upper() if re.search(r"\d", w) else w for w in adjuster.split(" "))


# 'tuned t5 t6 for max, 3.1 -> 3.6w': what else was turned is not where that was read
OTHERS_TURNED = re.compile(rf"^(?:(?:,|and|&)? ?(?:{TRIMMER}|l|t|c)\d{{1,3}}\b,? ?)+")


def _ended_on(adjuster: str, between: str, left: str) -> str | None:
    """The words of the quantity with the figure that was left; None where the figure is the knob's own."""
    of = DIRECTIONS.sub(" ", adjuster if not re.search(r"\d", adjuster) else "")
    words = " ".join(f"{of} {DIRECTIONS.sub(' ', OTHERS_TURNED.sub('', between))}".split())
    if left[:1] in "+-" and BARE.fullmatch(left) and not words and ON_FREQUENCY.match(adjuster):
        return f"err {left}"  # 'tc1 +1420 now +30'
    own = OF_THE_KNOB.search(left) and not IN_KILOHERTZ.search(words)
    if own or (BARE.fullmatch(left) and not words):
        return None
    return f"{words} {left}".strip()
