"""The band about the carrier that is meant: the one near the assigned frequency, or the strongest of the record."""

import math

import numpy as np

from young_spark.core.analysis.band import Band, band_about, spectrum_of, strongest
from young_spark.core.analysis.options import Options
from young_spark.core.analysis.presence import stands_out
from young_spark.core.analysis.second_carrier import MIRRORED
from young_spark.core.captures import Baseband, Complex

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 16_000.0
NEAR_HZ = 5_000.0
ALIKE, FAINT = 0.7, 0.03  # of the strongest line: no sideband is as high, and no carrier that was meant as low
WELL_PLACED_HZ = 500.0  # off the assigned frequency: a weaker line is only a sender's own so near to it
IMAGE_BINS = 3


def carrier_band(capture: Baseband, options: Options, half_width_hz: float = HALF_WIDTH_HZ) -> Band:
    """The band about the strongest carrier, or about the one near the assigned frequency."""
    spectrum = spectrum_of(capture.samples)
    near = None if options.nominal_hz is None else options.nominal_hz - capture.centre_hz
    if near is not None and abs(near) > 0.5 * capture.rate_hz:
        near = None  # the record does not reach there: what it holds is read, and the error says how far off it is
    within = min(NEAR_HZ, 0.4 * capture.rate_hz)
    if near is not None and not _is_near(spectrum, capture.rate_hz, near, within):
        near = None  # it is looked for in the whole record: the error says how far off it is
    offset = strongest(spectrum, capture.rate_hz, near, within)
    width = min(half_width_hz, 0.45 * capture.rate_hz)
    return band_about(capture.samples, capture.rate_hz, offset, width, spectrum)


def _is_near(spectrum: Complex, rate_hz: float, near_hz: float, within_hz: float) -> bool:
    """Whether a line near the assigned frequency is a carrier's: out of the floor, not faint beside the strongest of
    the record, none of its sidebands, and not the receiver's own at its centre."""
    n = len(spectrum)
    low, high = (math.floor((near_hz + s * within_hz) * n / rate_hz) for s in (-1, 1))
    bins = np.arange(low, high + 1)
    if stands_out(np.abs(spectrum[bins % n]) ** 2) is None:
        return False
    size, top = np.abs(spectrum), round(strongest(spectrum, rate_hz) * n / rate_hz)
    line = int(bins[np.argmax(size[bins % n])])
    height = float(size[line % n])
    if height >= ALIKE * float(size[top % n]):
        return True
    image = float(size[(2 * top - line + np.arange(-IMAGE_BINS, IMAGE_BINS + 1)) % n].max())
    at_rest = abs(line) <= IMAGE_BINS
    well_placed = abs(line * rate_hz / n - near_hz) < WELL_PLACED_HZ and not at_rest
    return height > FAINT * float(size[top % n]) and image < MIRRORED * height and well_placed
