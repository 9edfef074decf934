"""What guards a path before the key: the most a start could give, hazards that are confirmed by name, whose heat
counts."""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import Literal

from young_spark.core.gear import Model
from young_spark.core.ground import Frozen
from young_spark.core.judging import ChannelPlan
from young_spark.core.path.duty import Duty
from young_spark.core.path.node_levels import Drive, Levels, driven_by
from young_spark.core.path.signal_path import ASSUMED_HZ, End, Path, Start, Through

Hazard = Literal["high_voltage", "load", "generator", "keyed"]
AM_SHARE = (
    1 / 3
)  # carrier of a set with SSB, of its PEP: what leaves room for the crest, and the share in 47 CFR 95.967
LONGEST_S = 600.0  # a part that stands its heat for longer than this is not what ends a key-down
CONFIRMED_FOR = timedelta(hours=8)
REST = 2.0  # rest of a part whose maker states none, against its time


class HazardLine(Frozen):
    """One hazard that stands now, in a sentence; nothing but a person's name takes it off."""

    hazard: Hazard
    words: str


def greatest_drive(start: Start, units: Sequence[Model], stated_w: float | None) -> Drive | None:
    """The most that a start could give: of an inner point its own maximum; of a socket the largest of every unit on the
    job (an amplifier among them) and of what was stated. None where nothing says."""
    if start.kind == "inner":
        return driven_by(start.most_w or 0.0, "cw")
    drives = [drive for unit in units for drive in _of_unit(unit)]
    drives += [driven_by(stated_w, "am")] if stated_w else []
    if not drives:
        return None
    return Drive(mean_w=max(d.mean_w for d in drives), crest_w=max(d.crest_w for d in drives))


def _of_unit(unit: Model) -> list[Drive]:
    power, modes = unit.greatest_power_w, set(unit.modes)
    peaked = bool(modes & {"usb", "lsb"})
    drives = [driven_by(power, "ssb")]
    if "am" in modes:
        drives.append(driven_by(power * AM_SHARE if peaked else power, "am"))
    return drives


def hazards(path: Path, reached: Levels | None, *, high_voltage: bool, covers_off: bool) -> tuple[HazardLine, ...]:
    """What cannot be waved away as the bench stands now."""
    lines = []
    if high_voltage and covers_off:
        lines.append(
            HazardLine(
                hazard="high_voltage",
                words="High voltage is live inside with the covers off: one hand behind, discharge before touching",
            )
        )
    for node in reached.nodes if reached else ():
        part = path.part(node.part)
        if part.kind == "generator" and node.state == "too_high":
            lines.append(
                HazardLine(hazard="generator", words=f"A receive generator is in the transmit path: {node.advice}")
            )
        elif node.state == "no_load" or (isinstance(part, End) and node.state == "too_high"):
            lines.append(HazardLine(hazard="load", words=_sentence(node.advice)))
    return tuple(lines)


def still_counts(at: datetime, now: datetime, covers_off: datetime | None) -> bool:
    """Whether what somebody confirmed by name still stands: not from another day, nor from before the covers came
    off."""
    return now - at < CONFIRMED_FOR and (covers_off is None or at >= covers_off)


def highest_hz(units: Sequence[Model], plans: Mapping[str, ChannelPlan]) -> float:
    """The highest frequency in Hz that the plans of the units want keyed: there a probe stands least."""
    frequencies = [row.frequency_hz for unit in units for row in unit.plan if row.frequency_hz is not None]
    named = [plans[unit.channel_plan] for unit in units if unit.channel_plan and unit.channel_plan in plans]
    frequencies += [channel.hz for plan in named for channel in plan.channels]
    return max(frequencies, default=ASSUMED_HZ)


def over_rated(path: Path, reached: Levels | None) -> tuple[tuple[str, str], ...]:
    """Parts with their sentence that would see more than they stand, and are no hazard of their own: one named part
    may be overridden."""
    if reached is None:
        return ()
    return tuple(
        (node.part, _sentence(node.advice))
        for node in reached.nodes
        if node.state == "too_high"
        and not isinstance(path.part(node.part), End)
        and path.part(node.part).kind != "generator"
    )


def _sentence(advice: str) -> str:
    return advice[:1].upper() + advice[1:]


def duties(path: Path, reached: Levels | None) -> tuple[Duty, ...]:
    """How long loads and pads of the path may be keyed at what reaches them: their time at their rating, in
    proportion to the heat."""
    made = []
    for node in reached.nodes if reached else ():
        part = path.part(node.part)
        if not isinstance(part, End | Through) or part.rating_s is None or part.rating_w is None:
            continue
        watts = 10 ** (node.mean_dbm / 10 - 3)
        if watts * LONGEST_S >= part.rating_s * part.rating_w:
            time_s = part.rating_s * part.rating_w / watts
            made.append(Duty(name=part.title, key_down_s=time_s, cool_off_s=part.cool_off_s or REST * part.rating_s))
    return tuple(made)
