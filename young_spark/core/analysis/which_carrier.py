"""Which carrier is meant, where two stand within a channel: one at the assigned frequency and a stronger one beside it.
The unit may be far off its frequency, or its neighbour strong: the record does not tell, and so nothing is read."""

import math

import numpy as np

from young_spark.core.analysis.band import spectrum_of, strongest
from young_spark.core.analysis.carrier_band import FAINT, IMAGE_BINS, NEAR_HZ, WELL_PLACED_HZ
from young_spark.core.analysis.figures import decibels
from young_spark.core.analysis.presence import stands_out
from young_spark.core.analysis.second_carrier import MIRRORED
from young_spark.core.captures import Baseband, Complex

APART_HZ = 500.0  # nearer than that they may be one that drifts
LINE_BINS = 2  # to each side of a line: what leaks from it


def which_is_meant(capture: Baseband, nominal_hz: float | None) -> str | None:
    """Why it cannot be told which of two carriers is the unit's; None where it can."""
    near = None if nominal_hz is None else nominal_hz - capture.centre_hz
    rate = capture.rate_hz
    if near is None or abs(near) + NEAR_HZ > 0.5 * rate:
        return None
    spectrum = spectrum_of(capture.samples)
    top = strongest(spectrum, rate, near, NEAR_HZ)
    if abs(top - near) < WELL_PLACED_HZ:
        return None
    line = strongest(spectrum, rate, near, WELL_PLACED_HZ)
    share = _own_share(spectrum, rate, (line, top), near)
    if share is None or abs(top - line) < APART_HZ:
        return None
    return (
        f"one carrier lies {line - near:+.0f} Hz off the assigned frequency and another, {-decibels(share):.0f} dB "
        f"stronger, {top - near:+.0f} Hz off it: which of them is the unit's cannot be told"
    )


def _own_share(spectrum: Complex, rate_hz: float, lines_hz: tuple[float, float], near_hz: float) -> float | None:
    """Amplitude of the first line as a share of the second's, None where it is no carrier: no more than the floor about
    it, faint, one of the sidebands of the second, or the receiver's own at its centre."""
    n = len(spectrum)
    size = np.abs(spectrum)
    line, top = (round(hz * n / rate_hz) for hz in lines_hz)
    low, high = (math.floor((near_hz + s * WELL_PLACED_HZ) * n / rate_hz) for s in (-1, 1))
    if abs(line) <= IMAGE_BINS or stands_out(size[np.arange(low, high + 1) % n] ** 2) is None:
        return None
    about = np.arange(-LINE_BINS, LINE_BINS + 1)
    heights = [float(np.sqrt((size[(at + about) % n] ** 2).sum())) for at in (line, top)]
    share = heights[0] / heights[1] if heights[1] > 0 else 0.0
    image = float(size[(2 * top - line + np.arange(-IMAGE_BINS, IMAGE_BINS + 1)) % n].max())
    return share if share > FAINT and image < MIRRORED * heights[0] else None
