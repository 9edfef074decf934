"""What stands until it is settled: locks and waits, each by itself.

A line of words that ends one ('unlock lead replaced', 'arrived Q12') ends the one that it speaks of: the only one
that stands, or the one with which it shares a word. Where it could be more than one, none ends by it: it is ticked off
by hand."""

import re
from collections.abc import Sequence

from young_spark.core.ground import Frozen

SMALL_WORDS = frozenset(
    ["the", "and", "for", "now", "due", "new", "has", "have", "with", "from", "order", "here", "came"]
)


class Pending(Frozen):
    """A line that stands until something ends it; `order` is its place on the slip, `ticked` the place of the newest
    line when it was ticked off by hand."""

    id: str
    order: int
    words: str
    ticked: int | None = None


def still_pending(opened: Sequence[Pending], ended: Sequence[Pending]) -> tuple[Pending, ...]:
    """What still stands of the lines that were opened, after the lines that end them, in the order of the slip."""
    standing: list[Pending] = []
    for line in sorted((*opened, *ended), key=lambda one: one.order):
        if line in opened:
            standing.append(line)
            continue
        standing = [one for one in standing if one.ticked is None or one.ticked >= line.order]
        if (done := _meant_by(line, standing)) is not None:
            standing.remove(done)
    return tuple(one for one in standing if one.ticked is None)


def _meant_by(end: Pending, standing: Sequence[Pending]) -> Pending | None:
    if len(standing) == 1:
        return standing[0]
    shared = [one for one in standing if _words(one.words) & _words(end.words)]
    return shared[0] if len(shared) == 1 else None


def _words(text: str) -> set[str]:
    return {word for word in re.findall(r"[a-z0-9]{2,}", text.lower()) if word not in SMALL_WORDS}
