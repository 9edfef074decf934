"""Inside of a small 27 MHz or UHF set: rails, oscillator, stages and speech as volts, watts and ohms, whole or with
a part gone.

Its physics is its own: supply and rails are resistor networks, stages amplify and saturate, a class C stage needs
drive to draw current. Volts in V, powers in W, resistances in Ω, currents in A, audio in mV."""

from dataclasses import dataclass, replace
from typing import ClassVar, Literal

from young_spark.bench.simulator.insides.gear import Changes, Inside, limited, saturated, worth


@dataclass(frozen=True)
class Build:
    """How one class of set is built; powers at its nominal supply."""

    name: str
    modulation: str  # am: on the supply of driver and final; fm: at the oscillator
    battery_v: float = 13.2
    battery_ohm: float = 0.05
    lead_ohm: float = 0.05  # of its supply lead, and of its switch
    buffer_w: float = 0.05
    driver_w: float = 0.6
    final_w: float = 4.5
    power_switch: bool = False
    module: bool = False  # the final is a module with a control pin
    # where the frequency comes from: a loop whose transmit mixer sits in it, a loop and a sideband generator, a crystal
    # that is keyed
    source: Literal["loop", "sideband", "crystal"] = "loop"


SMALL_SETS = {
    "cb-am-mobile": Build("27 MHz AM mobile", "am"),
    "cb-fm-mobile": Build("27 MHz FM mobile", "fm", power_switch=True),
    "cb-fm-handheld": Build("27 MHz FM handheld", "fm", battery_v=10.8, battery_ohm=0.3, driver_w=0.3, final_w=2.4),
    "uhf-fm-mobile": Build("UHF FM mobile", "fm", driver_w=0.1, final_w=6.0, module=True),
    "cb-am-ssb-mobile": Build("27 MHz AM/SSB mobile", "am", source="sideband"),
    "home-built-cw-am": Build("home-built CW and AM transmitter", "am", source="crystal"),
}

# what can be wrong: which component, and what has become of it
FAULTS: Changes = {
    "fuse": {"fuse": 1e9},
    "lead_joint": {"lead": 5.0},
    "diode_short": {"protection_short": 1.0},
    "switch_worn": {"switch": 5.0},
    "feed_track": {"switch": 1e9},
    "reg_dead": {"reg_gain": 0.0},
    "reg_cap_short": {"reg_load": 0.05},
    "reg_resistor": {"reg_gain": 0.0, "reg_open": 1.0},
    "ptt_contact": {"ptt": 0.0},
    "ptt_wire": {"ptt": 0.0, "plug_seen": 1.0},
    "key_transistor": {"key": 0.0},
    "tx_switch": {"tx_gain": 0.0},
    "tx_switch_weak": {"tx_gain": 0.62},
    "tx_decoupler": {"tx_load": 0.2},
    "tx_feed_resistor": {"tx_gain": 0.0, "tx_open": 1.0},
    "ref_crystal": {"reference": 0.0},
    "loop_unlocked": {"loop": 0.0},
    "vco_dead": {"vco": 0.0},
    "mixer_dead": {"mixer": 0.0},
    "mixer_weak": {"mixer": 0.03},
    "buffer_dead": {"buffer": 0.0},
    "buffer_tune": {"buffer": 0.05},
    "driver_open": {"driver": 0.0},
    "driver_weak": {"driver": 0.3},
    "driver_resistor": {"base_feed": 0.0, "driver_burnt": 1.0},
    "final_open": {"final": 0.0},
    "final_short": {"final": 0.0, "final_short": 1.0},
    "final_weak": {"final": 0.35},
    "filter_cap": {"filter": 0.35},
    "relay_contact": {"relay": 0.3},
    "socket_joint": {"socket": 0.0},
    "cartridge": {"mic": 0.0},
    "cartridge_weak": {"mic": 0.3},
    "mic_wire": {"mic": 0.0},
    "gain_low": {"gain": 0.2},
    "mic_amp_dead": {"mic_amp": 0.0},
    "mic_coupling": {"mic_amp": 0.25},
    "limiter_dead": {"limiter": 0.0},
    "limiter_stuck": {"limiter": 0.25},
    "af_chip": {"af": 0.0},
    "trafo_secondary": {"pa_feed": 0.0},
    "pa_feed_low": {"pa_feed": 0.6},
    "deviation_low": {"deviation": 0.25},
    "varactor": {"varactor": 0.3},
    "carrier_dead": {"carrier": 0.0},
    "balanced_dead": {"balanced": 0.0},
    "filter_switch": {"sideband": 0.0},
    "filter_crystal": {"sideband": 0.06},
    "if_dead": {"tx_if": 0.0},
    "if_coil": {"tx_if": 0.1},
    "alc_stuck": {"alc": 0.08},
    "alc_set": {"alc": 0.12},
    "upmix_dead": {"mixer": 0.0},
    "upmix_weak": {"mixer": 0.05},
    "crystal_dead": {"crystal": 0.0},
    "crystal_holder": {"crystal": 0.0},
    "osc_active": {"crystal": 0.0},
    "osc_feedback": {"crystal": 0.08},
    "osc_coupling": {"osc_buffer": 0.0},
    "osc_tune": {"osc_buffer": 0.08},
    "paddle_plug": {"ptt": 0.0},
    "keying_open": {"key": 0.0},
    "keying_weak": {"tx_gain": 0.6},
    "other_hand": {"buffer": 0.05},
    "final_fade": {},
    "driver_choke": {"driver": 0.0},
    "final_choke": {"final": 0.0},
    "power_switch_tarnish": {"pa_feed": 0.6},
    "cell_weak": {"battery": 6.0},
    "contact_dirty": {"battery": 7.0},
    "power_set_low": {"control": 0.35},
    "inner_fuse": {"switch": 1e9},
    "reg_thermal": {},
    "ripple": {"supply_filter": 0.0},
    "switch_set": {"ptt": 0.0},
    "switch_contact": {"tx_gain": 0.0},
    "vco_thermal": {},
    "trim_off": {"trim": 0.0},
    "added_board": {"added": 0.0},
    "added_weak": {"added": 0.25},
    "gain_open": {"gain": 0.0},
    "af_low": {"af": 0.3},
    "buffer_thermal": {},
    "driver_coupling": {"driver": 0.0},
    "power_turned": {"driver": 0.2},
    "final_joint": {"final": 0.4},
    "changeover_joint": {"relay": 0.4, "aerial_path": 0.4},
    "ssb_contact": {"ssb_mode": 0.0},
    "ssb_carrier": {"ssb_mode": 0.3},
    "am_contact": {"am_mode": 0.0},
    "am_insertion": {"am_mode": 0.3},
    "rx_diode": {"relay": 0.4, "aerial_path": 0.2},
    "aerial_bad": {"aerial_path": 0.2},
    "upmix_thermal": {},
    "menu_power": {"alc": 0.1},
    "keyer_menu": {"ptt": 0.0},
    "deviation_worn": {"deviation": 0.0},
}
# what warmth takes: share of the component's worth that is left when hot
FADES: Changes = {
    "final_fade": {"final": 0.3},
    "driver_weak": {"driver": 0.2},
    "tx_switch_weak": {"tx_gain": 0.55},
    "filter_cap": {"filter": 0.2},
    "reg_thermal": {"reg_gain": 0.85},
    "vco_thermal": {"vco": 0.0},
    "buffer_thermal": {"buffer": 0.05},
    "upmix_thermal": {"mixer": 0.05},
}
LOOSE = {
    "socket_joint",
    "relay_contact",
    "buffer_tune",
    "driver_choke",
    "final_choke",
    "crystal_holder",
    "final_joint",
    "changeover_joint",
}  # what a tap on the board moves
COMES_AND_GOES = {"driver_choke", "final_choke", "lead_joint"}  # loose joints that hold most of the time
ONLY_HERE = {
    "ptt": {
        "ptt_contact",
        "ptt_wire",
        "key_transistor",
        "tx_switch",
        "tx_switch_weak",
        "tx_decoupler",
        "tx_feed_resistor",
        "switch_set",
        "switch_contact",
    },
    "synthesiser": {"ref_crystal", "loop_unlocked", "vco_dead", "vco_thermal", "trim_off"},
    "loop": {"mixer_dead", "mixer_weak"},
    "sideband": {
        "carrier_dead",
        "balanced_dead",
        "filter_switch",
        "filter_crystal",
        "if_dead",
        "if_coil",
        "alc_stuck",
        "alc_set",
        "upmix_dead",
        "upmix_weak",
        "ssb_contact",
        "ssb_carrier",
        "am_contact",
        "am_insertion",
        "upmix_thermal",
        "menu_power",
    },
    "crystal": {
        "crystal_dead",
        "crystal_holder",
        "osc_active",
        "osc_feedback",
        "osc_coupling",
        "osc_tune",
        "paddle_plug",
        "keying_open",
        "keying_weak",
        "other_hand",
        "keyer_menu",
    },
    "am": {"af_chip", "af_low", "trafo_secondary", "pa_feed_low"},
    "fm": {"deviation_low", "deviation_worn", "varactor"},
    "switch": {"power_switch_tarnish"},
    "battery": {"cell_weak", "contact_dirty"},
    "module": {"power_set_low"},
    "trimmed": {"power_turned"},
}


def faults_of_small_set(chain: str) -> tuple[str, ...]:
    """The faults that this build can carry."""
    build = SMALL_SETS[chain]
    mine = {build.modulation} | ({"switch"} if build.power_switch else set()) | ({"module"} if build.module else set())
    mine |= {"battery"} if chain.endswith("handheld") else set()
    mine |= set() if build.module else {"trimmed"}
    mine |= {build.source} | ({"ptt", "synthesiser"} if build.source != "crystal" else set())
    barred = set().union(*(names for kind, names in ONLY_HERE.items() if kind not in mine))
    barred |= {"ptt_wire", "mic_wire"} if chain.endswith("handheld") else set()
    return tuple(f for f in FAULTS if f not in barred)


LEVELS_MV = {
    "carrier": 200,
    "balanced": 20,
    "sideband": 10,
    "tx_if": 100,
    "mixer": 50,
    "reference": 100,
    "vco": 100,
    "crystal": 1000,
    "osc_buffer": 1000,
}  # what is due where it is no power


@dataclass(frozen=True)
class Circuit:
    """One set with its faults, warm or cold; one component of it may have been `cooled` alone."""

    build: Build
    faults: tuple[str, ...] = ()
    hot: bool = False
    cooled: str = ""

    parts: ClassVar[Changes] = FAULTS
    fades: ClassVar[Changes] = FADES

    def has(self, name: str, whole: float = 1.0) -> float:
        """What a component is worth now."""
        return worth(name, whole, self, self.parts, self.fades)

    # volts ------------------------------------------------------------------------------------------------------------

    def rails(self, keyed: bool) -> dict[str, float]:
        """Volts along the supply, found by letting current and drop settle."""
        amps, found = 0.25, {}
        for _ in range(40):
            found = self._rails(keyed, amps)
            wanted = self._amps(keyed, found)
            amps += 0.5 * (wanted - amps)
        return {**found, "amps": amps}

    def _rails(self, keyed: bool, amps: float) -> dict[str, float]:
        source = max(0.0, self.build.battery_v - amps * (self.build.battery_ohm + self.has("battery", 0.0)))
        blown = self.has("fuse", 0.0) > 1e6 or self.has("protection_short", 0.0) > 0
        lead = 0.0 if blown else max(0.0, source - amps * self.has("lead", self.build.lead_ohm))
        switch_ohm = self.has("switch", self.build.lead_ohm)
        feed = 0.0 if switch_ohm > 1e6 else max(0.0, lead - amps * switch_ohm)
        reg = min(8.0, max(0.0, feed - 1.0)) * self.has("reg_gain") * _divided(1.0, self.has("reg_load", 200.0))
        key = keyed and self.has("ptt") > 0.5 and self.has("key") > 0.5 and reg > 4
        tx = reg * self.has("tx_gain") * _divided(4.0, self.has("tx_load", 300.0)) if key else 0.0
        pa = feed * self.has("pa_feed")
        return {
            "source": source,
            "lead": lead,
            "feed": feed,
            "reg": reg,
            "key": 1.0 if key else 0.0,
            "tx": tx,
            "pa": pa,
            "control": 0.6 * reg * self.has("control"),
        }

    # RF ---------------------------------------------------------------------------------------------------------------

    def rf(self, rails: dict[str, float]) -> dict[str, float]:
        """RF at each point in shares of what is due there, and powers in W."""
        full = rails["tx"] / 7.8
        found = self._source(1.0 if rails["reg"] > 5 else 0.0, limited(full))
        mixer = found["mixer"]
        buffer = saturated(mixer) * self.has("buffer") * limited(full) ** 2
        supply = (rails["pa"] / (self.build.battery_v - 0.3)) ** 2
        base = buffer * self.has("base_feed")
        driver = saturated(base) * self.has("driver") * limited(supply)
        gate = self.has("control") if self.build.module else 1.0
        final = max(0.0, saturated(driver) - 0.08) / 0.92 * self.has("final") * limited(supply) * gate
        out = final * self.has("filter")
        return {**found, "buffer": buffer, "base": base, "driver": driver, "final": final, "filter": out,
                "output_w": 0.88 * self.build.final_w * out * self.has("relay") * self.has("socket")}  # fmt: skip

    def _source(self, powered: float, full: float) -> dict[str, float]:
        """From the reference to what the buffer is driven with; `full` is the share of the transmit rail."""
        if self.build.source == "crystal":
            crystal = powered * self.has("crystal")
            osc_buffer = crystal * self.has("osc_buffer") * powered
            return {"crystal": crystal, "osc_buffer": osc_buffer, "mixer": osc_buffer}
        reference = self.has("reference") * powered
        vco = self.has("vco") * (powered if self.has("loop") > 0.5 and reference > 0.5 else 0.0)
        if self.build.source == "loop":
            return {"reference": reference, "vco": vco, "mixer": vco * self.has("mixer") * full}
        carrier = powered * self.has("carrier")
        balanced = carrier * self.has("balanced") * full
        sideband = balanced * self.has("sideband")
        tx_if = sideband * self.has("tx_if") * self.has("alc") * full
        mixer = tx_if * vco * self.has("mixer") * full
        return {
            "reference": reference,
            "vco": vco,
            "carrier": carrier,
            "balanced": balanced,
            "sideband": sideband,
            "tx_if": tx_if,
            "mixer": mixer,
        }

    def _amps(self, keyed: bool, rails: dict[str, float]) -> float:
        quiet = 0.0 if rails["feed"] < 1 else 0.25 * min(1.0, rails["reg"] / 8 + 0.2)
        if self.has("final_short", 0.0) > 0 and rails["feed"] > 1:
            return quiet + rails["pa"] / 2.5  # until the fuse goes
        if not rails["key"]:
            return quiet
        rf = self.rf(rails)
        collector = self.build.final_w * rf["final"] / 0.6 + self.build.driver_w * rf["driver"] / 0.5
        reflected = 1.5 if rf["filter"] * self.has("socket") < 0.5 * rf["final"] else 1.0
        return quiet + 0.1 * rails["tx"] / 8 + reflected * collector / max(rails["pa"], 1.0)

    # speech -----------------------------------------------------------------------------------------------------------

    def audio(self, rails: dict[str, float], *, shop_mic: bool = False, tone: bool = False) -> dict[str, float]:
        """Audio along the speech path, in shares of what is due."""
        mic = 1.0 if shop_mic or tone else self.has("mic")
        powered = 1.0 if rails["reg"] > 5 else 0.0
        gain = mic * self.has("added") * self.has("gain")
        amp = gain * self.has("mic_amp") * powered
        limiter = min(1.0, amp) * self.has("limiter") * powered
        if self.build.modulation == "am":
            modulated = limiter * self.has("af") * (1.0 if rails["pa"] > 3 else 0.0)
            return {"mic": mic, "gain": gain, "amp": amp, "limiter": limiter, "modulated": modulated}
        deviation = limiter * self.has("deviation")
        return {
            "mic": mic,
            "gain": gain,
            "amp": amp,
            "limiter": limiter,
            "deviation": deviation,
            "modulated": deviation * self.has("varactor"),
        }

    # what hands and meters find --------------------------------------------------------------------------------------

    def inside(self) -> Inside:
        """What the faults make of it."""
        whole = replace(self, faults=(), hot=False, cooled="")
        rails, due = self.rails(True), whole.rails(True)
        quiet = whole.rails(False)["amps"]

        def over(amps: float) -> float:
            return (amps - quiet) / (due["amps"] - quiet if amps > quiet else quiet)

        return Inside(
            output=self.rf(rails)["output_w"] / whole.rf(due)["output_w"],
            draw=over(rails["amps"]),
            rest=over(self.rails(False)["amps"]),
            depth=min(1.0, self.audio(rails)["modulated"] / whole.audio(due)["modulated"]),
        )

    def points(self, *, keyed: bool) -> dict[str, str]:
        """What a hand would read at each point: volts of the rails, RF in W, audio in mV at 100 mV due, ohms to
        ground when off."""
        rails = self.rails(keyed)
        rf = self.rf(rails)
        volts = ("source", "lead", "feed", "reg", "tx", "pa", *(("control",) if self.build.module else ()))
        read = {name: f"{rails[name]:.2f} V" for name in volts}
        watts = {"buffer": self.build.buffer_w, "predriver": self.build.buffer_w, "driver": self.build.driver_w,
                 "final": self.build.final_w, "filter": self.build.final_w}  # fmt: skip
        read |= {name: f"{rf[name] * due * 1e3:.3g} mW" for name, due in watts.items() if name in rf}
        read |= {"output": f"{rf['output_w']:.3g} W"}
        read |= {name: f"{rf[name] * due:.3g} mV" for name, due in LEVELS_MV.items() if name in rf}
        read |= {f"audio {name}": f"{100 * share:.3g} mV" for name, share in self.audio(rails, tone=True).items()}
        return read | {
            "reg to ground, off": f"{self.has('reg_load', 200.0):.3g} Ω",
            "tx to ground, off": f"{self.has('tx_load', 300.0):.3g} Ω",
        }


def _divided(source_ohm: float, load_ohm: float) -> float:
    return load_ohm / (load_ohm + source_ohm)
