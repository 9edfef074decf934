"""Where limits lie in the plot of a record: those of its figures, and the mask of all that is beside the carrier."""

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from young_spark.core.analysis.options import Plot, PlotMark
from young_spark.core.figure import Measured
from young_spark.core.judging import FormulaRow, MaskRow, Profile, Refusal, Situation, VerdictLine, applies, resolve

KIND_WORDS = {"regulation": "regulation", "specification": "maker", "house": "this shop"}
LossAt = Callable[[float], float | None]  # of the path at a frequency in Hz, in dB
PIECES = 60  # of a step of the mask, at most, where the path takes more of one end than of the other
EVEN_DB = 0.5
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
    """Limits of the figures that the plot shows as levels: a harmonic at its own line, depths as envelope levels
    about C, deviation and SWR across."""
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


def mask_marks(
    plot: Plot, chosen: Mapping[str, Profile], situation: Situation, loss_db: LossAt
) -> tuple[LimitMark, ...]:
    """The mask over a spectrum: what a line that is neither carrier nor harmonic may have at each frequency, in the
    plot's own dBm, before the loss of the path is taken off. Nothing where the plot is no spectrum, or where the
    mask needs a power that is not known."""
    carrier = next((m for m in plot.marks if m.name == "carrier"), None)
    xs = [x for line in plot.lines for x in (line.xs[0], line.xs[-1])] if carrier else []
    if carrier is None or not xs:
        return ()
    at = situation if situation.assigned_hz is not None else situation.model_copy(update={"assigned_hz": carrier.x})
    made: list[LimitMark] = []
    for profile in chosen.values():
        for row in profile.rows:
            if row.quantity == "spurious_worst" and isinstance(row, MaskRow | FormulaRow) and applies(row, at):
                for step in _steps(row, at, carrier, min(xs), max(xs), KIND_WORDS[profile.kind]):
                    made += _through(step, carrier.x, loss_db)
    return tuple(sorted(made, key=lambda m: m.x_from))


def _steps(
    row: MaskRow | FormulaRow, at: Situation, carrier: PlotMark, low: float, high: float, name: str
) -> Iterator[LimitMark]:
    for start, end in _stretches(row, at.assigned_hz or carrier.x):
        x_from, x_to = max(start, low), min(end, high)
        if x_from >= x_to:
            continue
        try:
            ceiling = resolve(row, at, (x_from + x_to) / 2)[1]
        except Refusal:
            return
        if math.isfinite(ceiling):
            yield LimitMark(name, x_from, x_to, carrier.y + ceiling)


def _through(step: LimitMark, carrier_hz: float, loss_db: LossAt) -> Iterator[LimitMark]:
    """A step of the mask behind a path that takes more or less there than of the carrier, in pieces over which that
    hardly changes."""

    def more(hz: float) -> float:
        return (loss_db(hz) or 0.0) - (loss_db(carrier_hz) or 0.0)

    edges = np.linspace(step.x_from, step.x_to, PIECES + 1).tolist()
    losses = [more(hz) for hz in edges]
    start = 0
    for end in range(1, PIECES + 1):
        if end == PIECES or abs(losses[end + 1] - losses[start]) > EVEN_DB:
            yield LimitMark(step.name, edges[start], edges[end], step.y - more((edges[start] + edges[end]) / 2))
            start = end


def _stretches(row: MaskRow | FormulaRow, centre: float) -> list[tuple[float, float]]:
    """Where a row says one thing, in Hz."""
    if not isinstance(row, MaskRow):
        beyond = row.beyond_offset_hz or 0.0
        return [(-math.inf, centre - beyond), (centre + beyond, math.inf)]
    if not row.offset:
        return [(band.low_hz, band.high_hz) for band in row.bands]
    return [
        stretch
        for band in row.bands
        for stretch in (
            (centre - band.high_hz, centre - band.low_hz),
            (centre + band.low_hz, centre + band.high_hz),
        )
    ]


def _places(
    plot: Plot, reading: Measured, line: VerdictLine, low: float, high: float
) -> list[tuple[str, float, float, float]]:
    name = KIND_WORDS[line.kind]
    marks = {m.name: m for m in plot.marks}
    if reading.quantity == "spurious_worst":
        return []  # the mask has it
    if reading.unit == "dBc" and reading.value is not None and line.high is not None and reading.quantity in marks:
        mark, reach = marks[reading.quantity], BESIDE * (high - low)
        return [(name, mark.x - reach, mark.x + reach, mark.y + line.high - reading.value)]
    ends = [end for end in (line.low, line.high) if end is not None]
    if reading.quantity in {"am_depth_positive", "am_depth_negative"} and "C" in marks:
        sign = 1 if reading.quantity == "am_depth_positive" else -1
        return [(name, low, high, marks["C"].y * (1 + sign * end / 100)) for end in ends]
    if reading.quantity in ACROSS.get(plot.y, ()):
        signs = {"fm_deviation_positive": (1,), "fm_deviation_negative": (-1,)}.get(reading.quantity, (1, -1))
        return [(name, low, high, sign * end) for end in ends for sign in (signs if plot.y != "SWR" else (1,))]
    return []
