"""An open line to something that answers, over PyVISA: LAN, USB or serial. What goes wrong with it is one sentence,
closes it, and it is never used again.

PyVISA-py opens a refused port without a word, tells a dropped line as a time-out, and hands a late answer to the next
question: so whatever lies on a line is taken off it before each question.

The library is PyVISA-py, or the one that PyVISA's own variable PYVISA_LIBRARY names: a simulator of it, say."""

import contextlib
import errno
import os
import re
import socket
import struct
from collections.abc import Iterator
from typing import Any

from young_spark.core.live import LineManner, NotAFigure

OPEN_TIMEOUT_MS = 1500
LAN = re.compile(r"TCPIP\d*::([^:]+)::(\d+)::SOCKET", re.IGNORECASE)
DRAIN_MS, MOST_DRAINED = 1, 200  # how long a line must be silent before a question; answers that may be in the way


class LineFault(Exception):
    """What is wrong with a line, as one sentence without the instrument's name."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


def library() -> str:
    """Which library opens the lines, as PyVISA names it."""
    return os.environ.get("PYVISA_LIBRARY", "@py")


class OpenLine:
    """A line that is open from the moment it is made. Making it and every method but `close` raises LineFault, and the
    line is then closed."""

    def __init__(self, address: str, manner: LineManner) -> None:
        if (lan := LAN.match(address)) is not None and not 0 < int(lan[2][:6]) < 65536:
            raise LineFault("its address has a port that there cannot be")
        self.address, self.manner = address, manner
        self._line: Any = None
        try:
            import pyvisa

            self._line = pyvisa.ResourceManager(library()).open_resource(address, open_timeout=OPEN_TIMEOUT_MS)
            self._line.timeout = manner.timeout_ms
            self._line.read_termination = manner.read_termination
            self._line.write_termination = manner.write_termination
            if manner.baud_rate and hasattr(self._line, "baud_rate"):
                self._line.baud_rate = manner.baud_rate
        except Exception as problem:  # the library raises its own errors, OSError, and what its backends let through
            self.close()
            raise LineFault(refused(address) or _words(problem, manner)) from problem

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

    def ask(self, question: str) -> str:
        """The answer to a question, and to none before it."""
        with self.guarded() as line:
            self._drain(line)
            return str(line.query(question))

    def ask_block(self, question: str) -> tuple[float, ...]:
        """The values of an IEEE 488.2 block of big-endian 32-bit floats."""
        with self.guarded() as line:
            self._drain(line)
            try:
                return tuple(line.query_binary_values(question, datatype="f", is_big_endian=True))
            except (struct.error, ValueError, TypeError) as problem:
                raise NotAFigure("not a block") from problem

    def send(self, command: str) -> None:
        """Send what has no answer."""
        with self.guarded() as line:
            line.write(command)

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
    def guarded(self) -> Iterator[Any]:
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
            raise LineFault(_words(problem, self.manner)) from problem


def refused(address: str) -> str:
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


def _words(problem: Exception, manner: LineManner) -> str:
    import pyvisa

    if isinstance(problem, NotAFigure | UnicodeDecodeError):
        return "it answered with something that is no figure"
    if isinstance(problem, pyvisa.errors.VisaIOError):
        code = problem.error_code
        if code == pyvisa.constants.StatusCode.error_timeout:
            return f"no whole answer within {manner.timeout_ms / 1000:g} s"
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
