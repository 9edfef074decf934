"""From a live value to a line of the slip: what was captured, what is taken now, and what the current line makes of
it meanwhile."""

import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from young_spark import steady_clock
from young_spark.core.entry import Repeated, understand
from young_spark.core.figure import Conditions, quantity
from young_spark.core.gear import PlanRow
from young_spark.core.live import (
    SOURCES,
    LiveName,
    Steady,
    captured_figure,
    captured_text,
    cell_of,
    conditions_of,
    is_loud,
    needs_no_carrier,
    repeat_half_width,
    steadiness_words,
    why_not_of_the_line,
)
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import bulletin
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.library.models import ShopInstrument
from young_spark.server.live.key_clock import KeyClock
from young_spark.server.live.latest import LatestValues, unit_of
from young_spark.server.live.seat import Seated
from young_spark.server.problems import Refused
from young_spark.server.readings import services as readings
from young_spark.server.readings.schemas import meaning_out
from young_spark.wire import CapturedMessage


@dataclass(frozen=True)
class _Taken:
    """What instruments gave for one quantity, and where it belongs; `raw` is kept with the line as it came."""

    quantity: str
    row: PlanRow | None
    current: str | None  # the slip's current row: chips of a point belong to it
    chips: Conditions
    values: Mapping[LiveName, float | None]
    instruments: Mapping[LiveName, str]
    steadiness: Steady | None
    raw: dict[str, Any]
    begins: str | None = None  # of a cell of a table: what a hand would have typed in front of the figure


class Taking:
    """Stores what live instruments gave; everything else of a line is the readings' own."""

    def __init__(self, values: LatestValues, clock: KeyClock) -> None:
        self._values, self._clock = values, clock
        # the text that was judged last for the seat, and what came of it: a value that stands still is judged once
        self._judged: tuple[Seated, tuple[str, str], dict[str, Any] | None] | None = None

    def store(self, captured: CapturedMessage, seated: Seated | None) -> None:
        """Store what was captured, once. Raises Refused or CoreError where it cannot be a line."""
        if Line.objects.filter(pk=captured.id).exists():
            return  # its acknowledgement was lost, not the line
        place = captured.place
        job, item = Job.objects.get(pk=place.job), Item.objects.get(pk=place.item)
        row = seated.state.row(captured.row) if seated and seated.seat.item_id == item.pk else None
        told = captured.model_dump(mode="json", include={"values", "instruments", "samples", "steadiness", "at"})
        taken = _Taken(
            quantity=captured.quantity,
            row=row,
            current=place.row,
            chips=place.conditions,
            values=captured.values,
            instruments=captured.instruments,
            steadiness=captured.steadiness,
            raw=told,
            begins=cell_of(captured.row),
        )
        line = self._store(Person.objects.get(pk=place.by), job, item, captured.id, taken)
        figure, verdict = readings.figure_of(line)
        name = quantity(captured.quantity).name
        bulletin.publish(
            "captured",
            {"job": str(job.pk), "line": str(line.pk), "name": name, "figure": figure, "verdict": verdict},
        )

    def take_now(self, place: Seated | None, *, actor: Person, line_id: uuid.UUID) -> Line:
        """Take what the instruments show now for the current line: Space. Raises Refused where none of them gives
        it."""
        require_technician(actor)
        if place is None:
            raise Refused("No slip is open at the live bench.")
        wanted = place.row.quantity if place.row else "carrier_power"
        names, known, now = SOURCES.get(wanted, ()), self._values.by_name, self._values.now()
        if not names or any(name not in known for name in names):
            raise Refused(f"No instrument that talks gives {quantity(wanted).name.lower()}: type it.")
        if not self._clock.up and not needs_no_carrier(place.row):
            raise Refused(
                "No carrier is seen. If it is keyed and gives nothing, say so with the key for KEY, then take it."
            )
        if why := why_not_of_the_line(place.row, now, up=self._clock.up) or self._silence(names):
            raise Refused(why)
        values = {name: now.get(name) for name in names}
        instruments = {name: known[name].instrument for name in names}
        taken = _Taken(
            quantity=wanted,
            row=place.row,
            current=place.seat.row,
            chips=place.conditions,
            values=values,
            instruments=instruments,
            steadiness=None,
            raw={"values": values, "instruments": instruments, "at": steady_clock.now()},
        )
        return self._store(actor, place.seat.job, place.seat.item, line_id, taken)

    def _silence(self, names: tuple[LiveName, ...]) -> str:
        """Who of the instruments asked for these values has fallen silent: that is no reading of nothing. Empty where
        all of them speak."""
        for name in names:
            if (silent_s := self._values.silent_s(name)) is not None:
                talks = ShopInstrument.objects.get(pk=self._values.by_name[name].instrument)
                return f"{talks.name} has said nothing for {silent_s:.0f} s: wait until it does, or type it."
        return ""

    def _store(self, actor: Person, job: Job, item: Item, line_id: uuid.UUID, taken: _Taken) -> Line:
        name = SOURCES[taken.quantity][0]
        instrument, row = taken.instruments[name], taken.row
        return readings.take_line(
            actor=actor,
            line_id=line_id,
            text=self._text(taken, instrument, name),
            job=job,
            item=item,
            conditions=conditions_of(row, taken.chips, instrument, keyed=self._clock.up, current=taken.current),
            row=row.id if row else None,
            captured=taken.raw,
            repeated=_repeated(taken),
        )

    def _text(self, taken: _Taken, instrument: str, name: LiveName) -> str:
        """What a hand would have typed."""
        begins = taken.begins or ""
        if self._values.is_nothing(instrument, name, taken.values[name]):
            return f"{begins}none"
        given = {n: v for n, v in taken.values.items() if v is not None}
        if begins:
            return f"{begins}{captured_figure(taken.quantity, given)}"
        return captured_text(taken.quantity, given, taken.row.state if taken.row else None)

    def current(self, place: Seated | None) -> dict[str, Any] | None:
        """What the current line makes of the values of now, judged; None where there is nothing to judge."""
        if place is None:
            return None
        row, now = place.row, self._values.now()
        wanted = row.quantity if row is not None else "carrier_power"
        names = SOURCES.get(wanted, ())
        if not names or names[0] not in now or not self._is_of_the_line(row, wanted, now[names[0]]):
            return None
        instrument = self._values.by_name[names[0]].instrument
        try:
            text = captured_text(wanted, {n: now[n] for n in names if n in now}, row.state if row else None)
        except KeyError:
            return None
        conditions = conditions_of(row, place.conditions, instrument, keyed=self._clock.up, current=place.seat.row)
        meaning = self._meant(place, row, text, conditions)
        return None if meaning is None else {"row": row.id if row else None, "meaning": meaning}

    def _is_of_the_line(self, row: PlanRow | None, wanted: str, value: float) -> bool:
        """Whether the limits of a line speak of what is shown now; before the whistle there is nothing to judge."""
        if not (self._clock.up or needs_no_carrier(row)):
            return False
        if row is not None and row.modulation == "on" and not is_loud(wanted, value):
            return False
        return not why_not_of_the_line(row, self._values.now(), up=self._clock.up)

    def _meant(self, place: Seated, row: PlanRow | None, text: str, conditions: Conditions) -> dict[str, Any] | None:
        asked = (text, conditions.model_dump_json())
        judged = self._judged  # another thread may judge meanwhile
        if judged is None or judged[0] is not place or judged[1] != asked:
            meant = understand(text, place.context(row, conditions))
            chosen = None if meant.chosen is None else meaning_out(meant.meanings[meant.chosen]).model_dump(mode="json")
            judged = self._judged = (place, asked, chosen)
        return judged[2]


def _repeated(taken: _Taken) -> Repeated | None:
    """The doubt and the words that a captured mean brings."""
    if taken.steadiness is None:
        return None
    half_width = 0.0 if taken.quantity == "swr" else repeat_half_width(taken.steadiness)
    unit = unit_of(SOURCES[taken.quantity][0])
    return Repeated(half_width=half_width, words=steadiness_words(taken.steadiness, unit))
