"""A stretch of sound as it was just heard: how loud it is, whether it is clipped, and what a recording of it gives."""

import math
from dataclasses import dataclass

import numpy as np

from young_spark.core.analysis.by_kind import CannotAnalyse, analyse
from young_spark.core.analysis.figures import nothing
from young_spark.core.analysis.options import Options
from young_spark.core.captures import Capture, Real, Waveform
from young_spark.core.figure import Measured

PARTS = 10  # of a stretch: how far their loudness differs says how well that of the whole is known
STUDENT_9 = 2.262  # 97.5 % point of Student's t with one degree of freedom less than parts
TOP, MOST_AT_THE_TOP = 0.999, 0.0005  # of full scale; the share of samples there from which on it is clipped
LONGEST_S = 10.0
# of a steady tone from part to part; ten lost milliseconds in a second are more
MOST_PHASE_RAD, MOST_AMPLITUDE = 0.05, 0.05
SPREADS = 6.0  # of what noise does to either
BROKEN = "the tone breaks within this stretch: samples were lost, or it was changed; it is listened to again"


@dataclass(frozen=True)
class SoundStretch:
    """`level_db` is that of everything heard, over a sine that just fills the scale; None for digital silence."""

    level_db: float | None
    level_within_db: float  # half of the 95 % interval of the level
    clipped: bool
    readings: tuple[Measured, ...]
    remarks: tuple[str, ...]


def listened(capture: Capture, clock_ppm: float) -> SoundStretch:
    """What a stretch of sound says, heard by a clock that is right to so many ppm. Raises CannotAnalyse for anything
    else, and for one that is too long."""
    if not isinstance(capture, Waveform) or capture.kind != "audio":
        raise CannotAnalyse("that is no sound: one channel of audio is wanted")
    if len(capture.values) > LONGEST_S * capture.rate_hz:
        raise CannotAnalyse(f"a stretch of at most {LONGEST_S:.0f} s is listened to at once")
    values = capture.values - capture.values.mean()
    loud = np.array([float(np.mean(part**2)) for part in np.array_split(values, PARTS)])
    power = float(loud.mean())
    found = analyse(capture, Options(reference_ppm=clock_ppm))
    readings = found.readings if _holds(values, capture.rate_hz, found.readings) else _broken(found.readings)
    clipped = float((np.abs(capture.values) >= TOP).mean()) > MOST_AT_THE_TOP
    if power <= 0:
        return SoundStretch(None, 0.0, clipped, readings, found.remarks)
    within = 10 / math.log(10) * STUDENT_9 * float(loud.std(ddof=1)) / math.sqrt(PARTS) / power
    return SoundStretch(10 * math.log10(2 * power), within, clipped, readings, found.remarks)


def _broken(readings: tuple[Measured, ...]) -> tuple[Measured, ...]:
    return tuple(nothing(r.quantity, BROKEN, method=r.method) for r in readings)


def _holds(values: Real, rate_hz: float, readings: tuple[Measured, ...]) -> bool:
    """Whether a tone that was found goes through the whole stretch: at one amplitude, in one phase or one that only
    drifts. Where there is none, nothing is said of it."""
    tone = next((r.value for r in readings if r.quantity == "audio_frequency"), None)
    if tone is None:
        return True
    turned = values * np.exp(-2j * np.pi * tone * np.arange(len(values)) / rate_hz)
    length = len(values) // PARTS
    window = np.hanning(length) / np.hanning(length).sum()
    begins = np.linspace(0, len(values) - length, 2 * PARTS - 1).astype(int)  # half over each other: no gap at an edge
    there = np.array([turned[begin : begin + length] @ window for begin in begins])
    amplitude = float(np.abs(there).mean())
    noise = math.sqrt(max(float(np.mean(values**2)) - 2 * amplitude**2, 0.0) * PARTS / len(values)) / amplitude
    at = np.linspace(-1, 1, len(there))
    phase = np.unwrap(np.angle(there))
    strayed = np.abs(phase - np.polyval(np.polyfit(at, phase, 2), at)).max()
    swelled = np.abs(np.abs(there) / amplitude - 1).max()
    return bool(strayed < max(MOST_PHASE_RAD, SPREADS * noise) and swelled < max(MOST_AMPLITUDE, SPREADS * noise))
