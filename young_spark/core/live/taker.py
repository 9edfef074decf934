"""Finds the carrier and takes, in one key-down, the whole set of readings that the plan wants there, each once.

A carrier counts as one only while nothing modulates it, and that must be seen by an instrument: a window of power
readings is believed when every look at the modulation during it was quiet and one more came after it."""

from collections import deque
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from math import inf

from young_spark.core.ground import Frozen
from young_spark.core.live.definition_file import Gives
from young_spark.core.live.values import (
    SOURCES,
    LiveName,
    Sample,
    Steady,
    is_loud,
    is_quiet,
    is_there,
    newest_window,
    steady,
)

KEPT_S = 3.0
SAME_CHANNEL_HZ = 3000.0
GONE_AFTER = 2  # readings under the floor in a row before the carrier is gone: a drop-out is not an unkeying
# what shows that nothing modulates: a crest over the mean is blind to FM, which a counter is not
MODULATION: tuple[LiveName, ...] = ("depth", "deviation", "pep")
MODULATION_OF_A_FREQUENCY: tuple[LiveName, ...] = ("depth", "deviation")


class Wanted(Frozen):
    """A reading that the plan wants: `here` where it belongs to the current line's point."""

    row: str
    quantity: str
    modulation: str | None = None
    assigned_hz: float | None = None
    here: bool = True

    def is_near(self, at_hz: float) -> bool:
        """Whether a carrier there is on its channel; what has no frequency of its own is near none."""
        return bool(self.assigned_hz) and abs(at_hz - (self.assigned_hz or 0.0)) < SAME_CHANNEL_HZ


@dataclass(frozen=True)
class Source:
    """Which instrument gives a value."""

    instrument: str
    gives: Gives


@dataclass(frozen=True)
class CarrierChanged:
    """The carrier came (`up`) or went, at monotonic s."""

    up: bool
    at: float


@dataclass(frozen=True)
class Captured:
    """A reading that stood still: the mean of every value it is made of, and the raw samples."""

    row: str
    quantity: str
    values: dict[LiveName, float]
    steadiness: Steady
    instruments: dict[LiveName, str]
    samples: dict[LiveName, tuple[Sample, ...]]
    at: float


@dataclass(frozen=True)
class Misplaced:
    """A carrier stands still, but on a frequency (Hz) where nothing is wanted."""

    frequency_hz: float


@dataclass(frozen=True)
class Unseen:
    """A carrier stands still, but no instrument here sees modulation: it must be taken by hand."""


TakerEvent = CarrierChanged | Captured | Misplaced | Unseen


@dataclass
class Taker:
    """The state of the bench as its instruments tell it; no clock of its own: it lives by the times it is handed."""

    sources: dict[LiveName, Source]
    wanted: tuple[Wanted, ...] = ()
    up: bool = False
    _set: tuple[Wanted, ...] = ()  # of this key-down: fixed when the carrier came
    _taken: set[str] = field(default_factory=set)
    _said: set[str] = field(default_factory=set)
    _under: int = 0
    _samples: dict[LiveName, deque[Sample]] = field(default_factory=dict)

    @property
    def sensor(self) -> LiveName | None:
        """The value that shows whether there is a carrier."""
        return next((name for name in ("power", "frequency") if name in self.sources), None)

    def want(self, wanted: Iterable[Wanted]) -> None:
        """What the plan wants now. A key-down under way keeps its own set, unless nothing was taken in it yet."""
        self.wanted = tuple(wanted)
        if self.up and not self._taken:
            self._set = self.wanted

    @property
    def left(self) -> tuple[Wanted, ...]:
        """What is still to be taken in this key-down, or in the next."""
        rows = {w.row for w in self.wanted}
        return tuple(w for w in (self._set if self.up else self.wanted) if w.row in rows and w.row not in self._taken)

    @property
    def left_here(self) -> tuple[Wanted, ...]:
        """Of what is left, what this key-down can still give; before the carrier, what the current point wants."""
        samples = self._samples.get("frequency")
        if not self.up or not samples:
            return tuple(w for w in self.left if w.here)
        now = samples[-1].value  # with audio on a counter wobbles, but not by a channel
        return tuple(w for w in self.left if w.assigned_hz is None or abs(now - w.assigned_hz) < SAME_CHANNEL_HZ)

    def lost(self, instrument: str) -> None:
        """A line went wrong: nothing of before counts for after."""
        for name, source in self.sources.items():
            if source.instrument == instrument:
                self._samples.pop(name, None)

    def heard(
        self, instrument: str, asked: float, at: float, values: Mapping[LiveName, float | None]
    ) -> list[TakerEvent]:
        """One answer; returns what follows from it."""
        events: list[TakerEvent] = []
        for name, value in values.items():
            source = self.sources.get(name)
            if source is None or source.instrument != instrument:
                continue
            if name == self.sensor:
                events += self._sense(value, source.gives.floor, at)
            if value is None:
                self._samples.pop(name, None)
            else:
                kept = self._samples.setdefault(name, deque())
                kept.append(Sample(asked=asked, at=at, value=value))
                while at - kept[0].at > KEPT_S:
                    kept.popleft()
        return events + (self._take(at) if self.up else [])

    def _sense(self, value: float | None, floor: float, at: float) -> list[TakerEvent]:
        if is_there(value, floor):
            self._under = 0
            if self.up:
                return []
            self.up, self._set = True, self.wanted
            self._taken.clear()
            self._said.clear()
            self._samples.clear()  # what was read without a carrier says nothing of this one
            return [CarrierChanged(True, at)]
        for name in self.sources:
            self._samples.pop(name, None)  # a drop-out ends every window
        self._under += 1
        if not self.up or self._under < GONE_AFTER:
            return []
        self.up = False
        self._taken.clear()
        return [CarrierChanged(False, at)]

    def _take(self, at: float) -> list[TakerEvent]:
        events: list[TakerEvent] = []
        left = self.left
        placed = self._in_place(left)
        for wanted in placed:
            if (captured := self._standing(wanted, at)) is not None:
                self._taken.add(wanted.row)
                events.append(captured)
        if (
            left
            and not placed
            and not self._taken
            and (frequency := self._steady("frequency"))
            and "misplaced" not in self._said
        ):
            self._said.add("misplaced")
            events.append(Misplaced(frequency.value))
        sees = any(name in self.sources for name in MODULATION)
        if placed and not sees and "unseen" not in self._said and self._steady("power"):
            self._said.add("unseen")
            events.append(Unseen())
        return events

    def _in_place(self, left: tuple[Wanted, ...]) -> tuple[Wanted, ...]:
        """Of what is left, what belongs to the frequency that the counter shows; without a counter, to the current
        point."""
        if "frequency" not in self.sources:
            return tuple(w for w in left if w.here)
        steady, samples = self._steady("frequency"), self._samples.get("frequency")
        fits = {w.row for w in left if steady and w.is_near(steady.value)}
        # with modulation on the counter wobbles: near enough is enough
        fits |= {w.row for w in left if samples and w.modulation == "on" and w.is_near(samples[-1].value)}
        return tuple(w for w in left if w.row in fits or (w.assigned_hz is None and w.here))

    def _steady(self, name: LiveName, until: float = inf) -> Steady | None:
        source = self.sources.get(name)
        samples = self._asked(name, until)
        if source is None or not samples:
            return None
        newest = samples[-1].value
        return steady(name, samples, source.gives.scatter + source.gives.scatter_percent / 100 * abs(newest))

    def _asked(self, name: LiveName, until: float) -> tuple[Sample, ...]:
        return tuple(s for s in self._samples.get(name, ()) if s.asked <= until)

    def _standing(self, wanted: Wanted, at: float) -> Captured | None:
        names = SOURCES.get(wanted.quantity, ())
        if not names or any(name not in self.sources for name in names):
            return None
        seen_by = MODULATION_OF_A_FREQUENCY if names[0] == "frequency" else MODULATION
        until = inf if wanted.modulation == "on" else self._looked_until(seen_by)
        steadiness = {name: self._steady(name, until) for name in names}
        first = steadiness[names[0]]
        if first is None or any(steadiness[name] is None and name != "reflected" for name in names):
            return None
        windows = {name: self._window(name, until) for name in names}
        if wanted.modulation == "on":
            if not is_loud(wanted.quantity, first.value):
                return None
        elif not self._quiet_since(windows[names[0]][0].asked, seen_by):
            return None
        return Captured(
            row=wanted.row,
            quantity=wanted.quantity,
            values={name: _mean(windows[name]) for name in names},
            steadiness=first,
            instruments={name: self.sources[name].instrument for name in names},
            samples=windows,
            at=at,
        )

    def _window(self, name: LiveName, until: float) -> tuple[Sample, ...]:
        samples = self._asked(name, until)
        return newest_window(samples) or samples[-1:]

    def _looked_until(self, seen_by: tuple[LiveName, ...]) -> float:
        """Until when every instrument here that sees modulation has looked: only what was asked for before that is
        judged. Instruments asked in one rhythm keep their order, so the newest reading may come just after a look
        every time."""
        present = [self._samples.get(name) for name in seen_by if name in self.sources]
        return min((looks[-1].asked if looks else -inf for looks in present), default=-inf)

    def _quiet_since(self, begin: float, seen_by: tuple[LiveName, ...]) -> bool:
        """Whether no look since then saw modulation."""
        return all(
            is_quiet(name, self._modulation(name, look))
            for name in seen_by
            if name in self.sources
            for look in self._samples.get(name, ())
            if look.at >= begin
        )

    def _modulation(self, name: LiveName, sample: Sample) -> float:
        if name != "pep":
            return sample.value
        mean = next((p.value for p in self._samples.get("power", ()) if p.asked == sample.asked), None)
        return sample.value / mean if mean else float("inf")


def _mean(samples: tuple[Sample, ...]) -> float:
    return sum(s.value for s in samples) / len(samples)
