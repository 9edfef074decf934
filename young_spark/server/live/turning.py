"""Turning an adjuster with a live instrument in sight."""

from typing import Any

from young_spark import steady_clock
from young_spark.core.figure import format_value, quantity
from young_spark.core.live import LIVE_QUANTITIES, LiveName, Turning
from young_spark.server.bulletin import bulletin
from young_spark.server.live.key_clock import KeyClock
from young_spark.server.live.latest import LatestValues
from young_spark.server.live.seat import Seated

SETTLED_S = 0.4  # relay, rail and meter need it before a figure is the one that was found
WITHOUT_CARRIER: frozenset[LiveName] = frozenset({"volts", "amps"})


class Turned:
    """What is turned now, and where it stands; what was found is on the seat's row."""

    def __init__(self, values: LatestValues, clock: KeyClock) -> None:
        self.turning: Turning | None = None
        self._values, self._clock = values, clock

    def sit(self, place: Seated) -> None:
        """Go on with what the seat turns, or stop."""
        turn = place.seat.turn
        if (turn is None) != (self.turning is None):
            self.turning = Turning.model_validate(turn["turning"]) if turn else None

    def follow(self, place: Seated | None) -> None:
        """Follow the newest value."""
        if self.turning is None or place is None or place.seat.turn is None:
            return
        name = _followed(place.seat.turn)
        value = self._values.now().get(name)
        settled = self._clock.up and steady_clock.now() - self._clock.up_since > SETTLED_S
        if value is None or not (settled or name in WITHOUT_CARRIER):
            return
        before = self.turning
        self.turning = before.after(
            value - place.seat.turn["assigned_hz"] if place.seat.turn.get("assigned_hz") else value
        )
        if before.found is None:
            place.seat.turn |= {"turning": self.turning.model_dump()}
            place.seat.save(update_fields=["turn"])  # what was found is on disk before anything is turned far
        bulletin.publish("turn", self.shown(place), kept=False)

    def shown(self, place: Seated | None) -> dict[str, Any]:
        """The turning for a page; empty where nothing is turned."""
        if self.turning is None or place is None or place.seat.turn is None:
            return {}
        turn = place.seat.turn
        words = {
            n: format_value(v, turn["unit"], figures=3) if (v := getattr(self.turning, n)) is not None else ""
            for n in ("found", "now", "best", "target")
        }
        return {
            "adjuster": turn["adjuster"],
            "name": quantity(turn["quantity"]).name,
            "aim": self.turning.aim,
            "words": words,
            "arrow": self.turning.arrow,
            "note": self.turning.note,
            "pitch_hz": round(self.turning.pitch_hz, 1),
            "live": _followed(turn) in self._values.now(),
            "now": self.turning.now,
            "best": self.turning.best,
            "found": self.turning.found,
            "target": self.turning.target,
        }


def _followed(turn: dict[str, Any]) -> LiveName:
    return next(n for n, q in LIVE_QUANTITIES.items() if q == turn["quantity"])
