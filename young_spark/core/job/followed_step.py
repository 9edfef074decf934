"""One step of a sequence on its way: what was read since it was upset last, whether it stands right, which way to
turn."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

from young_spark.core.figure import format_value, quantity
from young_spark.core.gear import Aim, Least, Level, Most, OwnMeter, PlanRow, Step, To
from young_spark.core.ground import Frozen
from young_spark.core.job.plans import ReadingFact, fits, row_label

StepState = Literal["open", "out", "in", "again", "left out"]
SAME = 0.01  # of a figure: what a meter breathes
AS_LEFT = 0.05  # of a figure: less than that is what the other of a pair takes from it where both stand right
BOTH_SIDES = 2
FLAT = 4  # figures on end that gain nothing more: the top is that broad
OTHERS_TOO = "Read the other points too."
NUMBERED = re.compile(r"\b[A-Z]{1,3}\d{1,3}\b")


@dataclass(frozen=True)
class Turn:
    """An adjustment on the slip: its place there, the adjuster as it was typed, what was found, and the figures that
    were read on the way but for the last."""

    order: int
    adjuster: str
    found: str = ""
    passed: tuple[float, ...] = ()

    def is_of(self, adjuster: str) -> bool:
        """Whether it names the adjuster of a step: by its number, else by its words."""
        numbers, said = set(NUMBERED.findall(adjuster.upper())), set(NUMBERED.findall(self.adjuster.upper()))
        if numbers or said:
            return bool(numbers & said)
        return bool(_words(adjuster) & _words(self.adjuster))


# what the adjuster of a general step is called, and the letters of the parts that it may be on a board
LETTERS = ((r"coils?|core|slug|network", r"[LT]"), (r"trimmer|capacitor|tuning", r"(?:TC|CT|VC|CV|C)"),
           (r"preset|limiter|balance|bias|control", r"(?:VR|RV|R|P)"))  # fmt: skip
AREA_READ_IN = {
    "frequency_error": "frequency_trim", "carrier_frequency": "frequency_trim", "fm_deviation": "audio",
    "am_depth": "audio", "carrier_suppression": "sideband", "idle_current": "bias", "carrier_power": "driver",
    "peak_envelope_power": "level_control", "plate_current": "final", "grid_current": "final", "input_swr": "driver",
    "squelch_open": "receiver", "s_meter_reference": "receiver", "s_meter_reading": "receiver",
    "sensitivity_12db_sinad": "receiver", "sensitivity_10db_sn": "receiver", "subtone_deviation": "audio",
}  # fmt: skip


def may_be_of(adjuster: str, step_adjuster: str) -> bool:
    """Whether a numbered part may be the adjuster of a step that names none: 'L14' one of its coils."""
    part = NUMBERED.search(adjuster.upper())
    if part is None or NUMBERED.search(step_adjuster.upper()):
        return False
    letters = [letters for words, letters in LETTERS if re.search(rf"\b(?:{words})\b", step_adjuster.lower())]
    return any(re.match(rf"{one}\d", part[0]) for one in letters)


class TurnedFor(Frozen):
    """How a step is turned with a live figure in sight: which adjuster, and what for; `target` and `allowed` in the
    quantity's unit."""

    adjuster: str
    quantity: str
    aim: Literal["peak", "dip", "target"]
    target: float | None = None
    allowed: float | None = None


class StepStanding(Frozen):
    """One step as it stands: its figures as they were read, and in words what to do."""

    id: str
    adjuster: str
    where: str
    how: str
    mind: str
    reads: str
    aim: str
    state: StepState
    says: str
    figures: tuple[str, ...]
    found: str
    times: int  # that it came round
    asks: str  # what to do, in one sentence
    area: str | None  # that its adjuster can change
    begins: str  # what a text for it begins with in the field
    row: str  # the line of the slip that it is read at next
    turned_for: TurnedFor | None  # none where only eyes can read it


@dataclass
class FollowedStep:
    """A visit begins where the step was upset, and holds the figures since, at each of its points."""

    step: Step
    lines: Sequence[PlanRow]
    is_left_out: bool = False
    found: str = ""
    visit: list[list[float]] = field(default_factory=list)
    told: list[float] = field(default_factory=list)  # where it stood when the others were told last
    spread: float = 0.0  # of the newest figure: the half-width of its 95 %
    figures: list[str] = field(default_factory=list)
    upset_by: str = ""
    measured: float | None = None  # what the set's own meter should show there
    waits: bool = False  # it was turned, and not read since
    moved: bool = False  # it was turned without a figure that says how far
    gained: bool = True  # the last visit did; until one was, nobody knows
    left: float | None = None  # the most, or the least, that it was left at: read so once more, it stands right
    times: int = 1
    stale: set[int] = field(default_factory=set)  # points that were read before another of them moved
    newly: dict[int, int] = field(default_factory=dict)  # by point: where its figures begin since another one moved

    def __post_init__(self) -> None:
        self._begin_anew()

    def _begin_anew(self) -> None:
        self.visit, self.stale, self.newly = [[] for _ in self.lines], set(), {}

    def is_read_at(self, fact: ReadingFact) -> bool:
        """Whether a figure was read at one of its points. What is no more than a bound says nothing of where it
        stands; what the set's own meter shows, of that meter only."""
        tells = fact.value is not None and not fact.is_bound and is_told_by_its_meter(fact, self.step)
        return tells and fact.quantity == self.step.read and any(is_at(fact, line) for line in self.lines)

    def measured_beside(self, fact: ReadingFact) -> None:
        """What was measured at the point of an own meter: that is what it should show, and it is read again where it
        showed something else."""
        if not isinstance(self.step.aim, OwnMeter) or is_told_by_its_meter(fact, self.step):
            return
        there = fact.quantity == self.step.read and any(is_at(fact, line) for line in self.lines)
        if fact.is_bound or fact.value is None or not there:
            return
        if self.measured is not None and _differ(self.measured, fact.value, self.step.aim):
            self.upset("The power")
        self.measured = fact.value

    def turn(self, turn: Turn) -> None:
        """It was turned: what was read before says nothing of where it stands now."""
        self.found = turn.found or self.found
        self.waits, self.moved = True, not turn.passed
        if isinstance(self.step.aim, Level):
            self._begin_anew()
        else:
            self.visit[0] += turn.passed

    def read(self, fact: ReadingFact) -> None:
        """A figure at one of its points."""
        for n, (line, there) in enumerate(zip(self.lines, self.visit, strict=True)):
            if is_at(fact, line):
                there.append(fact.value or 0.0)
                moved = len(there) > 1 and _differ(there[-1], there[-2], self.step.aim)
                if n in self.stale:
                    self.newly[n] = len(there) - 1
                elif moved:  # it was turned meanwhile
                    self.stale |= set(range(len(self.visit)))
                self.stale.discard(n)
        self.found = self.found or fact.figure
        self.figures.append(fact.figure)
        self.spread, self.waits = fact.uncertainty or 0.0, False

    def upset(self, by: str, *, read_once_more: bool = False) -> None:
        """Another adjuster that moves this one was turned: it is looked for anew, or only read once more, and looked
        for where that is not what it was left at."""
        if any(self.visit):
            self.times += 1
            self.upset_by = by
            self.left = self.visit[0][-1] if read_once_more and self.judged()[0] == "in" else None
        self.told = []
        self._begin_anew()

    def settle(self, *, gained: bool) -> None:
        """What it moved was told to the others."""
        self.moved, self.gained = False, gained
        self.told = [there[-1] for there in self.visit if there]

    def has_moved(self) -> bool:
        """Whether the others must be looked at again: it was turned without a figure, or stands right now and not where
        it stood when the visit began."""
        if self.moved or self.judged()[0] != "in":
            return self.moved
        began = self.told or [there[0] for there in self.visit]
        return any(_differ(one, there[-1], self.step.aim) for one, there in zip(began, self.visit, strict=True))

    def was_turned_about(self) -> bool:
        """Whether it is the most, or the least, and was looked for in this visit without a gain: it may stand elsewhere
        all the same, on the other side of the top."""
        looked = not self.told and isinstance(self.step.aim, Most | Least) and len(self.visit[0]) > 1
        return looked and self.judged()[0] == "in"

    def judged(self) -> tuple[StepState, str]:
        """How it stands, and what to do, in words."""
        if self.is_left_out:
            return "left out", "Left as it is."
        if self.upset_by and not any(self.visit):
            return "again", f"{self.upset_by} was turned since: read it again."
        if self.waits:
            return "out", "Turned: what does it read now?"
        if not all(self.visit):
            return "open", OTHERS_TOO if any(self.visit) else ""
        aim, unit = self.step.aim, quantity(self.step.read).unit
        if isinstance(aim, Level):
            return self._level([there[-1] for there in self.visit], aim)
        values = self.visit[0]
        if isinstance(aim, OwnMeter):
            return _like_measured(values, self.measured, aim, unit)
        if isinstance(aim, To):
            return _toward(values, aim, unit, self.spread)
        if len(values) == 1 and self.left is not None and abs(values[0] - self.left) <= AS_LEFT * abs(self.left):
            return "in", "As it was left: leave it there."
        return _best(values, aim, unit)

    def _level(self, newest: Sequence[float], aim: Level) -> tuple[StepState, str]:
        values = [abs(value) for value in newest]
        high, low = max(values), min(values)
        if high == 0 or (high - low) / high <= aim.share:
            return ("open", OTHERS_TOO) if self.stale else ("in", "Alike: leave it there.")
        lowest, highest = values.index(low), values.index(high)
        where = row_label(self.lines[lowest])
        before = self._newly_read(lowest)
        if len(before) > 1 and before[-2] > low and _differ(before[-2], low, aim):
            return "out", f"Less at {where} than before: turn it the other way."
        return (
            "out",
            f"Lowest at {where}, {100 * (1 - low / high):.0f} % under the highest{self._which(lowest, highest)}",
        )

    def _newly_read(self, n: int) -> list[float]:
        """What was read at a point since an adjuster moved another one."""
        return self.visit[n][self.newly.get(n, 0) :]

    def _which(self, lowest: int, highest: int) -> str:
        """Which of several adjusters to turn for more at the lowest point, in words."""
        own, of_the_highest = self.step.at[lowest].adjuster, self.step.at[highest].adjuster
        others = [a for a in (of_the_highest, *(point.adjuster for point in self.step.at)) if a and a != own]
        if own and others and _best(self._newly_read(lowest), Most(aim="most"), "")[0] == "in":
            return f", and that is the most that {own} gives there: turn {others[0]} for more there."
        if own or not of_the_highest:
            return f": turn {own or 'for that end'}{' for more there' if own else ''}."
        return f": turn {of_the_highest} back, towards it."

    def standing(self) -> StepStanding:
        """The step as the slip shows it."""
        state, says = self.judged()
        step = self.step
        told = NUMBERED.search(step.adjuster)
        return StepStanding(
            id=step.id, adjuster=step.adjuster, where=step.where, how=step.how, mind=step.mind,
            reads=", ".join(filter(None, (quantity(step.read).name, self._points()))), aim=aim_words(step),
            state=state, says=says, figures=tuple(self.figures), found=self.found, times=self.times,
            area="meter" if isinstance(step.aim, OwnMeter) else AREA_READ_IN.get(step.read),
            asks=f"{step.asks()}, {aim_words(step)}", begins=f"{told[0].lower()} " if told else "",
            row=self._next_line().id, turned_for=self._turned_for(),
        )  # fmt: skip

    def _turned_for(self) -> TurnedFor | None:
        aim, adjuster = self.step.aim, self.step.adjuster
        if isinstance(aim, OwnMeter):
            return None
        if isinstance(aim, To):
            return TurnedFor(
                adjuster=adjuster, quantity=self.step.read, aim="target", target=aim.value, allowed=aim.allowed
            )
        if isinstance(aim, Level):
            adjuster = self.step.at[self.lines.index(self._next_line())].adjuster or adjuster
        return TurnedFor(adjuster=adjuster, quantity=self.step.read, aim="dip" if isinstance(aim, Least) else "peak")

    def _points(self) -> str:
        return " / ".join(filter(None, map(row_label, self.lines)))

    def _next_line(self) -> PlanRow:
        """The first point that was not read as it stands, else the one that lies lowest."""
        for line, there in zip(self.lines, self.visit, strict=True):
            if not there:
                return line
        if self.stale and self.judged()[1] == OTHERS_TOO:
            return self.lines[min(self.stale)]
        lowest = min(range(len(self.visit)), key=lambda n: abs(self.visit[n][-1]))
        return self.lines[lowest]


def is_told_by_its_meter(fact: ReadingFact, step: Step) -> bool:
    """Whether a figure was read on the set's own meter where a step is of that, and on another where it is not."""
    return (fact.conditions.instrument == "own_meter") == isinstance(step.aim, OwnMeter)


def is_at(fact: ReadingFact, row: PlanRow) -> bool:
    """Whether a figure was read at the point of a line: filed there, or taken under its conditions."""
    return fact.plan_row == row.id or fits(row, fact.conditions)


def aim_words(step: Step) -> str:
    """Where a step is turned to, in words."""
    aim, unit = step.aim, quantity(step.read).unit
    if isinstance(aim, To):
        return f"to {format_value(aim.value, unit, figures=4)} ± {format_value(aim.allowed, unit, figures=2)}"
    if isinstance(aim, Level):
        return f"alike at all of them, to within {100 * aim.share:.0f} %"
    if isinstance(aim, OwnMeter):
        return f"like what was measured, to within {100 * aim.share:.0f} %"
    return "the most" if isinstance(aim, Most) else "the least"


def _toward(values: Sequence[float], aim: To, unit: str, spread: float) -> tuple[StepState, str]:
    off = values[-1] - aim.value
    if abs(off) <= aim.allowed < spread:
        return "in", f"Right, as far as ± {format_value(spread, unit, figures=2)} can tell: a finer instrument would."
    if abs(off) <= aim.allowed:
        return "in", "Right: leave it there."
    which = f"{format_value(abs(off), unit, figures=3)} too {'high' if off > 0 else 'low'}"
    before = values[-2] - aim.value if len(values) > 1 else None
    return "out", f"{which}: {_which_way(off, before)}"


def _like_measured(values: Sequence[float], measured: float | None, aim: OwnMeter, unit: str) -> tuple[StepState, str]:
    if measured is None:
        return "open", "Measure it there first, on an instrument that is no part of the set."
    held = To(aim="to", value=measured, allowed=max(aim.share * abs(measured), 1e-12))
    return _toward(values, held, unit, 0.0)


def _which_way(off: float, before: float | None) -> str:
    if before is None:
        return "turn it and read again."
    if before * off < 0:
        return "you passed it, back a little."
    if abs(off) < abs(before):
        return "nearer, go on."
    if off == before:
        return "turning it changes nothing. Put it back, and look for why."
    return "farther off, turn the other way."


def _best(values: Sequence[float], aim: Most | Least, unit: str) -> tuple[StepState, str]:
    """Peaked, or dipped, is what was seen to be worse on either side, and stands at its best again."""
    worth = [v if isinstance(aim, Most) else -abs(v) for v in values]
    best = max(range(len(values)), key=worth.__getitem__)
    much = SAME * max(abs(values[best]), 1e-12)
    shown = format_value(values[best], unit, figures=3)
    if len(values) == 1:
        return "out", "Turn it a little either way, and read each time."
    if max(worth) - min(worth) <= much:
        return "out", "It changes nothing: put it back where it was, and look for why."
    if worth[best] - worth[-1] > much and best < len(values) - 2 and worth[-1] - worth[-2] > much / 2:
        return "out", f"Nearer: go on, best so far {shown}."
    if worth[best] - worth[-1] > much:
        return "out", f"You passed it: best {shown}, back {'a little' if best == len(values) - 2 else 'to there'}."
    rose = worth[best] - worth[0] > much
    falls = sum(worth[best] - before <= much < worth[best] - after for before, after in pairwise(worth))
    flat = rose and len(worth) > FLAT and min(worth[-FLAT:]) >= worth[best] - much
    if rose + falls >= BOTH_SIDES or flat:
        return "in", f"Best {shown}{', flat there' if flat else ''}: leave it there."
    if falls:
        return "out", f"Back where it stood, best {shown}: go on past it, to the other side."
    return "out", f"Still getting better: go on. Best so far {shown}."


def _differ(one: float, other: float, aim: Aim) -> bool:
    much = aim.allowed / 10 if isinstance(aim, To) else SAME * max(abs(one), abs(other))
    return abs(one - other) > much


def _words(adjuster: str) -> set[str]:
    return set(re.findall(r"[a-z]{3,}", adjuster.lower())) - {"the", "control", "first", "second", "preset"}
