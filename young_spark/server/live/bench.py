"""The live bench as the web knows it: latest values, lines, carrier, the word for the hand. One object a process.

The bench process tells it things through `hear`; pages ask it through the API. What must outlive this process is in the
database; the rest comes again when the bench process does."""

import logging
import queue
import threading
import time
import uuid
from collections.abc import Callable
from typing import Any

from django.db import transaction
from django.utils import timezone

from young_spark.core.entry import Repeated, understand
from young_spark.core.figure import Conditions, format_value, quantity, sums
from young_spark.core.gear import PlanRow
from young_spark.core.ground import CoreError
from young_spark.core.job import row_label
from young_spark.core.live import (
    LIVE_QUANTITIES,
    QUIET_CREST,
    QUIET_DEPTH,
    SOURCES,
    Keying,
    LiveName,
    Seen,
    Steady,
    Turning,
    captured_text,
    definitions,
    is_loud,
    keying,
    repeat_half_width,
    steadiness_words,
)
from young_spark.core.live import KeyDown as Down
from young_spark.core.path import Duty
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.benches.services import key_down_ended
from young_spark.server.bulletin import bulletin
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.library.models import ShopInstrument
from young_spark.server.live.key_downs import clock_key_down, downs_of
from young_spark.server.live.models import Watch, WatchDrop, WatchPart
from young_spark.server.live.seat import Seated, conditions_of, duties, needs_no_carrier, seated
from young_spark.server.problems import Refused
from young_spark.server.readings import services as readings
from young_spark.server.readings.schemas import meaning_out

Order = Callable[[dict[str, Any]], None]
Aside = Callable[[Order, dict[str, Any]], object]
log = logging.getLogger(__name__)
SETTLED_S = 0.4  # relay, rail and meter need it before a figure is the one that was found
COLD_AGAIN_S = 600.0  # off for longer, an instrument has cooled
TRACE_S = 8.0  # a sweep takes its time
FRESH_S = 2.0  # an older value is not one of now


def _locked(act: Callable[["LiveBench", dict[str, Any]], None]) -> Callable[["LiveBench", dict[str, Any]], None]:
    """Have one thing at a time change where the bench stands."""

    def alone(bench: "LiveBench", message: dict[str, Any]) -> None:
        with bench._lock:
            act(bench, message)

    return alone


def _told(act: Order) -> Order:
    """What goes wrong with one message is told, and the next one is heard."""

    def telling(message: dict[str, Any]) -> None:
        try:
            act(message)
        except Exception:
            log.exception("%s of the bench process was not understood", message["kind"])

    return telling


class LiveBench:
    """Everything live, behind one lock; database work happens in the thread that brought the news."""

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._order: Order = lambda order: None
        # threads of their own, for what was captured and for everything else that needs the disk; live values do not wait for them
        self.captures: Aside | None = None
        self.others: Aside | None = None
        self.present = False
        self.states: dict[str, dict[str, Any]] = {}
        self.last: dict[str, dict[str, Any]] = {}  # instrument → its last answer
        self.values: dict[LiveName, dict[str, Any]] = {}
        self.up = False
        self.left: list[str] = []
        self.say = ""
        self.turning: Turning | None = None
        self.keying = Keying(word=None, why="")
        self._seated: Seated | None = None
        self._seat_known = False
        self._downs: list[Down] = []
        self._duties: list[Duty] = []
        self._first_key = False
        self._told_of: uuid.UUID | None = None  # whose slip pages were told has the instruments
        self._up_since = 0.0
        self._seen_at: dict[str, float] = {}
        self._floors: dict[str, dict[LiveName, float]] = {}
        self._traces: dict[str, queue.SimpleQueue[dict[str, Any]]] = {}  # who waits for a trace
        # the text that was judged last for the seat, and what came of it: a value that stands still is judged once
        self._judged: tuple[Seated, tuple[str, str], dict[str, Any] | None] | None = None
        bulletin.listen(self._on_event)

    # orders ---------------------------------------------------------------------------------------------------------

    def connect(self, order: Order) -> None:
        """Have a way to give orders to the bench process."""
        self._order = order

    def looking(self, looking: bool) -> None:
        """A page that shows live values was opened, or the last one closed."""
        level = "turning" if self.turning is not None else "looking"
        self._order({"kind": "attention", "level": level if looking else "idle"})

    def send_instruments(self) -> None:
        """Tell the bench process which instruments talk."""
        talking = ShopInstrument.objects.exclude(address="").order_by("position", "name")
        known = {i.pk: definitions().get(i.definition) for i in talking}
        self._floors = {
            name: {g.value: g.floor for a in d.asks for g in a.gives} for name, d in known.items() if d is not None
        }
        self._order(
            {
                "kind": "instruments",
                "instruments": [
                    {"id": i.pk, "name": i.name, "address": i.address, "definition": i.definition} for i in talking
                ],
            }
        )

    def find(self) -> None:
        """Have the lines of this machine searched; the answer comes as an event `found`."""
        self._order({"kind": "find"})

    def trace(self, instrument: str, name: str) -> dict[str, Any]:
        """Have an instrument hand over a trace, and wait for it: `start`, `stop`, `values`. Raises Refused with why not."""
        if not self.present:
            raise Refused("The bench process is not there; it is being started again.")
        trace_id = str(uuid.uuid4())
        answer = self._traces[trace_id] = queue.SimpleQueue()
        try:
            self._order({"kind": "trace", "id": trace_id, "instrument": instrument, "trace": name})
            found = answer.get(timeout=TRACE_S)
        except queue.Empty:
            raise Refused(f"No trace within {TRACE_S:g} s.") from None
        finally:
            del self._traces[trace_id]
        if found["sentence"]:
            raise Refused(f"No trace: {found['sentence']}.")
        return found

    def order_watch(self, watch_id: str | None, began: float | None) -> None:
        """Have the bench process watch, or stop."""
        self._order({"kind": "watch", "id": watch_id, "began": began})

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
            self._downs = downs_of(place.seat.item)
            self._duties = duties(place, {name for name, s in self.states.items() if s["connected"]})
            turn = place.seat.turn
            if (turn is None) != (self.turning is None):
                self.turning = Turning.model_validate(turn["turning"]) if turn else None
            self._order(place.orders())
            self._rekey()
            if place.seat.job_id != self._told_of:
                self._told_of = place.seat.job_id
                bulletin.publish("seat", {"seat": str(place.seat.job_id)})
        self.looking(bulletin.looking)

    def _on_event(self, kind: str, data: dict[str, object]) -> None:
        if kind == "job" and self._seated is not None and data.get("job") == str(self._seated.seat.job_id):
            self.seat_changed()

    # what the bench process says --------------------------------------------------------------------------------------

    def hear(self, message: dict[str, Any]) -> None:
        """One message of the bench process. Values are shown at once; the rest waits for its turn in a thread of its own."""
        act = getattr(self, f"_hear_{message['kind']}", None)
        if act is None:
            return
        if message["kind"] == "gone" or (message["kind"] == "state" and not message["connected"]):
            self._forget(message.get("instrument"))  # at once: no figure of before a fault is taken after it
        aside = {"values": None, "traced": None, "captured": self.captures}.get(message["kind"], self.others)
        if aside is None:
            _told(act)(message)
        else:
            aside(_told(act), message)

    def _forget(self, instrument: str | None) -> None:
        """Drop the values of an instrument, or of all."""
        self.values = {n: v for n, v in self.values.items() if instrument is not None and v["instrument"] != instrument}

    @_locked
    def _hear_hello(self, message: dict[str, Any]) -> None:
        self.present = True
        self.send_instruments()
        running = Watch.objects.filter(ended_at=None).first()
        if running is not None:
            self._order({"kind": "watch", "id": str(running.pk), "began": running.began_at.timestamp()})
        self.seat_changed()
        self.looking(bulletin.looking)

    @_locked
    def _hear_gone(self, message: dict[str, Any]) -> None:
        self.present = False
        self.states = {
            name: s | {"connected": False, "sentence": "the bench process is being started again"}
            for name, s in self.states.items()
        }
        for state in self.states.values():
            bulletin.publish("instrument", state)

    @_locked
    def _hear_state(self, message: dict[str, Any]) -> None:
        before = self.states.get(message["instrument"], {}).get("connected")
        self.states[message["instrument"]] = {k: v for k, v in message.items() if k != "kind"}
        self._seen(message["instrument"], message["connected"])
        bulletin.publish("instrument", self.states[message["instrument"]])
        if before != message["connected"]:
            self.seat_changed()

    def _seen(self, instrument: str, connected: bool) -> None:
        """Keep since when an instrument is on: one that was away for long is cold again."""
        now = timezone.now()
        self._seen_at[instrument] = time.monotonic()
        row = ShopInstrument.objects.filter(pk=instrument).first()
        if row is None:
            return
        if connected and (row.seen_at is None or (now - row.seen_at).total_seconds() > COLD_AGAIN_S):
            row.on_since = now
        row.seen_at = now
        row.save(update_fields=["on_since", "seen_at"])

    def _hear_values(self, message: dict[str, Any]) -> None:
        if time.monotonic() - self._seen_at.get(message["instrument"], 0.0) > COLD_AGAIN_S / 3:
            self._seen(message["instrument"], True)
        self.last[message["instrument"]] = {"at": message["at"], "values": message["values"]}
        if not message["values"]:
            return  # it is there, and gives traces only
        heard = {"at": message["at"], "instrument": message["instrument"]}
        # only the thread that hears replaces them; others read what is there
        self.values = {**self.values, **{name: {"value": value, **heard} for name, value in message["values"].items()}}
        if self.turning is not None:
            with self._lock:
                self._turn()
        if bulletin.looking:
            bulletin.publish("live", self.shown(), kept=False)
        if self.up and self._lock.acquire(blocking=False):  # who has it works the word out too, or the next value does
            try:
                self._rekey()
            finally:
                self._lock.release()

    @_locked
    def _hear_carrier(self, message: dict[str, Any]) -> None:
        if message["up"] != self.up or message.get("again"):
            self.carrier(message["up"], message["at"])

    @_locked
    def _hear_left(self, message: dict[str, Any]) -> None:
        self.left = message["rows"]
        self._rekey()

    @_locked
    def _hear_misplaced(self, message: dict[str, Any]) -> None:
        place = self.seated
        hz = message["frequency_hz"]
        plan = place.state.context(place.conditions, None).channel_plan if place else None
        channel = plan.on_channel(hz) if plan else None
        where = f", channel {channel.number}" if channel else ""
        due = f"; the line wants {row_label(place.row)}" if place and place.row else ""
        self._say(f"The counter reads {format_value(hz, 'Hz', figures=7)}{where}{due}.")

    @_locked
    def _hear_unseen(self, message: dict[str, Any]) -> None:
        self._say("No instrument here sees modulation: keep quiet, and take it with Space.")

    @_locked
    def _hear_found(self, message: dict[str, Any]) -> None:
        bulletin.publish("found", {"addresses": message["addresses"]})

    def _hear_traced(self, message: dict[str, Any]) -> None:
        if (waiting := self._traces.get(message["id"])) is not None:
            waiting.put(message)

    def _hear_captured(self, message: dict[str, Any]) -> None:
        try:
            self._take_captured(message)
        except (Refused, CoreError) as refusal:
            self._say(f"{quantity(message['quantity']).name} was not taken: {refusal}")
        self._order({"kind": "acknowledged", "id": message["id"]})

    @_locked
    def _hear_watched(self, message: dict[str, Any]) -> None:
        watch = Watch.objects.filter(pk=message["id"]).first()
        if watch is None:
            return
        with transaction.atomic():
            if message["points"]:
                WatchPart.objects.create(watch=watch, points=message["points"])
            for drop in message["drops"]:
                WatchDrop.objects.update_or_create(watch=watch, name=drop["name"], at=drop["at"], defaults=drop)
        bulletin.publish("watch", {"watch": str(watch.pk), "drops": len(message["drops"])})

    # carrier and keying -----------------------------------------------------------------------------------------------

    def carrier(self, up: bool, at: float, *, by_hand: bool = False) -> None:
        """The carrier came or went, seen by an instrument or told with a key; `at` in s since 1970."""
        with self._lock:
            if up and not self.up:
                self._up_since = at
            self.up, self.say = up, ""
            place = self.seated
            if place is not None:
                clock_key_down(place.seat.item, up, at, by_hand=by_hand)
                self._downs = downs_of(place.seat.item)
                if not up and key_down_ended(place.seat.job):
                    self.seat_changed()
            bulletin.publish("carrier", {"up": up, "at": at, "job": str(place.seat.job_id) if place else None})
            self._rekey()

    def _rekey(self) -> None:
        place = self.seated
        if place is None:
            return
        if not self.up:  # what the first key is does not change while it lasts
            self._first_key = not any(d.ended is not None for d in self._downs) and not place.carrier_was_read
        word = keying(
            now=time.time(),
            downs=self._downs,
            duties=self._duties,
            first_key=self._first_key,
            wanted=len(self.left) if self.present and self.states and not place.busy else -1,
            what=place.what_is_left(self.left, modulated=self.up and self._modulated()),
            seen=Seen(power_w=self._now("power"), swr=self._swr(), modulated=self._modulated()),
            greatest_power_w=place.state.model.greatest_power_w if place.state.model else None,
            barred=place.barred,
        )
        if word != self.keying:
            self.keying = word
            bulletin.publish("keying", word.model_dump() | {"now": time.time()})

    def _now(self, name: LiveName) -> float | None:
        found = self.values.get(name)
        return found["value"] if found and time.time() - found["at"] < FRESH_S else None

    def _modulated(self) -> bool:
        crest, power = self._now("pep"), self._now("power")
        return (self._now("depth") or 0) > QUIET_DEPTH or (
            crest is not None and power is not None and crest > QUIET_CREST * power
        )

    def _not_of_this_line(self, row: PlanRow | None) -> str:
        """Why what is shown now is no figure of a line, or an empty string."""
        if row is None:
            return ""
        if row.modulation == "off" and self._modulated():
            return "There is audio on the carrier. Keep quiet, then take it."
        if row.state in {"standby", "receive"} and self.up:
            return f"The unit is keyed. Unkey it for the figure in {row.state}, then take it."
        return ""

    def _swr(self) -> float | None:
        power, reflected = self._now("power"), self._now("reflected")
        if not self.up or power is None or reflected is None or power < 0.1 or reflected >= power:
            return None
        return sums.swr_from_powers(power, reflected)

    def _say(self, sentence: str) -> None:
        self.say = sentence
        bulletin.publish("say", {"sentence": sentence})

    # taking -----------------------------------------------------------------------------------------------------------

    def _take_captured(self, message: dict[str, Any]) -> None:
        line_id, place = uuid.UUID(message["id"]), message["place"]
        if Line.objects.filter(pk=line_id).exists():
            return  # its acknowledgement was lost, not the line
        job = Job.objects.get(pk=place["job"])
        item = Item.objects.get(pk=place["item"])
        actor = Person.objects.get(pk=place["by"])
        steadiness = Steady.model_validate(message["steadiness"])
        at_place = self.seated
        row = at_place.state.row(message["row"]) if at_place and at_place.seat.item_id == item.pk else None
        line = self._store(actor, job, item, line_id, message["quantity"], row, message, steadiness, place)
        figure, verdict = readings.figure_of(line)
        told = {"job": str(job.pk), "line": str(line.pk), "name": quantity(message["quantity"]).name}
        bulletin.publish("captured", told | {"figure": figure, "verdict": verdict})

    def take_now(self, *, actor: Person, line_id: uuid.UUID) -> Line:
        """Take what the instruments show now for the current line: Space. Raises Refused where none of them gives it."""
        require_technician(actor)
        with self._lock:
            place = self.seated
            if place is None:
                raise Refused("No slip is open at the live bench.")
            wanted = place.row.quantity if place.row else "carrier_power"
            names = SOURCES.get(wanted, ())
            values = {name: self._now(name) for name in names}
            if not names or names[0] not in self.values:
                raise Refused(f"No instrument that talks gives {quantity(wanted).name.lower()}: type it.")
            if not self.up and not needs_no_carrier(place.row):
                raise Refused(
                    "No carrier is seen. If it is keyed and gives nothing, say so with the key for KEY, then take it."
                )
            if why := self._not_of_this_line(place.row):
                raise Refused(why)
            message = {
                "values": values,
                "instruments": {n: self.values[n]["instrument"] for n in names if n in self.values},
                "at": time.time(),
            }
            seat = place.seat
            at_seat = {"conditions": seat.conditions, "row": seat.row}
            return self._store(actor, seat.job, seat.item, line_id, wanted, place.row, message, None, at_seat)

    def _store(
        self, actor: Person, job: Job, item: Item, line_id: uuid.UUID, wanted: str, row: PlanRow | None, message: dict[str, Any],
        steadiness: Steady | None, place: dict[str, Any],
    ) -> Line:  # fmt: skip
        name = SOURCES[wanted][0]
        instrument = message["instruments"][name]
        chips = Conditions.model_validate(place["conditions"])
        conditions = conditions_of(row, chips, instrument, keyed=self.up, current=place["row"])
        values = message["values"]
        nothing = values[name] is None or values[name] <= self._floor(instrument, name)
        text = "none" if nothing else captured_text(wanted, values, row.state if row else None)
        return readings.take_line(
            actor=actor,
            line_id=line_id,
            text=text,
            job=job,
            item=item,
            conditions=conditions,
            row=row.id if row else None,
            captured={k: message[k] for k in ("values", "instruments", "samples", "steadiness", "at") if k in message},
            repeated=_repeated(wanted, steadiness),
        )

    def _floor(self, instrument: str, name: LiveName) -> float:
        return self._floors.get(instrument, {}).get(name, 0.0)

    # turning ------------------------------------------------------------------------------------------------------------

    def _turn(self) -> None:
        place = self.seated
        if self.turning is None or place is None or place.seat.turn is None:
            return
        name = next(n for n, q in LIVE_QUANTITIES.items() if q == place.seat.turn["quantity"])
        value = self._now(name)
        settled = self.up and time.time() - self._up_since > SETTLED_S
        if value is None or not (settled or name in {"volts", "amps"}):
            return
        before = self.turning
        self.turning = before.after(
            value - place.seat.turn["assigned_hz"] if place.seat.turn.get("assigned_hz") else value
        )
        if before.found is None:
            place.seat.turn |= {"turning": self.turning.model_dump()}
            place.seat.save(update_fields=["turn"])  # what was found is on disk before anything is turned far
        bulletin.publish("turn", self.turn_shown(), kept=False)

    def turn_shown(self) -> dict[str, Any]:
        """The turning for a page."""
        place = self.seated
        if self.turning is None or place is None or place.seat.turn is None:
            return {}
        unit = place.seat.turn["unit"]
        words = {
            n: format_value(v, unit, figures=3) if (v := getattr(self.turning, n)) is not None else ""
            for n in ("found", "now", "best", "target")
        }
        fresh = self._now(next(n for n, q in LIVE_QUANTITIES.items() if q == place.seat.turn["quantity"]))
        return {
            "adjuster": place.seat.turn["adjuster"], "name": quantity(place.seat.turn["quantity"]).name, "aim": self.turning.aim, "words": words,
            "arrow": self.turning.arrow, "note": self.turning.note, "pitch_hz": round(self.turning.pitch_hz, 1), "live": fresh is not None,
            "now": self.turning.now, "best": self.turning.best, "found": self.turning.found, "target": self.turning.target,
        }  # fmt: skip

    # for pages ----------------------------------------------------------------------------------------------------------

    def shown(self) -> dict[str, Any]:
        """Values of now, and what the current line makes of them."""
        now = time.time()
        kept_s = FRESH_S if self.up else FRESH_S + 4  # at rest instruments are asked less often
        values = {
            name: {**found, "shown": self._words(name, found)}
            for name, found in self.values.items()
            if now - found["at"] < kept_s
        }
        return {"values": values, "up": self.up, "current": self._current()}

    def _words(self, name: LiveName, found: dict[str, Any]) -> str:
        value = found["value"]
        if value is None or value < self._floor(found["instrument"], name):
            return "nothing"
        return format_value(value, _unit(name), figures=7 if name == "frequency" else 3)

    def _current(self) -> dict[str, Any] | None:
        place = self.seated
        if place is None:
            return None
        row = place.row
        wanted = row.quantity if row is not None else "carrier_power"
        names = SOURCES.get(wanted, ())
        values = {name: v for name in names if (v := self._now(name)) is not None}
        if not names or names[0] not in values or not (self.up or needs_no_carrier(row)):
            return None
        if row is not None and row.modulation == "on" and not is_loud(wanted, values[names[0]]):
            return None  # before the whistle there is nothing to judge
        if self._not_of_this_line(row):
            return None  # it is not what the limits speak of
        instrument = self.values[names[0]]["instrument"]
        conditions = conditions_of(row, place.conditions, instrument, keyed=self.up, current=place.seat.row)
        try:
            text = captured_text(wanted, values, row.state if row else None)
        except KeyError:
            return None
        asked = (text, conditions.model_dump_json())
        judged = self._judged  # another thread may judge meanwhile
        if judged is None or judged[0] is not place or judged[1] != asked:
            meant = understand(text, place.context(row, conditions))
            chosen = None if meant.chosen is None else meaning_out(meant.meanings[meant.chosen]).model_dump(mode="json")
            judged = self._judged = (place, asked, chosen)
        return None if judged[2] is None else {"row": row.id if row else None, "meaning": judged[2]}


def _unit(name: LiveName) -> str:
    return quantity(LIVE_QUANTITIES[name]).unit


def _repeated(wanted: str, found: Steady | None) -> Repeated | None:
    """The doubt and the words that a captured mean brings."""
    if found is None:
        return None
    half_width = 0.0 if wanted == "swr" else repeat_half_width(found)
    return Repeated(half_width=half_width, words=steadiness_words(found, _unit(SOURCES[wanted][0])))


live_bench = LiveBench()
