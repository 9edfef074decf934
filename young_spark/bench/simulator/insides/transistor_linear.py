"""A transistor amplifier: two push-pull modules between a splitter and a hybrid combiner, filters by band, protection
that folds it back, and what goes round it while it is not keyed.

Powers in W, volts as shares of what is due, currents in A."""

from dataclasses import dataclass, replace
from math import sqrt
from typing import ClassVar

from young_spark.bench.simulator.insides.amplifier_input import INPUT_FAULTS, OUTPUT_FAULTS, TRIP, Amplifier
from young_spark.bench.simulator.insides.gear import Changes, Inside

DRIVE_W, OUTPUT_W, MODULE_W, IDLE_A, DRIVEN_A, AUXILIARY_A = 30.0, 400.0, 230.0, 2.0, 10.5, 0.3
LEAD_DROP = 0.01  # of the feed, at the full current
FOLDED = 0.3

PARTS: Changes = {
    "fuse": {"fuse": 0.0},
    "lead_joint": {"lead_drop": 0.35},
    "diode_short": {"fuse": 0.0},
    "choke_joint": {"choke_drop": 0.35},
    "ripple": {"filter": 0.0},
    "switch_worn": {"switch_drop": 0.35},
    "feed_track": {"feed": 0.0},
    "inner_fuse": {"feed": 0.0},
    "reg_dead": {"reg": 0.0},
    "reg_low": {"reg": 0.7},
    "reg_cap_short": {"reg": 0.0},
    "reg_resistor": {"reg": 0.0},
    "reg_thermal": {},
    **INPUT_FAULTS,
    **OUTPUT_FAULTS,
    "splitter_part": {"split_a": 0.25},
    "bias_board": {"bias": 0.0},
    "bias_drift": {},
    "a_dead": {"a": 0.0},
    "a_joint": {"a": 0.3},
    "a_fuse": {"a": 0.0},
    "b_dead": {"b": 0.0},
    "b_joint": {"b": 0.3},
    "b_fuse": {"b": 0.0},
    "a_short": {"a": 0.0, "short_a": 1.0},
    "b_short": {"b": 0.0, "short_b": 1.0},
    "combiner_burnt": {"combiner": 0.4},
    "protect_trip": {"trips": 1.0},
    "protect_temp": {"trips": 1.0},
    "fan_dead": {},
    "lowpass_relay": {"lowpass": 0.35},
    "lowpass_cap": {"lowpass": 0.4},
    **{f"b{band}_relay": {f"band_{band}": 0.0} for band in (80, 20, 10)},
    **{f"b{band}_filter": {f"band_{band}": 0.4} for band in (80, 20, 10)},
}


@dataclass(frozen=True)
class Keyed:
    """What it does: what arrives and leaves in W, shares of what is due at feed, regulated rail and bias, RF of the
    modules in W, their currents in A, whether a protection lamp is lit, whether the exciter only goes through."""

    drive_w: float
    output_w: float
    feed: float
    reg: float
    bias: float
    a_w: float
    b_w: float
    combined_w: float
    changeover_w: float
    a_amps: float
    b_amps: float
    amps: float
    trips: bool
    is_bypassed: bool = False


@dataclass(frozen=True)
class TransistorLinear(Amplifier):
    """The amplifier with its faults, on a band whose filters are whole or on the one that is named."""

    band: int = 40
    parts: ClassVar[Changes] = PARTS
    fades: ClassVar[Changes] = {
        "fan_dead": {"cool": 0.0},
        "protect_temp": {"cool": 0.0},
        "bias_drift": {"bias_hold": 0.0, "a": 0.6, "b": 0.6},
        "a_joint": {"a": 0.1},
        "b_joint": {"b": 0.1},
        "lowpass_cap": {"lowpass": 0.15},
        "reg_thermal": {"reg": 0.42},
    }

    def keyed(self) -> Keyed:
        """What it does with the key down."""
        amps = 0.0
        for _ in range(40):
            now = self._at(min(amps, 4 * DRIVEN_A))
            amps += 0.5 * (now.amps - amps)
        return now

    def _feed(self, amps: float) -> float:
        """The feed under a current, a share of what it is at rest."""
        load = amps / (AUXILIARY_A + IDLE_A + 2 * DRIVEN_A)
        dropped = load * (LEAD_DROP + sum(self.has(part, 0.0) for part in ("lead_drop", "choke_drop", "switch_drop")))
        return max(0.0, self.has("fuse") * self.has("feed") * (1 - dropped))

    def _at(self, amps: float) -> Keyed:
        feed = self._feed(amps)
        reg = self.has("reg") * (1.0 if feed > 0.4 else 0.0)
        if reg < 0.4 or self.has("key") < 0.5:
            return self._bypassed(feed, reg)
        trips = self._trips()
        runs = self.hot and self.has("bias_hold") == 0
        bias = min(1.0, 1.4 * reg) * self.has("bias") * (1.3 if runs else 1.0)
        drive = self.exciter_w(DRIVE_W) * self._accepted
        drive = FOLDED * min(drive, DRIVE_W) if trips else drive
        half = drive / DRIVE_W
        a_w = self._module_w(half * self.has("split_a"), bias, feed, self.has("a"))
        b_w = self._module_w(half, bias, feed, self.has("b"))
        combined = (sqrt(a_w) + sqrt(b_w)) ** 2 / 2 * self.has("combiner")
        lowpass = combined * self.has("lowpass") * self.has(f"band_{self.band}")
        changeover = OUTPUT_W / (2 * MODULE_W) * lowpass * self.has("relay_out")
        a_amps, b_amps = (self._amps(w, bias, self.has(name), self.has(f"short_{name}", 0.0), feed)
                          for w, name in ((a_w, "a"), (b_w, "b")))  # fmt: skip
        return Keyed(
            drive_w=drive, output_w=changeover * self.has("socket"), changeover_w=changeover,
            feed=feed, reg=reg, bias=bias, a_w=a_w, b_w=b_w, combined_w=combined,
            a_amps=a_amps, b_amps=b_amps, amps=AUXILIARY_A * reg + a_amps + b_amps, trips=trips,
        )  # fmt: skip

    def _bypassed(self, feed: float, reg: float) -> Keyed:
        shorted = sum(4 * DRIVEN_A * feed * self.has(f"short_{name}", 0.0) for name in "ab")
        arrives = self.exciter_w(DRIVE_W)
        through = arrives * self.has("socket")
        return Keyed(
            drive_w=arrives, output_w=through, changeover_w=arrives, feed=feed, reg=reg, bias=0.0,
            a_w=0.0, b_w=0.0, combined_w=0.0, a_amps=0.0, b_amps=0.0, amps=AUXILIARY_A * reg + shorted, trips=False,
            is_bypassed=True,
        )  # fmt: skip

    def _trips(self) -> bool:
        """Whether protection folds it back: heat, too much drive, a sensor that lies, or power that comes back from
        behind its coupler."""
        held = bool(self.has("trips", 0.0)) or self.has("cool") < 0.5
        return held or self._reaches_nothing or self.exciter_w(DRIVE_W) > TRIP * DRIVE_W

    @staticmethod
    def _module_w(drive: float, bias: float, feed: float, part: float) -> float:
        """A module in class AB; without its bias only the peaks of the drive open it."""
        opened = max(0.0, min(1.1, drive) - 0.45 * max(0.0, 0.8 - bias))
        return MODULE_W * opened * part * min(1.0, feed) ** 2

    def _amps(self, watts: float, bias: float, part: float, short: float, feed: float) -> float:
        if short:
            return 4 * DRIVEN_A * feed
        runs = 2.2 if self.hot and self.has("bias_hold") == 0 else 1.0
        strained = 1.2 if min(self.has("lowpass"), self.has(f"band_{self.band}"), self.has("combiner")) < 0.5 else 1.0
        idle = 0.5 * IDLE_A * bias * (1.0 if part > 0 else 0.0)
        return (idle + DRIVEN_A * sqrt(watts / MODULE_W)) * runs * strained

    def inside(self) -> Inside:
        """What the faults make of it."""
        whole = TransistorLinear()
        now, due, quiet = self.keyed(), whole.keyed(), whole.unkeyed.amps

        def over(amps: float) -> float:
            return (amps - quiet) / (due.amps - quiet if amps > quiet else quiet)

        return Inside(output=now.output_w / due.output_w, draw=over(now.amps), rest=over(self.unkeyed.amps))

    @property
    def unkeyed(self) -> Keyed:
        """What it does with the key up."""
        return replace(self, faults=(*self.faults, "key_standby")).keyed()

    def points(self, *, keyed: bool) -> dict[str, str]:
        """What meters show, and what a hand would read at each point."""
        now = self.keyed() if keyed else self.unkeyed
        return {
            "feed": f"{48 * now.feed:.3g} V",
            "regulated rail": f"{12 * now.reg:.3g} V",
            "bias": f"{3.6 * now.bias:.3g} V",
            "drive": f"{now.drive_w:.3g} W",
            "module A": f"{now.a_w:.3g} W",
            "module B": f"{now.b_w:.3g} W",
            "current of module A": f"{now.a_amps:.3g} A",
            "current of module B": f"{now.b_amps:.3g} A",
            "combiner": f"{now.combined_w:.3g} W",
            "output": f"{now.output_w:.3g} W",
        }
