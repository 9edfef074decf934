"""Watching what comes and goes: the ten seconds around each drop are kept, whatever the hours between."""

from collections import Counter
from collections.abc import Sequence
from typing import Literal

from young_spark.core.ground import Frozen
from young_spark.core.live.values import LiveName, is_there

# rules of thumb of the trade; tests/bench/test_capture.py holds them against joints that come and go
RING_S = 10.0
FALL = 0.2  # a value this share below its usual one has dropped
JUMP_HZ = 200.0
TOGETHER_S = 1.0
MARKED_BEFORE_S = 3.0  # so long after what the hands did a drop is taken as its effect
MARKED_LATE_S = 1.0
DropKind = Literal["drop", "jump", "gone"]


class Point(Frozen):
    """One value of a watch; `at` in s since it began."""

    at: float
    name: LiveName
    value: float


class Drop(Frozen):
    """Something that fell, jumped or went; `usual` and `reached` in the value's own unit, `lasted` None while it
    lasts."""

    at: float
    name: LiveName
    kind: DropKind
    usual: float
    reached: float
    lasted: float | None = None


def usual(well: Sequence[Point]) -> float | None:
    """The middle of one value's readings while all was well, or None while there are too few of them. Those of a
    drop are left out by the caller: a bad joint may be down for longer than it is up."""
    values = sorted(p.value for p in well)
    return values[len(values) // 2] if len(values) >= 5 else None


def fell(name: LiveName, value: float, usually: float | None, floor: float) -> DropKind | None:
    """Whether a value has dropped, jumped or gone, against what is usual; `floor` is what its instrument shows of
    nothing."""
    if usually is None or not is_there(usually, floor):
        return None
    if name == "frequency":
        return "jump" if abs(value - usually) > JUMP_HZ else None
    if not is_there(value, floor):
        return "gone"
    return "drop" if value < (1 - FALL) * usually else None


def within_ring(points: Sequence[Point], at: float) -> tuple[Point, ...]:
    """The points of the ten seconds before and after a moment."""
    return tuple(p for p in points if abs(p.at - at) <= RING_S)


class HandMark(Frozen):
    """What the hands did; `at` in s since the watch began."""

    at: float
    what: str


def after_what(drop: Drop, marks: Sequence[HandMark]) -> str:
    """What the hands did just before a drop, in words, or an empty string.

    A key is pressed a little after the tap that it tells of, so that its mark may come a little after the drop."""
    near = [m for m in marks if -MARKED_LATE_S <= drop.at - m.at <= MARKED_BEFORE_S]
    return near[-1].what if near else ""


class Moment(Frozen):
    """Drops that belong together: power, current and frequency that fell within a second of each other."""

    drops: tuple[Drop, ...]

    @property
    def gone(self) -> bool:
        """Whether something went altogether."""
        return any(d.kind == "gone" for d in self.drops)

    def after(self, marks: Sequence[HandMark]) -> str:
        """What the hands did just before any of its drops, in words, or an empty string."""
        return next((what for d in self.drops if (what := after_what(d, marks))), "")


def moments(drops: Sequence[Drop]) -> list[Moment]:
    """The drops, those that belong together as one."""
    found: list[list[Drop]] = []
    for drop in sorted(drops, key=lambda d: d.at):
        if not found or drop.at - found[-1][0].at > TOGETHER_S:
            found.append([drop])
        else:
            found[-1].append(drop)
    return [Moment(drops=tuple(together)) for together in found]


def summary(seconds: float, drops: Sequence[Drop], marks: Sequence[HandMark]) -> str:
    """A watch in one line of the slip. A carrier that went altogether may have been let go: it is counted apart."""
    minutes = f"{seconds / 60:.0f} min" if seconds >= 90 else f"{seconds:.0f} s"
    happened = moments(drops)
    fallen, gone = [m for m in happened if not m.gone], [m for m in happened if m.gone]
    told = f"{len(fallen)} drop{'s' if len(fallen) != 1 else ''}" if fallen else "nothing dropped"
    told += _after_hands(fallen, marks)
    if gone:
        told += f"; the carrier went altogether {'once' if len(gone) == 1 else f'{len(gone)} times'}"
        told += _after_hands(gone, marks)
    return f"watched {minutes}: {told}"


def _after_hands(happened: Sequence[Moment], marks: Sequence[HandMark]) -> str:
    counted = Counter(what for m in happened if (what := m.after(marks)))
    return "".join(f", {count} just after '{what}'" for what, count in sorted(counted.items()))
