"""Before and after at every address that a figure was taken at, planned or not; and what was not measured."""

from collections.abc import Iterator, Sequence
from typing import Any, Literal

from young_spark.core.figure import Verdict, format_value, quantity
from young_spark.core.gear import PlanRow
from young_spark.core.ground import Frozen
from young_spark.core.job.driven import at_less_drive
from young_spark.core.job.in_words import joined, where_words
from young_spark.core.job.plans import (
    ReadingFact,
    as_left,
    as_received,
    not_as_it_leaves,
    open_lines,
    row_label,
    why_not_left,
)
from young_spark.core.job.same_point import by_address, point_of, points_of, told_apart
from young_spark.core.judging import VerdictLine

# planned; of no line of the plan; in a configuration that does not leave the shop
Group = Literal["planned", "also", "not_as_it_leaves"]
Verdicts = dict[str, tuple[VerdictLine, ...]]


class Comparison(Frozen):
    """One row of before and after; the figures are as shown on the slip."""

    group: Group = "planned"
    row: str
    name: str
    where: str
    before: str | None
    before_verdict: Verdict | None
    before_words: str
    after: str | None
    after_verdict: Verdict | None
    after_words: str
    in_work: str | None = None  # where nothing was measured as it leaves: what was read on the way, and what came then
    limits: tuple[VerdictLine, ...] = ()


def compare(
    rows: Sequence[PlanRow], facts: Sequence[ReadingFact], stale: dict[str, str], verdicts: Verdicts
) -> tuple[Comparison, ...]:
    """Every figure that counts, by address: the lines of the plan first, then all that was measured besides, then
    what was taken in a configuration that does not leave the shop. A stale figure is not how the unit leaves: it is
    told as read in work."""
    leaves = [f for f in facts if not_as_it_leaves(f.conditions) is None]
    planned = {row.id for row in rows}
    lesser = at_less_drive(leaves)
    driven_less = [f for f in leaves if f.line in lesser and f.quantity != "drive_power"]
    leaves = [f for f in leaves if f.line not in lesser]
    at_a_row = [f for f in leaves if f.plan_row in planned and not _of_a_series(f)]
    found = [
        _compared("planned", row.id, joined(row_label(row), where, how), each, stale, verdicts)
        for row in rows
        for where, mine in points_of(row, [f for f in at_a_row if f.plan_row == row.id])
        for how, each in told_apart(mine)
    ]
    found += _besides("also", [f for f in leaves if f.plan_row not in planned or _of_a_series(f)], stale, verdicts)
    found += _besides("not_as_it_leaves", [f for f in facts if not_as_it_leaves(f.conditions)], {}, verdicts)
    found += _driven_with_less(driven_less, lesser, stale, verdicts)
    return tuple(row for row in found if row is not None)


def _besides(
    group: Group, facts: Sequence[ReadingFact], stale: dict[str, str], verdicts: Verdicts
) -> Iterator[Comparison | None]:
    """What no line of the plan asks for, at each point and for each way that it was read in."""
    for key, mine in by_address(facts).items():
        for how, each in told_apart(mine):
            first = each[0].conditions
            where = joined(where_words(first), not_as_it_leaves(first), how)
            yield _compared(group, f"{key}{how}", where, each, stale, verdicts)


def _driven_with_less(
    facts: Sequence[ReadingFact], lesser: dict[str, float], stale: dict[str, str], verdicts: Verdicts
) -> Iterator[Comparison | None]:
    """What came out at each drive that was less than the full one."""
    for watts in sorted(set(lesser.values())):
        at = f"at {format_value(watts, 'W')} drive"
        for key, mine in by_address(f for f in facts if lesser[f.line] == watts).items():
            where = joined(where_words(mine[0].conditions), at)
            found = _compared("also", f"{key}|{at}", where, mine, stale, verdicts)
            too_little = found is not None and _is_only_too_little(found, mine[-1])
            yield found.model_copy(update=UNJUDGED) if found is not None and too_little else found


def _is_only_too_little(compared: Comparison, fact: ReadingFact) -> bool:
    """Whether nothing speaks against a figure but that it is less than what is due at full drive."""
    against = [line for line in compared.limits if line.verdict in {Verdict.FAIL, Verdict.FAIL_CLOSE}]
    return bool(against) and all(line.low is not None and (fact.value or 0.0) < line.low for line in against)


UNJUDGED: dict[str, Any] = {
    "before_verdict": None, "before_words": "", "after_verdict": None, "after_words": "", "limits": (),
}  # fmt: skip


def _of_a_series(fact: ReadingFact) -> bool:
    """Whether a figure is one of several at a point: cold and hot, at once and after a minute."""
    return fact.conditions.heat is not None or bool(fact.conditions.after_s)


def _compared(
    group: Group, key: str, where: str, mine: Sequence[ReadingFact], stale: dict[str, str], verdicts: Verdicts
) -> Comparison | None:
    before = as_received(mine)
    after = mine[-1] if mine and group == "not_as_it_leaves" else as_left(mine, stale)
    on_the_way = None if after else next((f for f in reversed(mine) if f.phase != "as_received"), None)
    shown = after or before or on_the_way
    if shown is None:
        return None
    points = {point_of(side) for side in (before, after) if side is not None}
    elsewhere = len(points - {(None, None)}) > 1
    return Comparison(
        group=group,
        row=key,
        name=quantity(shown.quantity).name,
        where=where,
        **_side("before", before, elsewhere),
        **_side("after", after, elsewhere),
        in_work=_in_work(on_the_way, stale) if on_the_way else None,
        limits=verdicts.get(shown.id, ()),
    )


def _side(side: str, fact: ReadingFact | None, with_point: bool) -> dict[str, Any]:
    """One side of a comparison: its figure, verdict and words."""
    return {
        side: _figure(fact, with_point) if fact else None,
        f"{side}_verdict": fact.verdict if fact else None,
        f"{side}_words": fact.verdict_words if fact else "",
    }


def _in_work(fact: ReadingFact, stale: dict[str, str]) -> str:
    """A figure that counts no more, and why."""
    why = stale.get(fact.id)
    return f"{fact.figure} in work ({why})" if why else f"{fact.figure} in work"


def _figure(fact: ReadingFact, with_point: bool) -> str:
    """A figure; with where it was read, where that differs between before and after."""
    channel, hz = point_of(fact)
    where = f"channel {channel}" if channel is not None else f"{hz / 1e6:.9g} MHz" if hz is not None else ""
    return f"{fact.figure} at {where}" if with_point and where else fact.figure


def what_was_not_measured(
    rows: Sequence[PlanRow], facts: Sequence[ReadingFact], stale: dict[str, str]
) -> tuple[str, ...]:
    """Each figure the plan wants as left and has not, in words: nothing is silently missing."""
    planned = tuple(
        f"{', '.join(filter(None, (quantity(line.row.quantity).name, row_label(line.row))))}: not measured"
        + (f" again ({line.why})" if line.why else "")
        for line in open_lines(rows, "as_left", facts, stale)
    )
    return planned + tuple(_found_bad_and_left(facts, stale))


BAD = {"dead", "none", "weak", "bad", "low", "distorted", "intermittent"}
# what is read as left of a function shows whether it is there, whatever was said of it at first
SHOWS = {
    "receive": (
        "sensitivity_",
        "squelch_",
        "sinad",
        "signal_to_noise",
        "s_meter",
        "audio_power",
        "minimum_discernible",
        "readability",
    ),
    "transmit": ("carrier_power", "peak_envelope_power", "mean_power"),
    "squelch": ("squelch_",),
}


def _found_bad_and_left(facts: Sequence[ReadingFact], stale: dict[str, str]) -> Iterator[str]:
    """A function that was bad as received, and that nobody looked at again: nothing says that it is well."""
    shown = [f for f in facts if why_not_left(f, stale) is None and f.phase != "as_received"]
    of_functions = [f for f in facts if f.conditions.function is not None and f.conditions.place is None]
    for mine in by_address(of_functions).values():
        before, name = as_received(mine), str(mine[0].conditions.function)
        again = any(f.conditions.mode == name or f.quantity.startswith(SHOWS.get(name, ("-",))) for f in shown)
        if before is not None and before.figure in BAD and as_left(mine, stale) in (None, before) and not again:
            where = where_words(before.conditions)
            yield f"{where[:1].upper()}{where[1:]}: {before.figure} as received, not tried again"
