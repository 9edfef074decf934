"""The lines to the shop's instruments: which are owned, how each stands, who gives which value, and how often each
is asked."""

import json
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Literal

from young_spark.bench.poller import Address, Poller, Told
from young_spark.bench.trying import tried_anew
from young_spark.core.live import LiveName, Source, Taker
from young_spark.wire import SIMULATED_FILE, AskTrace, LineState, Talking, Tried, TryLine

Attention = Literal["idle", "looking", "turning"]
# s from one question to the next: nobody looks; a slip is open, no carrier; a carrier is up, or something is watched or
# turned
IDLE_S, SENSOR_S, OTHERS_S, BUSY_S = 5.0, 0.12, 0.5, 0.1
RETUNED_HZ = 3000.0  # nearer than this a carrier is where it was
DROWSY_AFTER_S, DROWSY_S = 300.0, 0.4  # a slip that lies open, and nobody keys


class NoLine(Exception):
    """Why an instrument cannot be asked, in words."""


class Lines:
    """A poller for each instrument that is owned; `tell` is called from their threads."""

    def __init__(self, data: Path, tell: Callable[[Told], None]) -> None:
        self.taker = Taker({})
        self.states: dict[str, LineState] = {}
        self._data = data
        self._tell = tell
        self._pollers: dict[str, Poller] = {}
        self._attention: Attention = "idle"
        self._watching = False
        self._expected: tuple[float | None, str | None] = (None, None)
        self._carrier_hz: float | None = None  # where an instrument that need not be tuned reads it
        self._quiet_since = time.monotonic()
        self._trials = ThreadPoolExecutor(max_workers=1, thread_name_prefix="try")

    def has(self, instrument: str) -> bool:
        """Whether an instrument is owned: what another says late counts no more."""
        return instrument in self._pollers

    def own(self, wanted: Sequence[Talking]) -> list[LineState]:
        """Own these instruments: lines that stayed as they were are not touched. Returns those that cannot be asked."""
        refused, addresses = [], {}
        for told in wanted:
            try:
                addresses[told.id] = self._address(told)
            except NoLine as why:
                refused.append(LineState(instrument=told.id, connected=False, sentence=str(why)))
        for name in [n for n, p in self._pollers.items() if addresses.get(n) != p.instrument]:
            self._pollers.pop(name).end()
            self.states.pop(name, None)
            self.taker.lost(name)
        for name, address in addresses.items():
            if name not in self._pollers:
                self._pollers[name] = Poller(address, self._tell)
                self._pollers[name].tune(*self._tuned_to())
                self._pollers[name].start()
        self.taker.sources = self._sources()
        self.set_rhythm()
        return refused

    def _address(self, told: Talking) -> Address:
        if (definition := told.asked) is None:
            raise NoLine(f"no definition file '{told.definition}'")
        address = self._real(told.address, streams=definition.stream is not None)
        return Address(told.id, told.name, address, definition, told.reference_ppm)

    def _real(self, address: str, *, streams: bool = False) -> str:
        """An address as a line is opened at; one of the simulated bench is where that listens now."""
        if not address.startswith("simulated:"):
            return address
        try:
            port = json.loads((self._data / SIMULATED_FILE).read_text())[address.removeprefix("simulated:")]
        except (OSError, ValueError, KeyError):
            raise NoLine("the simulated bench does not run") from None
        return f"IQ::127.0.0.1::{port}" if streams else f"TCPIP::127.0.0.1::{port}::SOCKET"

    def _sources(self) -> dict[LiveName, Source]:
        """Who gives what, of those that are connected; the first in order of the shop's list where two give the
        same."""
        sources: dict[LiveName, Source] = {}
        for name, poller in self._pollers.items():
            if (state := self.states.get(name)) is None or not state.connected:
                continue
            for gives in poller.instrument.definition.given:
                sources.setdefault(gives.value, Source(name, gives))
        return sources

    def stands(self, state: LineState) -> bool:
        """Keep how a line stands; whether that is news."""
        if not self.has(state.instrument):
            return False
        before = self.states.get(state.instrument)
        self.states[state.instrument] = state
        if before is None or before.connected != state.connected:
            if not state.connected:
                self.taker.lost(state.instrument)
            self.taker.sources = self._sources()
            self.set_rhythm()
        return before != state

    def floors(self) -> dict[LiveName, float]:
        """What each value's instrument shows of nothing, in the value's own unit."""
        return {name: source.gives.floor for name, source in self.taker.sources.items()}

    def ask_trace(self, asked: AskTrace) -> bool:
        """Have an instrument hand over a trace, told as Traced; whether it is one that is owned."""
        if (poller := self._pollers.get(asked.instrument)) is None:
            return False
        poller.run_errand(asked)
        return True

    def try_line(self, order: TryLine) -> None:
        """Try a line, told as Tried: one that is owned by who owns it, another by itself, one at a time."""
        try:
            address = self._real(order.address)
        except NoLine as why:
            self._tell(Tried(id=order.id, sentence=str(why)))
            return
        owner = next((p for p in self._pollers.values() if p.instrument.address == address), None)
        if owner is not None:
            owner.run_errand(order)
        else:
            self._trials.submit(lambda: self._tell(tried_anew(order, address)))

    def expect(self, carrier_hz: float | None, mode: str | None) -> None:
        """Where the unit's carrier is expected in Hz, and what modulates it: what is tuned is tuned there."""
        self._expected = carrier_hz, mode
        self._tune()

    def carrier_at(self, instrument: str, hz: float | None) -> None:
        """An instrument reads the carrier there, or none: what is tuned goes where it is, whatever is expected; a
        reading of its own says nothing of that."""
        if self._pollers[instrument].instrument.definition.stream is not None:
            return
        there = hz if self.taker.up else None
        if (there is None) != (self._carrier_hz is None) or abs(
            (there or 0.0) - (self._carrier_hz or 0.0)
        ) > RETUNED_HZ:
            self._carrier_hz = there
            self._tune()

    def _tuned_to(self) -> tuple[float | None, str | None]:
        expected, mode = self._expected
        there = self._carrier_hz
        if expected is not None and there is not None and abs(there - expected) <= RETUNED_HZ:
            there = None  # where it is expected: a round figure, and the same from one key-down to the next
        return there or expected, mode

    def _tune(self) -> None:
        for poller in self._pollers.values():
            poller.tune(*self._tuned_to())

    # how often ------------------------------------------------------------------------------------------------------

    def attend(self, level: Attention) -> None:
        """Look as closely as the pages want."""
        self._attention = level
        self.set_rhythm()

    def watch(self, watching: bool) -> None:
        """Whether something is watched: then every instrument is asked at its quickest."""
        self._watching = watching
        self.set_rhythm()

    def stir(self) -> None:
        """Somebody works at the bench just now."""
        self._quiet_since = time.monotonic()
        self.set_rhythm()

    def set_rhythm(self) -> None:
        """Ask each instrument as often as it is worth now."""
        for poller in self._pollers.values():
            poller.set_rhythm(self._rhythm(poller))

    def _rhythm(self, poller: Poller) -> float:
        if not poller.instrument.definition.given:
            return IDLE_S  # it gives traces, and those when they are asked for
        if not any(source.instrument == poller.instrument.id for source in self.taker.sources.values()):
            # another gives all its figures; what stands beside the carrier only one that streams shows
            shows = poller.instrument.definition.stream is not None and self._attention != "idle" and self.taker.up
            return OTHERS_S if shows else IDLE_S
        looking = self._attention == "looking"
        if self._watching or self._attention == "turning" or (looking and self.taker.up):
            return BUSY_S
        if not looking:
            return IDLE_S
        sensor = self.taker.sources.get(self.taker.sensor) if self.taker.sensor else None
        if sensor is None or sensor.instrument != poller.instrument.id:
            return OTHERS_S
        return DROWSY_S if time.monotonic() - self._quiet_since > DROWSY_AFTER_S else SENSOR_S
