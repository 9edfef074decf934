"""The carrier in a band: frequency by maximum likelihood with its envelope known, slow wander followed."""

import math
from dataclasses import dataclass

import numpy as np

from young_spark.core.analysis.band import Band
from young_spark.core.captures import Complex, Real

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
ROUNDS = 6
BLOCKS = 16  # in which the phase is looked at for wander that noise alone would not make
PHASE_ONLY = 6.0  # times the variance of the size
LEAST_PHASE = 0.003  # rad², about
FEWEST_BLOCKS = 5
WANDER = 2.0  # of what noise makes
FOLLOW_S = (0.004, 0.002, 0.001)  # phase is followed in blocks of the first of these that hold it still
HELD = 0.05  # rad² within a block: still enough


@dataclass(frozen=True)
class Carrier:
    """`offset_hz` against the record's centre, its standard deviation, and the band turned still: real part the
    envelope."""

    offset_hz: float
    offset_u: float
    envelope: Real  # (m,)
    across: Real  # (m,), the part at right angles
    wanders: bool
    phase_only: bool = False  # its phase moves and its size does not: it is modulated in frequency


def carrier_of(band: Band, envelope: Real | None = None) -> Carrier:
    """Fit the carrier's phase and frequency. The envelope weighs each sample: from the record itself where none is
    given."""
    z, rate = band.samples, band.rate_hz
    times = np.arange(len(z)) / rate
    times = times - times.mean()
    hz = 0.0
    phase = float(np.angle(z.sum()))
    still = z * np.exp(-1j * phase)
    for _ in range(ROUNDS):
        still = z * np.exp(-1j * (2 * math.pi * hz * times + phase))
        weight = _smooth(still.real) if envelope is None else envelope
        d_phase, d_hz = _line(still.imag, weight, times)
        phase, hz = phase + d_phase, hz + d_hz / (2 * math.pi)
        if abs(d_hz) * (times[-1] - times[0]) < 1e-6:
            break
    still = z * np.exp(-1j * (2 * math.pi * hz * times + phase))
    if envelope is None and _phase_moves_alone(still, times, rate):
        return _of_its_size(band, still, hz, times)
    weight = _smooth(still.real) if envelope is None else envelope
    info = float((weight**2 * times**2).sum())
    noise = float((still.imag**2).mean()) * band.density
    variance = noise / max(info, 1e-300)
    beyond, wanders = _wander(still.imag, weight, noise, rate)
    variance += 18 * beyond / (times[-1] - times[0]) ** 2  # of a phase that walks at random
    if wanders:
        phases = _followed(still, rate)
        turned, scatter = _even_turning(phases, times)
        hz, variance = hz + turned / (2 * math.pi), max(variance, scatter)
        still = still * np.exp(-1j * phases)
    return Carrier(band.offset_hz + hz, math.sqrt(variance) / (2 * math.pi), still.real, still.imag, wanders)


def _phase_moves_alone(still: Complex, times: Real, rate_hz: float) -> bool:
    """Whether the phase of the samples moves faster than a carrier wanders, and their size much less: no envelope does
    that, and no noise."""
    size = np.abs(still)
    shrinks = float(size.var()) / max(float((size**2).mean()), 1e-300)
    if float(still.imag.var()) < max(PHASE_ONLY * shrinks, LEAST_PHASE) * float((size**2).mean()):
        return False
    phases = np.asarray(np.unwrap(np.angle(still)), np.float64)
    left = phases - phases.mean() - float(times @ phases) / float(times @ times) * times
    block = max(1, round(FOLLOW_S[0] * rate_hz))
    count = len(left) // block
    slow = float(left[: count * block].reshape(count, block).mean(axis=1).var()) if count > 1 else 0.0
    return float(left.var()) - slow > max(PHASE_ONLY * shrinks, LEAST_PHASE, slow)


def _of_its_size(band: Band, still: Complex, hz: float, times: Real) -> Carrier:
    """The carrier of a transmission in frequency modulation: its envelope is its size, less what noise adds to that;
    its frequency the mean one."""
    size = np.abs(still)
    envelope = np.sqrt(np.maximum(size**2 - float(np.diff(size).var()) / 2, 0))
    slope, variance = _even_turning(np.asarray(np.unwrap(np.angle(still)), np.float64), times)
    offset = band.offset_hz + hz + slope / (2 * math.pi)
    doubt = math.sqrt(variance) / (2 * math.pi)
    return Carrier(offset, doubt, envelope, np.zeros(len(still)), wanders=False, phase_only=True)


def _smooth(values: Real) -> Real:
    """The envelope as a weight: its own noise would lean on the estimate."""
    window = np.array([1.0, 2.0, 3.0, 2.0, 1.0]) / 9
    return np.convolve(values, window, mode="same")


def _line(across: Real, weight: Real, times: Real) -> tuple[float, float]:
    """Phase in rad and slope in rad/s that turn the part at right angles to nothing, by weighted least squares."""
    w = weight**2
    s0, s1, s2 = float(w.sum()), float((w * times).sum()), float((w * times**2).sum())
    y = weight * across
    b0, b1 = float(y.sum()), float((y * times).sum())
    det = s0 * s2 - s1 * s1
    if det <= 0:
        return 0.0, 0.0
    return (s2 * b0 - s1 * b1) / det, (s0 * b1 - s1 * b0) / det


def _wander(across: Real, weight: Real, noise: float, rate_hz: float) -> tuple[float, bool]:
    """Variance of the phase in rad² beyond what noise makes of it, over a few blocks; and whether it stands out."""
    count = min(BLOCKS, int(len(across) / (FOLLOW_S[0] * rate_hz)))  # shorter ones would see what goes with a tone
    size = len(across) // max(1, count)
    if count < FEWEST_BLOCKS or size < 8:
        return 0.0, False
    y = (weight * across)[: size * count].reshape(count, size).sum(axis=1)
    w = (weight**2)[: size * count].reshape(count, size).sum(axis=1)
    phases, expected = y / w, noise / w
    seen, due = float((phases**2).mean()), float(expected.mean()) * (count - 2) / count
    return (max(0.0, seen - due), True) if seen > WANDER * due else (0.0, False)


def _followed(still: Complex, rate_hz: float) -> Real:
    """The wandering phase of each sample, in rad: in blocks short enough that what is left within them is little."""
    phases = np.zeros(len(still))
    for block_s in FOLLOW_S:
        size = max(8, round(block_s * rate_hz))
        count = max(2, len(still) // size)
        edges = np.linspace(0, len(still), count + 1).astype(int)
        sums = np.add.reduceat(still, edges[:-1])
        middles = (edges[:-1] + edges[1:]) / 2
        phases = np.interp(np.arange(len(still)), middles, np.unwrap(np.angle(sums)))
        whole = float(np.add.reduceat(np.abs(still), edges[:-1]).sum())
        if float(np.abs(sums).sum()) > (1 - HELD / 2) * whole:
            break
    return phases


def _even_turning(phases: Real, times: Real) -> tuple[float, float]:
    """How fast a wandering phase turns on the whole in rad/s, and the variance of that as if it walked at random."""
    slope = float(times @ phases) / float(times @ times)
    left = phases - phases.mean() - slope * times
    return slope, 18 * float(left.var()) / float(times[-1] - times[0]) ** 2
