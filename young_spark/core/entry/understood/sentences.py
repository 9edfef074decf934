"""Several sentences, some of words and some of readings: 'Found R12 open. Replaced it. Carrier now 3.8 W'."""

import re
from collections.abc import Callable

from young_spark.core.entry.facts.meaning import StoryKind, StoryLine, Understanding

ENDS = re.compile(r"(?<=[a-z\d%)])\.\s+(?=[a-z])")
MOST_SENTENCES = 8
CHANGING = {"did", "adjusted"}  # what stands before them was not read behind them
MOST_TELLING: tuple[StoryKind, ...] = ("did", "adjusted", "found", "said")


def by_sentences(text: str, plain: str, understood: Callable[[str], Understanding]) -> Understanding | None:
    """What was read in sentences of its own, and the whole as the line of what was done, turned, found or said; None
    of one sentence, where one is asked, or where something was read before something was done."""
    parts = ENDS.split(plain.rstrip(" ."))
    if not 1 < len(parts) <= MOST_SENTENCES:
        return None
    each = [understood(part) for part in parts]
    words = {n: meant.story for n, meant in enumerate(each) if meant.story is not None and meant.chosen is None}
    read = [n for n, meant in enumerate(each) if meant.story is None and meant.chosen is not None]
    changed = [n for n, story in words.items() if story.kind in CHANGING]
    if not words or not read or len(words) + len(read) < len(parts) or max(changed, default=-1) > read[0]:
        return None
    meant = understood(". ".join(parts[n] for n in read))
    if meant.chosen is None or meant.story is not None:
        return None
    whole = _most_telling(list(words.values())).model_copy(update={"words": text.strip()[:2000]})
    return meant.model_copy(update={"text": text, "story": whole, "as_note": None})


def _most_telling(stories: list[StoryLine]) -> StoryLine:
    """The line of what was done, else turned, found or said, else the first."""
    by_kind = {story.kind: story for story in reversed(stories)}
    return next((by_kind[kind] for kind in MOST_TELLING if kind in by_kind), stories[0])
