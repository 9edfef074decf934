"""What kind of line a line of words seems to be; a guess that is shown and changed by one key."""

import re
from functools import cache
from typing import cast

from young_spark.core.entry.meaning import StoryKind, StoryLine
from young_spark.core.entry.vocabulary import StoryWords, vocabulary

AS_STORED: dict[str, StoryKind] = {"turned": "adjusted"}
STRONG = {"lock", "wait", "arrived", "said", "wish", "did", "turned"}


def note_of(text: str, plain: str) -> StoryLine:
    """A text as a line of words, with the kind that it seems to be."""
    kind = guessed_kind(plain) or "note"
    return StoryLine(kind=cast(StoryKind, AS_STORED.get(kind, kind)), words=text.strip()[:2000])


def guessed_kind(plain: str) -> str | None:
    """The kind that the words of a folded text suggest, or None."""
    return next((told.kind for told in vocabulary().file.story if _suggests(told, plain)), None)


def _suggests(told: StoryWords, plain: str) -> bool:
    if any(_pattern(word).search(plain) for word in told.not_):
        return False
    return (
        any(_pattern(word).search(plain) for word in told.words)
        or any(re.match(rf"{re.escape(word)}\b", plain) for word in told.begins)
        or any(re.search(rf"\b{re.escape(word)}$", plain) for word in told.ends)
        or any(re.search(pattern, plain) for pattern in told.matches)
    )


@cache
def _pattern(word: str) -> re.Pattern[str]:
    return re.compile(rf"(?<![\w-]){re.escape(word)}(?![\w-])" if word[-1].isalnum() else re.escape(word))
