"""Whether another transmission lies beside one in frequency modulation, and the one without it."""

import math

import numpy as np

from young_spark.core.analysis.band import band_about, fast_length
from young_spark.core.analysis.fm_band import CLUSTER_HZ, HALF_WIDTH_HZ, fm_band
from young_spark.core.analysis.fm_demodulated import Demodulated, demodulate, mean_frequency
from young_spark.core.analysis.options import Options
from young_spark.core.analysis.turns import hann, turning
from young_spark.core.captures import Baseband, Complex

BEAT_FROM_HZ, BEAT_BOX_HZ = 3_500.0, 200.0
BEATEN = 12.0  # times the middle of all boxes
SMALLEST_BEAT = 0.003  # of the carrier
NARROWEST_HZ = 4_500.0
SHORT_OF_IT = 0.85  # of the way to a neighbour
ONE_SIDED, SURELY_ONE_SIDED = 0.25, 0.6  # of what stands on both sides
FARTHEST_TONE_HZ, LEFT_OUT = 4_500.0, 0.6  # a tone above that is seldom sent; of the way to a neighbour


def alone(capture: Baseband, options: Options, spectrum: Complex) -> tuple[Demodulated, bool]:
    """The record demodulated in the widest band that holds nothing else, and whether something lies beside it."""
    band = fm_band(capture, options, spectrum)
    demodulated = demodulate(band, options)
    width = _width_without_a_neighbour(demodulated)
    if width is None:
        return demodulated, False
    centre = band.offset_hz + mean_frequency(demodulated)[0]
    return demodulate(band_about(capture.samples, capture.rate_hz, centre, width), options), True


def _width_without_a_neighbour(demodulated: Demodulated) -> float | None:
    """Half the width of the band that holds no neighbour in Hz; None where there is none."""
    band, tone = demodulated.band, demodulated.tone
    high = tone.tone_hz if tone is not None and tone.tone_hz > FARTHEST_TONE_HZ else None
    beat_hz = _beat(band.samples, band.rate_hz)
    if high is None and beat_hz is None:
        return None
    still = band.samples * turning(-2 * math.pi * mean_frequency(demodulated)[0] / band.rate_hz, len(band.samples))
    if high is not None and _one_sided(still, band.rate_hz, high, 2 * BEAT_BOX_HZ, SURELY_ONE_SIDED):
        return LEFT_OUT * high  # what looks like a tone is the beat with it
    if beat_hz is None or not _one_sided(still, band.rate_hz, beat_hz, CLUSTER_HZ, ONE_SIDED):
        return None
    swing = float(np.quantile(np.abs(demodulated.audio), 0.5)) * 1.5  # of a tone; a beat hardly moves the middle
    tone_hz = min(tone.tone_hz if tone else 1000.0, 3000.0)
    wanted = max(NARROWEST_HZ, swing + 3 * tone_hz)
    return min(band.rate_hz / 2.3, wanted, max(SHORT_OF_IT * beat_hz, swing + tone_hz))


def _beat(samples: Complex, rate_hz: float) -> float | None:
    """Where the size of the samples swings faster than a tone's remains do, in Hz: two carriers beat, one of FM does
    not. None where it does not."""
    n = fast_length(len(samples))
    size = np.abs(samples[:n])
    power = np.abs(np.fft.rfft((size - size.mean()) * hann(n))) ** 2
    wide = max(4, round(BEAT_BOX_HZ * n / rate_hz))
    first, last = round(BEAT_FROM_HZ * n / rate_hz), round(HALF_WIDTH_HZ * 0.8 * n / rate_hz)
    last = min(last, len(power))
    if last - first < 4 * wide:
        return None
    boxes = power[first : first + (last - first) // wide * wide].reshape(-1, wide).sum(axis=1)
    share = float(boxes.max()) / (n * float((size**2).sum()) * 0.375)
    beats = float(boxes.max()) > BEATEN * float(np.median(boxes)) and share > SMALLEST_BEAT**2
    return (first + (int(np.argmax(boxes)) + 0.5) * wide) * rate_hz / n if beats else None


def _one_sided(samples: Complex, rate_hz: float, at_hz: float, reach_hz: float, share: float) -> bool:
    """Whether more stands on one side of the band's middle than on the other: noise of a receiver's filter does not."""
    n = fast_length(len(samples))
    power = np.abs(np.fft.fft(samples[:n] * hann(n))) ** 2
    hz = np.fft.fftfreq(n, 1 / rate_hz)
    above, below = (float(power[np.abs(s * hz - at_hz) < reach_hz].sum()) for s in (1, -1))
    return abs(above - below) > share * (above + below)
