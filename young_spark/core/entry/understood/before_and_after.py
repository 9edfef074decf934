"""'3.1w before new final, 4.4 after', 'mod 60% before, 90 after the recap': what was read before something was done and
what after it. Read now is the second; what it was stays with it as words, and what was done is told."""

import re
from collections.abc import Callable

from young_spark.core.entry.facts.meaning import Meaning, StoryLine, Understanding
from young_spark.core.entry.understood.around_the_line import as_it_was_typed
from young_spark.core.entry.wording.idle_words import Spared

_FIGURE = r"[-+]?\d*\.?\d+(?: ?(?:[kmµu]?[wva]|%|k?hz|dbc?|dbm|uv|ohms?|k))?(?![\w.])"
# what a hand does to a set; 'before the filter' is a place of it
_DEED = (
    r"(?:the |a |his |my )?(?:new [^,;\d]+|(?:re)?(?:pair|cap|tune|trim|align|place|work|bias|solder|adjust)"
    r"(?:ping|ming|ing|ment|ed|s)?(?: [^,;\d]+)?|(?:fix|service|clean|swap|tweak|fitt|chang|replac|tun|peak|trimm)"
    r"(?:ing|ping|ement)?(?: [^,;\d]+)?)"
)
_NAME = r"(?P<name>(?:(?:\d{1,3}(?:\.\d{1,3})?(?: ?mhz| ?m)?|ch(?:an)? ?\d{1,2}|[a-z][a-z/+]*\d{0,2}):? ){0,4}?)"
_BEFORE = rf"(?P<was>{_FIGURE}) before(?: (?P<deed>{_DEED}))?"
_AFTER = rf"(?P<now>{_FIGURE}) (?:after|now)(?:wards?)?(?: (?P<done>{_DEED}))?"
_BOTH = (
    re.compile(rf"{_NAME}{_BEFORE},? (?:and |but |then )?{_AFTER}", re.IGNORECASE),
    re.compile(
        rf"{_NAME}(?:was |were )?{_BEFORE},? (?:and |but )?(?:it is |it's )?now (?P<now>{_FIGURE})(?P<done>)", re.I
    ),
    re.compile(rf"{_NAME}{_AFTER},? (?:and |but )?(?:was )?{_BEFORE}", re.IGNORECASE),
    re.compile(
        rf"(?=[a-z])(?!(?:tx|rx) \d){_NAME}(?P<was>{_FIGURE}),? (?:and |but )?"
        rf"now (?P<now>{_FIGURE})(?P<deed>)(?P<done>)",
        re.IGNORECASE,
    ),
)
_NEW = re.compile(r"(?:the |a |his |my )?new ", re.IGNORECASE)
_UNIT = re.compile(r"(?<=[\d.]) ?[a-zµ%]+$", re.IGNORECASE)


def read_before_and_after(
    text: str, meant: Understanding, understood: Callable[[str], Understanding]
) -> Understanding | None:
    """What such a line means; None where it is none, is not sure then, or was understood so already."""
    words = " ".join(text.split()).rstrip(".")
    found = next((both for pattern in _BOTH if (both := pattern.fullmatch(words)) is not None), None)
    if found is None:
        return None
    was, now = _in_one_unit(found["was"], found["now"])
    plain = f"{found['name']}{now}, was {was}"
    read = understood(plain)
    if read.chosen is None or read.story is not None or len(read.meanings[read.chosen].readings) != 1:
        return None
    deed = found["deed"] or found["done"] or None
    if deed is None and meant.chosen is not None and _figures(meant) == _figures(read):
        return None
    told = as_it_was_typed(read, text, Spared(plain))
    return told if deed is None else told.model_copy(update={"story": _did(deed, text, meant, understood)})


def _did(deed: str, text: str, meant: Understanding, understood: Callable[[str], Understanding]) -> StoryLine:
    """The line of what was done, and where, as far as its words say it."""
    told = (meant.story, understood(f"fitted {deed}").story if _NEW.match(deed) else None)
    known = next(
        (story for story in told if story is not None and story.kind == "did"), StoryLine(kind="did", words="")
    )
    return known.model_copy(update={"words": text.strip()[:2000]})


def _in_one_unit(was: str, now: str) -> tuple[str, str]:
    """Both figures with a unit, where one of them has it."""
    unit = _UNIT.search(was) or _UNIT.search(now)
    if unit is None:
        return was, now
    return (
        was if _UNIT.search(was) else f"{was}{unit[0].strip()}",
        now if _UNIT.search(now) else f"{now}{unit[0].strip()}",
    )


def _figures(meant: Understanding) -> list[tuple[str, float | None]]:
    meaning: Meaning = meant.meanings[meant.chosen or 0]
    return [(reading.quantity, reading.value) for reading in meaning.readings]
