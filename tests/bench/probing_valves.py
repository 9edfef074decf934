"""Hands at a simulated amplifier of valves; what they find off, bled and shorted in any valve gear."""

from collections.abc import Callable
from dataclasses import replace

from tests.bench.readings import Part, drawn, falls_warm, graded, keyed, level, moves, shows, works
from young_spark.bench.simulator.insides.valve_linear import DRIVE_W, FULL, Keyed, ValveLinear

INPUT_PARTS: dict[str, Part] = {
    "standby_look": ({"key_standby"}, "seen", "nothing"),
    "aerial_swr": ({"aerial_bad"}, "bad", "good"),
    "fan_look": ({"fan_dead"}, "seen", "nothing"),
    "key_short": ({"key_circuit"}, "bad", "good"),
    "key_again": ({"relay_in_contact"}, "seen", "nothing"),
    "input_parts": ({"input_part", "input_pad"}, "seen", "nothing"),
}
# off, bled and shorted; from outside; with the shop's own
VALVE_PARTS: dict[str, Part] = INPUT_PARTS | {
    "mains_fuse_look": ({"mains_fuse"}, "seen", "nothing"),
    "soft_start_click": ({"soft_start", "soft_start_stuck"}, "seen", "nothing"),
    "tap_look": ({"mains_tap"}, "seen", "nothing"),
    "interlock_look": ({"ht_relay"}, "seen", "nothing"),
    "ht_fuse_cold": ({"ht_fuse"}, "open", "good"),
    "ht_cap_cold": ({"ht_cap_dry", "ht_cap_worn"}, "bad", "good"),
    "ht_trafo_cold": ({"ht_trafo"}, "open", "good"),
    "bleed_time": ({"bleeder"}, "seen", "nothing"),
    "new_fuse": ({"rectifier", "ht_cap"}, "bad", "good"),
    "filament_cold": ({"filament_choke", "heater_pin", "final_dead"}, "open", "good"),
    "shop_valves": ({"final_valve", "final_flash", "final_dead"}, "bad", "good"),
    "gaps_cold": ({"tune_arc", "load_arc"}, "seen", "nothing"),
    "grid_choke_cold": ({"grid_choke"}, "open", "good"),
    "arc_look": ({"final_flash", "tank_switch", "tune_arc", "load_arc"}, "seen", "nothing"),
}
REACH = {"lead_flex": {"exciter_lead", "key_wire"}, "socket_flex": {"socket_joint"}}
WHOLE, UNDRIVEN = keyed(ValveLinear()), keyed(ValveLinear(drive=0.0))


def rectifier_by_ohms(faults: tuple[str, ...]) -> str:
    """A short to ground there, or half of it open."""
    gone = set(faults)
    return "short" if gone & {"rectifier", "ht_cap"} else "open" if "rectifier_half" in gone else "good"


def choke_by_ohms(faults: tuple[str, ...]) -> str:
    """An open plate choke, or a leak through the blocking capacitor."""
    return "open" if "plate_choke" in faults else "leaky" if "block_cap" in faults else "good"


def _retuned(unit: ValveLinear) -> ValveLinear:
    """It is tuned for its dip: what stood wrong stands right then."""
    return replace(unit, faults=tuple(f for f in unit.faults if f != "tank_setting"))


def _stays_on(unit: ValveLinear) -> bool:
    half = keyed(replace(unit, drive=0.5))
    return not half.is_bypassed and half.output_w > 0.3 * WHOLE.output_w


def _arcs(unit: ValveLinear, now: Keyed) -> str:
    strikes = unit.has("gap") == 0 and now.drive_w > FULL * WHOLE.drive_w
    return "seen" if strikes or unit.has("plate_short", 0.0) else "nothing"


def _undriven(unit: ValveLinear) -> str:
    """No output without drive, and a steady current?"""
    quiet = keyed(replace(unit, drive=0.0)).plate_a
    return "seen" if quiet > 2 * UNDRIVEN.plate_a or unit.has("neutral") == 0 else "nothing"


READS: dict[str, Callable[[ValveLinear, Keyed], str]] = {
    "output": lambda unit, now: graded(now.output_w / WHOLE.output_w),
    "clicks": lambda unit, now: works(1.0 if unit.has("key") > 0.5 and now.volts.mains > 0.3 else 0.0),
    "glow": lambda unit, now: "seen" if now.volts.heaters < 0.4 else "nothing",
    "ht_meter": lambda unit, now: graded(now.volts.ht / WHOLE.volts.ht, weak=0.85),
    "rectifier_cold": lambda unit, now: rectifier_by_ohms(unit.faults),
    "plate_choke_cold": lambda unit, now: choke_by_ohms(unit.faults),
    "hum": lambda unit, now: "weak" if now.volts.ripple > 0.05 and not now.is_bypassed else "good",
    "exciter_power": lambda unit, now: level(unit.exciter_w(DRIVE_W) / WHOLE.drive_w),
    "less_drive": lambda unit, now: "seen" if now.is_bypassed and _stays_on(unit) else "nothing",
    "input_swr": lambda unit, now: "bad" if unit.input_swr > 2 else "good",
    "plate_current": lambda unit, now: drawn(now.plate_a / WHOLE.plate_a, most=1.15),
    "grid_current": lambda unit, now: level(now.grid_a / WHOLE.grid_a),
    "dip": lambda unit, now: graded(keyed(_retuned(unit)).dip / WHOLE.dip),
    "arc_power": _arcs,
    "no_drive": lambda unit, now: _undriven(unit),
    "warm_up": lambda unit, now: moves(falls_warm(lambda hot: keyed(replace(unit, hot=hot)).output_w)),
}


def seen_at_valves(unit: ValveLinear, probe: str) -> str:
    """What a person says of that probe."""
    if probe in VALVE_PARTS:
        return shows(unit.faults, VALVE_PARTS[probe])
    if probe in REACH:
        return moves(bool(set(unit.faults) & REACH[probe]))
    return READS[probe](unit, keyed(unit))
