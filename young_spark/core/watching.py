"""Watching what comes and goes: the ten seconds around each drop are kept, whatever the hours between."""

from collections.abc import Sequence
from typing import Literal

from young_spark.core.live import LiveName
from young_spark.core.reading import Frozen

RING_S = 10.0
FALL = 0.2  # a value this share below its usual one has dropped
JUMP_HZ = 200.0
TOGETHER_S = 1.0
DropKind = Literal["drop", "jump", "gone"]


class Point(Frozen):
    """One value of a watch; `at` in s since it began."""

    at: float
    name: LiveName
    value: float


class Drop(Frozen):
    """Something that fell, jumped or went; `usual` and `reached` in the value's own unit, `lasted` None while it lasts."""

    at: float
    name: LiveName
    kind: DropKind
    usual: float
    reached: float
    lasted: float | None = None


def usual(ring: Sequence[Point], name: LiveName) -> float | None:
    """The middle of a value over the ring, or None while there are too few readings of it."""
    values = sorted(p.value for p in ring if p.name == name)
    return values[len(values) // 2] if len(values) >= 5 else None


def fell(name: LiveName, value: float, usually: float | None, floor: float) -> DropKind | None:
    """Whether a value has dropped, jumped or gone, against what is usual."""
    if usually is None or usually <= floor:
        return None
    if name == "frequency":
        return "jump" if abs(value - usually) > JUMP_HZ else None
    if value <= floor:
        return "gone"
    return "drop" if value < (1 - FALL) * usually else None


def within_ring(points: Sequence[Point], at: float) -> tuple[Point, ...]:
    """The points of the ten seconds before and after a moment."""
    return tuple(p for p in points if abs(p.at - at) <= RING_S)


class Mark(Frozen):
    """What the hands did; `at` in s since the watch began."""

    at: float
    what: str


def after_what(drop: Drop, marks: Sequence[Mark], within_s: float = 3.0) -> str:
    """What the hands did just before a drop, in words, or an empty string."""
    before = [m for m in marks if 0 <= drop.at - m.at <= within_s]
    return before[-1].what if before else ""


def moments(drops: Sequence[Drop]) -> list[Drop]:
    """Drops that belong together as one: power, current and frequency that fall within a second of each other.

    Where one of them is gone altogether, the moment counts as that."""
    found: list[Drop] = []
    for drop in sorted(drops, key=lambda d: d.at):
        if not found or drop.at - found[-1].at > TOGETHER_S:
            found.append(drop)
        elif drop.kind == "gone" and found[-1].kind != "gone":
            found[-1] = drop
    return found


def summary(seconds: float, drops: Sequence[Drop], marks: Sequence[Mark]) -> str:
    """A watch in one line of the slip. A carrier that went altogether may have been let go: it is counted apart."""
    minutes = f"{seconds / 60:.0f} min" if seconds >= 90 else f"{seconds:.0f} s"
    fallen = [d for d in moments(drops) if d.kind != "gone"]
    gone = sum(1 for d in moments(drops) if d.kind == "gone")
    went = f"; the carrier went altogether {'once' if gone == 1 else f'{gone} times'}" if gone else ""
    if not fallen:
        return f"watched {minutes}: nothing dropped{went}"
    by_hand: dict[str, int] = {}
    for drop in fallen:
        if what := after_what(drop, marks):
            by_hand[what] = by_hand.get(what, 0) + 1
    told = "".join(f", {count} just after '{what}'" for what, count in sorted(by_hand.items()))
    return f"watched {minutes}: {len(fallen)} drop{'s' if len(fallen) != 1 else ''}{told}{went}"
