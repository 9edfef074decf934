"""A receiver that streams IQ over TCP, as a line like any other: it is set, tuned, and what it sends is turned into
figures stretch by stretch. After any error the line is closed, never used again."""

import random
import re
import socket
import struct
import threading
import time
from collections import deque
from contextlib import suppress

from young_spark.bench.open_line import LineFault
from young_spark.core.live import (
    BesideCarrier,
    Definition,
    IqStream,
    LiveName,
    StreamClock,
    TraceAsk,
    Tuning,
    figures_of_stretch,
    samples_of,
)

ADDRESS = re.compile(r"IQ::(?P<host>[\w.-]+)::(?P<port>\d{1,5})", re.IGNORECASE)
HEADER_BYTES, BYTES_A_SAMPLE = 12, 2
TUNE, RATE, BY_HAND, GAIN = 0x01, 0x02, 0x03, 0x0D  # orders: Hz, samples a second, gain by hand, which of its gains
OPEN_TIMEOUT_S, SILENT_S = 1.5, 1.5
SETTLED_S = 0.06  # after an order: what is on its way was heard before it
WAIT_S = 2.5  # for a stretch that is whole
STEP_S = 0.2  # between two stretches: no more than half of one core goes into them
ABOUT_MS = 20  # of noise, to load by
MOST_STRETCHES, MOST_ARRIVALS = 4, 400  # that are kept
AT_ONCE = 3  # gains down at an overload; one up where it is feeble


class IqSession:
    """An open line to one streaming receiver. Every method but `close` and `tune` raises LineFault, and the line is
    then closed."""

    def __init__(self, address: str, definition: Definition, reference_ppm: float = 0.0) -> None:
        if definition.stream is None:
            raise ValueError("a definition without a stream")
        self.address, self.definition = address, definition
        self.identity = ""
        self.reference_ppm = reference_ppm
        self._stream: IqStream = definition.stream
        self._told: tuple[float | None, str | None] = (None, None)  # Hz of the carrier, and the unit's mode
        self._socket: socket.socket | None = None
        self._received = _Received(self._stream)
        self._gain, self._gains = 0, 1
        self._last_end = 0
        self._tuned_to: float | None = None
        self.beside: BesideCarrier | None = None  # of the newest stretch

    def tune(self, carrier_hz: float | None, mode: str | None) -> None:
        """Where the carrier is expected in Hz, and what modulates it; from the next stretch on."""
        self._told = carrier_hz, mode

    @property
    def is_open(self) -> bool:
        """Whether the line can be asked."""
        return self._socket is not None

    def open(self) -> None:
        """Open the line, hear who streams, and set its rate and its least gain."""
        found = ADDRESS.fullmatch(self.address)
        if found is None or not 0 < int(found["port"]) < 65536:
            raise LineFault("its address has a port that there cannot be")
        try:
            line = socket.create_connection((found["host"], int(found["port"])), timeout=OPEN_TIMEOUT_S)
        except ConnectionRefusedError as problem:
            raise LineFault("nothing listens at its address: is its server on?") from problem
        except OSError as problem:
            raise LineFault(f"its address is not reached: {problem.strerror or 'no answer'}") from problem
        self._socket = line
        self._gain, self._gains = 0, self._hear_who(line)
        self._received = _Received(self._stream)
        self._tuned_to, self._last_end = None, 0
        self._order(RATE, self._stream.rate_hz)
        self._order(BY_HAND, 1)
        self._order(GAIN, self._gain)
        self._load_what_it_needs()
        line.settimeout(None)
        threading.Thread(target=self._received.read_from, args=(line,), name="iq stream", daemon=True).start()

    def _load_what_it_needs(self) -> None:
        """What the first stretch would wait for, before there is one."""
        noise = bytes(random.Random(1).randrange(100, 156) for _ in range(4 * ABOUT_MS * self._stream.rate_hz // 1000))
        figures_of_stretch(samples_of(noise), Tuning(1e6, self._stream.beside_hz, self._stream.rate_hz))

    def _hear_who(self, line: socket.socket) -> int:
        """How many gains it has, as its header says."""
        header = b""
        try:
            while len(header) < HEADER_BYTES:
                piece = line.recv(HEADER_BYTES - len(header))
                if not piece:
                    break
                header += piece
        except OSError:
            header = b""
        if len(header) < HEADER_BYTES or not header[:4].isalnum():
            self.close()
            raise LineFault("what answers at its address streams no IQ")
        tuner, gains = struct.unpack(">II", header[4:])
        self.identity = f"IQ stream {header[:4].decode('ascii')}, tuner {tuner}, {gains} gains"
        if not self.definition.fits(self.identity):
            self.close()
            raise LineFault(f"something else answers at its address: {self.identity[:60]!r}")
        return max(1, min(int(gains), 200))

    def close(self) -> None:
        """Close the line, whatever state it is in."""
        line, self._socket = self._socket, None
        if line is not None:
            with suppress(OSError):
                line.shutdown(socket.SHUT_RDWR)
            line.close()

    def values(self) -> tuple[float, float, dict[LiveName, float | None]]:
        """The figures of the newest whole stretch: when it began and ended (monotonic s), and its values."""
        carrier_hz, mode = self._told
        self.beside = None
        if carrier_hz is None:
            self._alive()
            return time.monotonic(), time.monotonic(), {gives.value: None for gives in self._stream.gives}
        self._follow(carrier_hz)
        began, ended, raw = self._newest_stretch()
        told_hz = self._tuned_for(carrier_hz)
        tuning = Tuning(told_hz, carrier_hz - told_hz, self._stream.rate_hz, self.reference_ppm, mode)
        try:
            told = figures_of_stretch(samples_of(raw), tuning)
        except OverflowError:
            return began, ended, self._overdriven()
        self.beside = told.beside
        if told.is_feeble and self._gain < self._gains - 1:
            self._set_gain(self._gain + 1)
        return began, ended, {gives.value: told.figures.get(gives.value) for gives in self._stream.gives}

    def trace(self, ask: TraceAsk) -> tuple[float, float, tuple[float, ...]]:
        """It has none."""
        raise LineFault(f"it has no trace '{ask.name}'")

    def error(self) -> str:
        """What is to be known of its stream in words, or an empty string."""
        losses = self._received.clock.losses
        return f"samples were lost {losses} times: figures of those stretches were left out" if losses else ""

    def _overdriven(self) -> dict[LiveName, float | None]:
        """Less gain; at the least of it only less power helps."""
        if self._gain == 0:
            self.close()
            raise LineFault("overload: more than its range; take power off, or put a pad in")
        self._set_gain(max(0, self._gain - AT_ONCE))
        return {gives.value: None for gives in self._stream.gives}

    def _set_gain(self, gain: int) -> None:
        self._gain = gain
        self._order(GAIN, gain)
        self._received.forget(SETTLED_S)

    def _follow(self, carrier_hz: float) -> None:
        if self._tuned_to == carrier_hz:
            return
        self._tuned_to = carrier_hz
        self._order(TUNE, self._tuned_for(carrier_hz))
        self._received.forget(SETTLED_S)

    def _tuned_for(self, carrier_hz: float) -> int:
        """Where it is tuned for a carrier there: whole hertz, as its orders carry them."""
        return round(carrier_hz - self._stream.beside_hz)

    def _order(self, order: int, figure: int) -> None:
        try:
            if self._socket is None:
                raise LineFault("the line is closed")
            self._socket.sendall(struct.pack(">BI", order, figure))
        except OSError as problem:
            self.close()
            raise LineFault(f"the line dropped: {problem.strerror or problem}") from problem

    def _alive(self) -> None:
        if self._received.ended or time.monotonic() - self._received.last_at > SILENT_S:
            self.close()
            raise LineFault("its stream ended" if self._received.ended else "its stream stopped")

    def _newest_stretch(self) -> tuple[float, float, bytes]:
        deadline = time.monotonic() + WAIT_S
        fresh = round(STEP_S * self._stream.rate_hz)
        while time.monotonic() < deadline:
            self._alive()
            found = self._received.stretch(self._last_end + fresh)
            if found is not None:
                self._last_end, began, ended, raw = found
                return began, ended, raw
            time.sleep(0.01)
        self.close()
        raise LineFault("its samples come with gaps: the network or this machine is too slow for it")


class _Received:
    """What came of the stream lately; filled by a thread of its own."""

    def __init__(self, stream: IqStream) -> None:
        self.clock = StreamClock(stream.rate_hz)
        self.ended = False
        self.last_at = time.monotonic()
        self._rate = stream.rate_hz
        self._wanted = round(stream.stretch_s * stream.rate_hz)
        self._kept = bytearray()
        self._bytes = 0  # of all that came
        self._from = 0  # samples in front of it were heard before the last order
        self._arrived: deque[tuple[int, float]] = deque(maxlen=MOST_ARRIVALS)  # samples until then, and when
        self._lock = threading.Lock()

    def read_from(self, line: socket.socket) -> None:
        """Until the line ends."""
        with suppress(OSError):
            while piece := line.recv(65_536):
                self._keep(piece, time.monotonic())
        self.ended = True

    def _keep(self, piece: bytes, at: float) -> None:
        with self._lock:
            self._kept += piece
            self._bytes += len(piece)
            self.last_at = at
            count = self._bytes // BYTES_A_SAMPLE
            self.clock.heard(count, at)
            self._arrived.append((count, at))
            surplus = len(self._kept) - MOST_STRETCHES * BYTES_A_SAMPLE * self._wanted
            del self._kept[: max(0, surplus - surplus % BYTES_A_SAMPLE)]  # what is kept begins with an I

    def forget(self, settled_s: float) -> None:
        """What came until now, and a little longer, was heard before an order."""
        with self._lock:
            self._from = self._bytes // BYTES_A_SAMPLE + round(settled_s * self._rate)

    def stretch(self, at_least_until: int) -> tuple[int, float, float, bytes] | None:
        """The newest stretch that is whole and ends at that sample or later: its end, when it began and ended, its
        bytes. None while there is none."""
        with self._lock:
            until = next((n for n, _ in reversed(self._arrived) if self.clock.is_whole(n - self._wanted, n)), None)
            if until is None or until < at_least_until or until - self._wanted < self._from:
                return None
            first = self._bytes - len(self._kept)  # of the bytes that are kept
            begin = (until - self._wanted) * BYTES_A_SAMPLE - first
            if begin < 0:
                return None
            at = next(at for n, at in self._arrived if n == until)
            raw = bytes(self._kept[begin : begin + self._wanted * BYTES_A_SAMPLE])
            return until, at - self._wanted / self._rate, at, raw
