"""Hands that probe a simulated unit: what a person reads at each point that a chain names, said as one of its answers.

They know the circuits and the names of the points, not how the engine thinks."""

from tests.bench.probing_modules import seen_at_modules
from tests.bench.probing_sets import seen_at_set
from tests.bench.probing_valve_am import seen_at_transmitter
from tests.bench.probing_valves import seen_at_valves
from young_spark.bench.simulator.insides import Built
from young_spark.bench.simulator.insides.small_set import Circuit
from young_spark.bench.simulator.insides.transistor_linear import TransistorLinear
from young_spark.bench.simulator.insides.valve_am import ValveAm
from young_spark.bench.simulator.insides.valve_linear import ValveLinear


def seen_at(unit: Built, probe: str) -> str:
    """What a person says of that probe."""
    match unit:
        case Circuit():
            return seen_at_set(unit, probe)
        case ValveLinear():
            return seen_at_valves(unit, probe)
        case TransistorLinear():
            return seen_at_modules(unit, probe)
        case ValveAm():
            return seen_at_transmitter(unit, probe)
    raise AssertionError(unit)
