"""The receiver of the simulated mobile, with a generator at its socket in place of the aerial.

Levels in dBm at the socket, ratios in dB. The physics is its own: noise and distortion add as powers, a front end that
is off its tuning loses what a resonance loses, and a squelch closes lower than it opens."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

FRONT_CORE, SQUELCH, METER_PRESET = "T1", "squelch", "VR2"
ADJUSTERS = (FRONT_CORE, SQUELCH, METER_PRESET)
NOISE_DBM = -130.8  # what the audio's noise comes to at the socket
BEST_DB = 33.0  # distortion keeps it from more
OPENS_DBM, OPENS_TURN_DB, HYSTERESIS_DB = -119.0, 6.0, 2.4
S9_DBM, S_STEP_DB = -73.0, 6.0


@dataclass(frozen=True)
class Heard:
    """What comes out of the receiver: whether its squelch is open, its SINAD in dB, and what its meter shows in S."""

    is_open: bool
    sinad_db: float
    s_units: float


def heard(turns: Mapping[str, float], level_dbm: float, *, was_open: bool) -> Heard:
    """What a level makes of it with its adjusters so; `was_open` is how its squelch stood."""
    level = level_dbm - 10 * math.log10(1 + (0.5 * turns.get(FRONT_CORE, 0.0)) ** 2)
    opens = OPENS_DBM + OPENS_TURN_DB * turns.get(SQUELCH, 0.0)
    signal = 10 ** ((level - NOISE_DBM) / 10)
    ratio = 1 / (1 / (1 + signal) + 10 ** (-BEST_DB / 10))
    shown = 9 + (level - S9_DBM) / S_STEP_DB + 0.8 * turns.get(METER_PRESET, 0.0)
    return Heard(
        is_open=level >= (opens - HYSTERESIS_DB if was_open else opens),
        sinad_db=10 * math.log10(ratio),
        s_units=max(0.0, shown),
    )
