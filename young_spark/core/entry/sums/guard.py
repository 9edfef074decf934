"""The slip guard: the quiet questions that catch a slip of ten decibels or of a zero."""

from collections.abc import Callable

from young_spark.core.entry.facts.meaning import Earlier, EntryContext, Guard
from young_spark.core.entry.wording.tokens import Figure, Token
from young_spark.core.figure import Conditions, Measured, format_value, quantity
from young_spark.core.measures import best_element

FAR_DB = 25.0
SENT = {"carrier_power", "peak_envelope_power", "mean_power", "needle_on_audio", "forward_power"}
Check = Callable[[Measured, Conditions, EntryContext, list[Token]], str | None]


def _expected_value(reading: Measured, context: EntryContext, conditions: Conditions) -> float | None:
    """What the figure should be near: the current line's figure where it is read there, or the last one of the same
    point."""
    line = context.expected
    if line is not None and line.quantity == reading.quantity and line.expected and _is_there(conditions, context):
        return line.expected
    before = _same_point(reading, context, conditions)
    return before.value if before else None


def _is_there(conditions: Conditions, context: EntryContext) -> bool:
    """Whether a reading is of the current line's state, power and place: no keyed amps against those at rest."""
    wanted = context.conditions
    return all(
        getattr(conditions, name) in {None, getattr(wanted, name)} for name in ("state", "power_setting", "place")
    )


def _same_point(reading: Measured, context: EntryContext, conditions: Conditions) -> Earlier | None:
    keys = ("channel", "frequency_hz", "mode", "power_setting", "state")
    matching = (
        e
        for e in reversed(context.earlier)
        if e.quantity == reading.quantity
        and not e.indication_only
        and all(getattr(e.conditions, k) == getattr(conditions, k) for k in keys)
    )
    return next(matching, None)


def _missing_minus(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> str | None:
    level = next((t for t in tokens if isinstance(t, Figure) and t.unit == "dBm"), None)
    if level is None or level.signed or not level.value > 0 or (conditions.pad_db == 0 and level.value <= 40):
        return None
    return f"{level.value:g} dBm without a minus?"


def _ten_decibels(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> str | None:
    near = _expected_value(reading, context, conditions)
    if reading.unit != "W" or not near or not reading.value or reading.value <= 0 or reading.bound:
        return None
    ratio = reading.value / near
    for factor, words in (
        (10.0, "Ten decibels out?"),
        (100.0, "Twenty decibels out?"),
        (1000.0, "Thirty decibels out?"),
    ):
        if 0.75 < ratio / factor < 1.35 or 0.75 < ratio * factor < 1.35:
            return (
                f"{words} {format_value(reading.value, 'W', figures=3)} where about "
                f"{format_value(near, 'W', figures=3)} is due."
            )
    return None


def _a_zero(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> str | None:
    near = _expected_value(reading, context, conditions)
    if (
        reading.unit in {"W", "dB", "dBc", "dBm", "1"}
        or not near
        or not reading.value
        or reading.quantity == "frequency_error"
    ):
        return None
    ratio = abs(reading.value / near)
    if 7 < ratio < 14 or 0.07 < ratio < 0.14:
        return (
            f"A zero out? {format_value(reading.value, reading.unit)} where about "
            f"{format_value(near, reading.unit)} is due."
        )
    return None


def _far_in_level(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> str | None:
    line = context.expected
    near = line.expected if line is not None and line.quantity == reading.quantity else None
    if reading.unit != "dBm" or near is None or reading.value is None or abs(reading.value - near) < FAR_DB:
        return None
    return f"{format_value(reading.value, 'dBm')} where about {format_value(near, 'dBm')} is due?"


def _volts_for_watts(
    reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]
) -> str | None:
    wanted = context.expected
    if wanted is None or quantity(wanted.quantity).unit == reading.unit or len(tokens) > 1 or conditions.place:
        return None  # a place, or a word beside it, says that it was meant
    pairs = {("W", "V"): "Volts where watts are due?", ("V", "W"): "Watts where volts are due?"}
    return pairs.get((quantity(wanted.quantity).unit, reading.unit))


def _other_path(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> str | None:
    before = _same_point(reading, context, conditions)
    if before is None or reading.unit != "W":
        return None
    if before.conditions.pad_db != conditions.pad_db:
        return (
            f"Another pad than the figure before: {conditions.pad_db:g} dB now, {before.conditions.pad_db:g} dB then?"
        )
    if before.conditions.element_w and conditions.element_w and before.conditions.element_w != conditions.element_w:
        return (
            f"Another element than the figure before: {conditions.element_w:g} W now, "
            f"{before.conditions.element_w:g} W then?"
        )
    return None


def _lowest_tenth(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> str | None:
    element = conditions.element_w
    if reading.read_as != "needle" or element is None or reading.value is None or reading.bound:
        return None
    on_scale = reading.value / 10 ** (conditions.pad_db / 10)
    if on_scale >= element / 10:
        return None
    better = best_element(on_scale)
    advice = f" A {better:g} W element would do." if better else ""
    return f"This {element:g} W element reads {format_value(on_scale, 'W', figures=3)} in its lowest tenth.{advice}"


def _no_channel(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> str | None:
    plan = context.channel_plan
    if reading.quantity not in {"carrier_frequency", "frequency_error"} or plan is None:
        return None
    assigned = context.assigned_hz()
    hz = (
        reading.value
        if reading.quantity == "carrier_frequency"
        else (assigned + reading.value if assigned and reading.value is not None else None)
    )
    if hz is None or plan.on_channel(hz) is not None:
        return None
    channel, error = plan.nearest(hz)
    return (
        f"On no channel: {format_value(hz, 'Hz', figures=8)} is "
        f"{format_value(error, 'Hz', signed=True)} from channel {channel.number}."
    )


def _meters_disagree(
    reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]
) -> str | None:
    if reading.quantity != "carrier_power" or not reading.value or reading.bound:
        return None
    own_now = conditions.instrument == "own_meter"
    other = next(
        (e for e in reversed(context.earlier) if e.quantity == reading.quantity and e.indication_only != own_now), None
    )
    if other is None or other.value <= 0 or 0.7 < reading.value / other.value < 1.4:
        return None
    own, bench = (reading.value, other.value) if own_now else (other.value, reading.value)
    return (
        f"Own meter and bench meter disagree: {format_value(own, 'W', figures=3)} against "
        f"{format_value(bench, 'W', figures=3)}."
    )


def _more_than_it_can(
    reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]
) -> str | None:
    most = context.greatest_power_w
    if reading.quantity not in SENT or not reading.value or most is None or reading.value <= 2 * most:
        return None
    return f"{format_value(reading.value, 'W', figures=3)} from a unit of {format_value(most, 'W')}?"


CHECKS: tuple[tuple[str, Check], ...] = (
    ("missing_minus", _missing_minus),
    ("ten_decibels", _ten_decibels),
    ("a_zero", _a_zero),
    ("far_in_level", _far_in_level),
    ("volts_for_watts", _volts_for_watts),
    ("other_path", _other_path),
    ("lowest_tenth", _lowest_tenth),
    ("no_channel", _no_channel),
    ("meters_disagree", _meters_disagree),
    ("more_than_it_can", _more_than_it_can),
)


def guard(reading: Measured, conditions: Conditions, context: EntryContext, tokens: list[Token]) -> tuple[Guard, ...]:
    """Every question the figure raises, most telling first."""
    asked = ((code, check(reading, conditions, context, tokens)) for code, check in CHECKS)
    return tuple(Guard(code=code, text=text) for code, text in asked if text)
