"""What is due of a figure where it stands: by limits, and by what a hand said of that point, in this text or before."""

from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.figure import Conditions, Measured
from young_spark.core.judging import Due, VerdictLine, judge_reading, judged_as_told

# what makes another point of it: the same figure is due there by no word of the first one
OF_THE_POINT = ("item", "place", "function", "mode", "channel", "frequency_hz", "state", "power_setting", "setting")


def verdicts_of(
    reading: Measured, conditions: Conditions, context: EntryContext, fed_v: float | None = None
) -> tuple[VerdictLine, ...]:
    """The verdicts of a reading taken under these conditions, the worst first; `fed_v` are the volts that were read
    beside it."""
    situation = context.model_copy(update={"conditions": conditions}).situation(conditions)
    if fed_v is not None:
        situation = situation.model_copy(update={"supply_v": fed_v})
    lines = judge_reading(reading, context.judged_by(conditions, reading.quantity), situation)
    return judged_as_told(reading, lines, _due_there(reading.quantity, conditions, context))


def _due_there(quantity: str, conditions: Conditions, context: EntryContext) -> Due | None:
    """What a hand said is due at this point, with this figure or with one that was read there before."""
    if conditions.due is not None:
        return _of(conditions)
    told = (
        earlier.conditions
        for earlier in reversed(context.earlier)
        if earlier.conditions.due is not None and earlier.quantity == quantity
        if all(getattr(earlier.conditions, name) == getattr(conditions, name) for name in OF_THE_POINT)
    )
    before = next(told, None)
    return None if before is None else _of(before)


def _of(conditions: Conditions) -> Due:
    return Due(
        value=conditions.due or 0.0,
        at_most=bool(conditions.due_at_most),
        at_least=bool(conditions.due_at_least),
        to=conditions.due_to,
    )
