"""Hands at a simulated set for 27 MHz, UHF or the short waves."""

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache

from tests.bench.readings import DEAD, WEAK, drawn, falls_warm, graded, moves, shows
from young_spark.bench.simulator.insides.hf_set import HfSet
from young_spark.bench.simulator.insides.small_set import LOOSE, Circuit

Reads = Callable[[Circuit, dict[str, float], dict[str, float]], str]

HEALTHY_V = {
    "lead_v": "lead",
    "protection_v": "lead",
    "supply_v": "feed",
    "battery_v": "source",
    "reg_v": "reg",
    "tx_rail_v": "tx",
    "pa_rail_v": "pa",
    "power_set_v": "control",
}
RF = {
    "reference_rf": "reference",
    "vco_rf": "vco",
    "mixer_rf": "mixer",
    "buffer_rf": "base",
    "driver_rf": "driver",
    "final_rf": "final",
    "filter_rf": "filter",
    "heard_beside": "mixer",
    "carrier_rf": "carrier",
    "balanced_rf": "balanced",
    "filter_out_rf": "sideband",
    "if_rf": "tx_if",
    "exciter_plug": "mixer",
    "osc_rf": "crystal",
    "osc_buffer_rf": "osc_buffer",
    "heard_crystal": "crystal",
    "link_rf": "link",
    "predriver_rf": "predriver",
    "changeover_rf": "changeover",
}
TONES = {
    "tone_gain": "gain",
    "tone_amp": "amp",
    "tone_limiter": "limiter",
    "tone_modulator": "deviation",
    "af_out": "modulated",
}
# seen, measured out of circuit or by ohms: which faults show, and how
PARTS = {
    "fuse_look": ({"fuse"}, "seen", "nothing"),
    "diode_ohms": ({"diode_short"}, "short", "good"),
    "new_fuse": ({"diode_short"}, "bad", "good"),
    "plug_look": ({"ptt_wire"}, "seen", "nothing"),
    "final_out": ({"final_open", "final_short", "final_weak"}, "bad", "good"),
    "driver_out": ({"driver_open", "driver_weak"}, "bad", "good"),
    "driver_look": ({"driver_resistor", "driver_coupling", "driver_choke"}, "seen", "nothing"),
    "final_look": ({"socket_joint", "final_choke", "final_joint"}, "seen", "nothing"),
    "final_ohms": ({"final_short"}, "short", "good"),
    "gain_look": ({"gain_low"}, "seen", "nothing"),
    "gain_ohms": ({"gain_open"}, "open", "good"),
    "mic_amp_dc": ({"mic_amp_dead"}, "bad", "good"),
    "coupling_bridge": ({"mic_coupling"}, "bad", "good"),
    "limiter_dc": ({"limiter_dead", "limiter_stuck"}, "bad", "good"),
    "key_ground": ({"key_transistor"}, "bad", "good"),
    "key_coil": (set(), "open", "good"),
    "buffer_dc": ({"buffer_dead"}, "bad", "good"),
    "buffer_peak": ({"buffer_tune"}, "bad", "good"),
    "buffer_bridge": (set(), "bad", "good"),
    "filter_parts": ({"filter_cap"}, "seen", "nothing"),
    "if_dc": ({"if_dead"}, "bad", "good"),
    "if_peak": ({"if_coil"}, "bad", "good"),
    "loop_cap": ({"loop_unlocked"}, "bad", "good"),
    "upmix_dc": ({"upmix_dead", "upmix_weak"}, "bad", "good"),
    "trafo_ohms": ({"trafo_secondary"}, "open", "good"),
    "deviation_turn": ({"deviation_low"}, "seen", "nothing"),
    "modulator_dc": ({"varactor"}, "bad", "good"),
    "setting_look": ({"power_set_low"}, "seen", "nothing"),
    "alc_v": ({"alc_stuck", "alc_set"}, "bad", "good"),
    "other_sideband": (set(), "seen", "nothing"),
    "balance_turn": (set(), "seen", "nothing"),
    "other_hand_look": ({"other_hand"}, "seen", "nothing"),
    "key_shorted": ({"paddle_plug"}, "bad", "good"),
    "crystal_swap": ({"crystal_dead"}, "bad", "good"),
    "power_step": ({"power_switch_tarnish"}, "seen", "nothing"),
    "other_channel": (set(), "seen", "nothing"),
    "inner_fuse_look": ({"inner_fuse", "feed_track"}, "seen", "nothing"),
    "switches_look": ({"switch_set"}, "seen", "nothing"),
    "added_bridge": ({"added_board", "added_weak"}, "bad", "good"),
    "aerial_swr": ({"aerial_bad"}, "bad", "good"),
    "power_look": ({"power_turned"}, "seen", "nothing"),
    "rx_diode_ohms": ({"rx_diode"}, "short", "good"),
    "menu_look": ({"menu_power"}, "seen", "nothing"),
    "keyer_look": ({"keyer_menu"}, "seen", "nothing"),
    "lock_look": (set(), "seen", "nothing"),
}
HF_PARTS = PARTS | {
    "fan_look": ({"fan_dead"}, "seen", "nothing"),
    "sensor_off": ({"heat_sensor"}, "bad", "good"),
    "protect_off": ({"out_protect"}, "bad", "good"),
    "tuner_out": ({"tuner_in"}, "seen", "nothing"),
    "tuner_bypass": ({"tuner_in", "tuner_relay"}, "bad", "good"),
    "final_ohms": ({"final_both"}, "short", "good"),
    "final_out": ({"final_one", "final_both"}, "bad", "good"),
    "driver_look": ({"driver_resistor", "final_joint", "out_trafo", "interstage"}, "seen", "nothing"),
    # what holds it down stands on its line at rest, too; a coupler tells nothing where nothing is sent
    "alc_v": ({"alc_stuck", "alc_set", "heat_sensor"}, "bad", "good"),
}
REACH = {  # what a hand moves there
    "lead_flex": {"lead_joint", "contact_dirty"},
    "socket_flex": {"socket_joint", "changeover_joint"},
    "power_switch_flex": {"pa_feed_low"},
    "board_tap": LOOSE,
    "mic_flex": {"mic_wire"},
    "key_plug_flex": {"paddle_plug"},
    "crystal_flex": {"crystal_holder"},
    "selector_flex": set(),
    "switches_flex": {"switch_contact"},
    "modes_flex": {"ssb_contact"},
    "am_flex": {"am_contact"},
}
LOOSE_HF = {"final_joint", "link_bad", "relay_contact", "tuner_relay", "socket_joint"}
HF_REACH = REACH | {
    "link_flex": {"link_bad"},
    "socket_flex": {"socket_joint"},
    "pa_tap": {"final_joint", "link_bad"},
    "relay_tap": LOOSE_HF - {"socket_joint"},
    "mode_flex": set(),
}
COOLED = {
    "pa_freeze": "bias_hold",
    "final_freeze": "final",
    "driver_freeze": "driver",
    "tx_rail_freeze": "tx_gain",
    "filter_freeze": "filter",
    "synth_freeze": "reference",
    "reg_freeze": "reg_gain",
    "vco_freeze": "vco",
    "buffer_freeze": "buffer",
    "upmix_freeze": "mixer",
    "osc_freeze": "crystal",
    "af_freeze": "af",
}


def seen_at_set(circuit: Circuit, probe: str) -> str:
    """What a person says of that probe."""
    whole = _whole(circuit)
    keyed = probe not in {"receive", "current_rx"}
    rails, healthy = settled(circuit, keyed), settled(whole, keyed)
    if probe in HEALTHY_V:
        return graded(rails[HEALTHY_V[probe]] / healthy[HEALTHY_V[probe]], weak=0.9)
    if probe in {"output", *RF}:
        name = "vco" if probe == "heard_beside" and circuit.build.source == "sideband" else RF.get(probe, "output_w")
        return graded(circuit.rf(rails)[name] / whole.rf(healthy)[name])
    if probe in TONES:
        return graded(circuit.audio(rails, tone=True)[TONES[probe]] / whole.audio(healthy)[TONES[probe]])
    parts, reach = (HF_PARTS, HF_REACH) if isinstance(circuit, HfSet) else (PARTS, REACH)
    if probe in parts:
        return shows(circuit.faults, parts[probe])
    if probe in reach:
        return moves(bool(set(circuit.faults) & reach[probe]))
    if probe in {"warm_up", "pa_warm", *COOLED}:
        return _heated(circuit, probe)
    if isinstance(circuit, HfSet) and probe in {"idle_current", "bias_v", *BANDS}:
        return _of_the_hf_set(circuit, probe)
    return OTHERS[probe](circuit, rails, healthy)


def _heated(circuit: Circuit, probe: str) -> str:
    if probe not in COOLED:
        return moves(falls_warm(lambda hot: _power(circuit, hot=hot)))
    hot, cooled = (replace(circuit, hot=True, cooled=name) for name in ("", COOLED[probe]))
    amps = [settled(c, True)["amps"] for c in (hot, cooled)]
    return moves(_power(circuit, hot=True, cooled=cooled.cooled) > 1.25 * _power(circuit, hot=True) + 0.01
                 or amps[1] < 0.8 * amps[0])  # fmt: skip


BANDS = {f"b{band}_power": band for band in (80, 40, 20, 10)}


def _on_its_band(circuit: HfSet) -> HfSet:
    """Keyed where it fails, if it fails on one band alone."""
    bands = [int(f[1:3]) for f in circuit.faults if f[:1] == "b" and f[1:3].isdigit()]
    return replace(circuit, band=bands[0]) if bands else circuit


def _of_the_hf_set(circuit: HfSet, probe: str) -> str:
    """Its idle current without drive, its bias, its power on one band."""
    whole = _whole(circuit)
    if probe in BANDS:
        on_it = replace(circuit, band=BANDS[probe])
        share = on_it.rf(settled(on_it, True))["output_w"] / whole.rf(settled(whole, True))["output_w"]
        return {"good": "works"}.get(found := graded(share), found)
    undriven = replace(circuit, faults=(*circuit.faults, "carrier_dead"))
    at_rest = replace(whole, faults=("carrier_dead",))
    if probe == "bias_v":
        return graded(undriven.rf(settled(undriven, True))["bias"] / at_rest.rf(settled(at_rest, True))["bias"])
    if circuit.has("final_short", 0.0) and settled(circuit, True)["amps"] > 5:
        return "high"
    idle, due = (settled(c, True)["amps"] - settled(c, False)["amps"] for c in (undriven, at_rest))
    return "low" if idle < 0.75 * due else "high" if idle > 1.3 * due else "good"


def _speech(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    whole = _whole(circuit)
    carrier = graded(circuit.rf(rails)["output_w"] / whole.rf(healthy)["output_w"])
    share = circuit.audio(rails)["modulated"] / whole.audio(healthy)["modulated"]
    heard = graded(share if carrier != "dead" else 0.0)
    return "works" if heard == "good" else heard


def _mode(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float], *, mode: str) -> str:
    order = ("dead", "weak", "good")
    whole = _whole(circuit).rf(healthy)["output_w"]
    carrier = graded(circuit.has(mode) * circuit.rf(rails)["output_w"] / whole)
    spoken = _speech(circuit, rails, healthy) if mode == "am_mode" and carrier != "dead" else "works"
    found = min(carrier, {"works": "good"}.get(spoken, spoken), key=order.index)
    return {"good": "works"}.get(found, found)


def _shop_mic(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    with_it, without = circuit.audio(rails, shop_mic=True)["modulated"], circuit.audio(rails)["modulated"]
    return "bad" if with_it > 1.3 * without + 0.05 else "good"


def _current(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    due = healthy["amps"] - settled(_whole(circuit), False)["amps"]
    share = (rails["amps"] - settled(circuit, False)["amps"]) / due
    if rails["amps"] > 1.25 * healthy["amps"]:
        return "high"
    if isinstance(circuit, HfSet):  # a supply meter shows idle current, too
        keyed = settled(_on_its_band(circuit), True)["amps"] - settled(circuit, False)["amps"]
        return drawn(keyed / due, most=1.15)
    return "normal" if share > WEAK else "low" if share > 0.3 else "no_rise"


def _receive(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    shares_audio = circuit.build.source == "loop"  # the modulator's amplifier is the receiver's too
    heard = circuit.has("af") > 0.5 or not shares_audio
    if not (rails["reg"] > 5 and circuit.rf(rails)["vco"] > 0.5 and heard):
        return "dead"
    # what comes in at the socket: a millionth of the power, and still little of little
    shared = ("aerial_path", "socket", "filter", "tuner")
    arriving = min(circuit.has(name) for name in shared)
    return "dead" if circuit.has("rx") == 0 else "works" if min(arriving, circuit.has("rx")) >= WEAK else "weak"


def _ohms(short: str, opened: str) -> Reads:
    return lambda c, rails, healthy: "short" if c.has(short, 200.0) < 5 else "open" if c.has(opened, 0.0) else "good"


def _swapped(*faults: str) -> Reads:
    return lambda c, rails, healthy: "bad" if set(c.faults) & set(faults) else "good"


OTHERS: dict[str, Reads] = {
    "speech": _speech,
    "shop_mic": _shop_mic,
    "current_tx": _current,
    "receive": _receive,
    "other_mic": _swapped("ptt_contact", "ptt_wire"),
    "bench_supply": _swapped("cell_weak", "contact_dirty"),
    "mode_ssb": lambda c, rails, healthy: _mode(c, rails, healthy, mode="ssb_mode"),
    "mode_am": lambda c, rails, healthy: _mode(c, rails, healthy, mode="am_mode"),
    "keys": lambda c, rails, healthy: {"good": "works"}.get(
        found := graded(rails["tx"] / healthy["tx"], weak=0.9), found
    ),
    "mutes": lambda c, rails, healthy: "works" if rails["key"] else "dead",
    "key_v": lambda c, rails, healthy: "good" if rails["key"] else "dead",
    "key_contact": lambda c, rails, healthy: "good" if c.has("ptt") > 0.5 else "dead",
    "current_rx": lambda c, rails, healthy: graded(rails["amps"] / healthy["amps"]),
    "loop_v": lambda c, rails, healthy: "good" if c.rf(rails)["vco"] > 0.5 or c.has("vco") < 0.5 else "dead",
    "af_rest": lambda c, rails, healthy: graded(min(1.0, rails["feed"] / healthy["feed"]) * c.has("af"), weak=0.9),
    "whine": lambda c, rails, healthy: (
        "dead" if rails["lead"] < 2 else "good" if c.has("supply_filter") > 0.5 else "weak"
    ),
    "on_frequency": lambda c, rails, healthy: "works" if c.has("trim") > 0.5 else "weak",
    "subtone_reads": lambda c, rails, healthy: "dead" if c.rf(rails)["output_w"] < DEAD else "works",
    "reg_ohms": _ohms("reg_load", "reg_open"),
    "tx_rail_ohms": _ohms("tx_load", "tx_open"),
}


def _whole(circuit: Circuit) -> Circuit:
    return replace(circuit, faults=(), hot=False, cooled="")


def _power(circuit: Circuit, *, hot: bool, cooled: str = "") -> float:
    warmed = replace(circuit, hot=hot, cooled=cooled)
    return warmed.rf(settled(warmed, True))["output_w"]


@lru_cache(maxsize=4096)
def settled(circuit: Circuit, keyed: bool) -> dict[str, float]:
    """The circuit's rails; the same set in the same state is let settle once."""
    return circuit.rails(keyed)
