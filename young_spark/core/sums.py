"""The conversions and sums done in the head at the bench, each with its working.

Every function is the plain formula; `QUICK_SUMS` wraps the ones on the sums sheet with words."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from young_spark.core.errors import OutOfDomain
from young_spark.core.quantities import format_value

LINE_OHM = 50.0


def _above_zero(name: str, value: float, unit: str) -> float:
    if not 0 < value < math.inf:  # this way round, NaN is refused too
        raise OutOfDomain(name, value, unit, f"a finite figure above 0 {unit}")
    return value


def _finite(name: str, value: float, unit: str) -> float:
    if not math.isfinite(value) or abs(value) > 1e4:
        raise OutOfDomain(name, value, unit, "a finite figure of this world")
    return value


def watts_from_dbm(level_dbm: float) -> float:
    """Power in W from a level in dBm: P = 1 mW · 10^(L/10)."""
    return float(1e-3 * 10 ** (_finite("level", level_dbm, "dBm") / 10))


def dbm_from_watts(power_w: float) -> float:
    """Level in dBm from a power in W (> 0); 1 W is +30 dBm."""
    return 10 * math.log10(_above_zero("power", power_w, "W") / 1e-3)


def watts_from_peak_to_peak(volts_pp: float, load_ohm: float = LINE_OHM) -> float:
    """Carrier power in W of a sine of `volts_pp` V peak to peak across `load_ohm` Ω: Vpp²/(8R)."""
    return _above_zero("voltage", volts_pp, "V") ** 2 / (8 * _above_zero("load", load_ohm, "Ω"))


def watts_from_peak(volts_peak: float, load_ohm: float = LINE_OHM) -> float:
    """Power in W at the crest of a sine of `volts_peak` V peak: Vp²/(2R)."""
    return _above_zero("voltage", volts_peak, "V") ** 2 / (2 * _above_zero("load", load_ohm, "Ω"))


def rms_volts(power_w: float, load_ohm: float = LINE_OHM) -> float:
    """Volts rms across `load_ohm` Ω at `power_w` W: √(P·R)."""
    return math.sqrt(_above_zero("power", power_w, "W") * _above_zero("load", load_ohm, "Ω"))


def dbm_from_microvolts(microvolts: float, *, emf: bool = False) -> float:
    """Level in dBm of a signal of so many µV across 50 Ω; an EMF is twice the potential difference."""
    volts = _above_zero("voltage", microvolts, "µV") * 1e-6 / (2 if emf else 1)
    return dbm_from_watts(volts**2 / LINE_OHM)


def microvolts_from_dbm(level_dbm: float, *, emf: bool = False) -> float:
    """µV across 50 Ω (or EMF behind 50 Ω) at a level in dBm."""
    return math.sqrt(watts_from_dbm(level_dbm) * LINE_OHM) * 1e6 * (2 if emf else 1)


def through_loss(power_w: float, loss_db: float) -> float:
    """Power in W before a loss of `loss_db` dB, from the power in W seen behind it: P·10^(loss/10)."""
    if not 0 <= power_w < math.inf:
        raise OutOfDomain("power", power_w, "W", "a finite power of 0 W or more")
    return float(power_w * 10 ** (_finite("loss", loss_db, "dB") / 10))


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
    return parts_per_million * 1e-6 * _above_zero("frequency", carrier_hz, "Hz")


def ppm_from_hz(error_hz: float, carrier_hz: float) -> float:
    """Error in ppm from an error in Hz on a carrier in Hz."""
    return error_hz / _above_zero("frequency", carrier_hz, "Hz") * 1e6


def pep_from_scope_ratio(carrier_w: float, crest: float, carrier: float) -> float:
    """PEP in W from a known carrier on the same scope: Pc·(Vcrest/Vcarrier)²; both levels in one unit."""
    ratio = _above_zero("crest", crest, "V") / _above_zero("carrier level", carrier, "V")
    return _above_zero("carrier power", carrier_w, "W") * ratio**2


def depth_from_peak_needle(carrier_w: float, needle_w: float) -> float:
    """Crest depth in % from a peak-reading wattmeter: m+ = √(P/Pc) − 1."""
    return 100 * (math.sqrt(_above_zero("needle", needle_w, "W") / _above_zero("carrier", carrier_w, "W")) - 1)


def depth_from_mean_needle(carrier_w: float, needle_w: float, shift_percent: float = 0.0) -> float:
    """Depth in % of a sine tone from a true-mean wattmeter: m = √(2·(P/Pc − (1+s)²)), s the carrier shift.

    Raises OutOfDomain when the needle falls below what the carrier alone would read: downward modulation."""
    ratio = _above_zero("needle", needle_w, "W") / _above_zero("carrier", carrier_w, "W")
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
    return float(200 * 10 ** (-_finite("level", below_carrier_db, "dB") / 20))


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
    return _above_zero("needle", needle_w, "W") / TWO_TONE_SHARE[detector]


def series(values: Sequence[float]) -> float:
    """Resistances or inductances in series (capacitances in parallel): their sum, in their own unit."""
    return sum(_above_zero("part", v, "") for v in values)


def parallel(values: Sequence[float]) -> float:
    """Resistances or inductances in parallel (capacitances in series), in their own unit."""
    return 1 / sum(1 / _above_zero("part", v, "") for v in values)


@dataclass(frozen=True, slots=True)
class SumField:
    """One figure the sheet asks for: its name, unit and a starting value."""

    name: str
    unit: str
    start: float


@dataclass(frozen=True, slots=True)
class SumLine:
    """One result: what it is, the figure, its unit, the working, and the text the field would take."""

    name: str
    value: float
    unit: str
    working: str
    field_text: str | None = None


@dataclass(frozen=True, slots=True)
class QuickSum:
    """One sum of the sheet: its fields and the function that answers with lines."""

    id: str
    title: str
    fields: tuple[SumField, ...]
    answer: Callable[..., tuple[SumLine, ...]]


def _line(name: str, value: float, unit: str, working: str, field_text: str | None = None) -> SumLine:
    return SumLine(name, value, unit, f"{working} = {format_value(value, unit)}".replace("-", "\N{MINUS SIGN}"), field_text)


def _dbm_sheet(dbm: float) -> tuple[SumLine, ...]:
    watts = watts_from_dbm(dbm)
    volts = rms_volts(watts)
    return (
        _line("Power", watts, "W", f"1 mW × 10^({dbm:g}/10)", f"{watts:.4g}w"),
        _line("Volts rms in 50 Ω", volts, "V", f"√({format_value(watts, 'W')} × 50 Ω)"),
        _line("Volts peak to peak", volts * 2 * math.sqrt(2), "V", f"{format_value(volts, 'V')} × 2√2"),
    )


def _watts_sheet(watts: float) -> tuple[SumLine, ...]:
    dbm = dbm_from_watts(watts)
    volts = rms_volts(watts)
    return (
        _line("Level", dbm, "dBm", f"10·log10({format_value(watts, 'W')} / 1 mW)", f"{dbm:+.2f}dbm"),
        _line("Volts rms in 50 Ω", volts, "V", f"√({format_value(watts, 'W')} × 50 Ω)"),
        _line("Volts peak", volts * math.sqrt(2), "V", f"{format_value(volts, 'V')} × √2"),
    )


def _microvolt_sheet(microvolts: float) -> tuple[SumLine, ...]:
    as_pd, as_emf = dbm_from_microvolts(microvolts), dbm_from_microvolts(microvolts, emf=True)
    return (
        _line("If potential difference", as_pd, "dBm", f"10·log10(({microvolts:g} µV)² / 50 Ω / 1 mW)"),
        _line("If EMF (twice the PD)", as_emf, "dBm", f"{as_pd:.1f} dBm − 6.02 dB"),
    )


def _pads_sheet(reading: float, first: float, second: float, third: float) -> tuple[SumLine, ...]:
    loss = first + second + third
    at_unit = reading + loss
    watts = watts_from_dbm(at_unit)
    return (
        _line(
            "At the unit",
            at_unit,
            "dBm",
            f"{reading:g} dBm + {first:g} + {second:g} + {third:g} dB",
            f"{at_unit:+.2f}dbm",
        ),
        _line("As power", watts, "W", f"1 mW × 10^({at_unit:g}/10)", f"{watts:.4g}w"),
    )


def _ppm_sheet(ppm: float, mhz: float) -> tuple[SumLine, ...]:
    hertz = hz_from_ppm(ppm, mhz * 1e6)
    return (
        _line("In Hz", hertz, "Hz", f"{ppm:g} × 10⁻⁶ × {mhz:g} MHz"),
        _line("In percent", ppm * 1e-4, "%", f"{ppm:g} ppm / 10 000"),
    )


def _hz_sheet(hertz: float, mhz: float) -> tuple[SumLine, ...]:
    ppm = ppm_from_hz(hertz, mhz * 1e6)
    return (
        _line("In ppm", ppm, "ppm", f"{hertz:g} Hz / {mhz:g} MHz"),
        _line("In percent", ppm * 1e-4, "%", f"{ppm:.4g} ppm / 10 000"),
    )


def _swr_sheet(forward: float, reflected: float) -> tuple[SumLine, ...]:
    rho = reflection_from_powers(forward, reflected)
    words = f"√({reflected:g} W / {forward:g} W)"
    lines = [_line("Reflection", rho, "1", words)]
    if rho < 1:
        lines.append(
            _line(
                "SWR",
                swr_from_reflection(rho),
                "1",
                f"(1 + {rho:.3g}) / (1 − {rho:.3g})",
                f"swr {forward:g}/{reflected:g}",
            )
        )
    if rho > 0:
        lines.append(_line("Return loss", return_loss_from_reflection(rho), "dB", f"−20·log10 {rho:.3g}"))
    return tuple(lines)


def _swr_back_sheet(swr: float) -> tuple[SumLine, ...]:
    rho = reflection_from_swr(swr)
    share = _line("Power that comes back", 100 * rho**2, "%", f"(({swr:g} − 1) / ({swr:g} + 1))²")
    if rho == 0:
        return (share,)
    return (_line("Return loss", return_loss_from_reflection(rho), "dB", f"−20·log10 {rho:.3g}"), share)


def _scope_sheet(volts_pp: float, load: float) -> tuple[SumLine, ...]:
    watts = watts_from_peak_to_peak(volts_pp, load)
    return (_line("Carrier power", watts, "W", f"({volts_pp:g} V)² / (8 × {load:g} Ω)", f"{watts:.4g}w"),)


def _pep_sheet(carrier: float, crest: float, level: float) -> tuple[SumLine, ...]:
    pep = pep_from_scope_ratio(carrier, crest, level)
    return (_line("PEP", pep, "W", f"{carrier:g} W × ({crest:g} / {level:g})²", f"pep {pep:.4g}w"),)


def explain_swing(carrier_w: float, needle_w: float) -> tuple[SumLine, ...]:
    """What a needle that goes from carrier to `needle_w` W on audio means by each detector, side by side."""
    ratio = f"{needle_w:g} W / {carrier_w:g} W"
    lines = [_line("Peak meter: crest depth", depth_from_peak_needle(carrier_w, needle_w), "%", f"√({ratio}) − 1")]
    try:
        mean = depth_from_mean_needle(carrier_w, needle_w)
        lines.append(_line("True-mean meter: depth, sine tone", mean, "%", f"√(2 × ({ratio} − 1))"))
    except OutOfDomain:
        pass  # a falling needle has no mean-power depth; the other two lines say what it has
    shift = shift_from_average_needle(carrier_w, needle_w)
    lines.append(_line("Average-envelope meter: carrier shift, depth unknown", shift, "%", f"√({ratio}) − 1"))
    return tuple(lines)


def _two_tone_sheet(needle: float) -> tuple[SumLine, ...]:
    words = {
        "peak": "Peak meter: PEP",
        "true_mean": "True-mean meter: PEP",
        "average_envelope": "Average-envelope meter: PEP",
    }
    return tuple(
        _line(words[detector], pep_from_two_tone_needle(needle, detector), "W", f"{needle:g} W / {share:.3g}")
        for detector, share in TWO_TONE_SHARE.items()
    )


def _scope_depth_sheet(crest: float, trough: float) -> tuple[SumLine, ...]:
    depth = depth_from_max_min(crest, trough)
    working = f"({crest:g} − {trough:g}) / ({crest:g} + {trough:g}), symmetrical envelope"
    return (_line("Depth", depth, "%", working, f"mod {crest:g}/{trough:g}"),)


def _sideband_sheet(below: float) -> tuple[SumLine, ...]:
    return (_line("Depth", depth_from_sideband(below), "%", f"2 × 10^(−{below:g}/20)"),)


def _harmonic_sheet(mhz: float, intermediate: float) -> tuple[SumLine, ...]:
    lines = [_line(f"Harmonic {n}", n * mhz * 1e6, "Hz", f"{n} × {mhz:g} MHz") for n in (2, 3, 4, 5)]
    images = [
        _line(
            f"Image, oscillator {side}",
            (mhz + sign * 2 * intermediate) * 1e6,
            "Hz",
            f"{mhz:g} {word} 2 × {intermediate:g} MHz",
        )
        for side, sign, word in (("above", 1, "+"), ("below", -1, "−"))
        if mhz + sign * 2 * intermediate > 0
    ]
    return tuple(lines + images)


def _parts_sheet(first: float, second: float) -> tuple[SumLine, ...]:
    return (
        _line("Resistors in series (capacitors in parallel)", series((first, second)), "", f"{first:g} + {second:g}"),
        _line(
            "Resistors in parallel (capacitors in series)",
            parallel((first, second)),
            "",
            f"1 / (1/{first:g} + 1/{second:g})",
        ),
    )


def _efficiency_sheet(volts: float, amperes: float, output: float, drive: float) -> tuple[SumLine, ...]:
    dc = _above_zero("supply voltage", volts, "V") * _above_zero("supply current", amperes, "A")
    if output > dc + drive:
        raise OutOfDomain("output", output, "W", f"no more than the {dc + drive:g} W put in")
    return (
        _line("Power put in", dc, "W", f"{volts:g} V × {amperes:g} A"),
        _line("Efficiency", 100 * output / dc, "%", f"{output:g} W / {dc:g} W"),
        _line("Dissipation", dc + drive - output, "W", f"{dc:g} + {drive:g} − {output:g} W"),
    )


def _feeder_sheet(seen: float, loss: float) -> tuple[SumLine, ...]:
    aerial = return_loss_at_aerial(seen, loss)
    swr = swr_from_reflection(reflection_from_return_loss(aerial))
    return (
        _line("Return loss at the aerial", aerial, "dB", f"{seen:g} − 2 × {loss:g} dB"),
        *((_line("SWR at the aerial", swr, "1", f"from {aerial:.3g} dB"),) if math.isfinite(swr) else ()),
    )


QUICK_SUMS: tuple[QuickSum, ...] = (
    QuickSum("dbm", "dBm to watts and volts", (SumField("Level", "dBm", 36.0),), _dbm_sheet),
    QuickSum("watts", "Watts to dBm and volts", (SumField("Power", "W", 4.0),), _watts_sheet),
    QuickSum("microvolts", "Microvolts to dBm", (SumField("Signal", "µV", 1.0),), _microvolt_sheet),
    QuickSum(
        "pads",
        "A reading behind pads and couplers",
        (
            SumField("Reading", "dBm", -4.0),
            SumField("Pad", "dB", 20.0),
            SumField("Pad", "dB", 20.0),
            SumField("Cable", "dB", 0.0),
        ),
        _pads_sheet,
    ),
    QuickSum(
        "ppm", "ppm to hertz", (SumField("Tolerance", "ppm", 50.0), SumField("Frequency", "MHz", 27.185)), _ppm_sheet
    ),
    QuickSum(
        "hertz", "Hertz to ppm", (SumField("Error", "Hz", 300.0), SumField("Frequency", "MHz", 27.185)), _hz_sheet
    ),
    QuickSum(
        "swr",
        "Forward and reflected to SWR",
        (SumField("Forward", "W", 3.8), SumField("Reflected", "W", 0.3)),
        _swr_sheet,
    ),
    QuickSum("swr-back", "SWR to return loss", (SumField("SWR", "", 1.5),), _swr_back_sheet),
    QuickSum(
        "feeder",
        "Aerial behind a lossy feeder",
        (SumField("Return loss seen", "dB", 14.0), SumField("Feeder loss", "dB", 2.0)),
        _feeder_sheet,
    ),
    QuickSum(
        "scope",
        "Scope volts to watts",
        (SumField("Peak to peak", "V", 40.0), SumField("Load", "Ω", 50.0)),
        _scope_sheet,
    ),
    QuickSum(
        "pep",
        "PEP from the scope ratio",
        (SumField("Carrier", "W", 4.0), SumField("Crest", "div", 3.8), SumField("Carrier level", "div", 2.0)),
        _pep_sheet,
    ),
    QuickSum(
        "swing",
        "What the needle means on audio",
        (SumField("Carrier", "W", 100.0), SumField("With audio", "W", 150.0)),
        explain_swing,
    ),
    QuickSum("two-tone", "Two-tone needle to PEP", (SumField("Needle", "W", 50.0),), _two_tone_sheet),
    QuickSum(
        "depth",
        "Depth from crest and trough",
        (SumField("Crest", "div", 2.1), SumField("Trough", "div", 0.15)),
        _scope_depth_sheet,
    ),
    QuickSum("sideband", "Depth from one sideband", (SumField("Below carrier", "dB", 8.0),), _sideband_sheet),
    QuickSum(
        "harmonics",
        "Harmonics and image",
        (SumField("Frequency", "MHz", 27.185), SumField("IF", "MHz", 10.7)),
        _harmonic_sheet,
    ),
    QuickSum(
        "parts", "Two parts together", (SumField("First", "", 100.0), SumField("Second", "", 220.0)), _parts_sheet
    ),
    QuickSum(
        "efficiency",
        "Efficiency and heat",
        (
            SumField("Supply", "V", 13.8),
            SumField("Current", "A", 1.2),
            SumField("Output", "W", 4.0),
            SumField("Drive", "W", 0.0),
        ),
        _efficiency_sheet,
    ),
)
