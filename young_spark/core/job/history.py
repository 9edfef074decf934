"""What time and the shop's own figures say: minutes by part, and the healthy ghost."""

import statistics
from collections.abc import Sequence
from datetime import datetime, timedelta

from young_spark.core.figure import format_value
from young_spark.core.ground import Frozen

LONGEST_PAUSE = timedelta(minutes=15)
LEAST_STEP = timedelta(minutes=1)


def minutes_by_part(stamps: Sequence[tuple[str, datetime]]) -> dict[str, int]:
    """Minutes worked in each part, from the times of the lines: a gap counts to the later line; one longer than a
    quarter of an hour was a pause and counts one minute, as does the first line."""
    total: dict[str, timedelta] = {}
    before: datetime | None = None
    for part, at in stamps:
        gap = at - before if before is not None else LEAST_STEP
        total[part] = total.get(part, timedelta()) + (gap if timedelta() <= gap <= LONGEST_PAUSE else LEAST_STEP)
        before = at
    return {part: max(1, round(spent.total_seconds() / 60)) for part, spent in total.items()}


class Ghost(Frozen):
    """This shop's own figure for a model and point: median and half the spread of the middle half, in the quantity's
    unit."""

    median: float
    half_spread: float | None
    units: int
    words: str


def ghost(values: Sequence[float], unit: str) -> Ghost | None:
    """The ghost of the as-left figures of other units of the model; None without any."""
    if not values:
        return None
    median = statistics.median(values)
    half = None
    words = f"this shop: {format_value(median, unit)}"
    if len(values) >= 4:
        low, _, high = statistics.quantiles(values, n=4)
        half = (high - low) / 2
        words += f" ± {format_value(half, unit, figures=2)}"
    return Ghost(
        median=median,
        half_spread=half,
        units=len(values),
        words=f"{words} ({len(values)} unit{'s' if len(values) > 1 else ''})",
    )
