"""What was read alike at several points: '3.9w on ch1 and ch40', '80m and 40m both 98w'. It is written once for each of
them, so that none of them is left without its figure."""

import re

from young_spark.core.entry.facts.said import Ground
from young_spark.core.entry.wording.typed_figures import FIGURE, unit_of

_CHANNEL = r"(?:ch(?:an(?:nel)?)?s?\.? ?)?\d{1,3}"
_BAND = r"\d{1,3} ?m"
_AND = r"(?:, ?| and | & |, and | ?\+ ?)"
_LAST = r"(?: and | & |, and | ?\+ ?)"
_ALIKE = r"(?:both|each|all|alike|the same|too)"


def _several(point: str) -> str:
    return rf"{point}(?:{_AND}{point}){{0,12}}{_LAST}{point}"


POINTS = rf"(?P<points>{_several(_CHANNEL)}|{_several(_BAND)})"
BEHIND = re.compile(
    r"^(?P<what>.*?\d.*?|(?:tx |rx |power |audio |output )?(?:weak|low|ok|okay|fine|good|bad|poor|normal)),?"
    rf" (?P<alike>{_ALIKE} )?(?P<on>on |at )?(?:{_ALIKE} )?{POINTS}(?: {_ALIKE})?$"
)
IN_FRONT = re.compile(
    rf"^(?P<on>on |at )?(?:{_ALIKE} )?{POINTS}[:,]? (?P<alike>{_ALIKE} )?(?:at |is |are )?(?P<what>.*\d.*)$"
)
POINT = re.compile(r"\d{1,3}")
_PART = r"(?!ch)[a-z]{1,3}\d{1,4}"
PARTS = re.compile(
    rf"^(?P<parts>{_PART}(?:(?:, ?| and | & | ?\+ ?| ){_PART}){{1,11}})[:,]? "
    rf"(?P<what>(?:{_ALIKE} |leaks? |tests? |reads? ).*\d.*)$"
)
PART = re.compile(_PART)
SAYS_WHERE = re.compile(r"\bch(?:an(?:nel)?)?s?\.? ?\d|\b(?:160|80|60|40|30|20|17|15|12|10|6|4|2) ?m\b|\d ?mhz\b")
LONGEST = 150  # signs of a text that is looked through for several points
LED_ALIKE = re.compile(rf"^{_ALIKE} (?:at |are |is |read )?")
AND = re.compile(r"\d ?m?,?(?: and | & | ?\+ ?)(?:ch(?:an(?:nel)?)?\.? ?)?\d")
COMMA = re.compile(r"[,;] ?")
A_FIGURE = re.compile(rf"(?:^|(?<=[\s(:=])){FIGURE}")


def at_each_of(plain: str, ground: Ground) -> str:
    """A folded text with its figures at each of the points that end it, or lead it; as it was typed where these may be
    figures, or each has a figure of its own."""
    if len(plain) > LONGEST:
        return plain
    if (parts := PARTS.match(plain)) is not None:
        what = LED_ALIKE.sub("", parts["what"])
        return ", ".join(f"{part} {what}" for part in PART.findall(parts["parts"]))
    if AND.search(plain) is None:
        return plain
    for begins in (0, *(comma.end() for comma in COMMA.finditer(plain))):
        for pattern in (BEHIND, IN_FRONT):
            found = pattern.match(plain[begins:])
            if found is not None and _are_points(found, ground) and _is_of_all(found):
                return plain[:begins] + _at_each(found)
    return plain


def _at_each(found: re.Match[str]) -> str:
    what, band = found["what"].strip(" ,"), found["points"].endswith("m")
    return ", ".join(f"{what} {f'{point}m' if band else f'ch{point}'}" for point in POINT.findall(found["points"]))


def _are_points(found: re.Match[str], ground: Ground) -> bool:
    if found["points"].endswith("m"):
        return True
    if not ground.channel_hz and found["points"].startswith("ch"):
        return True  # of a set whose channels nobody listed: 'dev 4.5 ch 2 and 3'
    said = "ch" in found["points"] or found["on"] is not None or found["alike"] is not None
    return said and all(int(number) in ground.channel_hz for number in POINT.findall(found["points"]))


def _is_of_all(found: re.Match[str]) -> bool:
    """Whether what was read says of no point of its own, and is not a row with a figure for each: as many of one
    unit."""
    what = found["what"]
    if SAYS_WHERE.search(what) is not None or "to" in what.split():
        return False
    units = [unit_of(figure) for figure in A_FIGURE.findall(what)]
    points = len(POINT.findall(found["points"]))
    of_each = len(units) == points and (len(set(units) - {""}) < points)
    return found["alike"] is not None or not of_each
