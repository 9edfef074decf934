"""What stands beside a carrier in a stretch of a stream: power in each narrow band, against the whole of it."""

import numpy as np
import numpy.typing as npt
from pydantic import Field

from young_spark.core.ground import Frozen

REACH_HZ, STEP_HZ = 20_000.0, 100.0  # to either side of the carrier
HANN_WIDTH = 1.5  # the noise bandwidth of a Hann window, in bins (Harris 1978)
LEAST_DB = -120.0


class BesideCarrier(Frozen):
    """Power in bands of `rbw_hz`, evenly spaced from `-reach_hz` to `reach_hz` about `carrier_hz`, each in dB under
    everything within that reach: an unmodulated carrier stands at 0."""

    carrier_hz: float
    reach_hz: float
    rbw_hz: float
    levels_db: tuple[float, ...] = Field(max_length=2001)


def beside_carrier(
    samples: npt.NDArray[np.complex64], rate_hz: float, centre_hz: float, carrier_hz: float
) -> BesideCarrier | None:
    """The spectrum about a carrier, averaged over half-overlapping parts (Welch 1967); None where the stretch is too
    short, or the carrier too near to the end of its band."""
    length = round(rate_hz / STEP_HZ)
    off = carrier_hz - centre_hz
    if len(samples) < 2 * length or abs(off) + REACH_HZ > rate_hz / 2:
        return None
    at = np.arange(len(samples)) / rate_hz
    about = (samples - samples.mean()) * np.exp(-2j * np.pi * off * at)
    starts = range(0, len(samples) - length + 1, length // 2)
    window = np.hanning(length + 1)[:-1]  # periodic
    parts = np.stack([about[s : s + length] * window for s in starts])
    power = np.mean(np.abs(np.fft.fftshift(np.fft.fft(parts, axis=1), axes=1)) ** 2, axis=0)
    middle, reach = length // 2, round(REACH_HZ / STEP_HZ)
    seen = power[middle - reach : middle + reach + 1]
    whole = float(seen.sum()) / HANN_WIDTH  # a line stands in a bin and a half
    if whole <= 0:
        return None
    levels = 10 * np.log10(np.maximum(seen / whole, 10 ** (LEAST_DB / 10)))
    return BesideCarrier(
        carrier_hz=carrier_hz,
        reach_hz=REACH_HZ,
        rbw_hz=HANN_WIDTH * STEP_HZ,
        levels_db=tuple(round(float(level), 1) for level in levels),
    )
