"""The seat, the slip that the live instruments belong to: what they are to look for, what a value of now may be
taken for, and under which chips it stands."""

from collections.abc import Mapping, Sequence

from young_spark.core.figure import Conditions, quantity, sums
from young_spark.core.gear import OF_THE_POINT, PlanRow
from young_spark.core.ground import Frozen
from young_spark.core.job import OpenLine, ReadingFact
from young_spark.core.live.values import QUIET_CREST, QUIET_DEPTH, SOURCES, LiveName

OF_THE_INSTRUMENT = ("element_w", "reflected_element_w", "multiplier", "pad_db", "pad_bound_db", "path", "detector")
# read with a generator in place of the aerial
OF_THE_RECEIVER = (
    "sensitivity_", "squelch_", "s_meter_", "sinad", "signal_to_noise", "minimum_discernible", "image_rejection",
    "adjacent_channel_sel",
)  # fmt: skip
WITH_A_GENERATOR = "not with a generator at the socket: this line is the receiver's"
SINAD_DB, NEAR_SINAD_DB = 12.0, 0.5  # of a sensitivity (TIA-603-D 2.1.4), and as near as it is taken
LEAST_FORWARD_W = 0.1  # of less than that a ratio to the reflected power says nothing


class LookedFor(Frozen):
    """What live instruments can give of a plan, in the current line's mode and power setting; `here` are the ids at
    its point."""

    rows: tuple[PlanRow, ...] = ()
    here: frozenset[str] = frozenset()


def looked_for(open_lines: Sequence[OpenLine], current: PlanRow | None) -> LookedFor:
    """What to look for while `current` is the slip's line."""
    sent = (o.row for o in open_lines if o.row.quantity in SOURCES and not is_of_the_receiver(o.row))
    able = [row for row in sent if row.state in {None, "transmit"}]
    point = current if current is not None and current in able else next(iter(able), None)
    if point is None:
        return LookedFor()
    rows = tuple(r for r in able if (r.mode, r.power_setting) == (point.mode, point.power_setting) or r.mode is None)
    here = frozenset(
        r.id
        for r in rows
        if (r.channel, r.frequency_hz) == (point.channel, point.frequency_hz)
        or (r.channel, r.frequency_hz) == (None, None)
    )
    return LookedFor(rows=rows, here=here)


def needs_no_carrier(row: PlanRow | None) -> bool:
    """Whether a row is read without keying: supply volts, the currents of standby and receive, and whatever is the
    receiver's."""
    supply = row is not None and row.quantity in {"supply_current", "supply_voltage"}
    at_rest = row is not None and supply and row.state != "transmit" and row.mode is None
    return at_rest or is_of_the_receiver(row)


def is_of_the_receiver(row: PlanRow | None) -> bool:
    """Whether a row is read with a generator at the aerial socket: a carrier into it ruins the generator."""
    return row is not None and row.quantity.startswith(OF_THE_RECEIVER)


def not_yet_keyed(
    rows: Sequence[PlanRow], facts: Sequence[ReadingFact], current: PlanRow | None, *, high_voltage: bool
) -> str | None:
    """Why a unit is not to be keyed now: its line needs no carrier, or it was not powered yet as its kind asks; None
    where it is time."""
    if is_of_the_receiver(current):
        return WITH_A_GENERATOR
    if carrier_was_read(facts):
        return "" if needs_no_carrier(current) else None
    answered = {fact.plan_row for fact in facts}
    first = [row for row in rows if row.first_power and row.state != "transmit"]
    still = [row for row in first if row.id not in answered]
    if still and (high_voltage or len(still) == len(first)):
        return f"before the first key: {quantity(still[0].quantity).name.lower()}"
    return "" if needs_no_carrier(current) else None


def carrier_was_read(facts: Sequence[ReadingFact]) -> bool:
    """Whether this unit was keyed and read on this job before."""
    return any(f.quantity == "carrier_power" or f.conditions.state == "transmit" for f in facts)


def what_is_left(left: Sequence[PlanRow], *, modulated: bool) -> str:
    """What is still to be read in this key-down, in words: 'carrier power, frequency error', 'whistle: modulation
    depth'."""
    quiet = [row for row in left if row.modulation != "on"]
    names = ", ".join(dict.fromkeys(quantity(row.quantity).name.lower() for row in quiet or left))
    if quiet:
        return f"keep quiet: {names}" if modulated else names
    return f"whistle: {names}" if left else ""


def is_modulated(now: Mapping[LiveName, float]) -> bool:
    """Whether the values of now show that something modulates: a depth, or a crest over the mean."""
    crest, power = now.get("pep"), now.get("power")
    return now.get("depth", 0.0) > QUIET_DEPTH or (
        crest is not None and power is not None and crest > QUIET_CREST * power
    )


def swr_of(now: Mapping[LiveName, float]) -> float | None:
    """The SWR that forward and reflected power of now make, None where they make none."""
    power, reflected = now.get("power"), now.get("reflected")
    if power is None or reflected is None or power < LEAST_FORWARD_W or reflected >= power:
        return None
    return sums.swr_from_powers(power, reflected)


def why_not_of_the_line(row: PlanRow | None, now: Mapping[LiveName, float], *, up: bool) -> str:
    """Why what is shown now is no figure of a line, or an empty string."""
    if row is None:
        return ""
    if is_of_the_receiver(row):
        return _why_not_of_the_receiver(row.quantity, now, up=up)
    if row.modulation == "off" and is_modulated(now):
        return "There is audio on the carrier. Keep quiet, then take it."
    if row.state in {"standby", "receive"} and up:
        return f"The unit is keyed. Unkey it for the figure in {row.state}, then take it."
    return ""


def _why_not_of_the_receiver(quantity_id: str, now: Mapping[LiveName, float], *, up: bool) -> str:
    if up:
        return "The unit is keyed with a generator at its socket. Unkey it."
    if "level" not in now:
        return "No generator gives a level: switch it on, or type what it is set to."
    if "sinad" in SOURCES.get(quantity_id, ()) and "sinad" not in now:
        return "Nothing is heard of it: open the squelch, or turn the generator up."
    sinad = now.get("sinad", SINAD_DB)
    if quantity_id == "sensitivity_12db_sinad" and abs(sinad - SINAD_DB) > NEAR_SINAD_DB:
        return f"SINAD is {sinad:.1f} dB: turn the generator until it is {SINAD_DB:.0f}, then take it."
    return ""


def conditions_of(
    row: PlanRow | None, chips: Conditions, instrument: str, *, keyed: bool, current: str | None
) -> Conditions:
    """The conditions of a figure that a live instrument gave: the row's point, the chips, and of the chips that belong
    to an instrument only those of this one. Chips of a point belong to the `current` row and to no other."""
    if row is not None and row.id != current:
        chips = chips.model_copy(update={name: _plain(name) for name in OF_THE_POINT})
    base = row.conditions(chips) if row is not None else chips
    own = (
        base
        if base.instrument == instrument
        else base.model_copy(update={name: _plain(name) for name in OF_THE_INSTRUMENT})
    )
    changes: dict[str, object] = {"instrument": instrument}
    if keyed and own.modulation is None:
        changes["modulation"] = "off"
    return own.model_copy(update=changes)


def _plain(name: str) -> object:
    return Conditions.model_fields[name].default
