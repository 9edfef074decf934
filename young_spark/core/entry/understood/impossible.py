"""Readings that cannot be: the grammar of one figure would take them, and is not believed."""

from collections.abc import Callable

from young_spark.core.figure import Conditions, Measured

LEAST_POWER_W = 1e-7  # −40 dBm: less is a level at some inner place, not what a unit sends
LEAST_SUPPLY_V = 3.0
MOST_AT_REST_A = 3.0
MOST_SWING = 4.1  # a carrier at 100 % depth has four times its own peak power
LEVELS = {
    "sensitivity_12db_sinad", "sensitivity_10db_sn", "sensitivity_20db_quieting", "squelch_open", "squelch_close",
    "s_meter_reference", "sensitivity_by_ear", "minimum_discernible_signal",
}  # fmt: skip


def _power(reading: Measured, conditions: Conditions) -> bool:
    return reading.value is not None and 0 < reading.value < LEAST_POWER_W and reading.bound is None


def _supply(reading: Measured, conditions: Conditions) -> bool:
    return reading.value is not None and 0 < abs(reading.value) < LEAST_SUPPLY_V


def _current(reading: Measured, conditions: Conditions) -> bool:
    at_rest = conditions.state in {"standby", "receive"}
    return at_rest and reading.value is not None and reading.value > MOST_AT_REST_A


def _depth(reading: Measured, conditions: Conditions) -> bool:
    return reading.value is not None and reading.value > 100 * MOST_SWING


CHECKS: dict[str, Callable[[Measured, Conditions], bool]] = {
    "carrier_power": _power, "peak_envelope_power": _power, "supply_voltage": _supply, "supply_current": _current,
    "am_depth_positive": _depth, "am_depth": _depth,
}  # fmt: skip


def is_impossible(reading: Measured, conditions: Conditions) -> bool:
    """Whether a reading cannot be one of its quantity: another is meant, or it is asked."""
    check = CHECKS.get(reading.quantity)
    if check is not None:
        return check(reading, conditions)
    # a level at a receiver's socket that is above 0 dBm was typed in microvolts
    return reading.quantity in LEVELS and reading.value is not None and reading.value > -20 and reading.bound is None
