"""One instrument on its line, over PyVISA: LAN, USB or serial. After any error the session is closed, never used again.

PyVISA-py opens a refused port without a word, tells a dropped line as a time-out, and hands a late answer to the next
question; so an opened line must answer `*IDN?` as its definition says, and a line that erred is opened anew."""

import contextlib
import errno
import math
import re
import socket
import struct
import time
from collections.abc import Iterator
from typing import Any

from young_spark.core.live import Ask, Definition, LiveName, NotAFigure, TraceAsk, figures_of, not_overloaded, values_of

OPEN_TIMEOUT_MS = 1500
LARGEST_ANSWER = 100_000
LAN = re.compile(r"TCPIP\d*::([^:]+)::(\d+)::SOCKET", re.IGNORECASE)
MOST_POINTS = 100_000  # of a trace
DRAIN_MS, MOST_DRAINED = 1, 200  # how long a line must be silent before a question; answers that may be in the way


class LineFault(Exception):
    """What is wrong with a line, as one sentence without the instrument's name."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


class Session:
    """An open line to one instrument. Every method but `close` raises LineFault, and the session is then closed."""

    def __init__(self, address: str, definition: Definition) -> None:
        self.address, self.definition = address, definition
        self.identity = ""
        self._line: Any = None

    def open(self) -> None:
        """Open the line, and hear who answers."""
        if (lan := LAN.match(self.address)) is not None and not 0 < int(lan[2][:6]) < 65536:
            raise LineFault("its address has a port that there cannot be")
        try:
            import pyvisa

            self._line = pyvisa.ResourceManager("@py").open_resource(self.address, open_timeout=OPEN_TIMEOUT_MS)
            self._line.timeout = self.definition.timeout_ms
            self._line.read_termination = self.definition.read_termination
            self._line.write_termination = self.definition.write_termination
            if self.definition.baud_rate and hasattr(self._line, "baud_rate"):
                self._line.baud_rate = self.definition.baud_rate
            with self._guarded() as line:
                self.identity = self._query(line, "*IDN?").strip()
        except LineFault as fault:
            raise LineFault(_refused(self.address) or fault.sentence) from fault
        except Exception as problem:
            self.close()
            raise LineFault(_refused(self.address) or _words(problem, self.definition)) from problem
        if not self.definition.fits(self.identity):
            self.close()
            raise LineFault(f"something else answers at its address: {self.identity[:60]!r}")
        with self._guarded() as line:
            for command in self.definition.setup:
                line.write(command)

    def close(self) -> None:
        """Close the line, whatever state it is in."""
        line, self._line = self._line, None
        if line is not None:
            with contextlib.suppress(Exception):
                line.close()

    @property
    def is_open(self) -> bool:
        """Whether the line can be asked."""
        return self._line is not None

    def values(self) -> tuple[float, float, dict[LiveName, float | None]]:
        """Everything the instrument gives: when it was asked, when it began to answer (monotonic s), and its values."""
        asked, answered = time.monotonic(), 0.0
        given: dict[LiveName, float | None] = {}
        with self._guarded() as line:
            if not self.definition.asks:  # it gives traces only: whether it is still there is asked all the same
                self._query(line, "*IDN?")
            for ask in self.definition.asks:
                given |= values_of(ask, self._figures(line, ask))
                answered = answered or time.monotonic()  # no value is younger than the first of them
        return asked, answered or time.monotonic(), given

    def trace(self, ask: TraceAsk) -> tuple[float, float, tuple[float, ...]]:
        """A whole trace: the ends of its axis, and its values as they came."""
        with self._guarded() as line:
            for command in ask.setup:
                line.write(command)
            start, stop = (figures_of(self._query(line, question))[0] for question in (ask.start, ask.stop))
            values = not_overloaded(self._block(line, ask.values))
        if len(values) > MOST_POINTS or not all(math.isfinite(v) for v in (start, stop, *values)):
            raise LineFault("it answered with something that is no trace")
        return start, stop, values

    def error(self) -> str:
        """The oldest entry of its error queue in words, or an empty string."""
        if not self.definition.errors:
            return ""
        with self._guarded() as line:
            answer = self._query(line, self.definition.errors).strip()
        match = re.match(r'[+-]?(\d+)\s*,\s*"?(.*?)"?$', answer)
        if match is None or int(match[1]) == 0:
            return ""
        return match[2][:120]

    def _query(self, line: Any, question: str) -> str:
        """The answer to a question, and to none before it."""
        self._drain(line)
        return str(line.query(question))

    def _figures(self, line: Any, ask: Ask) -> tuple[float, ...]:
        """The figures of one answer of an open line."""
        if ask.form == "text":
            wanted = 1 + max(gives.index for gives in ask.gives)
            return figures_of(self._query(line, ask.command)[:LARGEST_ANSWER], wanted)
        return self._block(line, ask.command)

    def _block(self, line: Any, question: str) -> tuple[float, ...]:
        self._drain(line)
        try:
            return tuple(line.query_binary_values(question, datatype="f", is_big_endian=True))
        except (struct.error, ValueError, TypeError) as problem:
            raise NotAFigure("not a block") from problem

    def _drain(self, line: Any) -> None:
        """Whatever the instrument said beyond what it was asked goes: it must not answer the next question. A bus that
        answers only when it is addressed (USB, GPIB) has nothing to drain."""
        if not self._says_by_itself:
            return
        import pyvisa

        patience, line.timeout = line.timeout, DRAIN_MS
        try:
            for _ in range(MOST_DRAINED):
                line.read_raw()
            raise LineFault("it does not stop talking")
        except pyvisa.errors.VisaIOError as problem:
            if problem.error_code != pyvisa.constants.StatusCode.error_timeout:
                raise
        finally:
            line.timeout = patience

    @property
    def _says_by_itself(self) -> bool:
        return self.address.upper().startswith("ASRL") or self.address.upper().endswith("::SOCKET")

    @contextlib.contextmanager
    def _guarded(self) -> Iterator[Any]:
        """The open line; whatever goes wrong with it closes it, and is a LineFault."""
        if self._line is None:
            raise LineFault("the line is closed")
        try:
            yield self._line
        except LineFault:
            self.close()
            raise
        except OverflowError as problem:
            self.close()
            raise LineFault("overload: more than its range; take power off, or put a pad in") from problem
        except Exception as problem:  # the library raises its own errors, OSError, and what its backends let through
            self.close()
            raise LineFault(_words(problem, self.definition)) from problem


def _refused(address: str) -> str:
    """Whether the port of a LAN address is refused or its host unknown, in words; the library does not say."""
    match = LAN.match(address)
    if match is None:
        return ""
    try:
        socket.create_connection((match[1], int(match[2])), timeout=1).close()
    except ConnectionRefusedError:
        return "nothing listens at its address: is it on, and is its network lead in?"
    except OSError as problem:
        return f"its address is not reached: {problem.strerror or 'no answer'}"
    return ""


def _words(problem: Exception, definition: Definition) -> str:
    import pyvisa

    if isinstance(problem, NotAFigure | UnicodeDecodeError):
        return "it answered with something that is no figure"
    if isinstance(problem, pyvisa.errors.VisaIOError):
        code = problem.error_code
        if code == pyvisa.constants.StatusCode.error_timeout:
            return f"no whole answer within {definition.timeout_ms / 1000:g} s"
        if code in {pyvisa.constants.StatusCode.error_connection_lost, pyvisa.constants.StatusCode.error_io}:
            return "the line dropped"
        return f"the line says: {problem.description or problem}"[:160]
    if isinstance(problem, ValueError) and isinstance(problem.__context__, OSError):
        problem = problem.__context__  # the library's USB part hides what the system said
    if isinstance(problem, OSError) and problem.errno in {errno.ENODEV, errno.ENXIO}:
        return "its lead is out, or it is off"
    if isinstance(problem, OSError):
        return f"the line dropped: {problem.strerror or problem}"[:160]
    return f"it cannot be asked: {problem}"[:160]
