"""A breath of several facts as one meaning: each reading by the sums of its own quantity, at its own address."""

import math
import re
from dataclasses import dataclass, replace
from typing import cast

from young_spark.core.entry.believed.agreeing import SENT_WITH, agreeing
from young_spark.core.entry.believed.surety import possible
from young_spark.core.entry.facts.by_unit import SENT, unit_of
from young_spark.core.entry.facts.circumstances import LONGEST
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.meaning import EntryContext, Meaning
from young_spark.core.entry.facts.said import Breath, Ground, PowerRead, Said
from young_spark.core.entry.frames.results_said import CONDITION
from young_spark.core.entry.frames.together import read
from young_spark.core.entry.sums.bench import Bench
from young_spark.core.entry.sums.expression import Expression
from young_spark.core.entry.sums.figures import of_quantity
from young_spark.core.entry.sums.follows import SUMS
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.tokens import Figure, Unclear
from young_spark.core.figure import (
    AERIAL,
    Conditions,
    Input,
    Measured,
    Result,
    Shape,
    Term,
    format_value,
    measured,
    propagate,
    quantity,
)
from young_spark.core.ground import OutOfDomain, once_for_each
from young_spark.core.measures import power

OF_THE_ADDRESS = (
    "channel", "frequency_hz", "mode", "power_setting", "state", "place", "item", "heat", "after_s", "audio",
    "load_ohm", "test_v", "form", "marked", "due", "channels", "band", "setting", "function", "direction", "input_dbm",
    "input_v", "over_db", "at_db", "due_at_most", "due_at_least", "due_to",
)  # fmt: skip
OF_THE_HAND = ("channel", "frequency_hz", "mode", "power_setting", "place")
OF_A_POWER = ("channel", "frequency_hz", "mode", "power_setting")
OF_A_SUPPLY = {"supply_current", "supply_voltage"}  # its state is of that line alone
TYPED = {"supply_v", "covers", "modulation", "instrument", "tone_hz", "configuration", "detector"}


@dataclass(frozen=True)
class Placed:
    """A reading, and the conditions that it was taken under."""

    reading: Measured
    conditions: Conditions


def breath_of(plain: str, context: EntryContext) -> Breath:
    """What a folded text says in one breath, on the ground of this context."""
    return agreeing(read(cut(plain), ground_of(context)))


@once_for_each
def ground_of(context: EntryContext) -> Ground:
    """What the slip knows, as the frames ask for it."""
    chips = context.conditions
    here = {name: value for name in OF_THE_ADDRESS if (value := getattr(chips, name)) is not None}
    if context.last_place is not None and chips.place is None:  # a place that a reading spoke moves the hand too
        here |= {"place": context.last_place} | ({"state": context.last_state} if context.last_state else {})
    plan = context.channel_plan
    return Ground(
        lines=tuple(p.model_dump(exclude_none=True) for p in context.points),
        current=None if context.expected is None else {"quantity": context.expected.quantity, **here},
        hand={name: value for name, value in here.items() if name in (*OF_THE_HAND, *_state_of(context))},
        channel_hz={c.number: c.hz for c in plan.channels} if plan else {},
        power_settings=_power_settings(context),
        greatest_power_w=context.greatest_power_w,
        last=(context.earlier[-1].quantity, context.earlier[-1].value) if context.earlier else None,
        rows_before=context.rows_before,
        places_before=context.places_before,
        driven=_driven_before(context),
        channels_before=context.channels_before,
        frequencies_before=context.frequencies_before,
        newest_figures=context.newest_figures,
        newest_words=context.newest_words,
        powers=_powers_before(context),
        read_at=tuple(e.conditions.frequency_hz for e in context.earlier if e.conditions.frequency_hz is not None),
        rippled=_rippled_before(context),
        fed_v=fed.value if (fed := context.last("supply_voltage")) is not None else None,
        heard=_heard_before(context),
        sensitivity=_sensitivity_before(context),
        high_voltage=context.high_voltage or any(p.quantity.startswith(("plate_", "screen_")) for p in context.points),
        lent=context.lent,
        modes=context.modes or tuple({p.mode for p in context.points if p.mode}),
    )


def _power_settings(context: EntryContext) -> tuple[str, ...]:
    """The power settings of the unit: those of its model and its plan; of FM gear above 100 MHz, which has them as a
    rule, the usual ones where its plan has none."""
    listed = {*context.power_settings, *(p.power_setting for p in context.points if p.power_setting)}
    of_the_air = {"fm", None} >= {p.mode for p in context.points} and any(
        (p.frequency_hz or 0.0) > LEAST_WITH_SETTINGS_HZ for p in context.points
    )
    return tuple(listed or (USUAL_SETTINGS if of_the_air else ()))


USUAL_SETTINGS = ("high", "mid", "low")
LEAST_WITH_SETTINGS_HZ = 100e6


def _powers_before(context: EntryContext) -> tuple[PowerRead, ...]:
    """What was read in watts, with the channel, the frequency, the mode and the setting of each."""
    return tuple(
        PowerRead(e.quantity, e.value, {name: getattr(e.conditions, name) for name in OF_A_POWER})
        for e in context.earlier
        if e.quantity in SENT
    )


def _rippled_before(context: EntryContext) -> frozenset[str]:
    at = {e.conditions.place: e.quantity for e in context.earlier if e.conditions.place and unit_of(e.quantity) == "V"}
    return frozenset(place for place, read in at.items() if read == "ripple")


def _driven_before(context: EntryContext) -> tuple[float, float] | None:
    """The drive that stands among the newest readings, and its frequency."""
    for earlier in reversed(context.earlier[-LATELY:]):
        if earlier.quantity == "drive_power" and earlier.conditions.frequency_hz is not None:
            return earlier.value, earlier.conditions.frequency_hz
    return None


LATELY = 6  # readings


def _heard_before(context: EntryContext) -> tuple[tuple[str, dict[str, object]], ...]:
    heard = (e for e in context.earlier if e.quantity.startswith("sensitivity_"))
    return tuple((e.quantity, e.conditions.model_dump(include={"mode", "frequency_hz"})) for e in heard)


def _sensitivity_before(context: EntryContext) -> str | None:
    """'now .11uv' behind '0.9uv 12db': for the same ratio, whatever the plan asks for."""
    heard = [e for e in context.earlier if e.quantity.startswith("sensitivity_")]
    same = bool(heard) and heard[-1].conditions.mode in {None, context.conditions.mode}
    return heard[-1].quantity if same else None


def _state_of(context: EntryContext) -> tuple[str, ...]:
    return () if context.expected is not None and context.expected.quantity in OF_A_SUPPLY else ("state",)


def placed_readings(breath: Breath, context: EntryContext) -> list[Placed]:
    """Every reading of a breath, worked out. Raises Unclear and OutOfDomain as the sums do."""
    made: list[Placed] = []
    first: list[Placed | None] = []  # by the position in the breath
    for said in breath.said:
        if said.derived:
            there = any(p.reading.quantity == said.quantity and not said.inputs for p in made)
            worked = None if there else _worked_out(said, [first[n] for n in said.inputs], context)
            found = [] if worked is None or not _can_be(worked) else [worked]
        else:
            found = _read(said, context)
        first.append(found[0] if found else None)
        made = [*found, *made] if _is_what_was_named(said, breath) else [*made, *found]
    return _driven_with_less(_on_the_channel_counted(made, breath, first, context), context)


def _on_the_channel_counted(
    made: list[Placed], breath: Breath, first: list[Placed | None], context: EntryContext
) -> list[Placed]:
    """'3.9w 26.96502' with the hand on channel 19: a counter on another channel says where the carrier was,
    and what was read of the same carrier in one breath was read there."""
    counts = [p.conditions for p in made if p.reading.quantity == "carrier_frequency"]
    counted = {(c.channel, c.frequency_hz) for c in counts} - {(None, None)}
    if len(counted) != 1 or counted == {(context.conditions.channel, context.conditions.frequency_hz)}:
        return made
    channel, frequency_hz = counted.pop()
    lent = [p for said, p in zip(breath.said, first, strict=True) if p is not None and said.where_added]
    there = {"channel": channel, "frequency_hz": frequency_hz, "band": counts[0].band}
    of_it = [p for p in lent if p.reading.quantity in OF_ONE_CARRIER]
    return [replace(p, conditions=p.conditions.model_copy(update=there)) if p in of_it else p for p in made]


def _is_what_was_named(said: Said, breath: Breath) -> bool:
    """'swr 3.8/0.3w': whether a ratio that follows from two powers is what the text names in front of them."""
    return (
        said.quantity in {"swr", "input_swr"}
        and bool(said.inputs)
        and breath.said[said.inputs[0]].led_by == said.quantity
    )


def on_the_carrier_counted(meaning: Meaning, text: str) -> Meaning:
    """The same of a line of clauses that says nowhere: '98w, 14.20003'."""
    each = [meaning.conditions_of(n) for n in range(len(meaning.readings))]
    counts = [c for c, r in zip(each, meaning.readings, strict=True) if r.quantity == "carrier_frequency"]
    if len(counts) != 1 or any(f.kind == "where" or f.of == "band" for f in cut(as_signs(text.lower()))):
        return meaning
    there = {key: getattr(counts[0], key) for key in ("channel", "frequency_hz", "band")}
    moved = [
        c.model_copy(update=there) if r.quantity in OF_ONE_CARRIER else c
        for c, r in zip(each, meaning.readings, strict=True)
    ]
    return meaning.model_copy(update={"conditions": moved[0], "each": tuple(moved)})


def _driven_with_less(made: list[Placed], context: EntryContext) -> list[Placed]:
    """'2w: 35w' behind '4w: 62w', '1w 62, 2w 128': what comes out of an amplifier is due at its full drive, and at no
    less. What stands behind a drive was read with it."""
    drives = [p for p in made if p.reading.quantity == "drive_power" and p.reading.value is not None]
    if not drives:
        return made
    there = drives[0].conditions.frequency_hz
    known = [e.value for e in context.earlier if e.quantity == "drive_power" and e.conditions.frequency_hz == there]
    here = [p.reading.value or 0.0 for p in drives if p.conditions.frequency_hz == there]
    most, said, with_w = max((*known, *here)), [], 0.0
    only = drives[0].reading.value or 0.0 if len(drives) == 1 else None
    for one in made:
        with_w = only or (one.reading.value or 0.0 if one in drives else with_w)
        why = f"driven with {with_w:g} W, where it was driven with {most:g} W"
        less = 0 < with_w <= NEARLY * most
        said.append(replace(one, reading=one.reading.model_copy(update={"not_judged": why})) if less else one)
    return said


NEARLY = 0.9  # of the drive that it had before: the same, by another meter


def _can_be(worked: Placed) -> bool:
    """Whether what follows from others can be at all; otherwise one of those was misread, and nothing is worked out."""
    low, high = possible().get(worked.reading.quantity, (-math.inf, math.inf))
    return worked.reading.value is None or low <= worked.reading.value <= high


def _read(said: Said, context: EntryContext) -> list[Placed]:
    """What was said, by the sums of its quantity."""
    chips, said = context.conditions, _where_it_was_before(said, context)
    if context.expected is not None and context.expected.quantity != said.quantity:
        chips = chips.model_copy(update=dict.fromkeys(context.lent))
    conditions = _conditions(said, chips)
    if said.result is not None and said.result != "none" and said.value is None:
        return [Placed(_seen(said), conditions)]
    if said.quantity == CONDITION:
        return [Placed(_seen(said), conditions)]
    bench = Bench(context.model_copy(update={"conditions": conditions}), conditions)
    if said.quantity == "peak_envelope_power" and _is_a_needle_of_two_tones(said):
        meter = bench.context.instrument_for("power")
        return [Placed(power.two_tone(said.value or 0.0, meter, conditions), conditions)]
    draft = of_quantity(str(said.quantity), _expression(said), bench)
    beside = () if said.about else BESIDE.get(str(said.quantity), ())  # a rough carrier vouches for no error
    kept = [r for r in draft.readings if r.quantity in {said.quantity, *beside}]
    besides = draft.conditions.model_copy(update=dict.fromkeys(OF_THE_FIGURE))
    return [
        Placed(_said_so(reading, said), draft.conditions if reading.quantity == said.quantity else besides)
        for reading in kept
    ]


def _where_it_was_before(said: Said, context: EntryContext) -> Said:
    """A reading at a point that was named in full before, or at the aerial that was read before."""
    if "place" in said.address:
        said = replace(said, address={**said.address, "place": _as_named_before(said.address["place"], context)})
    if said.quantity == "swr" and "item" not in said.address and _is_the_aerials(context):
        said = replace(said, address={**said.address, "item": AERIAL})
    return said


OF_ONE_CARRIER = {*SENT, *SENT_WITH}
# in its own unit, and of none that is worked out beside it
OF_THE_FIGURE = ("marked", "due", "due_at_most", "due_at_least", "due_to")


BESIDE = {"carrier_frequency": ("frequency_error",)}  # what the sums of a quantity give with it


def _is_the_aerials(context: EntryContext) -> bool:
    """'swr 1.3 now' behind 'swr of his aerial 3.4', where the plan asks for none of the unit."""
    last = context.last("swr")
    return last is not None and last.conditions.item == AERIAL and all(p.quantity != "swr" for p in context.points)


def _is_a_needle_of_two_tones(said: Said) -> bool:
    """A needle that averages two tones shows less than their peak envelope."""
    averages = said.address.get("detector") in {"true_mean", "average_envelope"}
    return averages and said.address.get("audio") == "two tones"


def _seen(said: Said) -> Measured:
    """A result in words: an observation, not a figure."""
    return Measured(
        quantity=str(said.quantity), value=None, unit=quantity(str(said.quantity)).unit, reason="not_measured",
        method="seen", working="seen, not measured", result=cast("Result", said.result),
        remarks=("seen, not measured: an observation, not a figure",),
    )  # fmt: skip


def _of_both_powers(said: Said, given: list[Placed | None], context: EntryContext) -> Placed | None:
    """SWR and return loss of what goes out and comes back, at the aerial or an input, with the doubt of the meter's
    directivity."""
    powers = [p.reading.value for p in given if p is not None and p.reading.value is not None]
    if len(powers) != 2:
        return None
    conditions = _conditions(said, context.conditions)
    bench = Bench(context.model_copy(update={"conditions": conditions}), conditions)
    draft = of_quantity(
        "input_swr" if said.quantity == "input_swr" else "swr",
        Expression(figures=tuple(Figure(p, "W", 0.0, f"{p:g}") for p in powers)),
        bench,
    )
    found = next((r for r in draft.readings if r.quantity == said.quantity), None)
    return None if found is None else Placed(found, conditions)


def _worked_out(said: Said, given: list[Placed | None], context: EntryContext) -> Placed | None:
    """What follows from other readings of the breath, with their doubts."""
    if said.quantity in {"swr", "input_swr", "return_loss"}:
        return _of_both_powers(said, given, context)
    inputs = {f"x{n}": _input(p.reading) for n, p in enumerate(given) if p is not None}
    known = {name: value for name, value in inputs.items() if value is not None}
    if said.quantity == "power_flatness" and given[0] is not None:
        known = {f"x{n}": Input(end) for n, end in enumerate(sorted(given[0].reading.ends or ()))}
        given = [given[0]] * len(known)
    if not known or len(known) < len(given):
        return None
    of = (
        _between_levels
        if all(p is not None and p.reading.quantity == "rf_level" for p in given)
        else SUMS[str(said.quantity)]
    )
    try:
        spread = propagate(lambda **values: of(*(values[f"x{n}"] for n in range(len(given)))), known)
    except OutOfDomain:
        return None  # no output has no gain
    words = " and ".join(figure_name(p) for p in given if p is not None)
    reading = measured(str(said.quantity), spread, method="worked out", working=f"of {words}")
    conditions = _conditions(said, given[-1].conditions) if given[-1] is not None else Conditions()
    return Placed(reading, conditions)


def _between_levels(first_dbm: float, last_dbm: float) -> float:
    return last_dbm - first_dbm


def figure_name(placed: Placed) -> str:
    """A reading's name and figure, for the sum of what follows from it."""
    value = placed.reading.value
    shown = "" if value is None else f" {format_value(value, placed.reading.unit)}"
    return f"{quantity(placed.reading.quantity).name.lower()}{shown}"


def _input(reading: Measured) -> Input | None:
    if reading.value is None or reading.bound is not None:
        return None
    terms = (Term("reading", reading.uncertainty, Shape.NORMAL),) if reading.uncertainty else ()
    return Input(reading.value, terms)


def _as_named_before(place: object, context: EntryContext) -> object:
    """'coil 11.8v' behind 'k5 coil 8.1v', 'pin 3 9.1v' behind 'pa module pin 3 0v': the point that was called so in
    full before; of two of them nobody can tell."""
    if not isinstance(place, str) or not OF_SOMETHING.fullmatch(place):
        return place
    whole = {e.conditions.place for e in context.earlier if (e.conditions.place or "").endswith(f" {place}")}
    return whole.pop() if len(whole) == 1 else place


OF_SOMETHING = re.compile(r"pin \d+|coil|contact|primary|secondary|wiper|input|output|gate(?: [12])?|drain|source")


NAMED = ("place", "item", "setting")


def _conditions(said: Said, chips: Conditions) -> Conditions:
    """The chips with the address of this reading; what only the current line brings along is left behind. Raises
    Unclear for a name that is longer than a place may be: it could be kept, and never read again."""
    for words in (said.address.get(name) for name in NAMED):
        if isinstance(words, str) and len(words) > LONGEST:
            raise Unclear(f"'{words[:24]}…' is longer than the {LONGEST} signs of a place. Say it shorter.")
    address = {name: said.address.get(name) for name in OF_THE_ADDRESS}
    if address["channel"] is not None:
        address["channel"] = int(float(str(address["channel"])))
    return chips.model_copy(update=address | {k: v for k, v in said.address.items() if k in TYPED})


def _expression(said: Said) -> Expression:
    if said.result == "none" and said.value is None:
        return Expression(nothing=True)
    unit = quantity(said.quantity or "").unit
    plain = None if unit == "1" else unit
    if said.low is not None and said.high is not None and said.value is None:
        return Expression(ends=(_figure(said.low, plain, said), _figure(said.high, plain, said)), bound=None)
    at = said.address.get("at_hz")
    place = None if at is None else Figure(float(str(at)), "Hz", 0.0, f"{at:g} Hz")
    return Expression(figures=(_as_typed(said) or _figure(said.value or 0.0, plain, said),), bound=said.bound, at=place)


def _as_typed(said: Said) -> Figure | None:
    """A level or volts as they were read; rms across the load as peak to peak."""
    if said.typed is None:
        return None
    fact, factor, unit = said.typed, 1.0, said.typed.unit
    if unit == "Vrms":
        factor, unit = 2 * math.sqrt(2), "Vpp"
    return Figure(fact.value * factor, unit, fact.step * factor, fact.text, fact.signed, fact.factor)


def _figure(value: float, unit: str | None, said: Said) -> Figure:
    return Figure(value, unit, said.step, f"{value:g}", signed=value < 0)


def _said_so(reading: Measured, said: Said) -> Measured:
    changes: dict[str, object] = {}
    if said.address.get("setting") == "tight":
        changes["not_judged"] = "with the knob turned tight: no limit is for that"
    if reading.quantity == "ripple" and said.address.get("form") == "rms":
        changes["not_judged"] = "read as rms: what is due of ripple is peak to peak"
    if said.about:
        changes["remarks"] = ("about: a rough figure", *reading.remarks)
    if said.value is not None and said.low is not None and said.high is not None:
        changes["ends"] = (said.low, said.high)
    if said.result is not None and reading.quantity == said.quantity:
        changes["result"] = said.result
    return reading.model_copy(update=changes) if changes else reading
