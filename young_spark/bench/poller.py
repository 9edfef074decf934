"""A thread for each instrument: asks it at the rhythm that is wanted, opens its line anew after any fault."""

import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass

from young_spark.bench.iq_session import IqSession
from young_spark.bench.open_line import LineFault
from young_spark.bench.session import Session
from young_spark.bench.trying import tried_anew, tried_on
from young_spark.core.live import BesideCarrier, Definition, LiveName
from young_spark.wire import AskTrace, LineState, Traced, Tried, TryLine

AGAIN_S = (0.3, 1.0, 2.0)  # waits before a line is opened anew, the last one kept
ERRORS_EVERY_S = 20.0
Errand = AskTrace | TryLine


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
    beside: BesideCarrier | None = None


Told = Heard | LineState | Traced | Tried


def _session_of(instrument: Address) -> Session | IqSession:
    if instrument.definition.stream is None:
        return Session(instrument.address, instrument.definition)
    return IqSession(instrument.address, instrument.definition, instrument.reference_ppm)


class Poller(threading.Thread):
    """Asks one instrument for as long as it is wanted; `tell` is called from this thread."""

    def __init__(self, instrument: Address, tell: Callable[[Told], None]) -> None:
        super().__init__(name=f"line {instrument.id}", daemon=True)
        self.instrument = instrument
        self._tell = tell
        self._session = _session_of(instrument)
        self._every_s = 5.0
        self._changed = threading.Event()
        self._ended = False
        self._faults = 0
        self._errors_at = 0.0
        self._errands: deque[Errand] = deque()

    def run_errand(self, errand: Errand) -> None:
        """Have a trace, or try the line; it is told as Traced or Tried before the next value."""
        self._errands.append(errand)
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
                self._try_while_closed()
                self._session.open()
            while self._errands:
                self._run(self._errands.popleft())
            asked, at, values = self._session.values()
            self._faults = 0
            if anew:  # a line that opens but gives no figure is not well: its sentence stands until one comes
                self._state(True)
            beside = self._session.beside if isinstance(self._session, IqSession) else None
            self._tell(Heard(self.instrument.id, asked, at, values, beside))
            if at - self._errors_at > ERRORS_EVERY_S:
                self._errors_at = at
                if error := self._session.error():
                    self._state(True, error=error)
            return self._every_s
        except LineFault as fault:
            while self._errands:
                self._tell(_not_run(self._errands.popleft(), fault.sentence))
            self._state(False, fault.sentence)
            wait = AGAIN_S[min(self._faults, len(AGAIN_S) - 1)]
            self._faults += 1
            return wait

    def _try_while_closed(self) -> None:
        """A line that is asked in the wrong way never opens: what is tried then goes by its own."""
        for errand in tuple(self._errands):
            if isinstance(errand, TryLine) and isinstance(self._session, Session):
                self._errands.remove(errand)
                self._tell(tried_anew(errand, self.instrument.address))

    def _run(self, errand: Errand) -> None:
        try:
            self._tell(self._trace(errand) if isinstance(errand, AskTrace) else self._tried(errand))
        except LineFault as fault:
            self._tell(_not_run(errand, fault.sentence))
            raise

    def _trace(self, asked: AskTrace) -> Traced:
        ask = next((t for t in self.instrument.definition.traces if t.name == asked.trace), None)
        if ask is None:
            return Traced(id=asked.id, sentence=f"it has no trace '{asked.trace}'")
        start, stop, values = self._session.trace(ask)
        return Traced(id=asked.id, start=start, stop=stop, values=values)

    def _tried(self, order: TryLine) -> Tried:
        if not isinstance(self._session, Session):
            return Tried(id=order.id, sentence="it streams, and is asked nothing")
        if order.manner != self._session.definition.manner:
            self._session.close()  # another way to speak on it: the next value opens it anew
            return tried_anew(order, self.instrument.address)
        return tried_on(self._session.line, order)

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


def _not_run(errand: Errand, sentence: str) -> Traced | Tried:
    if isinstance(errand, AskTrace):
        return Traced(id=errand.id, sentence=sentence)
    return Tried(id=errand.id, sentence=sentence)
