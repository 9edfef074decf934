"""What can be wrong with valves in their sockets, the tank behind them and what cools them."""

from young_spark.bench.simulator.insides.gear import Changes

TANK_FAULTS: Changes = {
    "tank_setting": {"tuned": 0.4},
    "fan_dead": {},
    "final_flash": {"plate_short": 1.0},
    "neutral": {"neutral": 0.0},
    "plate_choke": {"plate_choke": 0.0},
    "block_cap": {"block": 0.0},
    "tank_switch": {"tuned": 0.4, "coil": 0.8},
    "tune_arc": {"gap": 0.0},
    "load_arc": {"gap": 0.0},
}
ARCING = 0.45  # what an arc leaves of the tank's tuning
