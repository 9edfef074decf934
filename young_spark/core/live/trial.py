"""A line tried by hand: which figures stand in its answers and how still they stand, so that a hand can say what each
is. What was named is a definition."""

import re
from collections.abc import Sequence

from young_spark.core.ground import Frozen

MOST_FIGURES = 64  # of one answer: as far as a definition counts
NAMED_PARTS = 2  # of an answer to *IDN?: maker and model; serial number and version are the one unit's


class FigureSeen(Frozen):
    """One place of an answer that was asked for once or more: its first and mean figure, and how far from the mean it
    went at most; None where no figure stands there."""

    index: int
    first: float | None
    mean: float | None
    scatter: float | None


def figures_seen(answers: Sequence[str]) -> tuple[FigureSeen, ...]:
    """The places of the first answer, each followed through the others."""
    split = [[_figure(part) for part in answer.split(",")[:MOST_FIGURES]] for answer in answers]
    places = range(len(split[0]) if split else 0)
    return tuple(_seen(n, [parts[n] if n < len(parts) else None for parts in split]) for n in places)


def _seen(index: int, figures: Sequence[float | None]) -> FigureSeen:
    there = [f for f in figures if f is not None]
    if len(there) < len(figures):
        return FigureSeen(index=index, first=figures[0], mean=None, scatter=None)
    mean = sum(there) / len(there)
    scatter = max(abs(f - mean) for f in there) if len(there) > 1 else None
    return FigureSeen(index=index, first=figures[0], mean=mean, scatter=scatter)


def _figure(part: str) -> float | None:
    try:
        figure = float(part)
    except ValueError:
        return None
    return figure if abs(figure) < float("inf") else None


def identity_pattern(answer: str) -> str:
    """What an answer to *IDN? must match to come from the same kind of instrument: its maker and model."""
    named = ",".join(answer.strip().split(",")[:NAMED_PARTS]).strip()
    return f"^{re.escape(named[:80])}" if named else ""
