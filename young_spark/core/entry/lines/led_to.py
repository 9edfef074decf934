"""What was done or found and what was read then, joined by words that say the one led to the other: 'swapped q8 so 4w',
'cleaned the switch = 4w in 95 out', '3.8w and 85% now, vr3 up a touch'."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from young_spark.core.entry.lines.story_guess import guessed_kind

_READ = r"(?P<read>[^.;]*\d(?:[^;]*[\w%])?)"
JOINED = re.compile(
    r"^(?P<words>[a-z][^;]*?)(?:,? (?:so|=|and (?:it )?(?:now )?(?:gives|makes|does|reads)|which (?:gives|gave)|giving|"
    rf"resulting in|leaving(?: it(?: at)?)?|result:?|and now|then|after which))(?: (?:it is|it's|now|that))* {_READ}$"
)
_NAMES = (
    r"(?:(?:the )?(?:power|output|carrier|mod\w*|depth|dev\w*|freq\w*|swr|sens\w*|idle|ht|plate|ripple|hum)\b"
    r"|it (?:now )?(?:gives|does|makes|reads))"
)
AFTER_DOING = re.compile(rf"^(?:after|having|with) (?P<words>[a-z-]+ing [^,;]*?),? (?P<read>{_NAMES}.*\d.*)$")
NOW_AT_THE_END = re.compile(rf"^(?P<words>[a-z][^;,]*), {_READ} now$")
NOW_FIRST = re.compile(r"^(?P<read>[^;]*\d[^;]*) now[,;:] (?P<words>[a-z][^,;]*)$")
PARTED = re.compile(
    rf"^(?P<words>[a-z][^;,.:]*?)(?:[;,.:]| -| [-=]>)(?: (?:now|gives|gave|then|back to|and|so|only|still))* {_READ}$"
)
RUN_ON = re.compile(
    r"^(?P<words>(?:new|fitted|replaced|changed|swapped) (?:new )?[a-z]{1,3}\d{1,4}(?: (?:fitted|in|replaced|done))?) "
    r"(?P<read>(?:[\d.]+ ?(?:m?w|%)(?!\w)|(?:power|mod|dev|swr|freq|ch ?\d+) )[^;]*)$"
)
DONE_LAST = re.compile(r"^(?P<read>[^;]*\d[^;]*?),? after:? (?P<words>[a-z][^,;]*)$")
AFTER = re.compile(r"(?<=\w) after: (?=[a-z])")
DOING = re.compile(r"^([a-z-]+)ing\b")  # as what was done
OF_NO_NAME = re.compile(r"[+-]?[\d.]+ ?m?[va](?: (?:now|again))?")  # volts or amps of what, nobody says
CHANGED = {"did", "turned", "found"}
BY_HAND = {"did", "turned"}
TELLING = re.compile(r"\d ?(?:m?w|m?v|m?a|k|k?hz|%|db[cm]?|uv)(?!\w)|^(?:[a-z]\w* ){1,3}[+-]?[\d.]+$")


@dataclass(frozen=True)
class Led:
    """What was done or found, and what was read then."""

    words: str
    read: str


def what_it_led_to(plain: str) -> Led | None:
    """The two parts of a folded text in which words say that the one led to the other; None where nothing was done or
    found in it."""
    return _apart(
        AFTER.sub(" after ", plain),
        ((AFTER_DOING, BY_HAND), (JOINED, CHANGED), (NOW_AT_THE_END, CHANGED), (NOW_FIRST, BY_HAND)),
    )


def done_then_read(plain: str) -> Led | None:
    """The two parts of a folded text of which a stop parts what was done or found from what was read; 'after' last."""
    return _apart(plain, ((PARTED, CHANGED), (RUN_ON, BY_HAND), (DONE_LAST, BY_HAND)))


def _apart(plain: str, joins: Sequence[tuple[re.Pattern[str], set[str]]]) -> Led | None:
    for pattern, kinds in joins:
        found = pattern.match(plain)
        if found is None or TELLING.search(found["read"]) is None or TELLING.search(found["words"]) is not None:
            continue
        words = DOING.sub(r"\1ed", found["words"]) if pattern is AFTER_DOING else found["words"]
        if OF_NO_NAME.fullmatch(found["read"]) is None and guessed_kind(words) in kinds:
            return Led(words, found["read"])
    return None
