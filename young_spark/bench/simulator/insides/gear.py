"""What every inside has: components that are whole, or that a fault has changed, and what warmth takes of them.

A component's worth is 1 where it is whole, unless it is said otherwise (Ω, or nought for what must not be there)."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar, Protocol

Changes = Mapping[str, Mapping[str, float]]  # by fault: which component, and what has become of it


@dataclass(frozen=True)
class Inside:
    """What a unit with something wrong does, against a whole one: shares of output, of what it draws (keyed, and at
    rest, where a short draws too) over a whole one at rest, or, below zero, of what is missing from that; of depth.
    Of an amplifier besides: shares of its high tension, plate and grid current, the SWR at its input where that is
    not as usual, and whether the exciter only goes through."""

    output: float
    draw: float = 1.0
    rest: float = 0.0
    depth: float = 1.0
    ht: float = 1.0
    plate: float = 1.0
    grid: float = 1.0
    input_swr: float | None = None
    is_bypassed: bool = False


WHOLE = Inside(1.0)


@dataclass(frozen=True)
class Gear:
    """One unit with its faults, warm or cold; one component of it may have been `cooled` alone."""

    faults: tuple[str, ...] = ()
    hot: bool = False
    cooled: str = ""

    parts: ClassVar[Changes] = {}
    fades: ClassVar[Changes] = {}  # what is left of a component when it is hot
    loose: ClassVar[frozenset[str]] = frozenset()  # joints that hold most of the time

    def has(self, name: str, whole: float = 1.0) -> float:
        """What a component is worth now."""
        return worth(name, whole, self, self.parts, self.fades)


class Faulty(Protocol):
    """What has faults, is hot or not, and may have been cooled somewhere."""

    @property
    def faults(self) -> tuple[str, ...]: ...
    @property
    def hot(self) -> bool: ...
    @property
    def cooled(self) -> str: ...


def worth(name: str, whole: float, unit: Faulty, parts: Changes, fades: Changes) -> float:
    """What a component of a unit is worth with its faults."""
    value = whole
    for fault in unit.faults:
        value = parts.get(fault, {}).get(name, value)
    for fault in unit.faults:
        if unit.hot and name in fades.get(fault, {}) and unit.cooled != name:
            value = min(value, fades[fault][name])
    return value


def saturated(drive: float) -> float:
    """A stage that is driven hard gives what it can: half the drive costs little, a tenth costs most."""
    return 1.25 * drive / (drive + 0.25) if drive > 0 else 0.0


def limited(share: float) -> float:
    """A share that no stage exceeds by much."""
    return min(1.15, max(0.0, share))
