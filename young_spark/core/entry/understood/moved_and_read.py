"""'VR6 turned up a touch, mod 85%', 'nudged TC2 for +20 Hz', '3.8w after L3 half a turn in': an adjuster that was
moved, and what was read then. What the knob itself shows is no reading, and has its own grammar."""

import re
from dataclasses import dataclass

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.said import Ground, Said
from young_spark.core.entry.frames.together import read
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.places import TRIMMER
from young_spark.core.entry.wording.vocabulary import manner

_NUMBERED = rf"(?:{TRIMMER}|l|t)\d{{1,3}}"
_NOUN = r"(?:pot|preset|trimmer|core|slug|control)"
ADJUSTER = (
    rf"(?:the )?(?P<adjuster>(?:[a-z][a-z-]* ){{0,2}}{_NOUN}(?: {_NUMBERED})?"
    rf"|{_NUMBERED}(?: {_NOUN})?(?:(?: and |, | & ){_NUMBERED})?)"
)
_WAY = r"(?:up|down|in|out|back|cw|ccw|clockwise|anti-?clockwise|counter-?clockwise|right|left)"
_TURNS = r"(?:\d+|one|two|three|four|five|half|an?|quarter|eighth|1/2|1/4|1/8|3/4)(?: of)?(?: an?)? turns?"
_MUCH = rf"(?:{_TURNS}|(?:just )?(?:a )?(?:touch|bit|hair|whisker|tad|little|smidge)|slightly|fully)"
_VERB = (
    r"(?:(?:re-?)?(?:set|turned|tweaked|peaked|dipped|adjusted|trimmed|tuned|nudged|touched up|brought|backed(?: off)?"
    r"|rocked|moved|aligned)|wound)"
)
MOVED = rf"(?:{_VERB}(?: {_WAY})?(?: {_MUCH})?(?: {_WAY})?|{_MUCH}(?: {_WAY})?|{_WAY}(?: (?:by )?{_MUCH})?)"
_VERB_FIRST = rf"{_VERB}(?: {_WAY})?"
_THEN = (
    r"(?:(?:[,:;.]| ->| =| and|,? and then|, then)? (?:it )?"
    r"(?:now|gives|gave|makes|reads|is|for|until|till|to get|back to) "
    r"|[,:;.] | -> | = | and |,? and then |, then | )"
)
_STOOD = r"(?:,? (?:was )?(?:at|on|against) (?:max|min|full|(?:the|its) (?:stop|end)))?"
AND_THEN = (
    re.compile(rf"(?P<told>{ADJUSTER}{_STOOD},? {MOVED}){_THEN}(?P<read>\S.*)$"),
    re.compile(rf"(?P<told>{_MUCH}(?: {_WAY})? (?:on |of |at )?{ADJUSTER}){_THEN}(?P<read>\S.*)$"),
    re.compile(rf"(?P<told>{_VERB_FIRST} {ADJUSTER}(?: {_WAY})?(?: {_MUCH})?(?: {_WAY})?){_THEN}(?P<read>\S.*)$"),
)
WHEN = re.compile(
    rf"(?P<read>\S.*?),? (?:after|with|once|since|when) "
    rf"(?P<told>{ADJUSTER}(?: was)?,? {MOVED}|{_VERB_FIRST} {ADJUSTER.replace('adjuster', 'other')}(?: {_WAY})?)$"
)


@dataclass(frozen=True, slots=True)
class MovedAndRead:
    """The adjuster as it was called, and the words that were read when it was left."""

    adjuster: str
    read: str


def moved_and_read(plain: str, ground: Ground) -> MovedAndRead | None:
    """An adjuster that was moved and a reading said in full behind or before it; None of any other text."""
    for pattern in (*AND_THEN, WHEN):
        found = pattern.match(plain)
        if found is None:
            continue
        told = found.groupdict()
        if _says_a_reading(found["read"], ground):
            return MovedAndRead(_named(told["adjuster"] or told["other"]), found["read"])
    return None


def _says_a_reading(words: str, ground: Ground) -> bool:
    breath = read(cut(as_signs(words)), ground)
    figures = [said for said in breath.said if not said.derived]
    explained = manner().issuperset(breath.remark.split())
    return breath.sure and explained and bool(figures) and all(map(_is_said_in_full, figures))


def _is_said_in_full(said: Said) -> bool:
    counted = said.quantity in {"carrier_frequency", "frequency_error"}
    return said.value is not None and (said.named or said.in_its_unit or counted) and not said.lent


def _named(adjuster: str) -> str:
    return " ".join(w.upper() if re.search(r"\d", w) else w for w in adjuster.split(" "))
