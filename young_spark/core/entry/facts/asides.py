"""What is told beside a reading with a number in it that nobody measured: data, tried where a fact may begin."""

import re
from functools import cache, lru_cache

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.wording.pieces import with_pieces
from young_spark.core.ground import SHIPPED, Frozen, load


class Aside(Frozen):
    """One way to tell something: a pattern, the item that it names if it does, and a text with it."""

    says: str
    is_: str = ""
    as_in: str


class AsidesFile(Frozen):
    """The data file: pieces of patterns by their names, and the asides in their order."""

    pieces: dict[str, str]
    aside: tuple[Aside, ...]


@cache
def asides_file() -> AsidesFile:
    """The shipped asides."""
    return load(SHIPPED / "entry" / "asides.toml", AsidesFile)


@cache
def _patterns() -> tuple[tuple[re.Pattern[str], str], ...]:
    file = asides_file()
    return tuple((re.compile(with_pieces(one.says, file.pieces)), one.is_) for one in file.aside)


@lru_cache(maxsize=2048)
def aside_at(rest: str) -> tuple[Fact, int] | None:
    """The aside that a text begins with, as one fact of words or of an item, and how long it was typed."""
    for pattern, item in _patterns():
        if (found := pattern.match(rest)) is not None and found.end():
            fact = Fact("item", found[0], of="item", is_=item) if item else Fact("word", found[0])
            return fact, found.end()
    return None
