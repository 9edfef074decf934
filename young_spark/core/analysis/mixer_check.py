"""Whether the harmonics of a spectrum are the unit's own: a second trace with more before the analyser tells."""

import math
from dataclasses import replace
from typing import Literal

from young_spark.core.analysis.options import Analysis
from young_spark.core.figure import Measured

MixerWord = Literal["real", "mixer", "both"]


def mixer_check(first: Measured, second: Measured, order: int, step_db: float = 10.0) -> MixerWord:
    """Whether a harmonic of two traces, the second with `step_db` more before the analyser, is the unit's or the
    mixer's own.

    A real one stays in dBc; one of order n made in the mixer falls by (n − 1)·step. Any change beyond 1 dB and the
    scatter means that the analyser contributes."""
    if first.value is None or second.value is None:
        return "both"
    room = 1.0 + math.hypot(first.uncertainty or 0.0, second.uncertainty or 0.0)
    change = first.value - second.value
    if abs(change) <= room:
        return "real"
    return "mixer" if abs(change - (order - 1) * step_db) <= room else "both"


def mixer_checked(first: Analysis, second: Analysis, step_db: float) -> Analysis:
    """The first trace with what the second says of each harmonic: one that the analyser makes itself gets no
    verdict."""
    others = {r.quantity: r for r in second.readings}
    return replace(first, readings=tuple(_told(r, others.get(r.quantity), step_db) for r in first.readings))


def _told(reading: Measured, other: Measured | None, step_db: float) -> Measured:
    order = reading.quantity.removeprefix("harmonic_")
    if order == reading.quantity or other is None or reading.value is None or reading.bound is not None:
        return reading
    if other.bound is not None:
        return reading.model_copy(
            update={
                "remarks": (
                    *reading.remarks,
                    f"with {step_db:g} dB more before the analyser it is in the floor: not told whose it is",
                )
            }
        )
    word = mixer_check(reading, other, int(order), step_db)
    change = (reading.value or 0.0) - (other.value or 0.0)
    if word == "real":
        return reading.model_copy(
            update={
                "remarks": (*reading.remarks, f"it stays with {step_db:g} dB more before the analyser: the unit's own")
            }
        )
    whose = "the analyser makes it itself" if word == "mixer" else "the analyser adds to it"
    why = (
        f"{whose}: with {step_db:g} dB more before it, it {'falls' if change > 0 else 'rises'} by "
        f"{abs(change):.1f} dB against the carrier"
    )
    return reading.model_copy(update={"not_judged": why})
