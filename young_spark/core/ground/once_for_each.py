"""What follows from a frozen value, worked out once while the same value is asked about again and again."""

from collections.abc import Callable
from functools import wraps
from typing import TypeVar

KEPT = 4  # of the newest values
Value = TypeVar("Value")
Follows = TypeVar("Follows")


def once_for_each(works_out: Callable[[Value], Follows]) -> Callable[[Value], Follows]:
    """A function of one frozen value that keeps what it gave for the newest few of them: told apart by identity, since
    to compare values of many fields costs as much as to work it out."""
    kept: tuple[tuple[Value, Follows], ...] = ()  # replaced as a whole, so that threads need no lock

    @wraps(works_out)
    def known(value: Value) -> Follows:
        nonlocal kept
        for one, follows in kept:
            if one is value:
                return follows
        follows = works_out(value)
        kept = ((value, follows), *kept[: KEPT - 1])
        return follows

    return known
