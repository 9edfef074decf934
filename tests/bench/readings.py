"""How hands put what they read into words: a share of what is due, a part that shows, what a stress moves."""

from collections.abc import Callable
from functools import lru_cache
from typing import Any

DEAD, WEAK = 0.05, 0.7
Part = tuple[set[str], str, str]  # which faults show, how, and what a whole one shows


def graded(share: float, weak: float = WEAK) -> str:
    """A share of what is due, in words."""
    return "good" if share >= weak else "weak" if share >= DEAD else "dead"


def level(share: float, weak: float = WEAK, high: float = 1.3) -> str:
    """A share of what is due, where too much is an answer of its own."""
    return "high" if share > high else graded(share, weak)


def drawn(share: float, most: float = 1.25) -> str:
    """A current as a share of what is due."""
    return "high" if share > most else "normal" if share > WEAK else "low" if share > 0.08 else "no_rise"


def works(share: float) -> str:
    """A function as a share of what is due."""
    return {"good": "works"}.get(found := graded(share), found)


def shows(faults: tuple[str, ...], part: Part) -> str:
    """What a look at parts shows."""
    which, shown, healthy = part
    return shown if set(faults) & which else healthy


def moves(moved: bool) -> str:
    """Whether a stress moved anything."""
    return "changes" if moved else "no_change"


def falls_warm(power: Callable[[bool], float]) -> bool:
    """Whether power falls when warm; `power` gives it cold and hot."""
    return power(True) < 0.8 * power(False)


@lru_cache(maxsize=4096)
def keyed(unit: Any) -> Any:
    """What a unit does with its key down; the same one in the same state is let settle once."""
    return unit.keyed()
