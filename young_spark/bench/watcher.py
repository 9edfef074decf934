"""Keeps a watch going: which of what is heard belongs into it, and its parts on their way to the web."""

import time
import uuid
from collections.abc import Callable, Sequence

from young_spark import steady_clock
from young_spark.bench.lines import Lines
from young_spark.bench.poller import Heard
from young_spark.core.live import Drop, LiveName, Point, RunningWatch
from young_spark.wire import Watched

WATCHED: tuple[LiveName, ...] = ("power", "amps", "frequency")


class Watcher:
    """One watch at a time, or none."""

    def __init__(self, lines: Lines, send: Callable[[Watched], None]) -> None:
        self._lines = lines
        self._send = send
        self._watch: RunningWatch | None = None
        self._began = 0.0  # s since 1970

    def keep(self, watch_id: uuid.UUID | None, began: float | None) -> None:
        """Begin, go on with, or end a watch; `began` in s since 1970."""
        if self._watch is not None and self._watch.id != watch_id:
            self._tell(self._watch, [], self._watch.chunk(time.monotonic(), all_of_it=True))
            self._watch = None
        if watch_id is not None and self._watch is None:
            self._watch, self._began = RunningWatch(watch_id, self._lines.floors()), began or steady_clock.now()
        self._lines.watch(self._watch is not None)

    def lines_changed(self) -> None:
        """Another instrument may give a value now, with a floor of its own."""
        if self._watch is not None:
            self._watch.floors = self._lines.floors()

    def heard(self, heard: Heard) -> None:
        """One answer of an instrument."""
        if (watch := self._watch) is None:
            return
        at = steady_clock.from_monotonic(heard.at) - self._began
        drops: list[Drop] = []
        for name, value in heard.values.items():
            source = self._lines.taker.sources.get(name)
            if name not in WATCHED or source is None or source.instrument != heard.instrument:
                continue
            if value is None and name != "power":
                continue  # a counter without a carrier says nothing
            drops += watch.add(Point(at=at, name=name, value=value or 0.0))
        points = watch.chunk(time.monotonic(), all_of_it=bool(drops))
        if drops or points:
            self._tell(watch, drops, points)

    def _tell(self, watch: RunningWatch, drops: Sequence[Drop], points: Sequence[Point]) -> None:
        told = tuple((round(p.at, 3), p.name, p.value) for p in points)
        self._send(Watched(id=watch.id, drops=tuple(drops), points=told))
