"""What pages may do at the live bench."""

import uuid
from collections.abc import Iterable, Sequence
from typing import Any

from django.db import transaction

from young_spark import steady_clock
from young_spark.core.figure import Conditions, quantity
from young_spark.core.live import LIVE_QUANTITIES, LiveName, Turning
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import bulletin
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.library.models import ShopInstrument
from young_spark.server.live import seat as seats
from young_spark.server.live.bench import live_bench
from young_spark.server.live.models import Seat, Watch
from young_spark.server.live.traces import at_hand
from young_spark.server.live.turning import followed, turned_line
from young_spark.server.problems import Refused

TOLERANCE = 0.01  # of a target, where nothing better is said


def snapshot() -> dict[str, Any]:
    """The live bench for a page that opens."""
    event = bulletin.newest  # before anything is read: a page that heard a later event knows better
    bench = live_bench()
    shown = bench.shown()
    names = dict(ShopInstrument.objects.exclude(address="").values_list("id", "name"))
    states = {name: line for name, line in bench.presence.lines.items() if name in names}
    place = bench.seated
    watch = Watch.objects.filter(ended_at=None).first()
    return {
        "event": event,
        "now": steady_clock.now(),
        "present": bench.presence.present,
        "talking": len(names),
        "connected": [names[n] for n, s in states.items() if s.connected],
        "faults": [f"{names[n]}: {s.sentence}" for n, s in states.items() if not s.connected],
        "up": bench.clock.up,
        "job": place.seat.job_id if place else None,
        "say": bench.say,
        "keying": bench.clock.word,
        "values": shown["values"],
        "current": shown["current"],
        "turn": bench.turn_shown() or None,
        "watch": watch.pk if watch else None,
        "traces": at_hand(),
        "turnable": sorted(
            turnable_by({v for n, s in states.items() if s.connected for v in bench.values.given_by(n)})
        ),
    }


def turnable_by(values: Iterable[LiveName]) -> set[str]:
    """What can be turned with these live values in sight: the quantity of each, and of a frequency its error."""
    return {LIVE_QUANTITIES[v] for v in values} | ({"frequency_error"} if "frequency" in values else set())


def sit(
    *,
    actor: Person,
    job: Job,
    item: Item,
    row: str | None,
    conditions: Conditions,
    along: Sequence[str] = (),
    follows: bool = False,
) -> None:
    """Sit down with a slip, or follow its current line while it still sits there; `along` are the cells of a table's
    row that it walks along."""
    seats.take_seat(actor=actor, job=job, item=item, row=row, conditions=conditions, along=along, follows=follows)
    live_bench().seat_changed()


def told(*, actor: Person, keyed: bool) -> None:
    """A hand says that it keyed, or let go."""
    require_technician(actor)
    live_bench().told_of_key(keyed)


def find(*, actor: Person) -> None:
    """Search the lines."""
    require_technician(actor)
    live_bench().find()


@transaction.atomic
def begin_turn(
    *, actor: Person, adjuster: str, wanted: str, aim: str, target: float | None, allowed: float | None = None
) -> None:
    """Begin turning; the plan's own figure is the target where none is said, `allowed` how far from it is right."""
    require_technician(actor)
    place = live_bench().seated
    if place is None:
        raise Refused("Open a slip first: what is turned belongs to it.")
    if wanted not in turnable_by(LIVE_QUANTITIES):
        raise Refused("No instrument that talks can give that figure.")
    if aim == "target" and target is None:
        raise Refused("What is the target?")
    assigned = place.state.context(place.conditions, place.row.id if place.row else None).assigned_hz()
    error = wanted == "frequency_error"
    if error and assigned is None:
        raise Refused("Which channel? A frequency error needs an assigned frequency.")
    tolerance = allowed or (20.0 if error else TOLERANCE * abs(target) if target is not None else 0.0)
    turning = Turning(aim=aim, target=target if aim == "target" else None, tolerance=tolerance)
    seat = Seat.objects.get(pk=place.seat.pk)  # as it is inside of this transaction
    seat.turn = {
        "adjuster": adjuster.strip(),
        "quantity": "carrier_frequency" if error else wanted,
        "unit": quantity(wanted).unit,
        "assigned_hz": assigned if error else None,
        "turning": turning.model_dump(),
    }
    seat.save(update_fields=["turn"])
    transaction.on_commit(live_bench().turn_anew)


@transaction.atomic
def end_turn(*, actor: Person, line_id: uuid.UUID, keep: bool) -> Line | None:
    """Stop turning; with `keep`, found and left go onto the slip as one line."""
    require_technician(actor)
    place, turning = live_bench().seated, live_bench().turned.turning
    if place is None or place.seat.turn is None or turning is None:
        if line := Line.objects.filter(pk=line_id).first():
            return line  # the answer was lost, not the line
        raise Refused("Nothing is being turned.")
    line = None
    if keep:
        if turning.found is None or turning.now is None:
            raise Refused("Nothing was read yet: key it, or leave without a line.")
        heard = live_bench().values.by_name.get(followed(place.seat.turn))
        line = turned_line(actor, line_id, place, turning, heard.instrument if heard else None)
    Seat.objects.filter(pk=place.seat.pk).update(turn=None)
    transaction.on_commit(live_bench().seat_changed)
    return line
