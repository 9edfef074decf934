"""What a stretch of a receiver's stream tells: the carrier's frequency, and what modulates it.

The stream is that of a receiver that was never made for measuring: 8 bits, a reference of its own, and too little
headroom. So a stretch that touches the rails gives no figure, and the receiver's reference error is taken off."""

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from young_spark.core.analysis import Analysis, Options, analyse, carrier_in
from young_spark.core.captures import Baseband
from young_spark.core.ground import CoreError
from young_spark.core.live.beside_carrier import BesideCarrier, beside_carrier
from young_spark.core.live.values import LiveName

MIDDLE, FULL_SCALE = 127.5, 127.5  # of an unsigned byte
MOST_AT_THE_RAILS = 1e-4  # share of the samples; noise alone reaches them no more often at a level that is right
FEEBLE = 0.06  # of full scale: below it the steps of 8 bits are in the figures
LEAST_LEVEL = 0.012  # of full scale: below it, a step and a half of 8 bits, they are the figures
MOST_DOUBT = 0.02  # of a deviation: a live figure shows no spread, and one that is known worse waits for more carrier
HALF_A_CHANNEL_HZ = 20_000.0  # what is left of the band to either side of the carrier once it is found
OWN_SPUR_HZ = 1_000.0  # about the middle of its band, where the receiver hears itself
SIDEBANDS = {"usb", "lsb", "ssb"}  # a mode without a carrier: no figure of one


@dataclass(frozen=True)
class Tuning:
    """Where a receiver stands: what it was told in Hz, how far beside the expected carrier that is, what modulates the
    unit by its mode, and by how many parts in a million its own reference is off (positive: it tunes higher than it
    says)."""

    told_hz: float
    beside_hz: float
    rate_hz: float
    reference_ppm: float = 0.0
    mode: str | None = None

    @property
    def centre_hz(self) -> float:
        """Where it really listens."""
        return self.told_hz * (1 + self.reference_ppm * 1e-6)


def reference_error_ppm(known_ppm: float, standard_hz: float, read_hz: float) -> float:
    """By how many parts in a million a receiver tunes too high, from what it read of a standard while `known_ppm` was
    taken off already: it hears a carrier too low by as much as it tunes too high. Raises ValueError without a
    standard."""
    if standard_hz <= 0 or read_hz <= 0:
        raise ValueError("a standard has a frequency")
    return ((1 + known_ppm * 1e-6) * standard_hz / read_hz - 1) * 1e6


def samples_of(raw: bytes) -> npt.NDArray[np.complex64]:
    """The stream's bytes as complex samples, |I| and |Q| at most 1; half a sample at the end is left out."""
    pairs = np.frombuffer(raw[: len(raw) // 2 * 2], dtype=np.uint8).astype(np.float32)
    plain = (pairs - np.float32(MIDDLE)) / np.float32(FULL_SCALE)
    return plain[0::2] + np.complex64(1j) * plain[1::2]


def is_overdriven(samples: npt.NDArray[np.complex64]) -> bool:
    """Whether more of the samples stand at the rails than chance puts there: then every figure of them lies."""
    at_the_rails = (np.abs(samples.real) >= 1.0) | (np.abs(samples.imag) >= 1.0)
    return bool(np.mean(at_the_rails) > MOST_AT_THE_RAILS)


@dataclass(frozen=True)
class Stretch:
    """What a stretch tells: frequency in Hz, depth in %, deviation in Hz of the carrier; None for what cannot be told,
    0 for what is not there. `level` is the carrier's share of full scale, None where there is none; `beside` what
    stands to either side of a carrier that was found."""

    figures: dict[LiveName, float | None]
    level: float | None
    beside: BesideCarrier | None = None

    @property
    def is_feeble(self) -> bool:
        """Whether more gain would do the figures good."""
        return self.level is not None and self.level < FEEBLE


NOTHING: dict[LiveName, float | None] = {"frequency": None, "depth": None, "deviation": None}


def figures_of_stretch(samples: npt.NDArray[np.complex64], tuning: Tuning) -> Stretch:
    """What the strongest carrier in the band does. Raises OverflowError for a stretch that is overdriven."""
    if is_overdriven(samples):
        raise OverflowError
    record = None if tuning.mode in SIDEBANDS else _narrowed(samples, tuning)
    if record is None:
        return Stretch(NOTHING, None)
    level = float(np.sqrt(np.mean(np.abs(record.samples) ** 2)))
    figures = NOTHING if level < LEAST_LEVEL else _figures(record, tuning)
    carrier = figures["frequency"]
    beside = None if carrier is None else beside_carrier(samples, tuning.rate_hz, tuning.centre_hz, carrier)
    return Stretch(figures, level, beside)


def _figures(record: Baseband, tuning: Tuning) -> dict[LiveName, float | None]:
    """Both kinds of modulation are looked for, whatever the mode: what nobody looked for is not called quiet."""
    as_fm = _analysed(record, "fm")
    swings, deviation = _value(as_fm, "fm_deviation") is not None, _value(as_fm, "fm_deviation", MOST_DOUBT)
    if deviation is not None and tuning.mode != "am":  # a carrier whose envelope stands still
        return {"frequency": _value(as_fm, "carrier_frequency"), "depth": 0.0, "deviation": deviation}
    as_am = _analysed(record, "am")
    if swings and tuning.mode != "am" and not _is_am(as_am, as_fm):
        return {"frequency": _value(as_fm, "carrier_frequency"), "depth": 0.0, "deviation": None}
    frequency = _value(as_am, "carrier_frequency")
    if frequency is None or abs(frequency - tuning.centre_hz) < OWN_SPUR_HZ:
        return NOTHING
    depth = _value(as_am, "am_depth")
    return {
        "frequency": frequency,
        "depth": depth if depth is not None else _nothing_of(as_am, "am_depth"),
        "deviation": deviation if deviation is not None else _nothing_of(as_fm, "fm_deviation"),
    }


def _is_am(as_am: Analysis | None, as_fm: Analysis | None) -> bool:
    """Whether a depth that is known, on the very carrier that is said to swing, says that it is its noise that does."""
    depth, hz = _value(as_am, "am_depth", MOST_DOUBT), _value(as_am, "carrier_frequency")
    swinging = _value(as_fm, "carrier_frequency")
    return depth is not None and hz is not None and swinging is not None and abs(hz - swinging) < SAME_CARRIER_HZ


SAME_CARRIER_HZ = 1.0


def _nothing_of(analysis: Analysis | None, quantity: str) -> float | None:
    """0 where the record was looked at and nothing modulates it."""
    found = None if analysis is None else next((r for r in analysis.readings if r.quantity == quantity), None)
    return 0.0 if found is not None and found.reason == "invalid_conditions" else None


def _value(analysis: Analysis | None, quantity: str, doubt: float = math.inf) -> float | None:
    """A figure that is no bound, and whose spread is no more than such a share of it."""
    found = None if analysis is None else next((r for r in analysis.readings if r.quantity == quantity), None)
    if found is None or found.value is None or found.bound is not None:
        return None
    return found.value if (found.uncertainty or 0.0) <= doubt * abs(found.value) else None


def _analysed(record: Baseband, mode: str) -> Analysis | None:
    try:
        return analyse(record, Options(mode="fm" if mode == "fm" else "am"))
    except CoreError:
        return None


def _narrowed(samples: npt.NDArray[np.complex64], tuning: Tuning) -> Baseband | None:
    """What a channel takes about the carrier, without what the receiver hears of itself in the middle of its band."""
    wide = Baseband(tuning.rate_hz, tuning.centre_hz, (samples - samples.mean()).astype(np.complex128))
    return carrier_in(wide, tuning.beside_hz, tuning.beside_hz - OWN_SPUR_HZ, HALF_A_CHANNEL_HZ)
