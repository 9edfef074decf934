"""A breath of several facts as one meaning: each reading by the sums of its own quantity, at its own address."""

from dataclasses import dataclass

from young_spark.core.entry.bench import Bench
from young_spark.core.entry.expression import Expression
from young_spark.core.entry.facts import cut
from young_spark.core.entry.figures import of_quantity
from young_spark.core.entry.frames import read
from young_spark.core.entry.meaning import EntryContext
from young_spark.core.entry.said import PAIRS, SUMS, Breath, Ground, Said
from young_spark.core.entry.tokens import Figure
from young_spark.core.figure import Conditions, Input, Measured, Shape, Term, measured, propagate, quantity

OF_THE_ADDRESS = (
    "channel", "frequency_hz", "mode", "power_setting", "state", "place", "item", "heat", "after_s", "audio",
    "load_ohm", "test_v", "form", "marked", "due",
)  # fmt: skip
OF_THE_HAND = ("channel", "frequency_hz", "mode", "power_setting", "place")
OF_A_SUPPLY = {"supply_current", "supply_voltage"}  # its state is of that line alone
TYPED = {"supply_v", "covers", "modulation", "instrument", "tone_hz"}


@dataclass(frozen=True)
class Placed:
    """A reading, and the conditions that it was taken under."""

    reading: Measured
    conditions: Conditions


def breath_of(plain: str, context: EntryContext) -> Breath:
    """What a folded text says in one breath, on the ground of this context."""
    return read(cut(plain), ground_of(context))


def ground_of(context: EntryContext) -> Ground:
    """What the slip knows, as the frames ask for it."""
    chips = context.conditions
    here = {name: value for name in OF_THE_ADDRESS if (value := getattr(chips, name)) is not None}
    plan = context.channel_plan
    return Ground(
        lines=tuple(p.model_dump(exclude_none=True) for p in context.points),
        current=None if context.expected is None else {"quantity": context.expected.quantity, **here},
        hand={name: value for name, value in here.items() if name in (*OF_THE_HAND, *_state_of(context))},
        channel_hz={c.number: c.hz for c in plan.channels} if plan else {},
        power_settings=tuple({p.power_setting for p in context.points if p.power_setting}),
        high_voltage=any(p.quantity.startswith(("plate_", "screen_")) for p in context.points),
        modes=tuple({p.mode for p in context.points if p.mode}),
    )


def _state_of(context: EntryContext) -> tuple[str, ...]:
    return () if context.expected is not None and context.expected.quantity in OF_A_SUPPLY else ("state",)


def placed_readings(breath: Breath, context: EntryContext) -> list[Placed]:
    """Every reading of a breath, worked out. Raises Unclear and OutOfDomain as the sums do."""
    made: list[Placed] = []
    for said in breath.said:
        if said.quantity is None:
            continue
        if said.derived:
            made += _worked_out(said, made)
            continue
        conditions = _conditions(said, context.conditions)
        bench = Bench(context.model_copy(update={"conditions": conditions}), conditions)
        draft = of_quantity(said.quantity, _expression(said), bench)
        made += [Placed(_said_so(reading, said), draft.conditions) for reading in draft.readings]
    return made


def _worked_out(said: Said, made: list[Placed]) -> list[Placed]:
    """What follows from two readings of the same breath, with their doubts; nothing where it is worked out already."""
    if any(p.reading.quantity == said.quantity for p in made) or said.quantity not in PAIRS:
        return []
    given = {q: next((p for p in made if p.reading.quantity == q), None) for q in PAIRS[said.quantity]}
    inputs = {q: _input(p.reading) for q, p in given.items() if p is not None}
    known = {q: i for q, i in inputs.items() if i is not None}
    if len(known) < 2:
        return []
    first, second = PAIRS[said.quantity]
    of = SUMS[said.quantity]
    spread = propagate(lambda **values: of(values[first], values[second]), known)
    words = f"of {quantity(first).name.lower()} and {quantity(second).name.lower()}"
    reading = measured(said.quantity, spread, method="worked out", working=words)
    return [Placed(reading, placed.conditions) for placed in (given[second],) if placed is not None]


def _input(reading: Measured) -> Input | None:
    if reading.value is None or reading.bound is not None:
        return None
    terms = (Term("reading", reading.uncertainty, Shape.NORMAL),) if reading.uncertainty else ()
    return Input(reading.value, terms)


def _conditions(said: Said, chips: Conditions) -> Conditions:
    """The chips with the address of this reading; what only the current line brings along is left behind."""
    address = {name: said.address.get(name) for name in OF_THE_ADDRESS}
    return chips.model_copy(update=address | {k: v for k, v in said.address.items() if k in TYPED})


def _expression(said: Said) -> Expression:
    if said.result is not None:
        return Expression(nothing=said.result == "none", weak=said.result == "weak")
    unit = quantity(said.quantity or "").unit
    plain = None if unit == "1" else unit
    if said.low is not None and said.high is not None:
        return Expression(ends=(_figure(said.low, plain), _figure(said.high, plain)))
    return Expression(figures=(_figure(said.value or 0.0, plain),), bound=said.bound)


def _figure(value: float, unit: str | None) -> Figure:
    return Figure(value, unit, 0.0, f"{value:g}", signed=value < 0)


def _said_so(reading: Measured, said: Said) -> Measured:
    if not said.about:
        return reading
    return reading.model_copy(update={"remarks": ("about: a rough figure", *reading.remarks)})
