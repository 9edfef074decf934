"""What kind of line a line of words seems to be; a guess that is shown and changed by one key."""

import re
from functools import cache, lru_cache
from typing import cast

from young_spark.core.entry.facts.meaning import StoryKind, StoryLine
from young_spark.core.entry.lines.adjustments import adjustment_in
from young_spark.core.entry.lines.repairs import cost_of
from young_spark.core.entry.lines.story_words import area_turned, repair_of
from young_spark.core.entry.wording.places import TRIMMER
from young_spark.core.entry.wording.vocabulary import StoryWords, vocabulary
from young_spark.core.ground import needed_letters

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
    words = frozenset(WORD.findall(plain))
    lists = ((one.told, one) for one in _lists() if not one.is_denied(plain, words))
    return next((told for told, one in lists if one.fits(plain, words) and not _is_missing(told, plain, one)), None)


WORD = re.compile(r"[\w-]+")


class _Phrases:
    """A pattern of many phrases: tried only where the text has the first word of one."""

    def __init__(self, phrases: tuple[str, ...]) -> None:
        first = [WORD.match(phrase) for phrase in phrases]
        self._first = frozenset(found[0] for found in first if found is not None)
        self._always = None in first or not all(phrase[-1].isalnum() for phrase in phrases)
        self._pattern = _any_of(phrases)

    def stand_in(self, plain: str, words: frozenset[str]) -> bool:
        """Whether one of them stands in a text of these words."""
        likely = self._always or not self._first.isdisjoint(words)
        return likely and self._pattern.search(plain) is not None


class _Suggesting:
    """A list of words: what suggests it, and what speaks against it."""

    def __init__(self, told: StoryWords) -> None:
        self.told = told
        self._words, self._never = _Phrases(told.words), _Phrases(told.not_)
        ways = [rf"^{re.escape(word)}\b" for word in told.begins] + [rf"\b{re.escape(word)}$" for word in told.ends]
        each = (re.compile(way) for way in (*ways, *told.matches))
        self._ways = tuple((needed_letters(way.pattern), way) for way in each)

    def is_denied(self, plain: str, words: frozenset[str]) -> bool:
        """Whether something speaks against it."""
        return self._never.stand_in(plain, words)

    def fits(self, plain: str, words: frozenset[str]) -> bool:
        """Whether the words of a folded text suggest it."""
        ways = (way for needed, way in self._ways if needed in plain)
        return self._words.stand_in(plain, words) or any(way.search(plain) for way in ways)


def _is_missing(told: StoryWords, plain: str, fits: _Suggesting) -> bool:
    """'no filter fitted inside': what is not there was not done; 'no other faults, cleaned both pots': the rest was."""
    denied = plain.startswith(("no ", "not ", "never ", "without "))
    behind = plain.partition(",")[2]
    return told.kind == "did" and denied and not fits.fits(behind, frozenset(WORD.findall(behind)))


@cache
def _lists() -> tuple[_Suggesting, ...]:
    return tuple(_Suggesting(told) for told in vocabulary().file.story)


@cache
def _any_of(words: tuple[str, ...]) -> re.Pattern[str]:
    """Any of the words, standing by itself; nothing where there are none."""
    every = "|".join(
        rf"(?<![\w-]){re.escape(word)}(?![\w-])" if word[-1].isalnum() else re.escape(word) for word in words
    )
    return re.compile(every or r"(?!)")
