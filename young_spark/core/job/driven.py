"""What was driven in several ways at one place: which lines are at its full drive, and which on the way there."""

from collections.abc import Sequence

from young_spark.core.figure import Conditions
from young_spark.core.job.plans import ReadingFact

OUTPUTS = ("carrier_power", "peak_envelope_power")
LEAST_DRIVES = 2
NEARLY = 0.9  # of the greatest drive: the same, by another meter


def driven_lines(facts: Sequence[ReadingFact]) -> dict[str, float]:
    """Lines that say a drive and what comes of it, with the drive in W, where one place was driven in several ways."""
    drives = {f.line: f for f in facts if f.quantity == "drive_power" and f.value is not None}
    outputs = {f.line for f in facts if f.quantity in OUTPUTS}
    at: dict[tuple[object, object], set[float]] = {}
    for line, drive in drives.items():
        if line in outputs:
            at.setdefault(place_of(drive.conditions), set()).add(float(drive.value or 0.0))
    return {
        line: float(drive.value or 0.0)
        for line, drive in drives.items()
        if line in outputs and len(at[place_of(drive.conditions)]) >= LEAST_DRIVES
    }


def at_less_drive(facts: Sequence[ReadingFact]) -> dict[str, float]:
    """Lines at less than the full drive of their place, as it was received or since, with the drive in W: a unit is
    not better for having been driven harder."""
    driven = driven_lines(facts)
    greatest: dict[tuple[object, ...], float] = {}
    for fact in facts:
        if fact.line in driven:
            there = _of_a_drive(fact)
            greatest[there] = max(driven[fact.line], greatest.get(there, 0.0))
    return {
        f.line: driven[f.line] for f in facts if f.line in driven and driven[f.line] < NEARLY * greatest[_of_a_drive(f)]
    }


def _of_a_drive(fact: ReadingFact) -> tuple[object, ...]:
    return *place_of(fact.conditions), fact.phase == "as_received"


def place_of(conditions: Conditions) -> tuple[object, object]:
    """Where it was driven: the frequency in Hz and the channel."""
    return conditions.frequency_hz, conditions.channel
