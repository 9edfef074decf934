"""A hand that sets a simulated unit up as the slip tells it to, and one that knows the sheet and goes round.

Both read the same noisy instruments and turn by the same habits: a trial turn, then what the figures say. The one that
follows sees the words of the slip only; the other knows every aim, goes through the sheet in its order, and comes round
until a whole round found nothing to turn."""

import random
import re
from dataclasses import dataclass, field

from tests.core.test_setting_up import Slip
from young_spark.bench.simulator.instruments import (
    amplifier_meters,
    counter,
    input_wattmeter,
    modulation_meter,
    wattmeter,
)
from young_spark.bench.simulator.unit import Unit
from young_spark.core.gear import AdjustmentSequence, Step, StepPoint, gear_of, models
from young_spark.core.job import Begun, set_up

TRIAL, LEAST, FINEST = 0.5, 0.1, 0.02  # turns: what a hand tries first, turns at least, and as finely as it can
SETTLED_S, HALF_DRIVE_W = 3.0, 20.0
MOST_READINGS, MOST_ROUNDS = 400, 8


class DidNotEnd(Exception):
    """So many readings, and it is not through."""


@dataclass
class Bench:
    """A simulated unit in a time of its own, and its instruments."""

    kind: str
    seed: int
    unit: Unit = field(init=False)
    now: float = 0.0
    turns: int = 0

    def __post_init__(self) -> None:
        self.unit = Unit(clock=lambda: self.now, chance=random.Random(self.seed))
        self.unit.set(kind=self.kind, channel=19 if self.kind == "mobile" else 20)
        chance = random.Random(self.seed + 1)
        made = (wattmeter, counter, modulation_meter, input_wattmeter, amplifier_meters)
        self.meters = [make(self.unit, chance) for make in made]

    def spoil(self, most: float) -> None:
        """Turn every adjuster by up to so much, either way."""
        chance = random.Random(self.seed + 2)
        for name in self.unit.kind.adjusters:
            self.unit.turn(name, chance.uniform(-most, most))

    def turn(self, adjuster: str, by: float) -> None:
        """Turn it, as finely as a hand can."""
        self.unit.turn(adjuster.partition(",")[0], round(by / FINEST) * FINEST)
        self.turns += 1

    def read(self, quantity: str, at: StepPoint, *, own: bool) -> float:
        """Key at a point, read, and let go."""
        modulated = at.modulation == "on"
        where = {"mode": at.mode or self.unit.hands.mode, "channel": at.channel or self.unit.hands.channel}
        drive_w = 0.0 if quantity == "idle_current" else HALF_DRIVE_W
        self.unit.set(keyed=True, tone=modulated, drive_w=drive_w, **where)
        self.now += SETTLED_S
        try:
            return self.unit.own_meter_w if own else self._figure(quantity)
        finally:
            self.unit.set(keyed=False, tone=False)
            self.now += 3 * SETTLED_S  # it cools

    def _figure(self, quantity: str) -> float:
        watts, count, audio, drive, valves = self.meters
        if quantity == "frequency_error":
            return float(count.answer("MEAS:FREQ?")) - self.unit.kind.channels[self.unit.hands.channel]
        if quantity in {"am_depth", "fm_deviation"}:
            now = self.unit.output()
            return now.deviation_hz if quantity == "fm_deviation" else audio.noisy(100 * now.depth, 0.001, 0.15)
        if quantity == "input_swr":
            forward, back = map(float, drive.answer("MEAS:DRIV?").split(b","))
            rho = (back / forward) ** 0.5
            return (1 + rho) / (1 - rho)
        if quantity in {"idle_current", "plate_current"}:
            return float(valves.answer("MEAS:AMPL?").split(b",")[1])
        return float(watts.answer("MEAS:POW?").split(b",")[0])


@dataclass
class Habit:
    """How a hand turns one adjuster: by its slope toward a figure, by halves about a top."""

    screw: str = ""  # of several
    by: float = TRIAL
    slope: float | None = None
    before: float | None = None
    turned: float = 0.0

    def toward(self, value: float, aim: float) -> float:
        """The next turn toward a figure."""
        if self.before is not None and self.turned:
            seen = (value - self.before) / self.turned
            self.slope = seen if abs(seen) > 1e-9 else None
        self.before = value
        self.turned = TRIAL if not self.slope else max(-3.0, min(3.0, (aim - value) / self.slope))
        return self.turned

    def about_a_top(self, says: str) -> float:
        """The next turn by what the slip says."""
        if "passed it" in says or "farther off" in says:
            self.by *= -0.5 if abs(self.by) > LEAST else -1.0
        elif "other way" in says or says.endswith("towards it."):
            self.by *= -1.0
        elif "changes nothing" in says:
            self.by *= 2
        self.by = max(-3.0, min(3.0, self.by))
        return self.by


def follow(bench: Bench, sequence: AdjustmentSequence) -> Slip:
    """Set the unit up by the words of the slip alone. Raises DidNotEnd."""
    slip, habits = Slip(), {}
    for _ in range(MOST_READINGS):
        standing = set_up(Begun(sequence, 1), slip.facts, slip.turns, ())
        if standing.current is None:
            return slip
        step, told = sequence.step(standing.current), standing.next_step
        if told.state == "again" or step.id not in habits:
            habits[step.id] = Habit()
        if told.state != "out":
            pass  # it is read first
        elif step.aim.aim in {"to", "own_meter"}:
            bench.turn(step.adjuster, habits[step.id].toward(slip.facts[-1].value, _aim(step, slip)))
        else:
            named = re.search(r"turn ([A-Z]+\d+)", told.says) if step.aim.aim == "level" else None
            if named and named[1] != habits[step.id].screw:
                habits[step.id] = Habit(screw=named[1])
            bench.turn(habits[step.id].screw or step.adjuster, habits[step.id].about_a_top(told.says))
        _read(bench, step, step.at[int(told.row.rpartition(":")[2])], told.says, slip)
    raise DidNotEnd(standing.says)


def go_round(bench: Bench, sequence: AdjustmentSequence) -> None:
    """Set the unit up without the slip: each step by itself, in the order of the sheet, whole rounds until one of them
    leaves every adjuster about where it was. Raises DidNotEnd."""
    for _ in range(MOST_ROUNDS):
        before = dict(bench.unit.hands.turned)
        for step in sequence.steps:
            follow(bench, sequence.model_copy(update={"steps": (step.model_copy(update={"upsets": ()}),)}))
        if all(abs(at - before.get(name, 0.0)) <= TRIAL for name, at in bench.unit.hands.turned.items()):
            return
    raise DidNotEnd("so many rounds")


def _aim(step: Step, slip: Slip) -> float:
    if step.aim.aim == "to":
        return step.aim.value
    there = step.at[0].channel
    read = [f for f in slip.facts if f.quantity == step.read and f.conditions.channel == there]
    return next(f.value for f in reversed(read) if f.conditions.instrument is None)


def _read(bench: Bench, step: Step, at: StepPoint, says: str, slip: Slip) -> None:
    own = step.aim.aim == "own_meter" and not says.startswith("Measure it there first")
    where = at.model_dump(exclude={"adjuster"}) | ({"instrument": "own_meter"} if own else {})
    slip.read(step.read, bench.read(step.read, at, own=own), **where)


SEARCHED = [n / 20 for n in range(-60, 61)]  # turns about where an adjuster was left
SHORT_OF_IT = 0.04  # of the most, or the least, that one adjuster can give
METERS = 0.01  # what the instruments say of a figure may be off by so much


def is_outside(bench: Bench, step: Step) -> str:
    """What is wrong with a step by the physics of the unit, without any instrument; an empty string where nothing
    is."""
    aim = step.aim
    now = [_truth(bench, step.read, at) for at in step.at]
    if aim.aim == "to":
        off = abs(now[0] - aim.value)
        return "" if off <= aim.allowed + METERS * abs(aim.value) + 2 else f"{step.id}: {now[0]:.4g}, off by {off:.3g}"
    if aim.aim == "level":
        return "" if 1 - min(now) / max(now) <= aim.share + METERS else f"{step.id}: {now}"
    if aim.aim == "own_meter":
        shown = bench.unit.in_line.own_meter
        return "" if abs(shown - 1) <= aim.share + METERS else f"{step.id}: shows {shown:.2f} of it"
    stands, name = bench.unit.hands.turned, step.adjuster.partition(",")[0]
    there = []
    for by in SEARCHED:
        bench.unit.set(turned=dict(stands) | {name: stands[name] + by})
        there.append(_truth(bench, step.read, step.at[0]))
    bench.unit.set(turned=stands)
    best = max(there) if aim.aim == "most" else min(there)
    return "" if abs(now[0] - best) <= SHORT_OF_IT * best else f"{step.id}: {now[0]:.4g}, best {best:.4g}"


def _truth(bench: Bench, quantity: str, at: StepPoint) -> float:
    unit = bench.unit
    unit.warm(0)
    drive_w = 0.0 if quantity == "idle_current" else HALF_DRIVE_W
    where = {"mode": at.mode or unit.hands.mode, "channel": at.channel or unit.hands.channel}
    unit.set(keyed=True, tone=at.modulation == "on", drive_w=drive_w, **where)
    bench.now += 1.0
    unit.warm(0)
    out, driven = unit.output(), unit.driven
    unit.set(keyed=False, tone=False)
    return {
        "frequency_error": out.frequency_hz - unit.kind.channels[unit.hands.channel], "am_depth": 100 * out.depth,
        "fm_deviation": out.deviation_hz, "input_swr": driven.input_swr, "idle_current": driven.plate_a,
        "plate_current": driven.plate_a, "carrier_power": out.carrier_w,
    }[quantity]  # fmt: skip


@dataclass
class Tally:
    """What so many mis-set units came to: turns by the slip and by going round, and what was left outside."""

    kind: str
    runs: int = 0
    by_the_slip: int = 0
    by_rounds: int = 0
    outside: list[str] = field(default_factory=list)

    def __str__(self) -> str:
        ratio = self.by_the_slip / self.by_rounds if self.by_rounds else 1.0
        return (
            f"set-up of the {self.kind}: {self.runs} mis-settings, {self.runs - len(self.outside)} end in line; "
            f"{self.by_the_slip / self.runs:.0f} turns by the slip, {ratio:.2f} of going round the sheet"
        )


MIS_SET_TURNS = 2.0
SEQUENCES = {
    "mobile": lambda: models()["tarnbeck-m27"].sequences[0],
    "amplifier": lambda: gear_of("valve-linear", 200.0, {}).sequences[0],
}


def tally(kind: str, count: int, *, rounds: bool) -> Tally:
    """So many units of a kind, mis-set at random, set up by the words of the slip; by rounds of the sheet, too."""
    total, sequence = Tally(kind), SEQUENCES[kind]()
    for seed in range(count):
        total.runs += 1
        bench = Bench(kind, seed)
        bench.spoil(MIS_SET_TURNS)
        follow(bench, sequence)
        total.by_the_slip += bench.turns
        wrong = [said for step in sequence.steps if (said := is_outside(bench, step))]
        total.outside += [f"seed {seed}: {'; '.join(wrong)}"] if wrong else []
        if rounds:
            other = Bench(kind, seed)
            other.spoil(MIS_SET_TURNS)
            go_round(other, sequence)
            total.by_rounds += other.turns
    return total
