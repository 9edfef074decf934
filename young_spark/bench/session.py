"""One instrument on its line, asked as its definition says: an opened line must answer `*IDN?` as that has it, and one
that erred is opened anew."""

import math
import re
import time

from young_spark.bench.open_line import LineFault, OpenLine, refused
from young_spark.core.live import Ask, Definition, LiveName, TraceAsk, figures_of, not_overloaded, values_of

LARGEST_ANSWER = 100_000
MOST_POINTS = 100_000  # of a trace


class Session:
    """An open line to one instrument. Every method but `close` raises LineFault, and the session is then closed."""

    def __init__(self, address: str, definition: Definition) -> None:
        self.address, self.definition = address, definition
        self.identity = ""
        self._line: OpenLine | None = None

    def open(self) -> None:
        """Open the line, and hear who answers."""
        line = OpenLine(self.address, self.definition)
        try:
            self.identity = line.ask("*IDN?").strip()
        except LineFault as fault:
            raise LineFault(refused(self.address) or fault.sentence) from fault
        if not self.definition.fits(self.identity):
            line.close()
            raise LineFault(f"something else answers at its address: {self.identity[:60]!r}")
        for command in self.definition.setup:
            line.send(command)
        self._line = line

    def close(self) -> None:
        """Close the line, whatever state it is in."""
        if self._line is not None:
            self._line.close()

    @property
    def is_open(self) -> bool:
        """Whether the line can be asked."""
        return self._line is not None and self._line.is_open

    @property
    def line(self) -> OpenLine:
        """The line itself."""
        if self._line is None:
            raise LineFault("the line is closed")
        return self._line

    def values(self) -> tuple[float, float, dict[LiveName, float | None]]:
        """Everything the instrument gives: when it was asked, when it began to answer (monotonic s), and its values."""
        asked, answered = time.monotonic(), 0.0
        given: dict[LiveName, float | None] = {}
        with self.line.guarded():
            if not self.definition.asks:  # it gives traces only: whether it is still there is asked all the same
                self.line.ask("*IDN?")
            for ask in self.definition.asks:
                given |= values_of(ask, self._figures(ask))
                answered = answered or time.monotonic()  # no value is younger than the first of them
        return asked, answered or time.monotonic(), given

    def trace(self, ask: TraceAsk) -> tuple[float, float, tuple[float, ...]]:
        """A whole trace: the ends of its axis, and its values as they came."""
        line = self.line
        with line.guarded():
            for command in ask.setup:
                line.send(command)
            start, stop = (figures_of(line.ask(question))[0] for question in (ask.start, ask.stop))
            values = not_overloaded(line.ask_block(ask.values))
        if len(values) > MOST_POINTS or not all(math.isfinite(v) for v in (start, stop, *values)):
            raise LineFault("it answered with something that is no trace")
        return start, stop, values

    def error(self) -> str:
        """The oldest entry of its error queue in words, or an empty string."""
        if not self.definition.errors:
            return ""
        answer = self.line.ask(self.definition.errors).strip()
        match = re.match(r'[+-]?(\d+)\s*,\s*"?(.*?)"?$', answer)
        if match is None or int(match[1]) == 0:
            return ""
        return match[2][:120]

    def _figures(self, ask: Ask) -> tuple[float, ...]:
        """The figures of one answer."""
        if ask.form == "text":
            wanted = 1 + max(gives.index for gives in ask.gives)
            return figures_of(self.line.ask(ask.command)[:LARGEST_ANSWER], wanted)
        return self.line.ask_block(ask.command)
