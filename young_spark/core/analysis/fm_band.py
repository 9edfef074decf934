"""The band about a transmission in frequency modulation, and whether its record is wide enough for it."""

import math

import numpy as np

from young_spark.core.analysis.band import Band, band_about
from young_spark.core.analysis.options import Options
from young_spark.core.captures import Baseband, Complex

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 22_000.0
CLUSTER_HZ = 2_500.0
BOX_PARTS = 16
EDGE = 0.03  # of the record's rate, at each edge
SPILT = 0.002  # of its power: more there is the transmission itself


def fm_band(capture: Baseband, options: Options, spectrum: Complex) -> Band:
    """The band about the strongest transmission, or the one near the assigned frequency."""
    n, rate = len(spectrum), capture.rate_hz
    power = np.square(spectrum.real)
    power += np.square(spectrum.imag)
    floor = float(np.quantile(power[::5], 0.5)) / math.log(2)  # white noise: its mean is its middle over ln 2
    above = np.maximum(np.subtract(power, floor, out=power), 0, out=power)
    # some bins at a time: where a box of power is highest need not be known to a bin
    group = max(1, round(CLUSTER_HZ * n / rate / BOX_PARTS))
    summed = np.add.reduceat(above, np.arange(0, n, group))
    wide = min(len(summed), max(1, round(CLUSTER_HZ * n / rate / group)))
    total = np.concatenate([[0.0], np.cumsum(np.concatenate([summed, summed[:wide]]))])
    box = total[wide : wide + len(summed)] - total[: len(summed)]
    middles = (np.arange(len(summed)) + wide / 2) * group * rate / n
    middles = (middles + rate / 2) % rate - rate / 2
    if options.nominal_hz is not None and abs(options.nominal_hz - capture.centre_hz) < 0.5 * rate:
        box = np.where(np.abs(middles - (options.nominal_hz - capture.centre_hz)) < 2 * CLUSTER_HZ, box, 0)
    centre = round(float(middles[int(np.argmax(box))]) * n / rate)
    reach = min(n // 2 - 1, math.ceil(2 * CLUSTER_HZ * n / rate))
    away = np.arange(-reach, reach + 1)
    near = above[(centre + away) % n]
    offset = (centre + float(away @ near) / max(float(near.sum()), 1e-300)) * rate / n
    return band_about(capture.samples, rate, offset, min(HALF_WIDTH_HZ, 0.45 * rate), spectrum)


def fills(spectrum: Complex) -> bool:
    """Whether a transmission reaches both edges of what the record's rate holds: what lies beyond is folded into it."""
    n, wide = len(spectrum), max(1, round(EDGE * len(spectrum)))
    power = np.square(spectrum.real)
    power += np.square(spectrum.imag)
    edges = power[n // 2 - wide : n // 2 + wide]
    floor = float(np.quantile(power[::5], 0.25)) / math.log(4 / 3)  # of an exponential scatter
    total = float(power.sum()) - floor * n
    return total > 0 and float(edges.sum()) - floor * len(edges) > SPILT * total
