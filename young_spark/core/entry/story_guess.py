"""What kind of line a line of words seems to be; a guess that is shown and changed by one key."""

import re
from functools import cache, lru_cache
from typing import cast

from young_spark.core.entry.adjustments import adjustment_in
from young_spark.core.entry.meaning import StoryKind, StoryLine
from young_spark.core.entry.places import TRIMMER
from young_spark.core.entry.repairs import cost_of
from young_spark.core.entry.story_words import area_turned, repair_of
from young_spark.core.entry.vocabulary import StoryWords, vocabulary

AS_STORED: dict[str, StoryKind] = {"turned": "adjusted"}
_STAGE = r"(?:tank|pi net|plate|driver|final|grid|output|input|front end|buffer|mixer)"
ADJUSTER = re.compile(
    rf"\b(?:{TRIMMER}|l|t|r|c)\d|\b(?:pot|vr|trimpot|trimmer|core|slug|preset|bias|dev)\b"
    rf"|\b(?:tuned|peaked|dipped) (?:the )?{_STAGE}\b|\b{_STAGE} (?:re-?)?(?:tuned|peaked|dipped)\b"
)
ADJUSTERS = re.compile(rf"\b(?:{TRIMMER}|l|t)\d{{1,3}}\b")
COSTING = {"wait", "arrived", "wish"}  # words that may say what something costs
STRONG = {"lock", "wait", "arrived", "said", "wish", "did", "turned"}


def note_of(text: str, plain: str) -> StoryLine:
    """A text as a line of words, with the kind that it seems to be."""
    kind = guessed_kind(plain) or "note"
    told = adjustment_in(plain) if kind == "turned" else None
    if told is not None:
        words = text.strip()[:2000]
        return StoryLine(
            kind="adjusted", words=words, adjuster=told.adjuster, value_found=told.found, value_left=told.left,
            area=area_turned(words),
        )  # fmt: skip
    if kind == "turned" and (parts := ADJUSTERS.findall(plain)):
        named = " and ".join(p.upper() for p in parts)
        return StoryLine(kind="adjusted", words=text.strip()[:2000], adjuster=named, area=area_turned(plain))
    stored = cast(StoryKind, AS_STORED.get(kind, kind))
    line = StoryLine(kind=stored, words=text.strip()[:2000])
    if kind == "did":
        return line.model_copy(update=repair_of(line.words))
    if kind == "turned":
        return line.model_copy(update={"area": area_turned(plain)})
    if kind in COSTING:
        return line.model_copy(update={"cost": cost_of(line.words)})
    return line


def guessed_kind(plain: str) -> str | None:
    """The kind that the words of a folded text suggest, or None."""
    told = _told(plain)
    return told.kind if told is not None else None


def is_only_told(plain: str) -> bool:
    """Whether the words make the whole text a line of words, whatever figures stand in it."""
    told = _told(plain)
    if (
        told is not None
        and told.kind == "turned"
        and not ADJUSTER.search(plain)
        and re.search(r"\d ?(?:w|mw|%|khz|db|dbm|dbc)\b", plain)
    ):
        return False  # 'peaked for 102w': no adjuster is named, so that the figure is a reading
    if told is None or told.kind in STRONG:
        return told is not None
    return not _any_of(told.beside).search(plain)


@lru_cache(maxsize=512)
def _told(plain: str) -> StoryWords | None:
    """The first list of words that fits a folded text."""
    lists = ((told, fits) for told, fits, never in _lists() if not never.search(plain))
    return next((told for told, fits in lists if fits.search(plain) and not _is_missing(told, plain, fits)), None)


def _is_missing(told: StoryWords, plain: str, fits: re.Pattern[str]) -> bool:
    """'no filter fitted inside': what is not there was not done; 'no other faults, cleaned both pots': the rest was."""
    denied = plain.startswith(("no ", "not ", "never ", "without "))
    return told.kind == "did" and denied and fits.search(plain.partition(",")[2]) is None


@cache
def _lists() -> tuple[tuple[StoryWords, re.Pattern[str], re.Pattern[str]], ...]:
    """Every list with one pattern for what it suggests, and one for what speaks against it."""
    return tuple((told, _suggesting(told), _any_of(told.not_)) for told in vocabulary().file.story)


def _suggesting(told: StoryWords) -> re.Pattern[str]:
    ways = [_any_of(told.words).pattern] if told.words else []
    ways += [rf"^{re.escape(word)}\b" for word in told.begins]
    ways += [rf"\b{re.escape(word)}$" for word in told.ends]
    return re.compile("|".join((*ways, *told.matches)))


@cache
def _any_of(words: tuple[str, ...]) -> re.Pattern[str]:
    """Any of the words, standing by itself; nothing where there are none."""
    every = "|".join(
        rf"(?<![\w-]){re.escape(word)}(?![\w-])" if word[-1].isalnum() else re.escape(word) for word in words
    )
    return re.compile(every or r"(?!)")
