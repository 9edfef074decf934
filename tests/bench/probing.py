"""Hands that probe the simulated circuit: what a person reads at each point that a chain names, said as one of its
answers.

It knows the circuit and the names of the points, not how the engine thinks."""

from collections.abc import Callable
from functools import lru_cache

from young_spark.bench.simulator.circuit import LOOSE, Build, Circuit

Reads = Callable[[Circuit, dict[str, float], dict[str, float]], str]

DEAD, WEAK = 0.05, 0.7
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
COOLED = {
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


def seen_at(circuit: Circuit, probe: str) -> str:
    """What a person says of that probe."""
    whole = Circuit(circuit.build)
    keyed = probe not in {"receive", "current_rx"}
    rails, healthy = settled(circuit, keyed), settled(whole, keyed)
    if probe in HEALTHY_V:
        return graded(rails[HEALTHY_V[probe]] / healthy[HEALTHY_V[probe]], weak=0.9)
    if probe in {"output", *RF}:
        name = "vco" if probe == "heard_beside" and circuit.build.source == "sideband" else RF.get(probe, "output_w")
        return graded(circuit.rf(rails)[name] / whole.rf(healthy)[name])
    if probe in TONES:
        return graded(circuit.audio(rails, tone=True)[TONES[probe]] / whole.audio(healthy)[TONES[probe]])
    if probe in PARTS:
        which, shown, healthy_answer = PARTS[probe]
        return shown if set(circuit.faults) & which else healthy_answer
    if probe in {"warm_up", *COOLED, *REACH}:
        return _stressed(circuit, probe)
    return OTHERS[probe](circuit, rails, healthy)


def _stressed(circuit: Circuit, probe: str) -> str:
    cold, hot = _power(circuit, hot=False), _power(circuit, hot=True)
    if probe == "warm_up":
        moved = hot < 0.8 * cold
    elif probe in COOLED:
        moved = _power(circuit, hot=True, cooled=COOLED[probe]) > 1.25 * hot + 0.01
    else:
        moved = bool(set(circuit.faults) & REACH[probe])
    return "changes" if moved else "no_change"


def _speech(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    whole = Circuit(circuit.build)
    carrier = graded(circuit.rf(rails)["output_w"] / whole.rf(healthy)["output_w"])
    share = circuit.audio(rails)["modulated"] / whole.audio(healthy)["modulated"]
    heard = graded(share if carrier != "dead" else 0.0)
    return "works" if heard == "good" else heard


def _mode(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float], *, mode: str) -> str:
    order = ("dead", "weak", "good")
    whole = Circuit(circuit.build).rf(healthy)["output_w"]
    carrier = graded(circuit.has(mode) * circuit.rf(rails)["output_w"] / whole)
    spoken = _speech(circuit, rails, healthy) if mode == "am_mode" and carrier != "dead" else "works"
    found = min(carrier, {"works": "good"}.get(spoken, spoken), key=order.index)
    return {"good": "works"}.get(found, found)


def _shop_mic(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    with_it, without = circuit.audio(rails, shop_mic=True)["modulated"], circuit.audio(rails)["modulated"]
    return "bad" if with_it > 1.3 * without + 0.05 else "good"


def _current(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    due = healthy["amps"] - settled(Circuit(circuit.build), False)["amps"]
    share = (rails["amps"] - settled(circuit, False)["amps"]) / due
    if rails["amps"] > 1.25 * healthy["amps"]:
        return "high"
    return "normal" if share > WEAK else "low" if share > 0.3 else "no_rise"


def _receive(circuit: Circuit, rails: dict[str, float], healthy: dict[str, float]) -> str:
    shares_audio = circuit.build.source == "loop"  # the modulator's amplifier is the receiver's too
    heard = circuit.has("af") > 0.5 or not shares_audio
    if not (rails["reg"] > 5 and circuit.rf(rails)["vco"] > 0.5 and heard):
        return "dead"
    # what comes in at the socket: a millionth of the power, and still little of little
    arriving = min(circuit.has(name) for name in ("aerial_path", "socket", "filter"))
    return "works" if arriving >= WEAK else "weak"


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


def graded(share: float, weak: float = WEAK) -> str:
    """A share of what is due, in words."""
    return "good" if share >= weak else "weak" if share >= DEAD else "dead"


def _power(circuit: Circuit, *, hot: bool, cooled: str = "") -> float:
    warmed = Circuit(circuit.build, circuit.faults, hot, cooled)
    return warmed.rf(settled(warmed, True))["output_w"]


def settled(circuit: Circuit, keyed: bool) -> dict[str, float]:
    """The circuit's rails; the same set in the same state is let settle once."""
    return _settled(circuit.build, circuit.faults, circuit.hot, circuit.cooled, keyed)


@lru_cache(maxsize=4096)
def _settled(build: Build, faults: tuple[str, ...], hot: bool, cooled: str, keyed: bool) -> dict[str, float]:
    return Circuit(build, faults, hot, cooled).rails(keyed)
