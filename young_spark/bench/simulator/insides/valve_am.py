"""A valve transmitter for AM: crystal oscillator, driver and final in class C on one high tension, with a plate
modulator of the same size.

Powers in W, volts in V, currents in A, audio in shares of what is due. A final in class C with its bias there draws no
plate current without drive."""

from dataclasses import dataclass, replace
from math import sqrt
from typing import ClassVar

from young_spark.bench.simulator.insides.amplifier_input import OUTPUT_FAULTS
from young_spark.bench.simulator.insides.gear import Changes, Gear, Inside, saturated
from young_spark.bench.simulator.insides.mains_supply import MAINS_FAULTS, Volts, mains_volts
from young_spark.bench.simulator.insides.tank import ARCING, TANK_FAULTS

HT_V, SCREEN_V, OUTPUT_W = 750.0, 250.0, 75.0
PLATE_A, GRID_A, MODULATOR_IDLE_A, MODULATOR_A = 0.15, 0.006, 0.04, 0.12
FULL_LOAD_A = PLATE_A + MODULATOR_IDLE_A

PARTS: Changes = {
    **MAINS_FAULTS,
    **TANK_FAULTS,
    **OUTPUT_FAULTS,
    "screen_resistor": {"screen": 0.4},
    "screen_dead": {"screen": 0.0},
    "crystal_dead": {"crystal": 0.0},
    "crystal_holder": {"crystal": 0.0},
    "osc_active": {"crystal": 0.0},
    "osc_feedback": {"crystal": 0.12},
    "osc_coupling": {"osc_buffer": 0.0},
    "osc_tune": {"osc_buffer": 0.12},
    "osc_thermal": {},
    "driver_valve": {"driver": 0.15},
    "driver_valve_dead": {"driver": 0.0},
    "driver_tuning": {"driver": 0.15},
    "final_valve": {"final": 0.4},
    "final_dead": {"final": 0.0, "heater_joint": 0.9},
    "final_socket": {"final": 0.5},
    "grid_choke": {"grid": 0.12},
    "cartridge": {"mic": 0.0},
    "cartridge_weak": {"mic": 0.3},
    "mic_wire": {"mic": 0.0},
    "speech_dead": {"speech1": 0.0},
    "speech_valve": {"speech1": 0.4},
    "speech_coupling": {"speech1": 0.35},
    "speech_resistor": {"speech1": 0.0},
    "driver_af": {"speech2": 0.0},
    "driver_af_weak": {"speech2": 0.4},
    "mod_dead": {"modulator": 0.0},
    "mod_valve": {"modulator": 0.4},
    "mod_primary": {"primary": 0.0},
    "mod_secondary": {"secondary": 0.5},
    "relay_dirty": {"key": 0.0},
    "switch_open": {"key": 0.0},
}


@dataclass(frozen=True)
class Keyed:
    """What it does with the key down: RF and audio along it in shares of what is due, currents in A, output in W."""

    volts: Volts
    screen: float
    crystal: float
    buffer: float
    driver: float
    grid_a: float
    plate_a: float
    tank: float
    output_w: float
    dip: float
    speech: float
    modulator: float
    depth: float


@dataclass(frozen=True)
class ValveAm(Gear):
    """The transmitter with its faults; `shop_mic` is a microphone known to be good."""

    shop_mic: bool = False
    parts: ClassVar[Changes] = PARTS
    fades: ClassVar[Changes] = {"fan_dead": {"final": 0.35}, "osc_thermal": {"crystal": 0.0}}

    def keyed(self) -> Keyed:
        """What it does keyed and spoken into."""
        volts = mains_volts(self, 0.0)
        for _ in range(40):
            now = self._at(volts)
            volts = mains_volts(self, (now.plate_a + MODULATOR_IDLE_A) / FULL_LOAD_A)
        return now

    @property
    def pulls_its_relays(self) -> bool:
        """Whether its relays pull when it is keyed."""
        return self.has("key") > 0.5 and mains_volts(self, 0.0).mains > 0.3

    def _at(self, volts: Volts) -> Keyed:
        key = 1.0 if self.has("key") > 0.5 else 0.0
        screen = volts.ht * self.has("screen") * key
        crystal = self.has("crystal") * (1.0 if min(screen, volts.emission) > 0.25 else 0.0)
        buffer = saturated(crystal) * self.has("osc_buffer")
        driver = saturated(buffer) * self.has("driver") * min(screen, 1.0) * volts.emission
        plates = volts.ht * self.has("plate_choke") * (1 - self.has("plate_short", 0.0)) * key
        cathode = self.has("final") * volts.emission
        rf = self._final(driver, plates, min(screen, 1.0), cathode)
        tank = rf * self._tuned(rf) * self.has("coil") * self.has("block")
        speech = self._speech(volts, screen)
        modulator = self._modulator(speech, volts, key)
        return Keyed(
            volts=volts, screen=screen, crystal=crystal, buffer=buffer, driver=driver,
            grid_a=GRID_A * driver * (1.0 if self.has("grid") == 1 else 0.0) * min(1.0, 2 * cathode),
            plate_a=self._plate_a(volts, rf, key), tank=tank,
            output_w=OUTPUT_W * tank * self.has("relay_out") * self.has("socket"),
            dip=tank if self.has("tuned") == 1 else 0.5 * rf,
            speech=speech, modulator=modulator, depth=min(1.0, modulator * self.has("primary") * self.has("secondary")),
        )  # fmt: skip

    def _tuned(self, rf: float) -> float:
        return min(self.has("tuned"), ARCING if self.has("gap") == 0 and rf > 0.6 else 1.0)

    def _final(self, driver: float, plates: float, screen: float, cathode: float) -> float:
        """RF at the plates: class C gives what drive, volts, screen and cathode let it."""
        conducts = min(1.0, 1.6 * cathode) if cathode < 1 else 1.0
        driven = saturated(driver) * self.has("grid")
        leaks = 0.6 if self.has("neutral") == 0 else 1.0
        return driven * conducts * sqrt(cathode) * plates**2 * sqrt(screen) * leaks

    def _plate_a(self, volts: Volts, rf: float, key: float) -> float:
        """Plate current of the final on the panel."""
        if not key or volts.ht < 0.05 or self.has("plate_choke") == 0 or self.has("final") * volts.emission < 0.05:
            return 0.0
        if self.has("plate_short", 0.0) or self.has("block") == 0:
            return 2.5 * PLATE_A * volts.ht
        if volts.neg < 0.3:
            return 2.2 * PLATE_A * volts.ht * volts.emission
        off = 1 + 0.6 * (1 - self._tuned(rf))
        unloaded = 0.5 if min(self.has("relay_out"), self.has("socket")) < 0.5 else 1.0
        wanders = 2.2 if self.has("neutral") == 0 else 1.0
        return PLATE_A * rf / max(volts.ht, 0.2) * off * unloaded * wanders

    def _speech(self, volts: Volts, screen: float) -> float:
        """Audio at the grids of the modulator."""
        mic = 1.0 if self.shop_mic else self.has("mic")
        lit = 1.0 if min(volts.emission, screen) > 0.3 else 0.0
        return mic * self.has("speech1") * self.has("speech2") * lit

    def _modulator(self, speech: float, volts: Volts, key: float) -> float:
        """What its current swings with speech: with one half of the primary open the other valve swings on."""
        fed = min(1.0, volts.ht) * (1.0 if self.has("primary") else 0.6) * key * volts.emission
        return speech * self.has("modulator") * fed * (0.5 if volts.neg < 0.3 else 1.0)

    def inside(self) -> Inside:
        """What the faults make of it."""
        now, due = self.keyed(), ValveAm().keyed()
        return Inside(output=now.output_w / due.output_w, depth=now.depth / due.depth)

    def points(self, *, keyed: bool) -> dict[str, str]:
        """What meters and lamps show, and what a rated probe would."""
        now = (self if keyed else replace(self, faults=(*self.faults, "switch_open"))).keyed()
        return {
            "mains": f"{230 * now.volts.mains:.0f} V",
            "heaters": f"{6.3 * now.volts.heaters:.3g} V",
            "high tension": f"{HT_V * now.volts.ht:.4g} V",
            "screen": f"{SCREEN_V * now.screen:.3g} V",
            "bias": f"{-90 * now.volts.neg:.3g} V",
            "ripple": f"{100 * now.volts.ripple:.2g} %",
            "oscillator": f"{now.crystal:.3g} V",
            "buffer": f"{8 * now.buffer:.3g} V",
            "grid current": f"{1e3 * now.grid_a:.3g} mA",
            "plate current": f"{1e3 * now.plate_a:.3g} mA",
            "modulator current, spoken into": f"{1e3 * (MODULATOR_IDLE_A + MODULATOR_A * now.modulator):.3g} mA",
            "output": f"{now.output_w:.3g} W",
        }
