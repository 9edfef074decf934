"""Turning an adjuster with a live instrument in sight."""

import uuid
from typing import Any

from young_spark.core.entry import StoryLine, area_turned
from young_spark.core.figure import format_value, quantity
from young_spark.core.live import LIVE_QUANTITIES, LiveName, Turning, captured_text, conditions_of
from young_spark.server.accounts.models import Person
from young_spark.server.bulletin import bulletin
from young_spark.server.jobs.models import Line
from young_spark.server.live.key_clock import KeyClock
from young_spark.server.live.latest import LatestValues
from young_spark.server.live.seat import Seated
from young_spark.server.readings.services import take_line

SETTLED_S = 0.4  # relay, rail and meter need it before a figure is the one that was found
WITHOUT_CARRIER: frozenset[LiveName] = frozenset({"volts", "amps", "level", "sinad"})


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
        name = followed(place.seat.turn)
        if (value := self._values.now().get(name)) is None:
            return
        # by when it was measured: this may be the answer of another instrument, or one that waited in the line
        settled = self._clock.up and self._values.by_name[name].at - self._clock.up_since > SETTLED_S
        if not (name in WITHOUT_CARRIER or (settled and self._is_sent())):
            return
        before = self.turning
        self.turning = before.after(
            value - place.seat.turn["assigned_hz"] if place.seat.turn.get("assigned_hz") else value
        )
        if before.found is None:
            place.seat.turn |= {"turning": self.turning.model_dump()}
            place.seat.save(update_fields=["turn"])  # what was found is on disk before anything is turned far
        bulletin.publish("turn", self.shown(place), kept=False)

    def _is_sent(self) -> bool:
        """Whether there is power, where a meter of it tells: a hand that lets the key go with the same breath in which
        it takes the figure left no adjuster at nothing."""
        power = self._values.by_name.get("power")
        return power is None or not self._values.is_nothing(power.instrument, "power", power.value)

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
            "name": quantity(_wanted(turn)).name,
            "aim": self.turning.aim,
            "words": words,
            "arrow": self.turning.arrow,
            "note": self.turning.note,
            "pitch_hz": round(self.turning.pitch_hz, 1),
            "live": followed(turn) in self._values.now(),
            "now": self.turning.now,
            "best": self.turning.best,
            "found": self.turning.found,
            "target": self.turning.target,
        }


def followed(turn: dict[str, Any]) -> LiveName:
    """The live value that is followed while something is turned."""
    return next(n for n, q in LIVE_QUANTITIES.items() if q == turn["quantity"])


def _wanted(turn: dict[str, Any]) -> str:
    """The quantity that is turned to: on an assigned frequency a counter's figure is the error."""
    return "frequency_error" if turn.get("assigned_hz") else str(turn["quantity"])


def turned_line(actor: Person, line_id: uuid.UUID, place: Seated, turning: Turning, instrument: str | None) -> Line:
    """The adjustment on the slip: what was found, what is left, and that as the reading of an instrument that it is.
    What is turned must have been read."""
    told = place.seat.turn or {}
    assigned_hz = told.get("assigned_hz")
    wanted = _wanted(told)
    ends = (format_value(v or 0.0, told["unit"], figures=3) for v in (turning.found, turning.now))
    found, left = (shown.replace(" ", "") for shown in ends)
    words = f"turned {told['adjuster']} {found} -> {left}"
    story = StoryLine(
        kind="adjusted", words=words, adjuster=told["adjuster"], value_found=found, value_left=left,
        area=area_turned(words.lower()), on_the_way=turning.on_the_way(),
    )  # fmt: skip
    row = place.row if place.row is not None and place.row.quantity == wanted else None
    value = (turning.now or 0.0) + (assigned_hz or 0.0)
    conditions = place.conditions
    if instrument is not None:
        conditions = conditions_of(row, conditions, instrument, keyed=True, current=place.seat.row)
    return take_line(
        actor=actor, line_id=line_id, text=captured_text(wanted, {followed(told): value}),
        job=place.seat.job, item=place.seat.item, conditions=conditions, row=row.id if row else None, turned=story,
    )  # fmt: skip
