"""From an expression to readings: which family a quantity belongs to, and what is the same for all."""

from collections.abc import Callable
from dataclasses import replace

from young_spark.core.entry.sums.bench import Bench, Draft, function_of, single
from young_spark.core.entry.sums.expression import Expression
from young_spark.core.entry.sums.read_modulation import read_depth, read_deviation
from young_spark.core.entry.sums.read_power import read_power, read_step, read_swr
from young_spark.core.entry.sums.read_spectrum import read_frequency, read_relative_level
from young_spark.core.entry.wording.tokens import Unclear
from young_spark.core.figure import Measured, Spread, quantity, worst_of
from young_spark.core.measures import plain, power

POWERS = {
    "carrier_power",
    "peak_envelope_power",
    "mean_power",
    "forward_power",
    "reflected_power",
    "drive_power",
    "steady_power",
}


DEPTHS = {"am_depth", "am_depth_positive", "am_depth_negative"}


DEVIATIONS = {"fm_deviation", "fm_deviation_positive", "fm_deviation_negative", "limiter_peak_deviation"}


FREQUENCIES = {"frequency_error", "carrier_frequency"}


SWRS = {"swr", "input_swr", "swr_minimum"}


def of_quantity(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """The expression read as this quantity, by the family it belongs to."""
    if expression.nothing:
        return bench.draft(
            power.nothing_seen(
                quantity_id,
                bench.context.instrument_for(function_of(quantity_id)),
                function_of(quantity_id),
                bench.conditions,
            )
        )
    if expression.weak and not expression.figures:
        return bench.draft(_weak(quantity_id))
    if expression.ends is not None:
        return _bouncing(quantity_id, expression, bench)
    if quantity_id == "power_step" and (step := read_step(expression, bench)) is not None:
        return step
    family = _family(quantity_id)
    draft = family(quantity_id, expression, bench)
    return _bounded(draft, expression.bound) if expression.bound else draft


def _family(quantity_id: str) -> Callable[[str, Expression, Bench], Draft]:
    if quantity_id in POWERS:
        return read_power
    if quantity_id in SWRS:
        return read_swr
    if quantity_id in DEPTHS:
        return read_depth
    if quantity_id in DEVIATIONS:
        return read_deviation
    if quantity_id in FREQUENCIES:
        return read_frequency
    if quantity_id.startswith("harmonic_") or quantity_id in {"spurious_worst", "adjacent_channel_ratio"}:
        return read_relative_level
    return read_plain


def _weak(quantity_id: str) -> Measured:
    return Measured(
        quantity=quantity_id,
        value=None,
        unit=quantity(quantity_id).unit,
        reason="not_measured",
        method="seen",
        working="seen, not measured",
        remarks=("weak, not measured: an observation, not a figure",),
    )


def _bounded(draft: Draft, bound: str) -> Draft:
    words = "at most" if bound == "upper" else "at least"
    readings = tuple(
        r.model_copy(update={"bound": bound, "uncertainty": None, "interval": None, "working": f"{words}: {r.working}"})
        for r in draft.readings[:1]
    )
    return replace(draft, readings=readings)


def _bouncing(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """A figure that bounces: both ends by the same method; the worse end is judged."""
    low_figure, high_figure = sorted(expression.ends or (), key=lambda f: f.value)
    drafts = [
        of_quantity(quantity_id, replace(expression, ends=None, figures=(f,)), bench) for f in (low_figure, high_figure)
    ]
    low, high = (d.readings[0] for d in drafts)
    if low.value is None or high.value is None:
        raise Unclear("Between what and what?")
    if low.value > high.value:  # a frequency error below the channel, say
        low, high = high, low
    ends = (low.value or 0.0, high.value or 0.0)
    words = f"between {low.working} and {high.working}"
    if low.arms is None or high.arms is None:
        middle = low.model_copy(update={"value": sum(ends) / 2, "ends": ends, "working": words})
        return Draft((middle,), drafts[0].conditions)
    spread = worst_of(Spread(ends[0], *low.arms), Spread(ends[1], *high.arms))
    reading = low.model_copy(
        update={
            "value": spread.value,
            "uncertainty": spread.uncertainty,
            "interval": spread.interval,
            "ends": ends,
            "working": words,
            "remarks": ("it bounces: the worse end is judged", *low.remarks),
        }
    )
    return Draft((reading,), drafts[0].conditions)


def read_plain(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """A figure straight off an instrument, in the quantity's unit or a bare number read as it."""
    figure = single(expression, quantity(quantity_id).name)
    unit = quantity(quantity_id).unit
    typed = figure.unit
    accepted = {
        unit: 1.0,
        "k": 1e3 if unit in {"Hz", "Ω"} else 0.0,
        "m": 1e6 if unit in {"Hz", "Ω"} else 0.0,
        "Vpp": 1.0 if unit == "V" else 0.0,
    }
    factor = 1.0 if typed is None or (unit == "1" and typed is None) else accepted.get(typed, 0.0)
    if factor == 0.0:
        raise Unclear(f"{figure.text}: {quantity(quantity_id).name} is in {unit}. Which is it?")
    if unit == "A" and typed is None and figure.value >= 30:
        raise Unclear(f"{figure.text}: A or mA?")
    value, step = figure.value * factor, figure.step * factor
    if quantity_id in {"hum_and_noise", "power_step", "power_fade"} and value > 0 and not figure.signed:
        value = -value  # "40 down" is how it is said; signed below is negative
    function = function_of(quantity_id)
    return bench.draft(plain.direct(quantity_id, value, bench.context.instrument_for(function), function, step=step))
