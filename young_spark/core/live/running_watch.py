"""A watch that runs for hours: a thinned log, and everything of the ten seconds around each drop."""

from collections import deque
from dataclasses import dataclass, field
from uuid import UUID

from young_spark.core.live.drops import RING_S, Drop, Point, fell, usual
from young_spark.core.live.values import LiveName, is_there

LOG_EVERY_S = 1.0
CHUNK_S = 5.0


@dataclass
class RunningWatch:
    """Points come in, chunks and drops go out; times in s since the watch began."""

    id: UUID
    floors: dict[LiveName, float]  # what each value's instrument shows of nothing
    _ring: deque[Point] = field(default_factory=deque)
    _well: dict[LiveName, deque[Point]] = field(
        default_factory=dict
    )  # of the ring, what was read while nothing was down
    _log: list[Point] = field(default_factory=list)
    _written: set[tuple[LiveName, float]] = field(default_factory=set)  # of the ring, what is in the log or was sent
    _logged: dict[LiveName, float] = field(default_factory=dict)
    _chunk_at: float | None = None
    _down: dict[LiveName, Drop] = field(default_factory=dict)
    _kept_to: float = -1.0

    def add(self, point: Point) -> list[Drop]:
        """One more point; returns the drops that began or ended with it."""
        while self._ring and point.at - self._ring[0].at > RING_S:
            old = self._ring.popleft()
            self._written.discard((old.name, old.at))
        well = self._well.setdefault(point.name, deque())
        while well and point.at - well[0].at > RING_S:
            well.popleft()
        down = self._down.get(point.name)
        usually = down.usual if down else usual(well)
        floor = self.floors.get(point.name, 0.0)
        kind = fell(point.name, point.value, usually, floor)
        if kind is None and is_there(point.value, floor):
            well.append(point)
        self._ring.append(point)
        self._keep(point)
        if kind is not None and down is None and usually is not None:
            self._down[point.name] = Drop(at=point.at, name=point.name, kind=kind, usual=usually, reached=point.value)
            self._keep_ring(point.at)
            return [self._down[point.name]]
        if down is None:
            return []
        return self._while_down(down, point, over=kind is None)

    def _while_down(self, down: Drop, point: Point, over: bool) -> list[Drop]:
        if not over:
            reached = point.value if abs(point.value - down.usual) > abs(down.reached - down.usual) else down.reached
            worse = down.model_copy(
                update={
                    "reached": reached,
                    "kind": down.kind if is_there(point.value, self.floors.get(point.name, 0.0)) else "gone",
                }
            )
            self._down[point.name] = worse
            return []
        ended = down.model_copy(update={"lasted": point.at - down.at})
        del self._down[point.name]
        return [ended]

    def _keep(self, point: Point) -> None:
        """Into the log: one a second, and all of the ten seconds after a drop."""
        near = point.at <= self._kept_to
        if near or point.at - self._logged.get(point.name, -LOG_EVERY_S) >= LOG_EVERY_S:
            self._logged[point.name] = point.at
            self._written.add((point.name, point.at))
            self._log.append(point)

    def _keep_ring(self, at: float) -> None:
        """Into the log: all of the ten seconds before a drop that is not there yet."""
        fresh = [p for p in self._ring if (p.name, p.at) not in self._written]
        self._written |= {(p.name, p.at) for p in fresh}
        self._log += fresh
        self._kept_to = at + RING_S

    def chunk(self, now: float, *, all_of_it: bool = False) -> list[Point]:
        """The log since the last chunk, every five seconds; at once after a drop or at the end."""
        if self._chunk_at is None:
            self._chunk_at = now
        if not self._log or (now - self._chunk_at < CHUNK_S and not all_of_it):
            return []
        self._chunk_at = now
        log, self._log = sorted(self._log, key=lambda p: p.at), []
        return log
