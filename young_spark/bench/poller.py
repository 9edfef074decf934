"""A thread for each instrument: asks it at the rhythm that is wanted, opens its line anew after any fault."""

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

from young_spark.bench.session import LineFault, Session
from young_spark.core.definitions import Definition
from young_spark.core.live import LiveName

AGAIN_S = (0.3, 1.0, 2.0)  # waits before a line is opened anew, the last one kept
ERRORS_EVERY_S = 20.0


@dataclass(frozen=True)
class Address:
    """An instrument of the shop that talks: where, and how."""

    id: str
    name: str
    address: str
    definition: Definition


@dataclass(frozen=True)
class Heard:
    """Values of one answer; times in monotonic s."""

    instrument: str
    asked: float
    at: float
    values: dict[LiveName, float | None]


@dataclass(frozen=True)
class LineState:
    """How a line stands: `sentence` says what is wrong in words, empty while it is well."""

    instrument: str
    connected: bool
    identity: str = ""
    sentence: str = ""
    error: str = ""


class Poller(threading.Thread):
    """Asks one instrument for as long as it is wanted; `tell` is called from this thread."""

    def __init__(self, instrument: Address, tell: Callable[[Heard | LineState], None]) -> None:
        super().__init__(name=f"line {instrument.id}", daemon=True)
        self.instrument = instrument
        self._tell = tell
        self._session = Session(instrument.address, instrument.definition)
        self._every_s = 5.0
        self._changed = threading.Event()
        self._ended = False
        self._faults = 0
        self._errors_at = 0.0

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
            if not self._session.is_open:
                self._session.open()
                self._state(True)
            asked, at, values = self._session.values()
            self._faults = 0
            self._tell(Heard(self.instrument.id, asked, at, values))
            if at - self._errors_at > ERRORS_EVERY_S:
                self._errors_at = at
                if error := self._session.error():
                    self._state(True, error=error)
            return self._every_s
        except LineFault as fault:
            self._state(False, fault.sentence)
            wait = AGAIN_S[min(self._faults, len(AGAIN_S) - 1)]
            self._faults += 1
            return wait

    def _state(self, connected: bool, sentence: str = "", error: str = "") -> None:
        self._tell(LineState(self.instrument.id, connected, self._session.identity, sentence, error))
