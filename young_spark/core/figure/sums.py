"""The conversions and sums done in the head at the bench: plain formulas, one function each."""

import math
from collections.abc import Sequence

from young_spark.core.ground import OutOfDomain

LINE_OHM = 50.0


def above_zero(name: str, value: float, unit: str) -> float:
    """The value, or OutOfDomain where it is not finite and above 0."""
    if not 0 < value < math.inf:  # this way round, NaN is refused too
        raise OutOfDomain(name, value, unit, f"a finite figure above 0 {unit}")
    return value


def finite(name: str, value: float, unit: str) -> float:
    """The value, or OutOfDomain where it is not finite or beyond 10 000."""
    if not math.isfinite(value) or abs(value) > 1e4:
        raise OutOfDomain(name, value, unit, "a finite figure of this world")
    return value


def watts_from_dbm(level_dbm: float) -> float:
    """Power in W from a level in dBm: P = 1 mW · 10^(L/10)."""
    return float(1e-3 * 10 ** (finite("level", level_dbm, "dBm") / 10))


def dbm_from_watts(power_w: float) -> float:
    """Level in dBm from a power in W (> 0); 1 W is +30 dBm."""
    return 10 * math.log10(above_zero("power", power_w, "W") / 1e-3)


def watts_from_peak_to_peak(volts_pp: float, load_ohm: float = LINE_OHM) -> float:
    """Carrier power in W of a sine of `volts_pp` V peak to peak across `load_ohm` Ω: Vpp²/(8R)."""
    return above_zero("voltage", volts_pp, "V") ** 2 / (8 * above_zero("load", load_ohm, "Ω"))


def watts_from_peak(volts_peak: float, load_ohm: float = LINE_OHM) -> float:
    """Power in W at the crest of a sine of `volts_peak` V peak: Vp²/(2R)."""
    return above_zero("voltage", volts_peak, "V") ** 2 / (2 * above_zero("load", load_ohm, "Ω"))


def rms_volts(power_w: float, load_ohm: float = LINE_OHM) -> float:
    """Volts rms across `load_ohm` Ω at `power_w` W: √(P·R)."""
    return math.sqrt(above_zero("power", power_w, "W") * above_zero("load", load_ohm, "Ω"))


def dbm_from_microvolts(microvolts: float, *, emf: bool = False) -> float:
    """Level in dBm of a signal of so many µV across 50 Ω; an EMF is twice the potential difference."""
    volts = above_zero("voltage", microvolts, "µV") * 1e-6 / (2 if emf else 1)
    return dbm_from_watts(volts**2 / LINE_OHM)


def microvolts_from_dbm(level_dbm: float, *, emf: bool = False) -> float:
    """µV across 50 Ω (or EMF behind 50 Ω) at a level in dBm."""
    return math.sqrt(watts_from_dbm(level_dbm) * LINE_OHM) * 1e6 * (2 if emf else 1)


def through_loss(power_w: float, loss_db: float) -> float:
    """Power in W before a loss of `loss_db` dB, from the power in W seen behind it: P·10^(loss/10)."""
    if not 0 <= power_w < math.inf:
        raise OutOfDomain("power", power_w, "W", "a finite power of 0 W or more")
    return float(power_w * 10 ** (finite("loss", loss_db, "dB") / 10))


def reflection_from_powers(forward_w: float, reflected_w: float) -> float:
    """Magnitude of the reflection coefficient, √(Pr/Pf), from the two powers in W at the meter."""
    if not 0 < forward_w < math.inf:
        raise OutOfDomain("forward power", forward_w, "W", "a finite power above 0 W; is the transmitter keyed?")
    if not 0 <= reflected_w <= forward_w:
        raise OutOfDomain("reflected power", reflected_w, "W", f"0 to {forward_w:g} W; is the sensor reversed?")
    return math.sqrt(reflected_w / forward_w)


def swr_from_reflection(rho: float) -> float:
    """SWR (≥ 1) from a reflection coefficient 0 … 1: (1+ρ)/(1−ρ); total reflection gives math.inf."""
    if not 0 <= rho <= 1:
        raise OutOfDomain("reflection", rho, "", "0 to 1")
    return math.inf if rho == 1 else (1 + rho) / (1 - rho)


def swr_from_powers(forward_w: float, reflected_w: float) -> float:
    """SWR at the meter from forward and reflected power in W; a lossy cable beyond it flatters the aerial.

    >>> swr_from_powers(forward_w=100.0, reflected_w=25.0)
    3.0
    """
    return swr_from_reflection(reflection_from_powers(forward_w, reflected_w))


def reflection_from_swr(swr: float) -> float:
    """Reflection coefficient from an SWR of 1 or more: (S−1)/(S+1)."""
    if not 1 <= swr < math.inf:
        raise OutOfDomain("SWR", swr, "", "1 or more")
    return (swr - 1) / (swr + 1)


def return_loss_from_reflection(rho: float) -> float:
    """Return loss in dB, −20·log10 ρ; no reflection gives math.inf."""
    if not 0 <= rho <= 1:
        raise OutOfDomain("reflection", rho, "", "0 to 1")
    return math.inf if rho == 0 else -20 * math.log10(rho)


def reflection_from_return_loss(return_loss_db: float) -> float:
    """Reflection coefficient from a return loss in dB (≥ 0)."""
    if not 0 <= return_loss_db < 1e4:
        raise OutOfDomain("return loss", return_loss_db, "dB", "0 dB or more")
    return float(10 ** (-return_loss_db / 20))


def return_loss_at_aerial(measured_db: float, feeder_loss_db: float) -> float:
    """Return loss in dB at the aerial: what is seen at the set less twice the feeder's loss."""
    if not 0 <= 2 * feeder_loss_db <= measured_db:
        raise OutOfDomain("feeder loss", feeder_loss_db, "dB", f"0 to {measured_db / 2:g} dB: more would be no aerial")
    return measured_db - 2 * feeder_loss_db


def hz_from_ppm(parts_per_million: float, carrier_hz: float) -> float:
    """Tolerance in Hz from ppm of a carrier in Hz; 0.005 % is 50 ppm."""
    return parts_per_million * 1e-6 * above_zero("frequency", carrier_hz, "Hz")


def ppm_from_hz(error_hz: float, carrier_hz: float) -> float:
    """Error in ppm from an error in Hz on a carrier in Hz."""
    return error_hz / above_zero("frequency", carrier_hz, "Hz") * 1e6


def pi_pad(loss_db: float, line_ohm: float = LINE_OHM) -> tuple[float, float]:
    """Ω between and Ω to ground at either end of a π pad: Z(K² − 1)/2K and Z(K + 1)/(K − 1), K = 10^(L/20)."""
    ratio = 10 ** (above_zero("loss", loss_db, "dB") / 20)
    return line_ohm * (ratio**2 - 1) / (2 * ratio), line_ohm * (ratio + 1) / (ratio - 1)


def tee_pad(loss_db: float, line_ohm: float = LINE_OHM) -> tuple[float, float]:
    """Ω of either arm and Ω to ground of a T pad: Z(K − 1)/(K + 1) and 2ZK/(K² − 1), K = 10^(L/20)."""
    ratio = 10 ** (above_zero("loss", loss_db, "dB") / 20)
    return line_ohm * (ratio - 1) / (ratio + 1), 2 * line_ohm * ratio / (ratio**2 - 1)


def pep_from_scope_ratio(carrier_w: float, crest: float, carrier: float) -> float:
    """PEP in W from a known carrier on the same scope: Pc·(Vcrest/Vcarrier)²; both levels in one unit."""
    ratio = above_zero("crest", crest, "V") / above_zero("carrier level", carrier, "V")
    return above_zero("carrier power", carrier_w, "W") * ratio**2


def depth_from_peak_needle(carrier_w: float, needle_w: float) -> float:
    """Crest depth in % from a peak-reading wattmeter: m+ = √(P/Pc) − 1."""
    return 100 * (math.sqrt(above_zero("needle", needle_w, "W") / above_zero("carrier", carrier_w, "W")) - 1)


def depth_from_mean_needle(carrier_w: float, needle_w: float, shift_percent: float = 0.0) -> float:
    """Depth in % of a sine tone from a true-mean wattmeter: m = √(2·(P/Pc − (1+s)²)), s the carrier shift.

    Raises OutOfDomain when the needle falls below what the carrier alone would read: downward modulation."""
    ratio = above_zero("needle", needle_w, "W") / above_zero("carrier", carrier_w, "W")
    excess = ratio - (1 + shift_percent / 100) ** 2
    if excess < 0:
        raise OutOfDomain(
            "needle", needle_w, "W", f"{carrier_w:g} W or more; falling with audio is downward modulation"
        )
    return 100 * math.sqrt(2 * excess)


def shift_from_average_needle(carrier_w: float, needle_w: float) -> float:
    """Carrier shift in % from an average-envelope meter: (1+s)² = P/Pc; the depth stays unknown."""
    return depth_from_peak_needle(carrier_w, needle_w)


def depth_from_sideband(below_carrier_db: float) -> float:
    """Depth in % from a spectrum, one sideband Δ dB below the carrier: m = 2·10^(−Δ/20)."""
    return float(200 * 10 ** (-finite("level", below_carrier_db, "dB") / 20))


def depth_from_max_min(maximum: float, minimum: float) -> float:
    """Depth in % of a symmetrical envelope: (Vmax − Vmin)/(Vmax + Vmin); levels in one unit, 0 ≤ min ≤ max."""
    if not 0 <= minimum <= maximum or maximum == 0:
        raise OutOfDomain("trough", minimum, "", f"0 to the crest of {maximum:g}; crest first, then trough")
    return 100 * (maximum - minimum) / (maximum + minimum)


TWO_TONE_SHARE = {"peak": 1.0, "true_mean": 0.5, "average_envelope": (2 / math.pi) ** 2}


def pep_from_two_tone_needle(needle_w: float, detector: str) -> float:
    """PEP in W of two equal tones from a needle in W, by its detector (peak, true_mean, average_envelope)."""
    if detector not in TWO_TONE_SHARE:
        raise OutOfDomain("detector", math.nan, "", "peak, true_mean or average_envelope: without it no PEP")
    return above_zero("needle", needle_w, "W") / TWO_TONE_SHARE[detector]


def series(values: Sequence[float]) -> float:
    """Resistances or inductances in series (capacitances in parallel): their sum, in their own unit."""
    return sum(above_zero("part", v, "") for v in values)


def parallel(values: Sequence[float]) -> float:
    """Resistances or inductances in parallel (capacitances in series), in their own unit."""
    return 1 / sum(1 / above_zero("part", v, "") for v in values)
