"""What a hand says around a line: that it measured, when, and that it is content. Nothing that was read hangs on it,
so a line is tried without it first."""

import re
from functools import cache

from young_spark.core.entry.wording.idle_words import Spared
from young_spark.core.ground import SHIPPED, Frozen, load

# 'now' behind what it was says what it is, 'on the bench' behind 'in the car' where; 'the same again' is no reading
# without it
TURNED = re.compile(
    r"\b(?:was|were|before|after|from|went|used to|had been|same|nominal|rated|marked|spec|should|supposed|due|"
    r"(?:in|at|on) (?:the|his|her|my) (?!wattmeter|meter|dvm|counter|scope|analy[sz]er))\b|->|=>|→",
    re.IGNORECASE,
)


class Around(Frozen):
    """Phrases at the begin of a line, and at its end."""

    before: tuple[str, ...]
    behind: tuple[str, ...]


class FramingFile(Around):
    """The data file: phrases that say nothing, and those that stay with the line."""

    kept: Around


@cache
def _file() -> FramingFile:
    return load(SHIPPED / "entry" / "framing.toml", FramingFile)


@cache
def _around() -> tuple[re.Pattern[str], re.Pattern[str]]:
    file = _file()
    first, last = (_any_of((*getattr(file, side), *getattr(file.kept, side))) for side in ("before", "behind"))
    return (
        re.compile(rf"(?P<said>{first})(?:\s*[:,;]\s*| - | )(?=\S)", re.IGNORECASE),
        re.compile(rf"(?P<before>.*?[\w%)])(?:\s*[,;]\s*| - | )\(?(?P<said>{last})[).!]*", re.IGNORECASE | re.DOTALL),
    )


def _any_of(phrases: tuple[str, ...]) -> str:
    return "|".join(re.escape(phrase) for phrase in sorted(phrases, key=len, reverse=True))


def without_framing(text: str) -> Spared | None:
    """A text without what stands around it, with what its remark keeps of that; None where nothing does. 'Now' and the
    like behind what something was, or of what is the same, are no such words."""
    front, back = _around()
    first = front.match(text)
    plain = text[first.end() :] if first else text
    last = back.fullmatch(plain)
    if last is not None and (last["said"].lower() not in _file().kept.behind or TURNED.search(last["before"]) is None):
        plain = last["before"]
    else:
        last = None
    if first is None and last is None:
        return None
    before, behind = (
        "" if said is None or (words := said["said"].lower()) not in phrases else words
        for said, phrases in ((first, _file().kept.before), (last, _file().kept.behind))
    )
    return Spared(plain, before, behind)
