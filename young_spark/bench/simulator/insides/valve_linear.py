"""A grounded-grid amplifier of two valves: what it is driven with, its currents, its tank, and what goes round it while
it is not keyed.

Powers in W, volts in V, currents in A. An amplifier that is off or not keyed lets the exciter's own power through to
the aerial. A tank off its resonance takes more plate current, one with nothing to feed takes less and more grid
current."""

from dataclasses import dataclass, replace
from math import sqrt
from typing import ClassVar

from young_spark.bench.simulator.insides.amplifier_input import INPUT_FAULTS, OUTPUT_FAULTS, TRIP, Amplifier
from young_spark.bench.simulator.insides.gear import Changes, Inside
from young_spark.bench.simulator.insides.mains_supply import MAINS_FAULTS, Volts, mains_volts
from young_spark.bench.simulator.insides.tank import ARCING, TANK_FAULTS

HT_V, DRIVE_W, OUTPUT_W = 2400.0, 60.0, 400.0
IDLE_A, DRIVEN_A, GRID_A = 0.1, 0.3, 0.12
FULL = 0.8  # of the due drive: where an arc strikes

PARTS: Changes = {
    **MAINS_FAULTS,
    **INPUT_FAULTS,
    **TANK_FAULTS,
    **OUTPUT_FAULTS,
    "filament_choke": {"heater_joint": 0.0, "cathode": 0.0},
    "final_valve": {"valves": 0.45},
    "final_dead": {"valves": 0.0, "heater_joint": 0.0},
    "final_socket": {"valves": 0.5},
    "grid_choke": {"grid": 0.0},
}


@dataclass(frozen=True)
class Keyed:
    """What it does: drive and output in W, plate volts, plate and grid current in A, how far the plate current dips
    (0–1), and whether the exciter only goes through."""

    volts: Volts
    drive_w: float
    output_w: float
    plate_v: float
    plate_a: float
    grid_a: float
    dip: float
    tank_w: float
    is_bypassed: bool = False


@dataclass(frozen=True)
class ValveLinear(Amplifier):
    """The amplifier with its faults; the share of the due drive is what the hand at the exciter sets."""

    parts: ClassVar[Changes] = PARTS
    fades: ClassVar[Changes] = {"fan_dead": {"valves": 0.35}}

    def keyed(self) -> Keyed:
        """What it does with the key down: plate current and high tension settled against each other."""
        volts = mains_volts(self, 0.0)
        for _ in range(40):
            amps = self._plate_a(volts)
            volts = mains_volts(self, amps / (IDLE_A + DRIVEN_A))
        arrives = self.exciter_w(DRIVE_W)
        if volts.mains < 0.3 or self.has("key") < 0.5 or arrives > TRIP * DRIVE_W:
            through = arrives * self.has("socket")
            return Keyed(volts, arrives, through, HT_V * volts.ht, 0.0, 0.0, 0.0, 0.0, is_bypassed=True)
        return self._amplified(volts, amps)

    def _amplified(self, volts: Volts, amps: float) -> Keyed:
        rf = self._rf_share(volts)
        tank = rf * self._tuned * self.has("coil") * self.has("block")
        loaded = min(self.has("relay_out"), self.has("socket"))
        return Keyed(
            volts=volts,
            drive_w=self._drive_w,
            output_w=OUTPUT_W * tank * self.has("relay_out") * self.has("socket"),
            plate_v=HT_V * volts.ht * self.has("plate_choke"),
            plate_a=amps,
            grid_a=self._grid_a(volts, loaded),
            dip=tank if self.has("tuned") == 1 else 0.5 * rf,
            tank_w=OUTPUT_W * tank,
        )

    @property
    def _drive_w(self) -> float:
        return self.exciter_w(DRIVE_W) * self._accepted

    @property
    def _tuned(self) -> float:
        arcs = self.has("gap") == 0 and self._drive_w > FULL * DRIVE_W
        return min(self.has("tuned"), ARCING if arcs else 1.0)

    def _cathodes(self, volts: Volts) -> float:
        """What the valves can give: their warmth, their age, whether their grids stand at ground."""
        return volts.emission * self.has("valves") * self.has("cathode") * (0.3 if self.has("grid") == 0 else 1.0)

    def _rf_share(self, volts: Volts) -> float:
        """RF at the plates as a share of what is due."""
        driven = min(1.1, self._drive_w / DRIVE_W)
        plates = volts.ht * self.has("plate_choke") * (1 - self.has("plate_short", 0.0))
        return driven * self._cathodes(volts) * plates * sqrt(plates) * (0.6 if self.has("neutral") == 0 else 1.0)

    def _plate_a(self, volts: Volts) -> float:
        if volts.ht < 0.05 or self.has("plate_choke") == 0:
            return 0.0
        if self.has("plate_short", 0.0) or self.has("block") == 0:
            return 2.0 * (IDLE_A + DRIVEN_A) * volts.ht
        if self.has("key") < 0.5:
            return 0.0
        idle = IDLE_A * (4.0 if volts.neg < 0.3 else 1.0)
        driven = DRIVEN_A * min(1.1, self._drive_w / DRIVE_W)
        off = 1 + 0.6 * (1 - self._tuned)
        unloaded = 0.4 if self._reaches_nothing else 1.0
        wanders = 1.5 if self.has("neutral") == 0 else 1.0
        return self._cathodes(volts) * (idle + driven * off * unloaded) * wanders

    def _grid_a(self, volts: Volts, loaded: float) -> float:
        if self.has("grid") == 0 or self.has("plate_short", 0.0):
            return 0.0
        starved = 1 + 1.5 * (1 - min(1.0, volts.ht * self.has("plate_choke")))
        unloaded = 1.5 if loaded < 0.5 else 1.0
        return GRID_A * min(1.1, self._drive_w / DRIVE_W) * self._cathodes(volts) * starved * unloaded

    def inside(self) -> Inside:
        """What the faults make of it."""
        now, due = self.keyed(), ValveLinear(drive=self.drive).keyed()
        return Inside(
            output=now.output_w / due.output_w,
            ht=now.plate_v / due.plate_v,
            plate=now.plate_a / due.plate_a,
            grid=now.grid_a / due.grid_a,
            input_swr=self.input_swr if self.input_swr > 2 else None,
            is_bypassed=now.is_bypassed,
        )

    def points(self, *, keyed: bool) -> dict[str, str]:
        """What meters and lamps show, and what a rated probe would."""
        now = (self if keyed else replace(self, drive=0.0)).keyed()
        return {
            "mains": f"{230 * now.volts.mains:.0f} V",
            "heaters": f"{12.6 * now.volts.heaters:.3g} V",
            "high tension": f"{HT_V * now.volts.ht:.4g} V",
            "bias": f"{-22 * now.volts.neg:.3g} V",
            "ripple": f"{100 * now.volts.ripple:.2g} %",
            "drive": f"{now.drive_w:.3g} W",
            "plate current": f"{1e3 * now.plate_a:.3g} mA",
            "grid current": f"{1e3 * now.grid_a:.3g} mA",
            "tank": f"{now.tank_w:.3g} W",
            "output": f"{now.output_w:.3g} W",
        }
