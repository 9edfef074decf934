"""The simulated transmitter: what leaves its aerial socket at any moment, whole or with a fault, and what hands do
to it.

Powers in W, frequencies in Hz, times in s of a clock that the caller hands in. The physics is deliberately simple
and entirely its own: output goes with the square of the supply, heat with the power turned to warmth."""

import math
import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

from young_spark.bench.simulator import receiver
from young_spark.bench.simulator.adjusters import (
    AMPLIFIER,
    FARTHEST,
    MOBILE,
    Driven,
    InLine,
    of_the_amplifier,
    of_the_mobile,
    with_its_inside,
)
from young_spark.bench.simulator.insides import COMES_AND_GOES, WHOLE, Inside, builds_of, faults_of, opened

CLEAN_DROP_RATE, SHAKEN_DROP_RATE = 0.12, 4.0  # drops a second of an intermittent joint, at rest and after a tap
SHAKEN_S = 1.2
HOT = 0.5  # of its heat: what fails when warm has failed


@dataclass(frozen=True)
class Kind:
    """A kind of unit: its frequencies by channel, its power, what it draws."""

    name: str
    channels: dict[int, float]
    modes: tuple[str, ...]
    power_w: float
    nominal_v: float
    idle_a: float
    receive_a: float
    efficiency: float
    depth: float
    deviation_hz: float
    offset_ppm: float
    adjusters: tuple[str, ...] = ()
    on_mains: bool = False  # the bench supply feeds nothing of it


TWENTY_SEVEN = (
    26965,
    26975,
    26985,
    27005,
    27015,
    27025,
    27035,
    27055,
    27065,
    27075,
    27085,
    27105,
    27115,
    27125,
    27135,
    27155,
    27165,
    27175,
    27185,
    27205,
    27215,
    27225,
    27255,
    27235,
    27245,
    27265,
    27275,
    27285,
    27295,
    27305,
    27315,
    27325,
    27335,
    27345,
    27355,
    27365,
    27375,
    27385,
    27395,
    27405,
)
KINDS = {
    "mobile": Kind(
        name="27 MHz AM/FM mobile",
        channels={n: khz * 1e3 for n, khz in enumerate(TWENTY_SEVEN, 1)},
        modes=("am", "fm"),
        power_w=3.8,
        nominal_v=13.2,
        idle_a=0.12,
        receive_a=0.25,
        efficiency=0.29,
        depth=0.9,
        deviation_hz=1850.0,
        offset_ppm=2.6,
        adjusters=(*MOBILE, *receiver.ADJUSTERS),
    ),
    "hf": Kind(
        name="HF transceiver",
        channels={80: 3.7e6, 40: 7.1e6, 20: 14.2e6, 15: 21.2e6, 10: 28.5e6},
        modes=("cw", "am", "fm", "usb", "lsb"),
        power_w=100.0,
        nominal_v=13.8,
        idle_a=1.1,
        receive_a=1.6,
        efficiency=0.42,
        depth=0.85,
        deviation_hz=2400.0,
        offset_ppm=0.7,
    ),
    "amplifier": Kind(
        name="HF transceiver with a valve amplifier behind it",
        channels={80: 3.7e6, 40: 7.1e6, 20: 14.2e6, 15: 21.2e6, 10: 28.5e6},
        modes=("cw", "am", "fm", "usb", "lsb"),
        power_w=205.0,
        nominal_v=13.8,
        idle_a=1.1,
        receive_a=1.6,
        efficiency=2.1,  # of the exciter's supply: the mains give the rest
        depth=0.85,
        deviation_hz=2400.0,
        offset_ppm=0.7,
        adjusters=AMPLIFIER,
    ),
    "modules": Kind(
        name="transistor amplifier with its exciter",
        channels={80: 3.7e6, 40: 7.1e6, 20: 14.2e6, 15: 21.2e6, 10: 28.5e6},
        modes=("cw", "am", "fm", "usb", "lsb"),
        power_w=400.0,
        nominal_v=48.0,
        idle_a=1.0,
        receive_a=1.0,
        efficiency=0.45,
        depth=0.85,
        deviation_hz=2400.0,
        offset_ppm=0.7,
    ),
    "transmitter": Kind(
        name="valve transmitter for AM",
        channels={160: 1.85e6, 80: 3.625e6, 40: 7.15e6},
        modes=("am", "cw"),
        power_w=75.0,
        nominal_v=0.0,
        idle_a=0.0,
        receive_a=0.0,
        efficiency=1.0,
        depth=0.9,
        deviation_hz=0.0,
        offset_ppm=24.0,
        on_mains=True,
    ),
}
FAULTS = ("healthy", "weak", "dead", "drifting", "fading", "intermittent")


@dataclass(frozen=True)
class Hands:
    """Everything that hands have set."""

    kind: str = "mobile"
    fault: str = "healthy"
    keyed: bool = False
    channel: int = 19
    mode: str = "am"
    tone: bool = False
    supply_v: float = 13.2
    load_swr: float = 1.08
    drive_core: float = 0.0  # turns away from the peak of the driver's core
    turned: Mapping[str, float] = field(default_factory=dict)  # every other adjuster, in turns from where it is right
    drive_w: float = 20.0  # into the amplifier, where there is one
    generator_dbm: float | None = None  # a generator at the socket in place of the aerial, and its level
    power: bool = True  # the unit's own switch
    build: str = "cb-am-mobile"  # how it is built inside
    inside: str = "whole"  # a part of it that is gone, or several of them joined with +

    @property
    def gone(self) -> tuple[str, ...]:
        """The parts that are gone."""
        return () if self.inside == "whole" else tuple(self.inside.split("+"))


@dataclass(frozen=True)
class Output:
    """What leaves the socket at one moment: carrier, mean and crest power in W, frequency in Hz, depth 0–1,
    deviation in Hz, current in A."""

    carrier_w: float
    mean_w: float
    crest_w: float
    frequency_hz: float
    depth: float
    deviation_hz: float
    amps: float
    volts: float
    swr: float


@dataclass
class Unit:
    """The unit on the bench; `clock` gives s, `chance` makes what is random repeatable."""

    clock: Callable[[], float]
    chance: random.Random = field(default_factory=lambda: random.Random(1))
    hands: Hands = field(default_factory=Hands)
    heat: float = 0.0  # 0 cold … 1 as hot as it gets
    keyed_since: float | None = None
    _stepped: float | None = None
    _dropped_until: float = -1.0
    _squelch_is_open: bool = False
    _shaken_until: float = -1.0
    _inside_of: dict[tuple[bool, bool], Inside] = field(
        default_factory=dict
    )  # by whether it is hot, and whether joints hold
    _heard: tuple[float, float, float] = (-1e9, 0.0, 0.0)  # when it was last modulated, depth 0–1, deviation in Hz

    @property
    def kind(self) -> Kind:
        """What kind of unit lies on the bench."""
        return KINDS[self.hands.kind]

    def set(self, **changes: object) -> None:
        """What hands do; raises ValueError for what they cannot do."""
        self.output()  # how it was until now, for what holds its peak
        hands = replace(self.hands, **changes)  # type: ignore[arg-type]
        if "kind" in changes and hands.kind in KINDS:
            first = next(iter(KINDS[hands.kind].channels)) if hands.kind != "mobile" else 19
            hands = replace(
                hands, keyed=False, channel=first, mode=KINDS[hands.kind].modes[0],
                supply_v=KINDS[hands.kind].nominal_v, turned={},
            )  # fmt: skip
            self.heat = 0.0
            if "build" not in changes:
                hands = replace(hands, build=builds_of(hands.kind)[0])
            if "inside" not in changes:
                hands = replace(hands, inside="whole")
        if "build" in changes and "inside" not in changes:
            hands = replace(hands, inside="whole")
        self._check(hands)
        self._inside_of = {}
        if hands.keyed and not self.hands.keyed:
            self.keyed_since = self.clock()
        elif not hands.keyed:
            self.keyed_since = None
        self.hands = hands

    @staticmethod
    def _check(hands: Hands) -> None:
        if hands.kind not in KINDS:
            raise ValueError(f"no unit '{hands.kind}': {', '.join(KINDS)}")
        kind = KINDS[hands.kind]
        if hands.fault not in FAULTS:
            raise ValueError(f"no fault '{hands.fault}': {', '.join(FAULTS)}")
        if hands.build not in builds_of(hands.kind):
            raise ValueError(f"no {hands.kind} is built as '{hands.build}': {', '.join(builds_of(hands.kind))}")
        if set(hands.gone) - set(faults_of(hands.build)):
            raise ValueError(f"the {hands.kind} has no part '{hands.inside}' to lose")
        if hands.channel not in kind.channels:
            raise ValueError(f"no channel {hands.channel} on this unit")
        if hands.mode not in kind.modes:
            raise ValueError(f"no mode '{hands.mode}' on this unit: {', '.join(kind.modes)}")
        if not 0 <= hands.supply_v <= 60 or not 1 <= hands.load_swr <= 100 or abs(hands.drive_core) > 10:
            raise ValueError("supply 0 to 60 V, SWR 1 to 100, core −10 to 10 turns")
        Unit._check_turned(hands, kind)

    @staticmethod
    def _check_turned(hands: Hands, kind: Kind) -> None:
        if not 0 <= hands.drive_w <= 100:
            raise ValueError("drive 0 to 100 W")
        if hands.generator_dbm is not None and not -140 <= hands.generator_dbm <= 0:
            raise ValueError("generator -140 to 0 dBm")
        if strange := set(hands.turned) - set(kind.adjusters):
            raise ValueError(f"no adjuster '{min(strange)}' on this unit: {', '.join(kind.adjusters) or 'none'}")
        if any(abs(turns) > FARTHEST for turns in hands.turned.values()):
            raise ValueError(f"an adjuster goes {FARTHEST:g} turns either way")

    def turn(self, adjuster: str, by: float) -> None:
        """Turn an adjuster by so many turns, up to the end of its travel; raises ValueError for one that is not
        there."""
        at = self.hands.turned.get(adjuster, 0.0) + by
        self.set(turned={**self.hands.turned, adjuster: max(-FARTHEST, min(FARTHEST, at))})

    def tap(self) -> None:
        """Tap or flex it: a bad joint shows itself for a moment."""
        self.step()
        self._shaken_until = self.clock() + SHAKEN_S

    def warm(self, to: float = 1.0) -> None:
        """Warm it, or cool it with 0."""
        self.step()
        self.heat = min(1.0, max(0.0, to))

    def step(self) -> None:
        """Let time pass up to now: heat, and the mood of a bad joint."""
        now = self.clock()
        before = self._stepped if self._stepped is not None else now
        self._stepped = now
        passed = now - before
        if passed <= 0:
            return
        goal = 1.0 if self._radiates() else 0.0
        self.heat += (goal - self.heat) * (1 - math.exp(-passed / (25.0 if goal else 60.0)))
        if self._is_loose and now >= self._dropped_until:
            rate = SHAKEN_DROP_RATE if now < self._shaken_until else CLEAN_DROP_RATE
            if self.chance.random() < 1 - math.exp(-rate * min(passed, 0.5)):
                self._dropped_until = now + self.chance.uniform(0.3, 1.2)

    @property
    def inside(self) -> Inside:
        """What the part that is gone makes of it."""
        if not self.hands.gone:
            return WHOLE
        mood = self.heat > HOT, self.clock() >= self._dropped_until
        if mood not in self._inside_of:
            self._inside_of[mood] = opened(self.hands.build, self.gone_now, hot=mood[0]).inside()
        return self._inside_of[mood]

    @property
    def gone_now(self) -> tuple[str, ...]:
        """The parts that are gone at this moment: a joint that comes and goes holds until it is shaken, or drops by
        itself."""
        holds = self.clock() >= self._dropped_until
        return tuple(f for f in self.hands.gone if not (holds and f in COMES_AND_GOES))

    @property
    def _is_loose(self) -> bool:
        return self.hands.fault == "intermittent" or bool(set(self.hands.gone) & COMES_AND_GOES)

    def _radiates(self) -> bool:
        fed = self.kind.on_mains or self.hands.supply_v >= 0.6 * self.kind.nominal_v
        return self.hands.keyed and self.hands.power and fed

    def _drawn(self, at_rest: float, share: float) -> float:
        """Supply current in A: with a share of what the carrier of a whole one takes, or without a share of what it
        draws at rest."""
        kind = self.kind
        carrier = kind.power_w / kind.efficiency / kind.nominal_v + 0.35 - kind.idle_a
        return at_rest + share * (carrier if share > 0 else at_rest)

    def _carrier_w(self, now: float) -> float:
        if not self._radiates():
            return 0.0
        since = now - (self.keyed_since if self.keyed_since is not None else now)
        rise = 1 - math.exp(-since / 0.03)  # relay and rail
        full = self._full_w()
        share = {"weak": 0.3, "dead": 2e-4}.get(self.hands.fault, 1.0)
        if self.hands.fault == "fading":
            share = 1 - 0.65 * self.heat
        if self.hands.fault == "drifting":
            share = 1 - 0.10 * (1 - math.exp(-since / 1.5))
        if self.hands.fault == "intermittent" and now < self._dropped_until:
            share = 0.04
        return full * share * rise * (1.0 if self.hands.kind == "amplifier" else self.inside.output)

    def _full_w(self) -> float:
        """The carrier of a whole one, warm or cold, as its adjusters stand."""
        if self.hands.kind == "amplifier":
            return self.driven.output_w
        volts = 1.0 if self.kind.on_mains else self.hands.supply_v / self.kind.nominal_v
        full = self.kind.power_w * volts**2
        return full * self.in_line.power / (1 + (0.35 * self.hands.drive_core) ** 2)

    @property
    def in_line(self) -> InLine:
        """What its adjusters make of it."""
        if self.hands.kind != "mobile":
            return InLine()
        return of_the_mobile(self.hands.turned, self.kind.channels[self.hands.channel])

    @property
    def driven(self) -> Driven:
        """What its amplifier makes of the drive; of a unit without one nothing."""
        keyed = self.hands.kind == "amplifier" and self._radiates()
        return with_its_inside(of_the_amplifier(self.hands.turned, self.hands.drive_w, keyed=keyed), self.inside)

    @property
    def heard(self) -> receiver.Heard | None:
        """What its receiver makes of the generator; None while it has none, is off, or sends."""
        hands = self.hands
        if hands.generator_dbm is None or hands.keyed or not hands.power or hands.kind != "mobile":
            return None
        now = receiver.heard(hands.turned, hands.generator_dbm, was_open=self._squelch_is_open)
        self._squelch_is_open = now.is_open
        return now

    @property
    def own_meter_w(self) -> float:
        """What the set's own meter shows, in W."""
        return self.output().carrier_w * self.in_line.own_meter

    def loudest(self, within_s: float) -> tuple[float, float]:
        """Depth (0–1) and deviation (Hz) as a meter that holds its peak for so long shows them."""
        out = self.output()
        at, depth, deviation = self._heard
        return (depth, deviation) if self.clock() - at <= within_s else (out.depth, out.deviation_hz)

    def output(self) -> Output:
        """What leaves the socket now."""
        self.step()
        now = self.clock()
        hands, kind = self.hands, self.kind
        carrier = self._carrier_w(now)
        single = hands.mode in {"usb", "lsb"}
        if single and not hands.tone:
            carrier = 0.0
        toned = self.inside.depth if hands.tone and carrier > 0 else 0.0
        depth = kind.depth * self.in_line.depth * toned if hands.mode == "am" else 0.0
        deviation = kind.deviation_hz * self.in_line.deviation * toned if hands.mode == "fm" else 0.0
        if depth or deviation:
            self._heard = (now, depth, deviation)
        mean = carrier * (1 + depth**2 / 2)
        crest = carrier * (1 + depth) ** 2
        since = now - (self.keyed_since if self.keyed_since is not None else now)
        drift = -18.0 * since if hands.fault == "drifting" else -30.0 * self.heat
        frequency = kind.channels[hands.channel] * (1 + kind.offset_ppm * 1e-6) + drift + self.in_line.error_hz
        amps = self._amps(mean)
        return Output(carrier, mean, crest, frequency, depth, deviation, amps, hands.supply_v, hands.load_swr)

    def _amps(self, mean_w: float) -> float:
        """What it draws from the supply while so much leaves the socket."""
        hands, kind = self.hands, self.kind
        if not hands.power or kind.on_mains or hands.supply_v < 5:
            return 0.0
        if hands.keyed and (self.inside is WHOLE or hands.kind == "amplifier"):
            return 0.35 + mean_w / kind.efficiency / max(hands.supply_v, 1.0)
        if hands.keyed:
            return self._drawn(kind.idle_a, self.inside.draw)
        return self._drawn(kind.receive_a if hands.tone else kind.idle_a, self.inside.rest)
