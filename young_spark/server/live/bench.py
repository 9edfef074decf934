"""The live bench as the web knows it: what the bench process says goes to the part that it concerns, what pages do
goes back as orders. One object a process.

What must outlive this process is in the database; the rest comes again when the bench process does."""

import logging
import threading
import uuid
from collections.abc import Callable, Mapping
from typing import Any

from django.core.exceptions import ObjectDoesNotExist
from django.db import OperationalError

from young_spark import steady_clock, wire
from young_spark.core.figure import format_value, quantity
from young_spark.core.ground import CoreError
from young_spark.core.job import row_label
from young_spark.server.accounts.models import Person
from young_spark.server.bulletin import bulletin
from young_spark.server.jobs.models import Line
from young_spark.server.live import watch_parts
from young_spark.server.live.key_clock import KeyClock
from young_spark.server.live.latest import LatestValues
from young_spark.server.live.presence import Presence, talking
from young_spark.server.live.requests import Requests
from young_spark.server.live.seat import Seated, seated
from young_spark.server.live.taking import Taking
from young_spark.server.live.turning import Turned
from young_spark.server.problems import Refused

SendOrder = Callable[[wire.Order], None]
Act = Callable[[], None]
Aside = Callable[[Act], object]
TRACE_S = 8.0  # a sweep takes its time
TRIAL_S = 30.0  # a line that was asked for several answers, none of which is due to come within its patience
log = logging.getLogger(__name__)


class LiveBench:
    """The parts, and one lock: one thing at a time changes where the bench stands.

    Live values are shown in the thread that hears them. What was captured, and everything else that needs the disk,
    is done `captures` and `others`, threads of their own where the server gives some."""

    def __init__(self, captures: Aside | None = None, others: Aside | None = None) -> None:
        self.presence = Presence()
        self.values = LatestValues()
        self.clock = KeyClock(self.presence, self.values)
        self.taking = Taking(self.values, self.clock)
        self.turned = Turned(self.values, self.clock)
        self.traces: Requests[wire.AskTrace, wire.Traced] = Requests("trace", TRACE_S)
        self.trials: Requests[wire.TryLine, wire.Tried] = Requests("answer", TRIAL_S)
        self.say = ""  # the sentence that pages show
        self.held: set[uuid.UUID] = set()  # captured, and not stored because the data file could not be written
        self._storing: set[uuid.UUID] = set()
        self.captures, self.others = captures or _at_once, others or _at_once
        self._order: SendOrder = lambda order: None
        self._lock = threading.RLock()
        self._seated: Seated | None = None
        self._seat_known = False
        self._told_of: uuid.UUID | None = None  # whose slip pages were told has the instruments

    # orders ---------------------------------------------------------------------------------------------------------

    def connect(self, order: SendOrder) -> None:
        """Have a way to give orders to the bench process."""
        self._order = order

    def looking(self, looking: bool) -> None:
        """A page that shows live values was opened, or the last one closed."""
        level = "turning" if self.turned.turning is not None else "looking"
        self._order(wire.Attend(level=level if looking else "idle"))

    def send_instruments(self) -> None:
        """Tell the bench process which instruments talk."""
        order, known = talking()
        self.values.know_floors({name: {g.value: g.floor for g in d.given} for name, d in known.items()})
        self._order(order)

    def find(self) -> None:
        """Have the lines of this machine searched; the answer comes as an event `found`. Raises Refused without a
        bench process."""
        self._must_be_there()
        self._order(wire.FindLines())

    def trace(self, instrument: str, name: str) -> wire.Traced:
        """Have an instrument hand over a trace, and wait for it. Raises Refused with why not."""
        self._must_be_there()
        return self.traces.ask(self._order, wire.AskTrace(id=str(uuid.uuid4()), instrument=instrument, trace=name))

    def try_line(self, order: wire.TryLine) -> wire.Tried:
        """Send something on a line as it was typed, and wait for what comes back. Raises Refused with why nothing
        does."""
        self._must_be_there()
        return self.trials.ask(self._order, order)

    def order_watch(self, order: wire.KeepWatch) -> None:
        """Have the bench process watch, or stop."""
        self._order(order)

    def _must_be_there(self) -> None:
        if not self.presence.present:
            raise Refused("The bench process is not there; it is being started again.")

    # the seat -------------------------------------------------------------------------------------------------------

    @property
    def seated(self) -> Seated | None:
        """The seat, read once until the slip changes."""
        if not self._seat_known:
            self._seated, self._seat_known = seated(), True
        return self._seated

    def seat_changed(self) -> None:
        """The slip, its current line or its chips changed: work out anew what is wanted."""
        with self._lock:
            # until it is read anew, live values go by the seat as it was
            place = self._seated = seated()
            self._seat_known = True
            if place is None:
                return
            self.clock.sit(place)
            self.turned.sit(place)
            self._order(place.order())
            self.clock.work_out(place)
            if place.seat.job_id != self._told_of:
                self._told_of = place.seat.job_id
                bulletin.publish("seat", {"seat": str(place.seat.job_id)})
        self.looking(bulletin.looking)

    def turn_anew(self) -> None:
        """Begin to turn what the seat says now."""
        self.turned.turning = None
        self.seat_changed()

    def told(self, kind: str, data: Mapping[str, Any]) -> None:
        """Something was published: what changed on the seat's slip, or how an instrument is asked, is gone by."""
        if kind == "definitions":
            self.send_instruments()
        elif kind == "job" and self._seated is not None and data.get("job") == str(self._seated.seat.job_id):
            self.seat_changed()

    # what the bench process says --------------------------------------------------------------------------------------

    def hear(self, message: wire.FromBench) -> None:
        """One message of the bench process."""
        match message:
            case wire.ValuesMessage():
                _told(message, lambda: self._hear_values(message))
            case wire.SpectrumMessage():
                if bulletin.looking:
                    bulletin.publish("spectrum", message.model_dump(exclude={"kind"}), kept=False)
            case wire.Traced():
                self.traces.answered(message)
            case wire.Tried():
                self.trials.answered(message)
            case wire.CapturedMessage():
                if message.id not in self._storing:  # sent again while it waits for its turn
                    self._storing.add(message.id)
                    self.captures(lambda: self._store(message))
            case _:
                if isinstance(message, wire.LineState) and not message.connected:
                    self.values.forget(message.instrument)  # at once: no figure of before a fault is taken after it
                self.others(lambda: _told(message, lambda: self._hear_in_turn(message)))

    def _store(self, captured: wire.CapturedMessage) -> None:
        _told(captured, lambda: self._hear_captured(captured))
        self._storing.discard(captured.id)

    def gone(self) -> None:
        """The bench process went."""
        self.values.forget(None)
        self.others(self._hear_gone)

    def _hear_gone(self) -> None:
        with self._lock:
            self.presence.gone()

    def _hear_in_turn(self, message: wire.FromBench) -> None:
        with self._lock:
            match message:
                case wire.Hello():
                    self._hear_hello()
                case wire.LineState():
                    if self.presence.stands(message):
                        self.seat_changed()
                case wire.CarrierMessage():
                    if message.up != self.clock.up or message.again:
                        self.carrier(message.up, message.at)
                case wire.Left():
                    self.clock.left = message.rows
                    self.clock.work_out(self.seated)
                case wire.MisplacedMessage():
                    self._say(self._where(message.frequency_hz))
                case wire.UnseenMessage():
                    self._say("No instrument here sees modulation: keep quiet, and take it with Space.")
                case wire.FoundMessage():
                    bulletin.publish("found", message.model_dump(include={"addresses"}))
                case wire.Watched():
                    watch_parts.store(message)
                case wire.NotUnderstoodMessage():
                    log.warning("the bench process did not understand %s: %s", message.of, message.why)

    def _hear_hello(self) -> None:
        self.presence.present = True
        self.send_instruments()
        if (order := watch_parts.going_on()) is not None:
            self._order(order)
        self.seat_changed()
        self.looking(bulletin.looking)

    def _hear_values(self, answer: wire.ValuesMessage) -> None:
        self.presence.heard(answer)
        if not answer.values:
            return  # it is there, and gives traces only
        self.values.heard(answer)
        if self.turned.turning is not None:
            with self._lock:
                self.turned.follow(self.seated)
        if bulletin.looking:
            bulletin.publish("live", self.shown(), kept=False)
        # who has the lock works the word out too, or the next value does
        if self.clock.up and self._lock.acquire(blocking=False):
            try:
                self.clock.work_out(self.seated)
            finally:
                self._lock.release()

    def _hear_captured(self, captured: wire.CapturedMessage) -> None:
        """Store it, and say so to the bench process; what cannot be stored now it holds, and sends again."""
        try:
            self.taking.store(captured, self.seated)
        except (OperationalError, OSError) as problem:
            log.error("%s could not be stored: %s", quantity(captured.quantity).name, problem)
            self._hold(captured)
            return
        except (Refused, CoreError) as refusal:
            self._say(f"{quantity(captured.quantity).name} was not taken: {refusal}")
        except ObjectDoesNotExist:
            self._say(f"{quantity(captured.quantity).name} was not taken: its slip is not here any more.")
        if captured.id in self.held:
            self.held.discard(captured.id)
            if not self.held:
                self._say("What was held is stored now.")
        self._order(wire.Acknowledged(id=captured.id))

    def _hold(self, captured: wire.CapturedMessage) -> None:
        self.held.add(captured.id)
        count = len(self.held)
        what = "One reading is" if count == 1 else f"{count} readings are"
        self._say(f"{what} held at the bench: the data file cannot be written. Stored as soon as it can be; make room.")

    def _where(self, hz: float) -> str:
        """Where a carrier stands that is not where it is wanted."""
        place = self.seated
        plan = place.state.context(place.conditions, None).channel_plan if place else None
        channel = plan.on_channel(hz) if plan else None
        where = f", channel {channel.number}" if channel else ""
        due = f"; the line wants {row_label(place.row)}" if place and place.row else ""
        if place and place.cells:
            due = f"; the table's row is {place.cells[0].row.ask}"
        return f"The counter reads {format_value(hz, 'Hz', figures=7)}{where}{due}."

    def _say(self, sentence: str) -> None:
        self.say = sentence
        bulletin.publish("say", {"sentence": sentence})

    # what hands do ----------------------------------------------------------------------------------------------------

    def carrier(self, up: bool, at: float, *, by_hand: bool = False) -> None:
        """The carrier came or went, seen by an instrument or told with a key; `at` in s since 1970."""
        with self._lock:
            self.say = ""
            place = self.seated
            if self.clock.carrier(place, up, at, by_hand=by_hand):
                self.seat_changed()
            bulletin.publish("carrier", {"up": up, "at": at, "job": str(place.seat.job_id) if place else None})
            self.clock.work_out(self.seated)

    def told_of_key(self, keyed: bool) -> None:
        """A hand says that it keyed, or let go. Raises Refused without a slip."""
        if self.seated is None:
            raise Refused("Open a slip first: the clock is the unit's.")
        self.carrier(keyed, steady_clock.now(), by_hand=True)

    def take_now(self, *, actor: Person, line_id: uuid.UUID) -> Line:
        """Take what the instruments show now for the current line: Space. Raises Refused where none of them gives
        it."""
        with self._lock:
            return self.taking.take_now(self.seated, actor=actor, line_id=line_id)

    # for pages --------------------------------------------------------------------------------------------------------

    def shown(self) -> dict[str, Any]:
        """Values of now, and what the current line makes of them."""
        up = self.clock.up
        return {"values": self.values.shown(up=up), "up": up, "current": self.taking.current(self.seated)}

    def turn_shown(self) -> dict[str, Any]:
        """The turning for a page; empty where nothing is turned."""
        return self.turned.shown(self.seated)


def _at_once(act: Act) -> None:
    act()


def _told(message: wire.FromBench, act: Act) -> None:
    """What goes wrong with one message is told, and the next one is heard."""
    try:
        act()
    except Exception:
        log.exception("%s of the bench process could not be heard", message.kind)


class _Installed:
    """The one live bench of this process."""

    bench: LiveBench | None = None


def install(bench: LiveBench) -> LiveBench:
    """Make a live bench the one of this process, in the place of any before it."""
    _Installed.bench = bench
    bulletin.listen("live bench", bench.told)
    return bench


def live_bench() -> LiveBench:
    """The live bench of this process; one without a bench process where the server made none."""
    return _Installed.bench or install(LiveBench())
