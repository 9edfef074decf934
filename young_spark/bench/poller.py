"""A thread for each instrument: asks it at the rhythm that is wanted, opens its line anew after any fault."""

import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass

from young_spark.bench.iq_session import IqSession
from young_spark.bench.session import LineFault, Session
from young_spark.core.live import Definition, LiveName
from young_spark.wire import LineState, Traced

AGAIN_S = (0.3, 1.0, 2.0)  # waits before a line is opened anew, the last one kept
ERRORS_EVERY_S = 20.0


@dataclass(frozen=True)
class Address:
    """An instrument of the shop that talks: where, and how."""

    id: str
    name: str
    address: str
    definition: Definition
    reference_ppm: float = 0.0  # of one that streams: how far its own reference is off


@dataclass(frozen=True)
class Heard:
    """Values of one answer; times in monotonic s."""

    instrument: str
    asked: float
    at: float
    values: dict[LiveName, float | None]


def _session_of(instrument: Address) -> Session | IqSession:
    if instrument.definition.stream is None:
        return Session(instrument.address, instrument.definition)
    return IqSession(instrument.address, instrument.definition, instrument.reference_ppm)


class Poller(threading.Thread):
    """Asks one instrument for as long as it is wanted; `tell` is called from this thread."""

    def __init__(self, instrument: Address, tell: Callable[[Heard | LineState | Traced], None]) -> None:
        super().__init__(name=f"line {instrument.id}", daemon=True)
        self.instrument = instrument
        self._tell = tell
        self._session = _session_of(instrument)
        self._every_s = 5.0
        self._changed = threading.Event()
        self._ended = False
        self._faults = 0
        self._errors_at = 0.0
        self._traces: deque[tuple[str, str]] = deque()  # ids and names of what was asked for

    def ask_trace(self, trace_id: str, name: str) -> None:
        """Have a trace of that name; it is told as Traced before the next value."""
        self._traces.append((trace_id, name))
        self._changed.set()

    def tune(self, carrier_hz: float | None, mode: str | None) -> None:
        """Where the carrier is expected in Hz and what modulates it, for an instrument that is tuned."""
        if isinstance(self._session, IqSession):
            self._session.tune(carrier_hz, mode)
            self._changed.set()

    def set_rhythm(self, seconds: float) -> None:
        """How often to ask, in s from one question to the next."""
        if seconds != self._every_s:
            self._every_s = seconds
            self._changed.set()

    def end(self) -> None:
        """Ask no more and close the line."""
        self._ended = True
        self._changed.set()

    def run(self) -> None:
        """Until ended."""
        while not self._ended:
            began = time.monotonic()
            wait = self._once()
            self._changed.wait(max(0.005, wait - (time.monotonic() - began)))
            self._changed.clear()
        self._session.close()

    def _once(self) -> float:
        """One question; returns the s from its begin to the next."""
        try:
            anew = not self._session.is_open
            if anew:
                self._session.open()
            while self._traces:
                self._trace(*self._traces.popleft())
            asked, at, values = self._session.values()
            self._faults = 0
            if anew:  # a line that opens but gives no figure is not well: its sentence stands until one comes
                self._state(True)
            self._tell(Heard(self.instrument.id, asked, at, values))
            if at - self._errors_at > ERRORS_EVERY_S:
                self._errors_at = at
                if error := self._session.error():
                    self._state(True, error=error)
            return self._every_s
        except LineFault as fault:
            while self._traces:
                self._tell(Traced(id=self._traces.popleft()[0], sentence=fault.sentence))
            self._state(False, fault.sentence)
            wait = AGAIN_S[min(self._faults, len(AGAIN_S) - 1)]
            self._faults += 1
            return wait

    def _trace(self, trace_id: str, name: str) -> None:
        ask = next((t for t in self.instrument.definition.traces if t.name == name), None)
        if ask is None:
            self._tell(Traced(id=trace_id, sentence=f"it has no trace '{name}'"))
            return
        try:
            start, stop, values = self._session.trace(ask)
            self._tell(Traced(id=trace_id, start=start, stop=stop, values=values))
        except LineFault as fault:
            self._tell(Traced(id=trace_id, sentence=fault.sentence))
            raise

    def _state(self, connected: bool, sentence: str = "", error: str = "") -> None:
        self._tell(
            LineState(
                instrument=self.instrument.id,
                connected=connected,
                identity=self._session.identity,
                sentence=sentence,
                error=error,
            )
        )
