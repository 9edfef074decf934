"""A short-wave set of 100 W: the rails, loop and sideband path of a small set, and behind them a link, two stages and a
push-pull pair in class AB, filters by band, a coupler that folds back, a tuner.

Currents in A, powers in W, RF in shares of what is due."""

from dataclasses import dataclass
from typing import ClassVar

from young_spark.bench.simulator.insides.gear import Changes, limited
from young_spark.bench.simulator.insides.small_set import FADES, FAULTS, ONLY_HERE, Build, Circuit

HF = Build(
    "short-wave set of 100 W",
    "ssb",
    battery_v=13.8,
    battery_ohm=0.01,
    lead_ohm=0.01,
    buffer_w=0.2,
    driver_w=4.0,
    final_w=114.0,
    source="sideband",
)
RECEIVE_A, DRIVERS_A, IDLE_A, FINAL_A, SHORT_OHM = 1.2, 0.8, 1.0, 16.0, 0.2
FOLDED, RESERVE = 0.3, 2.0  # of the drive, and how much more there is than the level control lets through

PARTS: Changes = {
    **{name: FAULTS[name] for name in FAULTS if name not in set().union(*ONLY_HERE.values())},
    **{name: FAULTS[name] for name in (*ONLY_HERE["ptt"], *ONLY_HERE["synthesiser"], *ONLY_HERE["sideband"])},
    # its leads and switch carry twenty amperes, so a worn one has less resistance and as much to answer for
    "lead_joint": {"lead": 0.25},
    "switch_worn": {"switch": 0.25},
    "predriver_dead": {"predriver": 0.0},
    "predriver_weak": {"predriver": 0.1},
    "driver_weak": {"driver": 0.25},
    "driver_resistor": {"driver": 0.3},
    "interstage": {"driver": 0.0},
    "bias_dead": {"bias": 0.0},
    "bias_run": {},
    "final_one": {"pair": 0.5, "one": 0.5},
    "final_both": {"pair": 0.0, "final_short": 1.0},
    "final_joint": {"pair": 0.6},
    "final_fade": {},
    "out_trafo": {"out": 0.4},
    "out_protect": {"folds": 1.0},
    "link_bad": {"link": 0.0},
    "fan_dead": {},
    "heat_sensor": {"folds": 1.0},
    **{f"b{band}_relay": {f"band_{band}": 0.0} for band in (80, 40, 20, 10)},
    **{f"b{band}_filter": {f"band_{band}": 0.4} for band in (80, 40, 20, 10)},
    "tuner_in": {"tuner": 0.4},
    "tuner_relay": {"tuner": 0.35},
    "relay_contact": {"relay": 0.3},
    "relay_coil": {"relay": 0.0},
    "rx_dead": {"rx": 0.0},
    "rx_deaf": {"rx": 0.2},
}
NOT_HERE = {"rx_diode", "changeover_joint", "am_contact", "am_insertion", "ssb_contact", "ssb_carrier", "pa_feed_low",
            "buffer_dead", "buffer_tune", "buffer_thermal", "driver_coupling", "driver_choke", "final_choke",
            "final_open", "final_short", "final_weak", "filter_cap", "power_turned"}  # fmt: skip


@dataclass(frozen=True)
class HfSet(Circuit):
    """The set with its faults, on a band whose filters are whole or on the one that is named."""

    build: Build = HF
    band: int = 15

    parts: ClassVar[Changes] = {name: changed for name, changed in PARTS.items() if name not in NOT_HERE}
    fades: ClassVar[Changes] = {
        **{name: FADES[name] for name in ("tx_switch_weak", "vco_thermal", "upmix_thermal")},
        "reg_thermal": {"reg_gain": 0.66},
        "driver_weak": {"driver": 0.1},
        "bias_run": {"bias_hold": 0.0, "pair": 0.8},
        "final_joint": {"pair": 0.3},
        "final_fade": {"pair": 0.5},
        "fan_dead": {"cool": 0.0},
    }

    def rf(self, rails: dict[str, float]) -> dict[str, float]:
        """RF at each point in shares of what is due there, and the power at the socket in W."""
        full = limited(rails["tx"] / 7.8)
        supply = limited((rails["pa"] / (self.build.battery_v - 0.3)) ** 2)
        found = self._source(1.0 if rails["reg"] > 5 else 0.0, full)
        held = FOLDED**2 if self._folds else 1.0  # by the level control, in the intermediate amplifier
        exciter = found["mixer"] * held
        link = exciter * self.has("link")
        predriver = min(1.0, RESERVE * link * self.has("predriver") * full)
        driver = predriver * self.has("driver") * supply * full
        bias = min(1.0, 1.5 * full) * self.has("bias")  # from a diode that clamps
        final = self._pair(driver, bias) * supply
        out = final * self.has("out")
        filtered = out * self.has(f"band_{self.band}")
        tuned = filtered * self.has("tuner")
        behind = tuned * self.has("relay")
        return {
            **found,
            "tx_if": found["tx_if"] * held,
            "mixer": exciter,
            "link": link,
            "predriver": predriver,
            "driver": driver,
            "bias": bias,
            "final": final,
            "out": out,
            "filter": filtered,
            "changeover": behind,
            "output_w": 0.88 * self.build.final_w * behind * self.has("socket"),
        }

    @property
    def _folds(self) -> bool:
        """Whether the coupler's or the heat's line holds it down: told wrongly, or by what comes back from behind."""
        back = min(self.has("relay"), self.has("socket"), self.has("tuner")) < 0.5
        return bool(self.has("folds", 0.0)) or self.has("cool") < 0.5 or back

    def _pair(self, driver: float, bias: float) -> float:
        """Both of the pair, or the one that is left at half the voltage; without bias only the peaks get through."""
        drive = min(1.1, driver) - (0.45 if bias < 0.3 else 0.0)
        return max(0.0, drive) * self.has("pair") ** 2

    def _amps(self, keyed: bool, rails: dict[str, float]) -> float:
        quiet = 0.0 if rails["feed"] < 1 else RECEIVE_A * min(1.0, rails["reg"] / 8 + 0.3)
        if self.has("final_short", 0.0) and rails["feed"] > 1:
            return quiet + rails["pa"] / SHORT_OHM
        if not rails["key"]:
            return quiet
        rf = self.rf(rails)
        runs = 2.5 if self.hot and self.has("bias_hold") == 0 else 1.0
        alive = self.has("one")
        strained = 1.4 if min(self.has("out"), self.has(f"band_{self.band}")) < 0.5 else 1.0
        final = alive * FINAL_A * (rf["final"] / self.has("pair") ** 2) ** 0.5 if rf["final"] > 0 else 0.0
        return (
            quiet + DRIVERS_A * rails["tx"] / 8 + IDLE_A * alive * runs * rf["bias"] + strained * min(runs, 1.4) * final
        )

    def audio(self, rails: dict[str, float], *, shop_mic: bool = False, tone: bool = False) -> dict[str, float]:
        """Audio along the speech path, in shares of what is due."""
        found = super().audio(rails, shop_mic=shop_mic, tone=tone)
        return {name: found[name] for name in ("mic", "gain", "amp", "limiter")} | {"modulated": found["limiter"]}
