"""Help while turning an adjuster: which way it goes, the best so far, whether the peak was passed or the target met."""

import math
from typing import Literal

from young_spark.core.ground import Frozen

Aim = Literal["peak", "dip", "target"]
Note = Literal["double", "triple"]
MOVES = 0.005  # a change smaller than this share is the instrument's breathing
PASSED = 0.03  # this far behind the best, the peak was passed
LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ = 220.0, 880.0


class Turning(Frozen):
    """A figure while it is turned; `target` and `tolerance` in the figure's own unit."""

    aim: Aim
    target: float | None = None
    tolerance: float = 0.0
    found: float | None = None
    now: float | None = None
    best: float | None = None
    beyond: float | None = None  # the worst since the best: where the peak was passed to
    going: Literal["better", "worse", "still"] = "still"
    passed: bool = False
    on_target: bool = False
    note: Note | None = None  # sounded once, at the reading that earned it

    def off(self, value: float) -> float:
        """How bad a value is: the smaller the better."""
        if self.aim == "target":
            return abs(value - (self.target or 0.0))
        return -value if self.aim == "peak" else value

    def after(self, value: float) -> "Turning":
        """The state after one more reading."""
        found = value if self.found is None else self.found
        if self.now is None or self.best is None:
            return self.model_copy(
                update={"found": found, "now": value, "best": value, "on_target": self._meets(value)}
            )
        scale = max(abs(self.best), abs(value), 1e-12)
        change = self.off(self.now) - self.off(value)
        moved = abs(value - self.now) > MOVES * scale
        best = value if self.off(value) < self.off(self.best) else self.best
        beyond = self._beyond(value, MOVES * scale)
        behind = (self.off(value) - self.off(best)) / max(abs(best), 1e-12)
        on_target = self._meets(value)
        passed = self.aim != "target" and (behind > PASSED or (self.passed and behind > PASSED / 2))
        note: Note | None = None
        if on_target and not self.on_target:
            note = "triple"
        elif passed and not self.passed:
            note = "double"
        return self.model_copy(
            update={
                "found": found,
                "now": value if moved else self.now,
                "best": best,
                "beyond": beyond,
                "passed": passed,
                "on_target": on_target,
                "note": note,
                "going": ("better" if change > 0 else "worse") if moved else "still",
            }
        )

    def _beyond(self, value: float, much: float) -> float | None:
        """The worst since the best; none where the best is new by so much."""
        if self.best is None or self.off(self.best) - self.off(value) > much:
            return None
        return value if self.beyond is None else max(value, self.beyond, key=self.off)

    def on_the_way(self) -> tuple[float, ...]:
        """What was read from where it was found to where it is now, as far as it tells a peak from a slope."""
        told = (self.found, self.best, self.beyond) if self.aim != "target" else (self.found,)
        return tuple(value for value in told if value is not None)

    def _meets(self, value: float) -> bool:
        return self.target is not None and abs(value - self.target) <= self.tolerance

    @property
    def arrow(self) -> Literal["on", "back", "stop", "up", "down", "none"]:
        """What the hand should do: go on, go back, stop; for a target, which way the figure must go."""
        if self.now is None:
            return "none"
        if self.on_target:
            return "stop"
        if self.aim == "target":
            return "up" if self.now < (self.target or 0.0) else "down"
        if self.passed:
            return "back"
        return "none" if self.going == "still" else "on" if self.going == "better" else "back"

    @property
    def pitch_hz(self) -> float:
        """The tone that says how good the reading is: an octave each way of the middle, highest at the best."""
        if self.now is None or self.best is None:
            return LOWEST_PITCH_HZ
        goal = self.target if self.target is not None else self.best
        share = max(0.0, 1 - abs(self.now - goal) / max(abs(goal), 1e-12))
        return LOWEST_PITCH_HZ * math.pow(HIGHEST_PITCH_HZ / LOWEST_PITCH_HZ, share)
