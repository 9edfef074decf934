"""The seat: the slip that the live instruments belong to, what its plan still wants, and what its duties allow."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.db import transaction
from django.utils import timezone

from young_spark.core.entry import EntryContext
from young_spark.core.figure import Conditions, instrument_classes, quantity
from young_spark.core.gear import OF_THE_POINT, PlanRow
from young_spark.core.live import SOURCES
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

OF_THE_INSTRUMENT = ("element_w", "reflected_element_w", "multiplier", "pad_db", "pad_bound_db", "path", "detector")


@dataclass(frozen=True)
class Seated:
    """The seat with everything that follows from it, worked out once until the slip changes."""

    seat: Seat
    state: State
    row: PlanRow | None  # the current line, where the plan has one
    wanted: tuple[PlanRow, ...]  # what live instruments can give, in the current line's mode and power setting
    here: frozenset[str]  # of these, the ones at its point
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
    def carrier_was_read(self) -> bool:
        """Whether this unit was keyed and read on this job before."""
        return any(f.quantity == "carrier_power" or f.conditions.state == "transmit" for f in self.state.facts)

    def what_is_left(self, rows: list[str], *, modulated: bool) -> str:
        """What is still to be read in this key-down, in words: 'carrier power, frequency error', 'whistle: modulation depth'."""
        left = [row for name in rows if (row := self.state.row(name)) is not None]
        quiet = [row for row in left if row.modulation != "on"]
        names = ", ".join(dict.fromkeys(quantity(row.quantity).name.lower() for row in quiet or left))
        if quiet:
            return f"keep quiet: {names}" if modulated else names
        return f"whistle: {names}" if left else ""

    def orders(self) -> dict[str, Any]:
        """What the bench process is to look for."""
        return {
            "kind": "wanted",
            "place": {"job": str(self.seat.job_id), "item": str(self.seat.item_id), "by": self.seat.by_id, "conditions": self.seat.conditions, "row": self.seat.row},
            "rows": [
                {"row": row.id, "quantity": row.quantity, "modulation": row.modulation, "assigned_hz": self._assigned(row), "here": row.id in self.here}
                for row in (() if self.busy else self.wanted)
            ],
        }  # fmt: skip

    def _assigned(self, row: PlanRow) -> float | None:
        return self.context(row, row.conditions(Conditions())).assigned_hz()


@transaction.atomic
def take_seat(
    *, actor: Person, job: Job, item: Item, row: str | None, conditions: Conditions, follows: bool = False
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
    seat.conditions = conditions.model_dump(exclude_defaults=True)
    seat.save()
    return seat


def seated() -> Seated | None:
    """The seat as it stands, read anew; None while nobody sits."""
    seat = Seat.objects.select_related("job", "item", "by").filter(pk=1).first()
    if seat is None or seat.job.handed_back_at is not None:
        return None
    state = state_of(seat.job, seat.item)
    row = state.row(seat.row)
    able = [o.row for o in state.open_lines if o.row.quantity in SOURCES and o.row.state in {None, "transmit"}]
    busy = seat.turn is not None or Watch.objects.filter(ended_at=None).exists()
    point = row if row is not None and row in able else next(iter(able), None)
    if point is None:
        return Seated(seat, state, row, (), frozenset(), busy)
    wanted = tuple(r for r in able if (r.mode, r.power_setting) == (point.mode, point.power_setting) or r.mode is None)
    here = frozenset(
        r.id
        for r in wanted
        if (r.channel, r.frequency_hz) == (point.channel, point.frequency_hz)
        or (r.channel, r.frequency_hz) == (None, None)
    )
    return Seated(seat, state, row, wanted, here, busy)


def needs_no_carrier(row: PlanRow | None) -> bool:
    """Whether a row is read without keying: supply volts, and the currents of standby and receive."""
    supply = row is not None and row.quantity in {"supply_current", "supply_voltage"}
    return row is not None and supply and row.state != "transmit" and row.mode is None


def conditions_of(
    row: PlanRow | None, chips: Conditions, instrument: str, *, keyed: bool, current: str | None
) -> Conditions:
    """The conditions of a figure that a live instrument gave: the row's point, the chips, and of the chips that belong
    to an instrument only those of this one. Chips of a point belong to the `current` row and to no other."""
    if row is not None and row.id != current:
        chips = chips.model_copy(update={name: _plain(name) for name in OF_THE_POINT})
    base = row.conditions(chips) if row is not None else chips
    own = (
        base
        if base.instrument == instrument
        else base.model_copy(update={name: _plain(name) for name in OF_THE_INSTRUMENT})
    )
    changes: dict[str, object] = {"instrument": instrument}
    if keyed and own.modulation is None:
        changes["modulation"] = "off"
    return own.model_copy(update=changes)


def _plain(name: str) -> object:
    return Conditions.model_fields[name].default


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
