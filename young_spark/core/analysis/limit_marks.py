"""Where the limits of a record's figures lie in its plot."""

from collections.abc import Sequence
from dataclasses import dataclass

from young_spark.core.analysis.options import Plot
from young_spark.core.limits import VerdictLine
from young_spark.core.reading import Measured

KIND_WORDS = {"regulation": "regulation", "specification": "maker", "house": "this shop"}
BESIDE = 0.015  # of the width of the plot: how far a limit of one line reaches to both of its sides
ACROSS = {"SWR": ("swr",), "deviation, Hz": ("fm_deviation", "fm_deviation_positive", "fm_deviation_negative")}


@dataclass(frozen=True)
class LimitMark:
    """One limit in a plot: a level from x to x, in the units of its axes."""

    name: str
    x_from: float
    x_to: float
    y: float


def limit_marks(plot: Plot, judged: Sequence[tuple[Measured, Sequence[VerdictLine]]]) -> tuple[LimitMark, ...]:
    """Limits of the figures that the plot shows as levels: a harmonic at its own line, depths as envelope levels about C,
    deviation and SWR across."""
    xs = [x for line in plot.lines if line.xs for x in (line.xs[0], line.xs[-1])]
    if not xs:
        return ()
    low, high = min(xs), max(xs)
    made: dict[tuple[float, float], LimitMark] = {}
    for found, lines in judged:
        for line in lines:
            for name, x_from, x_to, y in _places(plot, found, line, low, high):
                made.setdefault((x_from, y), LimitMark(name, x_from, x_to, y))
    return tuple(made.values())


def _places(
    plot: Plot, found: Measured, line: VerdictLine, low: float, high: float
) -> list[tuple[str, float, float, float]]:
    name = KIND_WORDS[line.kind]
    marks = {m.name: m for m in plot.marks}
    if found.unit == "dBc" and found.value is not None and line.high is not None and found.quantity in marks:
        mark, reach = marks[found.quantity], BESIDE * (high - low)
        return [(name, mark.x - reach, mark.x + reach, mark.y + line.high - found.value)]
    ends = [end for end in (line.low, line.high) if end is not None]
    if found.quantity in {"am_depth_positive", "am_depth_negative"} and "C" in marks:
        sign = 1 if found.quantity == "am_depth_positive" else -1
        return [(name, low, high, marks["C"].y * (1 + sign * end / 100)) for end in ends]
    if found.quantity in ACROSS.get(plot.y, ()):
        signs = {"fm_deviation_positive": (1,), "fm_deviation_negative": (-1,)}.get(found.quantity, (1, -1))
        return [(name, low, high, sign * end) for end in ends for sign in (signs if plot.y != "SWR" else (1,))]
    return []
