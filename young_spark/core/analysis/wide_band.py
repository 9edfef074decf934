"""A carrier in a wide band: whether one is there at all, and the channel about it."""

import math

import numpy as np

from young_spark.core.analysis.band import band_about, fast_length, spectrum_of, strongest
from young_spark.core.captures import Baseband, Real

FALSE_ALARMS = 1e-6  # of a record of noise


def carrier_in(record: Baseband, near_hz: float, within_hz: float, half_width_hz: float) -> Baseband | None:
    """The strongest line within so many Hz of an offset, and the band to either side of it: what lies beside is no
    concern of it. None where the strongest line of the record is what noise makes."""
    samples = record.samples[: fast_length(len(record.samples))]
    spectrum = spectrum_of(samples)
    if not _stands_out(np.abs(spectrum) ** 2):
        return None
    offset = strongest(spectrum, record.rate_hz, near_hz, within_hz)
    band = band_about(samples, record.rate_hz, offset, half_width_hz, spectrum)
    return Baseband(band.rate_hz, record.centre_hz + band.offset_hz, band.samples)


def _stands_out(powers: Real) -> bool:
    """Whether the strongest line is more than noise makes: of white noise a line is over k times their mean with a
    chance of exp(−k), and their middle is ln 2 of the mean."""
    mean = float(np.median(powers)) / math.log(2)
    return float(powers.max()) > mean * math.log(len(powers) / FALSE_ALARMS)
