"""Hands at a simulated amplifier of transistor modules."""

from collections.abc import Callable
from dataclasses import replace

from tests.bench.probing_valves import INPUT_PARTS
from tests.bench.readings import Part, drawn, falls_warm, graded, keyed, level, moves, shows, works
from young_spark.bench.simulator.insides.transistor_linear import DRIVE_W, Keyed, TransistorLinear

PARTS: dict[str, Part] = INPUT_PARTS | {
    "fuse_look": ({"fuse"}, "seen", "nothing"),
    "inner_fuse_look": ({"inner_fuse", "feed_track"}, "seen", "nothing"),
    "diode_ohms": ({"diode_short"}, "short", "good"),
    "new_fuse": ({"diode_short"}, "bad", "good"),
    "protect_off": ({"protect_trip"}, "bad", "good"),
    "module_feeds": ({"a_fuse", "b_fuse"}, "seen", "nothing"),
    "splitter_ohms": ({"splitter_part"}, "open", "good"),
    "burnt_look": ({"splitter_part", "combiner_burnt", "lowpass_cap"}, "seen", "nothing"),
}
LOOSE = {"a_joint", "b_joint", "lowpass_relay", "relay_in_contact", "choke_joint"}
REACH = {
    "drive_lead_flex": {"exciter_lead", "key_wire"},
    "socket_flex": {"socket_joint"},
    "lead_flex": {"lead_joint"},
    "modules_tap": LOOSE,
    "relay_tap": {"relay_contact", *LOOSE},
}
COOLED = {"reg_freeze": "reg", "modules_freeze": "bias_hold"}
BANDS = {f"b{band}_power": band for band in (80, 20, 10)}
WHOLE, UNDRIVEN = keyed(TransistorLinear()), keyed(TransistorLinear(drive=0.0))


def _on_its_band(unit: TransistorLinear) -> Keyed:
    """Keyed where it fails, if it fails on one band alone."""
    bands = [int(f[1:3]) for f in unit.faults if f[:1] == "b" and f[1:3].isdigit()]
    return keyed(replace(unit, band=bands[0])) if bands else keyed(unit)


def _volts_behind(unit: TransistorLinear, amps: float, *parts: str) -> str:
    dropped = amps / WHOLE.amps * sum(unit.has(part, 0.0) for part in parts)
    return graded(unit.has("fuse") * (1 - dropped), weak=0.9)


def _compared(a: float, b: float) -> str:
    return "good" if abs(a - b) < 0.15 * max(a, b, 0.1) else "a_low" if a < b else "b_low"


def _lamp(unit: TransistorLinear, now: Keyed) -> str:
    warm = "protect_temp" in unit.faults and keyed(replace(unit, hot=True)).trips
    return "seen" if now.trips or warm else "nothing"


def _idle(unit: TransistorLinear) -> str:
    share = keyed(replace(unit, drive=0.0)).amps / UNDRIVEN.amps
    return "none" if share < 0.2 else "high" if share > 1.5 else "good"


def _rail_by_ohms(faults: tuple[str, ...]) -> str:
    return "short" if "reg_cap_short" in faults else "open" if "reg_resistor" in faults else "good"


def _modules_by_ohms(unit: TransistorLinear) -> str:
    shorted = [side for side in ("a", "b") if unit.has(f"short_{side}", 0.0)]
    return f"{shorted[0]}_short" if shorted else "good"


READS: dict[str, Callable[[TransistorLinear, Keyed], str]] = {
    "output": lambda unit, now: graded(now.output_w / WHOLE.output_w),
    "clicks": lambda unit, now: works(1.0 if unit.has("key") > 0.5 and now.reg > 0.4 else 0.0),
    "lead_v": lambda unit, now: _volts_behind(unit, now.amps, "lead_drop"),
    "protection_v": lambda unit, now: _volts_behind(unit, now.amps, "lead_drop", "choke_drop"),
    "supply_v": lambda unit, now: graded(now.feed / WHOLE.feed, weak=0.9),
    "reg_v": lambda unit, now: graded(now.reg / WHOLE.reg, weak=0.9),
    "reg_ohms": lambda unit, now: _rail_by_ohms(unit.faults),
    "bias_board_v": lambda unit, now: level(now.bias / WHOLE.bias, weak=0.6, high=1.2),
    "whine": lambda unit, now: "good" if now.is_bypassed or unit.has("filter") > 0.5 else "weak",
    "exciter_power": lambda unit, now: level(unit.exciter_w(DRIVE_W) / WHOLE.drive_w),
    "less_drive": lambda unit, now: "seen" if now.trips and not keyed(replace(unit, drive=0.5)).trips else "nothing",
    "input_swr": lambda unit, now: "bad" if unit.input_swr > 2 else "good",
    "amp_current": lambda unit, now: drawn(_on_its_band(unit).amps / WHOLE.amps, most=1.15),
    "a_current": lambda unit, now: _compared(now.a_amps, now.b_amps),
    "idle": lambda unit, now: _idle(unit),
    "module_ohms": lambda unit, now: _modules_by_ohms(unit),
    "module_a_rf": lambda unit, now: graded(now.a_w / WHOLE.a_w),
    "module_b_rf": lambda unit, now: graded(now.b_w / WHOLE.b_w),
    "combiner_rf": lambda unit, now: graded(now.combined_w / WHOLE.combined_w),
    "changeover_rf": lambda unit, now: graded(now.changeover_w / WHOLE.changeover_w),
    "trip_lamp": _lamp,
    "amp_warm": lambda unit, now: moves(falls_warm(lambda hot: keyed(replace(unit, hot=hot)).output_w)),
}


def seen_at_modules(unit: TransistorLinear, probe: str) -> str:
    """What a person says of that probe."""
    if probe in PARTS:
        return shows(unit.faults, PARTS[probe])
    if probe in REACH:
        return moves(bool(set(unit.faults) & REACH[probe]))
    if probe in BANDS:
        return works(keyed(replace(unit, band=BANDS[probe])).output_w / WHOLE.output_w)
    if probe in COOLED:
        hot, cooled = (keyed(replace(unit, hot=True, cooled=c)) for c in ("", COOLED[probe]))
        return moves(cooled.output_w > 1.25 * hot.output_w or cooled.amps < 0.8 * hot.amps)
    return READS[probe](unit, keyed(unit))
