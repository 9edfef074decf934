"""Simulated key-downs in a time of their own: the physics of the simulated unit, its instruments, and the capture
that is tested.

What is true is read off the physics at every millisecond step; the capture sees only what the instruments say."""

import random
from dataclasses import dataclass, field

from young_spark.bench.simulator.instruments import METERS
from young_spark.bench.simulator.unit import FAULTS, Unit
from young_spark.core.live import (
    Captured,
    CarrierChanged,
    Source,
    Taker,
    TakerEvent,
    Wanted,
    definitions,
    figures_of,
    values_of,
)

STEP_S = 0.005
ASSIGNED = {"mobile": 27.185e6, "hf": 14.2e6}


@dataclass(frozen=True)
class Truth:
    """What really left the socket at one moment."""

    at: float
    carrier_w: float
    frequency_hz: float
    modulated: bool
    amps: float


@dataclass
class KeyDownRun:
    """One key-down: what hands did, what was true, what was captured."""

    kind: str
    fault: str
    truth: list[Truth] = field(default_factory=list)
    captured: list[Captured] = field(default_factory=list)
    carriers: int = 0

    def keep(self, events: list[TakerEvent]) -> None:
        """What follows from one answer of an instrument."""
        self.captured += [event for event in events if isinstance(event, Captured)]
        self.carriers += sum(isinstance(event, CarrierChanged) and event.up for event in events)

    def stood_still(self, seconds: float, share: float) -> bool:
        """Whether the true carrier was bare and within `share` of its mean for so many seconds at a stretch."""
        run: list[Truth] = []
        for now in self.truth:
            if now.modulated or now.carrier_w < 0.05:
                run = []
                continue
            run.append(now)
            if run[-1].at - run[0].at >= seconds:
                values = [t.carrier_w for t in run]
                if max(values) - min(values) <= 2 * share * (sum(values) / len(values)):
                    return True
                run.pop(0)
        return False

    def during(self, begin: float, end: float) -> list[Truth]:
        """What was true between two moments."""
        return [t for t in self.truth if begin <= t.at <= end]


def key_down(seed: int) -> KeyDownRun:
    """One key-down of two to six seconds of any kind of unit with any fault, with audio coming and going."""
    dice = random.Random(seed)
    clock = [0.0]
    kind, fault = dice.choice(sorted(ASSIGNED)), dice.choice(FAULTS)
    unit = Unit(clock=lambda: clock[0], chance=random.Random(seed + 1))
    unit.set(kind=kind, fault=fault)
    unit.set(channel=19 if kind == "mobile" else 20, mode=dice.choice(["am", "fm"]))
    if dice.random() < 0.3:
        unit.warm(dice.random())
    instruments = [make(unit, random.Random(seed + n)) for n, make in enumerate(METERS, 2)]
    files = [definitions()[f"simulated-{i.name}"] for i in instruments]
    sources = {
        g.value: Source(i.name, g) for i, f in zip(instruments, files, strict=True) for a in f.asks for g in a.gives
    }
    taker = Taker(sources)
    taker.want(wanted(ASSIGNED[kind]))
    run = KeyDownRun(kind, fault)
    hands = sorted(
        (dice.uniform(0, 5), dice.choice([{"tone": True}, {"tone": False}, {"tap": True}]))
        for _ in range(dice.randrange(4))
    )
    keyed_at, let_go_at = 0.4, 0.4 + dice.uniform(2, 6)
    due = [dice.uniform(0, 0.1) for _ in instruments]  # when each is asked next
    asked: list[tuple[float, dict[str, float | None]] | None] = [None] * len(instruments)
    while clock[0] < let_go_at + 0.6:
        clock[0] += STEP_S
        now = clock[0]
        if unit.hands.keyed != (keyed := keyed_at <= now < let_go_at):
            unit.set(keyed=keyed)
        while hands and now >= keyed_at + hands[0][0]:
            what = hands.pop(0)[1]
            unit.tap() if "tap" in what else unit.set(**what)
        out = unit.output()
        run.truth.append(Truth(now, out.carrier_w, out.frequency_hz, bool(out.depth or out.deviation_hz), out.amps))
        for n, (instrument, file) in enumerate(zip(instruments, files, strict=True)):
            if asked[n] is None and now >= due[n]:
                asked[n] = (now, read(instrument, file))
            elif asked[n] is not None and now >= asked[n][0] + instrument.latency_s:
                run.keep(taker.heard(instrument.name, asked[n][0], now, asked[n][1]))
                asked[n], due[n] = None, asked[n][0] + 0.1 * dice.uniform(1.0, 1.3)
    return run


def wanted(assigned_hz: float) -> list[Wanted]:
    """The set of one key-down."""
    return [
        Wanted(row="power", quantity="carrier_power", modulation="off", assigned_hz=assigned_hz),
        Wanted(row="frequency", quantity="frequency_error", modulation="off", assigned_hz=assigned_hz),
        Wanted(row="current", quantity="supply_current", modulation="off", assigned_hz=assigned_hz),
        Wanted(row="depth", quantity="am_depth", modulation="on", assigned_hz=assigned_hz),
        Wanted(row="deviation", quantity="fm_deviation", modulation="on", assigned_hz=assigned_hz),
    ]


def read(instrument, file):
    """What the instrument answers, through the text of its line and its definition file."""
    ask = file.asks[0]
    answer = instrument.answer(ask.command)
    if ask.form == "block":
        import struct

        digits = int(answer[1:2])
        body = answer[2 + digits :]
        return values_of(ask, struct.unpack(f">{len(body) // 4}f", body))
    return values_of(ask, figures_of(answer.decode()))


@dataclass
class Tally:
    """What 500 key-downs came to."""

    runs: int = 0
    carriers_taken: int = 0
    stood_still: int = 0
    missed: list[int] = field(default_factory=list)
    unstable: list[int] = field(default_factory=list)
    modulated: list[int] = field(default_factory=list)
    twice: list[int] = field(default_factory=list)

    def __str__(self) -> str:
        return (
            f"capture: {self.runs} key-downs, {self.stood_still} stood still; {self.carriers_taken} "
            f"carriers taken, {len(self.missed)} missed, "
            f"{len(self.unstable)} unstable, {len(self.modulated)} modulated, {len(self.twice)} taken twice"
        )


def tally(count: int) -> Tally:
    """So many key-downs, each judged by what was true. A carrier in a window may move as far as the rule of
    steadiness and the noise of the meter (0.15 %, three times) allow; one that stood within half of that for 1.6
    s must be taken."""
    total = Tally()
    for seed in range(count):
        run = key_down(seed)
        total.runs += 1
        rows = [c.row for c in run.captured]
        if run.carriers <= 1 and len(rows) != len(set(rows)):
            total.twice.append(seed)
        taken = [c for c in run.captured if c.quantity == "carrier_power"]
        total.carriers_taken += bool(taken)
        for found in taken:
            window = found.samples["power"]
            truth = run.during(window[0].asked, window[-1].asked)
            values = [t.carrier_w for t in truth]
            mean = sum(values) / len(values)
            if max(abs(v - mean) for v in values) > (0.005 + 0.006 + 0.0045) * mean + 0.006:
                total.unstable.append(seed)
            if any(t.modulated for t in truth):
                total.modulated.append(seed)
        if run.stood_still(1.6, 0.004):
            total.stood_still += 1
            if not taken:
                total.missed.append(seed)
    return total
