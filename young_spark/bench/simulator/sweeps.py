"""What sweeping instruments see of the simulated unit: its lines on an analyser, its envelope on a scope, what hangs at
its socket. Frequencies in Hz, levels in dBm, times in s."""

import itertools
import math
import random
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from young_spark.bench.simulator.unit import Output

HARMONICS_DBC = (-62.0, -68.0, -74.0, -79.0, -77.0, -82.0, -84.0, -86.0, -88.0)  # of a sound unit, from the second on
SAMPLER_DB = ((3e6, 40.6), (3e7, 40.2), (1.5e8, 39.2))  # the sampler of the bench, as it was measured
PAD_DB = 10.0
NOISE_DBM_HZ = -152.0  # the analyser's own, in 1 Hz
TONE_HZ = 1000.0
AERIAL_Q = 12.0
DEEPEST_SIDEBAND = 12


@dataclass
class Sweep:
    """The ends of an axis."""

    start: float = 10e6
    stop: float = 260e6

    def set_start(self, hz: float) -> None:
        """Begin there."""
        self.start = hz

    def set_stop(self, hz: float) -> None:
        """End there."""
        self.stop = hz

    def places(self, count: int) -> list[float]:
        """Evenly from end to end."""
        return [self.start + (self.stop - self.start) * n / (count - 1) for n in range(count)]


def spectrum_lines(out: Output, tone: bool, mode: str) -> list[tuple[float, float]]:
    """(Hz, mW) of every line at the socket."""
    if out.carrier_w <= 0:
        return []
    carrier = 1e3 * out.carrier_w
    lines = [(out.frequency_hz + k * TONE_HZ, carrier * share) for k, share in _sidebands(out, tone, mode)]
    lines += [(n * out.frequency_hz, carrier * 10 ** (down / 10)) for n, down in enumerate(HARMONICS_DBC, 2)]
    return lines


def _sidebands(out: Output, tone: bool, mode: str) -> list[tuple[int, float]]:
    """Places in tones from the carrier, and the share of its power that stands there."""
    if mode in ("usb", "lsb"):
        return [(1 if mode == "usb" else -1, 1.0)]
    if tone and out.deviation_hz > 0:
        index = out.deviation_hz / TONE_HZ
        return [(k, _bessel(abs(k), index) ** 2) for k in range(-DEEPEST_SIDEBAND, DEEPEST_SIDEBAND + 1)]
    side = (out.depth / 2) ** 2
    return [(0, 1.0), *([(-1, side), (1, side)] if side else [])]


def _bessel(order: int, index: float) -> float:
    """J of that order by its integral, 64 steps."""
    steps = 64
    return (
        sum(math.cos(order * t - index * math.sin(t)) for t in (math.pi * (n + 0.5) / steps for n in range(steps)))
        / steps
    )


def _loss_db(hz: float) -> float:
    """Loss from the socket to the analyser: the sampler, straight between its points, and the pad."""
    low, high = SAMPLER_DB[0], SAMPLER_DB[-1]
    if hz <= low[0]:
        return low[1] + PAD_DB
    for (f0, db0), (f1, db1) in itertools.pairwise(SAMPLER_DB):
        if hz <= f1:
            return db0 + (db1 - db0) * math.log(hz / f0) / math.log(f1 / f0) + PAD_DB
    return high[1] + PAD_DB


def swept(
    lines: Iterable[tuple[float, float]], places: Sequence[float], rbw_hz: float, chance: random.Random
) -> list[float]:
    """Levels in dBm at the analyser behind the path: Gaussian filter, its noise averaged over sixteen sweeps."""
    noise_mw = 10 ** (NOISE_DBM_HZ / 10) * rbw_hz
    width = rbw_hz / (2 * math.sqrt(math.log(2)))  # half power at half the bandwidth on either side
    near = [(hz, mw * 10 ** (-_loss_db(hz) / 10)) for hz, mw in lines]
    levels = []
    for at in places:
        power = sum(mw * math.exp(-(((at - hz) / width) ** 2)) for hz, mw in near if abs(at - hz) < 8 * width)
        averaged = sum(chance.expovariate(1.0) for _ in range(16)) / 16
        levels.append(10 * math.log10(power + noise_mw * averaged))
    return levels


def envelope_volts(out: Output, at: float) -> float:
    """Peak volts of the envelope across 50 ohms at a time."""
    return math.sqrt(100 * max(out.carrier_w, 0.0)) * (1 + out.depth * math.sin(2 * math.pi * TONE_HZ * at))


def reflection(swr: float, resonant_hz: float, hz: float) -> complex:
    """S11 of an aerial of that SWR at resonance: a series circuit, too low in ohms."""
    z = 50 / swr * complex(1, AERIAL_Q * (hz / resonant_hz - resonant_hz / hz))
    return (z - 50) / (z + 50)
