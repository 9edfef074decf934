"""Hands at a simulated valve transmitter for AM."""

from collections.abc import Callable
from dataclasses import replace

from tests.bench.probing_valves import VALVE_PARTS, choke_by_ohms, rectifier_by_ohms
from tests.bench.readings import Part, drawn, falls_warm, graded, keyed, moves, shows, works
from young_spark.bench.simulator.insides.valve_am import MODULATOR_A, MODULATOR_IDLE_A, Keyed, ValveAm

PARTS: dict[str, Part] = VALVE_PARTS | {
    "screen_cold": ({"screen_resistor", "screen_dead"}, "open", "good"),
    "crystal_swap": ({"crystal_dead"}, "bad", "good"),
    "shop_driver": ({"driver_valve", "driver_valve_dead"}, "bad", "good"),
    "shop_speech_valves": ({"speech_valve", "speech_dead"}, "bad", "good"),
    "shop_driver_af": ({"driver_af", "driver_af_weak"}, "bad", "good"),
    "shop_mod_valves": ({"mod_valve", "mod_dead"}, "bad", "good"),
    "arc_power": ({"tune_arc", "load_arc", "final_flash"}, "seen", "nothing"),
}
REACH = {
    "crystal_flex": {"crystal_holder"},
    "mic_flex": {"mic_wire"},
    "socket_flex": {"socket_joint"},
    "switch_flex": {"switch_open"},
}
HEARD = 0.15  # of its carrier: below, nobody hears what modulates it
WHOLE = keyed(ValveAm())


def _retuned(unit: ValveAm) -> ValveAm:
    """It is tuned for its dip: what stood wrong stands right then."""
    return replace(unit, faults=tuple(f for f in unit.faults if f != "tank_setting"))


def _spoken(now: Keyed) -> str:
    return works(now.depth / WHOLE.depth if now.output_w > HEARD * WHOLE.output_w else 0.0)


def _undriven(unit: ValveAm) -> str:
    """No output without drive, and a steady current?"""
    quiet = keyed(replace(unit, faults=(*unit.faults, "crystal_dead"))).plate_a
    return "seen" if quiet > 0.1 * WHOLE.plate_a or "neutral" in unit.faults else "nothing"


def _windings(faults: tuple[str, ...]) -> str:
    return "open" if "mod_primary" in faults else "low" if "mod_secondary" in faults else "good"


def _couplings(faults: tuple[str, ...]) -> str:
    return "leaky" if "speech_coupling" in faults else "open" if "speech_resistor" in faults else "good"


def _swing(modulator: float) -> float:
    return MODULATOR_A * modulator / MODULATOR_IDLE_A


def _on_the_shops_microphone(unit: ValveAm, now: Keyed) -> str:
    return "bad" if keyed(replace(unit, shop_mic=True)).depth > 1.3 * now.depth + 0.05 else "good"


READS: dict[str, Callable[[ValveAm, Keyed], str]] = {
    "output": lambda unit, now: graded(now.output_w / WHOLE.output_w),
    "relays_click": lambda unit, now: works(1.0 if unit.pulls_its_relays else 0.0),
    "speech": lambda unit, now: _spoken(now),
    "shop_mic": _on_the_shops_microphone,
    "glow": lambda unit, now: "seen" if now.volts.heaters < 0.4 or "final_dead" in unit.faults else "nothing",
    "ht_meter": lambda unit, now: graded(now.volts.ht / WHOLE.volts.ht, weak=0.85),
    "rectifier_cold": lambda unit, now: rectifier_by_ohms(unit.faults),
    "plate_choke_cold": lambda unit, now: choke_by_ohms(unit.faults),
    "hum": lambda unit, now: "weak" if now.volts.ripple > 0.05 else "good",
    "heard_crystal": lambda unit, now: graded(now.crystal / WHOLE.crystal),
    "plate_current": lambda unit, now: drawn(now.plate_a / WHOLE.plate_a, most=1.15),
    "grid_current": lambda unit, now: graded(now.grid_a / WHOLE.grid_a),
    "dip": lambda unit, now: graded(keyed(_retuned(unit)).dip / WHOLE.dip),
    "no_drive": lambda unit, now: _undriven(unit),
    "warm_up": lambda unit, now: moves(falls_warm(lambda hot: keyed(replace(unit, hot=hot)).output_w)),
    "mod_current": lambda unit, now: graded(_swing(now.modulator) / _swing(WHOLE.modulator)),
    "mod_trafo_cold": lambda unit, now: _windings(unit.faults),
    "coupling_cold": lambda unit, now: _couplings(unit.faults),
}


def seen_at_transmitter(unit: ValveAm, probe: str) -> str:
    """What a person says of that probe."""
    if probe in PARTS:
        return shows(unit.faults, PARTS[probe])
    if probe in REACH:
        return moves(bool(set(unit.faults) & REACH[probe]))
    return READS[probe](unit, keyed(unit))
