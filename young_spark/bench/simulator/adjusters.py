"""The adjusters of the simulated units, and what a turn of each does to what the unit gives.

Turns are counted from where each was left when the unit stood right: all at nought is a unit in line. Frequencies in
Hz, powers in W. Cores and capacitors that share a circuit move each other's resonance, and a preset that changes the
carrier changes what the modulator has to fill."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from young_spark.bench.simulator.insides import Inside

Turns = Mapping[str, float]

MOBILE = ("TC1", "L18", "L19", "VR3", "VR5", "VR7", "VR9")
AMPLIFIER = ("Bias of the valves", "Input network", "Plate tuning", "Load capacitor")
FARTHEST = 10.0  # turns, either way: the end of its travel

MIDDLE_HZ, LOW_HZ, HIGH_HZ = 27.185e6, 26.965e6, 27.405e6
STAGE_Q = 7.0
CORE_HZ, NEIGHBOUR_HZ = 600e3, 100e3  # what a turn of a core moves its own stage, and the one beside it
MOST_CARRIER = 1.3  # of what is right: there the final is driven as far as it goes


@dataclass(frozen=True)
class InLine:
    """What the adjusters of a mobile make of it, each as a share of what is right; the error in Hz."""

    power: float = 1.0
    error_hz: float = 0.0
    depth: float = 1.0
    deviation: float = 1.0
    own_meter: float = 1.0


def of_the_mobile(turns: Turns, carrier_hz: float) -> InLine:
    """What the mobile makes on a frequency with its adjusters so."""
    trim = turns.get("TC1", 0.0)
    preset = max(0.1, min(MOST_CARRIER, 1 + 0.13 * turns.get("VR9", 0.0)))
    cores = turns.get("L18", 0.0), turns.get("L19", 0.0)
    power = preset * _stages(cores, carrier_hz) / _stages((0.0, 0.0), MIDDLE_HZ)
    return InLine(
        power=power,
        error_hz=340.0 * trim - 14.0 * trim**2,
        depth=min(1.1, max(0.0, 1 + 0.12 * turns.get("VR7", 0.0)) / math.sqrt(preset)),
        deviation=max(0.0, 1 + 0.16 * turns.get("VR5", 0.0)),
        own_meter=max(0.0, 1 + 0.15 * turns.get("VR3", 0.0)),
    )


def _stages(cores: tuple[float, float], hz: float) -> float:
    """Two tuned stages, one for the low end of the band and one for the high; a core out of its form tunes higher."""
    low = LOW_HZ + CORE_HZ * cores[0] + NEIGHBOUR_HZ * cores[1]
    high = HIGH_HZ + CORE_HZ * cores[1] + NEIGHBOUR_HZ * cores[0]
    return _resonance(hz, low) * _resonance(hz, high)


def _resonance(hz: float, middle: float) -> float:
    return 1 / (1 + (2 * STAGE_Q * (hz - middle) / middle) ** 2)


FULL_W, DRIVE_SCALE_W = 330.0, 40.0
INPUT_Z, INPUT_TURN = 1.15, 0.45
TANK_TURN, LOAD_MOVES = 1.1, 0.3
PLATE_V, PLATE_OHM = 2450.0, 320.0


@dataclass(frozen=True)
class Driven:
    """A pair of valves in grounded grid behind its exciter: drive and output in W, plate in V and A, grid in A, the
    SWR that the exciter sees."""

    drive_w: float
    output_w: float
    plate_v: float
    plate_a: float
    grid_a: float
    input_swr: float


def of_the_amplifier(turns: Turns, drive_w: float, *, keyed: bool) -> Driven:
    """What the amplifier makes of so much drive with its adjusters so."""
    bias, network, tuning, loading = (turns.get(name, 0.0) for name in AMPLIFIER)
    if not keyed:
        return Driven(0.0, 0.0, PLATE_V, 0.0, 0.0, 1.0)
    idle = 0.1 * math.exp(0.5 * bias)
    swr = INPUT_Z + (INPUT_TURN * network) ** 2
    accepted = drive_w * (1 - ((swr - 1) / (swr + 1)) ** 2)
    off = TANK_TURN * (tuning + LOAD_MOVES * loading)
    tuned = 1 / (1 + off**2)
    coupled = 1 / (1 + (0.35 * loading) ** 2)
    plate_a = idle + 0.3 * (accepted / 40) * (1 + 0.06 * loading + 0.6 * (1 - tuned))
    grid_a = max(0.0, 0.09 * (accepted / 40) ** 1.3 * tuned * (1 - 0.12 * loading))
    return Driven(
        drive_w=drive_w,
        output_w=FULL_W * (1 - math.exp(-accepted / DRIVE_SCALE_W)) * tuned * coupled,
        plate_v=PLATE_V - PLATE_OHM * plate_a,
        plate_a=plate_a,
        grid_a=grid_a,
        input_swr=swr,
    )


def with_its_inside(driven: Driven, inside: Inside) -> Driven:
    """What is left of it with a part gone; one that is off or not keyed lets its drive through."""
    return replace(
        driven,
        output_w=driven.drive_w if inside.is_bypassed else driven.output_w * inside.output,
        plate_v=driven.plate_v * inside.ht,
        plate_a=driven.plate_a * inside.plate,
        grid_a=driven.grid_a * inside.grid,
        input_swr=inside.input_swr if inside.input_swr and driven.drive_w else driven.input_swr,
    )
