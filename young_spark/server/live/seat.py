"""The seat: the slip that the live instruments belong to, what its plan still wants, and what its duties allow."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from django.db import transaction
from django.utils import timezone

from young_spark.core.entry import EntryContext
from young_spark.core.figure import Conditions, instrument_classes
from young_spark.core.gear import PlanRow
from young_spark.core.live import (
    CellWanted,
    LookedFor,
    Wanted,
    carrier_was_read,
    cells_wanted,
    looked_for,
    not_yet_keyed,
)
from young_spark.core.path import Duty
from young_spark.core.path.guard import duties as path_duties
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.benches.services import Guarded, guarded, in_use, resumed
from young_spark.server.jobs.models import Item, Job
from young_spark.server.library.models import ShopInstrument
from young_spark.server.live.models import Seat, Watch
from young_spark.server.problems import Conflict
from young_spark.server.readings.state import State, state_of
from young_spark.wire import LookFor, Place


@dataclass(frozen=True)
class Seated:
    """The seat with everything that follows from it, worked out once until the slip changes."""

    seat: Seat
    state: State
    row: PlanRow | None  # the current line, where the plan has one
    looked_for: LookedFor
    cells: tuple[CellWanted, ...]  # of a table's row that a hand walks along: they come before the plan's lines
    busy: bool  # something is turned or watched: what is seen then is no reading of the plan

    @property
    def conditions(self) -> Conditions:
        """The chips as the slip has them."""
        return Conditions.model_validate(self.seat.conditions)

    def context(self, row: PlanRow | None, conditions: Conditions) -> EntryContext:
        """What decides the meaning of a live value at a row."""
        return self.state.context(conditions, row.id if row else None)

    @cached_property
    def guarded(self) -> Guarded | None:
        """The path in use with what it would do; None without one."""
        row = in_use(self.seat.job)
        return guarded(self.seat.job, row) if row is not None else None

    @property
    def barred(self) -> str:
        """Why it must not be keyed at all: the unit is not safe, or the path is not. An empty string where it may."""
        if self.state.locked_because:
            return f"not safe to power: {self.state.locked_because}"
        return self.guarded.barred if self.guarded is not None else ""

    @property
    def not_yet(self) -> str | None:
        """Why nothing is to be keyed now; None where it is time."""
        model = self.state.model
        high_voltage = bool(model and model.high_voltage)
        return not_yet_keyed(self.state.wanted, self.state.facts, self.row, high_voltage=high_voltage)

    @property
    def carrier_was_read(self) -> bool:
        """Whether this unit was keyed and read on this job before."""
        return carrier_was_read(self.state.facts)

    def sought(self, names: Sequence[str]) -> list[PlanRow]:
        """The lines and cells of these ids."""
        cells = {cell.row.id: cell.row for cell in self.cells}
        return [row for name in names if (row := cells.get(name) or self.state.row(name)) is not None]

    def with_the_row(self, words: str) -> str:
        """What is looked for, with the row of the table that it belongs to: no line of the plan stands there."""
        return f"{self.cells[0].where}: {words}" if self.cells and words else words

    def order(self) -> LookFor:
        """What the bench process is to look for."""
        seat = self.seat
        place = Place(job=seat.job_id, item=seat.item_id, by=seat.by_id, conditions=self.conditions, row=seat.row)
        if self.busy:
            wanted: tuple[Wanted, ...] = ()
        elif self.cells:
            wanted = tuple(cell.wanted(self.context(None, cell.conditions).assigned_hz()) for cell in self.cells)
        else:
            wanted = tuple(self._wanted(row) for row in self.looked_for.rows)
        carrier = next((w.assigned_hz for w in wanted if w.here and w.assigned_hz), None)
        expected = carrier or self.context(self.row, self.conditions).assigned_hz()
        return LookFor(place=place, rows=wanted, carrier_hz=expected)

    def _wanted(self, row: PlanRow) -> Wanted:
        return Wanted(
            row=row.id,
            quantity=row.quantity,
            modulation=row.modulation,
            assigned_hz=self.context(row, row.conditions(Conditions())).assigned_hz(),
            here=row.id in self.looked_for.here,
        )


@transaction.atomic
def take_seat(
    *,
    actor: Person,
    job: Job,
    item: Item,
    row: str | None,
    conditions: Conditions,
    along: Sequence[str] = (),
    follows: bool = False,
) -> Seat:
    """Sit down with a slip: the live instruments belong to it from now on.

    What only `follows` its own seat changes nothing once another slip sits there: a page may learn of that late."""
    require_technician(actor)
    if job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")
    seat = Seat.objects.filter(pk=1).first() or Seat(pk=1)
    if follows and seat.job_id != job.pk:
        return seat
    if seat.item_id != item.pk:
        seat.turn = None
    if seat.job_id != job.pk:
        resumed(job)
    seat.job, seat.item, seat.by, seat.row, seat.at = job, item, actor, row, timezone.now()
    seat.along = list(along)
    seat.conditions = conditions.model_dump(exclude_unset=True)  # what the hand set, emptied chips too
    seat.save()
    return seat


def seated() -> Seated | None:
    """The seat as it stands, read anew; None while nobody sits."""
    seat = Seat.objects.select_related("job", "item", "by").filter(pk=1).first()
    if seat is None or seat.job.handed_back_at is not None:
        return None
    state = state_of(seat.job, seat.item)
    row = state.row(seat.row)
    busy = seat.turn is not None or Watch.objects.filter(ended_at=None).exists()
    chips = Conditions.model_validate(seat.conditions)
    cells = cells_wanted(seat.along, state.context(chips, None)) if seat.along else ()
    return Seated(seat, state, row, looked_for(state.open_lines, row), cells, busy)


def duties(place: Seated, connected: set[str]) -> list[Duty]:
    """Whose key-down time counts: the unit's, the loads' (those of the path where one is in use), and that of each
    connected instrument."""
    found: list[Duty] = []
    model, path = place.state.model, place.guarded
    if path is not None:
        found += path_duties(path.path, path.found)
    if model is not None and model.key_down_s is not None:
        found.append(
            Duty(name=model.title, key_down_s=model.key_down_s, cool_off_s=model.cool_off_s or model.key_down_s)
        )
    for row in ShopInstrument.objects.all():
        if row.pk not in connected and (row.kind != "load" or path is not None):
            continue
        base = instrument_classes()[row.kind]
        key_down, cool = row.key_down_s or base.key_down_s, row.cool_off_s or base.cool_off_s
        if key_down is not None:
            found.append(Duty(name=row.name, key_down_s=key_down, cool_off_s=cool or key_down))
    return found
