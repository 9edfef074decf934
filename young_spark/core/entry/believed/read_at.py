"""At which places inside of a unit a quantity is read: a plate voltage at no fuse, a depth of modulation at no
transistor. What is placed otherwise took the place of another figure of its line."""

import re
from functools import cache

from pydantic import RootModel

from young_spark.core.entry.facts.said import Breath, Said
from young_spark.core.ground import SHIPPED, load


class _Places(RootModel[dict[str, str]]):
    """The data file: quantities with the pattern of their places."""


@cache
def _places() -> dict[str, re.Pattern[str]]:
    told = load(SHIPPED / "entry" / "read_at.toml", _Places).root
    return {quantity: re.compile(pattern) for quantity, pattern in told.items()}


def is_placed_oddly(breath: Breath) -> bool:
    """Whether a figure of a breath stands at a place where nobody reads its quantity."""
    return any(_is_elsewhere(said) for said in breath.said if said.quantity and not said.derived)


def _is_elsewhere(said: Said) -> bool:
    place = said.address.get("place")
    if not isinstance(place, str):
        return False
    pattern = _places().get(said.quantity or "")
    return pattern is None or (bool(pattern.pattern) and pattern.search(place.lower()) is None)
