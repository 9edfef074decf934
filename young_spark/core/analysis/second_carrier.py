"""Whether another carrier stands beside the one that is read: a line of which no mirror image stands on the other
side. What modulates an amplitude stands on both."""

from dataclasses import dataclass

import numpy as np

from young_spark.core.analysis.band import fast_length
from young_spark.core.analysis.figures import decibels
from young_spark.core.analysis.turns import hann
from young_spark.core.captures import Complex

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
APART_HZ = 100.0
SECOND = 0.03  # of the carrier
NEIGHBOUR_HZ = 5_000.0  # farther off than that it is another channel's
SAME_NOTE = 0.01
MIRRORED = 0.25  # of it on the other side: a modulated carrier whose phase goes with its tone has unlike sidebands


@dataclass(frozen=True)
class SecondCarrier:
    """Where it stands against the carrier in Hz, and its amplitude as a share of the carrier's."""

    hz: float
    share: float

    @property
    def is_next_channel(self) -> bool:
        """Whether it stands so far off that the modulation can be read without it."""
        return abs(self.hz) > NEIGHBOUR_HZ

    def beats_at(self, tone_hz: float) -> bool:
        """Whether a tone in Hz is only the beat of the two."""
        return abs(tone_hz / abs(self.hz) - 1) < SAME_NOTE

    @property
    def words(self) -> str:
        """Where it stands, and how strong it is."""
        return f"a second carrier lies {self.hz:+.0f} Hz beside it, {decibels(self.share):.1f} dB"


def second_carrier(
    samples: Complex, rate_hz: float, offset_hz: float, level: float | None = None
) -> SecondCarrier | None:
    """The strongest other carrier of a record, or None; `level` is the amplitude of the one at `offset_hz`, else that
    of its line."""
    n = fast_length(len(samples))
    lines = np.abs(np.fft.fft(samples[:n] * hann(n))) * 2 / n
    hz = np.fft.fftfreq(n, 1 / rate_hz) - offset_hz
    hz = (hz + rate_hz / 2) % rate_hz - rate_hz / 2
    near = np.abs(hz) < APART_HZ
    level = float(lines[near].max()) if level is None else level
    lines[near] = 0
    peak = int(np.argmax(lines))
    mirror = lines[np.abs(hz + hz[peak]) < 3 * rate_hz / n]
    if lines[peak] < SECOND * level or (len(mirror) and mirror.max() > MIRRORED * lines[peak]):
        return None
    return SecondCarrier(float(hz[peak]), float(lines[peak]) / level)
