"""The sums sheet: each sum with its fields, its answers, their working, and the text the field would take."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from young_spark.core.figure import format_value, sums
from young_spark.core.ground import OutOfDomain
from young_spark.core.judging import Channel, channel_plans


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
    return SumLine(
        name, value, unit, f"{working} = {format_value(value, unit)}".replace("-", "\N{MINUS SIGN}"), field_text
    )


def _dbm_sheet(dbm: float) -> tuple[SumLine, ...]:
    watts = sums.watts_from_dbm(dbm)
    volts = sums.rms_volts(watts)
    return (
        _line("Power", watts, "W", f"1 mW × 10^({dbm:g}/10)", f"{watts:.4g}w"),
        _line("Volts rms in 50 Ω", volts, "V", f"√({format_value(watts, 'W')} × 50 Ω)"),
        _line("Volts peak to peak", volts * 2 * math.sqrt(2), "V", f"{format_value(volts, 'V')} × 2√2"),
    )


def _watts_sheet(watts: float) -> tuple[SumLine, ...]:
    dbm = sums.dbm_from_watts(watts)
    volts = sums.rms_volts(watts)
    return (
        _line("Level", dbm, "dBm", f"10·log10({format_value(watts, 'W')} / 1 mW)", f"{dbm:+.2f}dbm"),
        _line("Volts rms in 50 Ω", volts, "V", f"√({format_value(watts, 'W')} × 50 Ω)"),
        _line("Volts peak", volts * math.sqrt(2), "V", f"{format_value(volts, 'V')} × √2"),
    )


def _microvolt_sheet(microvolts: float) -> tuple[SumLine, ...]:
    as_pd, as_emf = sums.dbm_from_microvolts(microvolts), sums.dbm_from_microvolts(microvolts, emf=True)
    return (
        _line(
            "If potential difference",
            as_pd,
            "dBm",
            f"10·log10(({microvolts:g} µV)² / 50 Ω / 1 mW)",
            f"sens {as_pd:.1f}dbm",
        ),
        _line("If EMF (twice the PD)", as_emf, "dBm", f"{as_pd:.1f} dBm − 6.02 dB", f"sens {as_emf:.1f}dbm"),
    )


def _level_sheet(dbm: float) -> tuple[SumLine, ...]:
    across = sums.microvolts_from_dbm(dbm)
    return (
        _line("Potential difference", across * 1e-6, "V", f"√(1 mW × 10^({dbm:g}/10) × 50 Ω)", f"sens {dbm:g}dbm"),
        _line("EMF (twice the PD)", 2e-6 * across, "V", f"2 × {format_value(across * 1e-6, 'V')}"),
    )


def _percent_sheet(percent: float, mhz: float) -> tuple[SumLine, ...]:
    ppm = percent * 1e4
    return (
        _line("In ppm", ppm, "ppm", f"{percent:g} % × 10 000"),
        _line(
            "In Hz",
            sums.hz_from_ppm(ppm, mhz * 1e6),
            "Hz",
            f"{ppm:g} × 10⁻⁶ × {mhz:g} MHz",
            f"err {sums.hz_from_ppm(ppm, mhz * 1e6):+.0f}hz",
        ),
    )


def _return_loss_sheet(return_loss: float) -> tuple[SumLine, ...]:
    rho = sums.reflection_from_return_loss(return_loss)
    share = _line("Power that comes back", 100 * rho**2, "%", f"10^(−{return_loss:g}/10)")
    if rho == 1:
        return (share,)
    swr = sums.swr_from_reflection(rho)
    return (_line("SWR", swr, "1", f"(1 + {rho:.3g}) / (1 − {rho:.3g})", f"swr {swr:.3g}"), share)


def _pads_sheet(reading: float, first: float, second: float, third: float) -> tuple[SumLine, ...]:
    loss = first + second + third
    at_unit = reading + loss
    watts = sums.watts_from_dbm(at_unit)
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
    hertz = sums.hz_from_ppm(ppm, mhz * 1e6)
    return (
        _line("In Hz", hertz, "Hz", f"{ppm:g} × 10⁻⁶ × {mhz:g} MHz", f"err {hertz:+.0f}hz"),
        _line("In percent", ppm * 1e-4, "%", f"{ppm:g} ppm / 10 000"),
    )


def _hz_sheet(hertz: float, mhz: float) -> tuple[SumLine, ...]:
    ppm = sums.ppm_from_hz(hertz, mhz * 1e6)
    return (
        _line("In ppm", ppm, "ppm", f"{hertz:g} Hz / {mhz:g} MHz", f"err {hertz:+g}hz"),
        _line("In percent", ppm * 1e-4, "%", f"{ppm:.4g} ppm / 10 000"),
    )


def _swr_sheet(forward: float, reflected: float) -> tuple[SumLine, ...]:
    rho = sums.reflection_from_powers(forward, reflected)
    words = f"√({reflected:g} W / {forward:g} W)"
    lines = [_line("Reflection", rho, "1", words)]
    if rho < 1:
        lines.append(
            _line(
                "SWR",
                sums.swr_from_reflection(rho),
                "1",
                f"(1 + {rho:.3g}) / (1 − {rho:.3g})",
                f"swr {forward:g}/{reflected:g}",
            )
        )
    if rho > 0:
        lines.append(_line("Return loss", sums.return_loss_from_reflection(rho), "dB", f"−20·log10 {rho:.3g}"))
    return tuple(lines)


def _swr_back_sheet(swr: float) -> tuple[SumLine, ...]:
    rho = sums.reflection_from_swr(swr)
    share = _line("Power that comes back", 100 * rho**2, "%", f"(({swr:g} − 1) / ({swr:g} + 1))²")
    if rho == 0:
        return (share,)
    loss = sums.return_loss_from_reflection(rho)
    return (_line("Return loss", loss, "dB", f"−20·log10 {rho:.3g}", f"rl {loss:.3g}"), share)


def _scope_sheet(volts_pp: float, load: float) -> tuple[SumLine, ...]:
    watts = sums.watts_from_peak_to_peak(volts_pp, load)
    return (_line("Carrier power", watts, "W", f"({volts_pp:g} V)² / (8 × {load:g} Ω)", f"{watts:.4g}w"),)


def _pep_sheet(carrier: float, crest: float, level: float) -> tuple[SumLine, ...]:
    pep = sums.pep_from_scope_ratio(carrier, crest, level)
    return (_line("PEP", pep, "W", f"{carrier:g} W × ({crest:g} / {level:g})²", f"pep {pep:.4g}w"),)


def explain_swing(carrier_w: float, needle_w: float) -> tuple[SumLine, ...]:
    """What a needle that goes from carrier to `needle_w` W on audio means by each detector, side by side."""
    ratio = f"{needle_w:g} W / {carrier_w:g} W"
    crest = sums.depth_from_peak_needle(carrier_w, needle_w)
    lines = [_line("Peak meter: crest depth", crest, "%", f"√({ratio}) − 1", f"crest {crest:.3g}%")]
    try:
        mean = sums.depth_from_mean_needle(carrier_w, needle_w)
        lines.append(_line("True-mean meter: depth, sine tone", mean, "%", f"√(2 × ({ratio} − 1))", f"mod {mean:.3g}%"))
    except OutOfDomain:
        pass  # a falling needle has no mean-power depth; the other two lines say what it has
    shift = sums.shift_from_average_needle(carrier_w, needle_w)
    words = "Average-envelope meter: carrier shift, depth unknown"
    lines.append(_line(words, shift, "%", f"√({ratio}) − 1", f"shift {shift:+.3g}%"))
    return tuple(lines)


def _two_tone_sheet(needle: float) -> tuple[SumLine, ...]:
    words = {
        "peak": "Peak meter: PEP",
        "true_mean": "True-mean meter: PEP",
        "average_envelope": "Average-envelope meter: PEP",
    }
    return tuple(
        _line(
            words[detector],
            sums.pep_from_two_tone_needle(needle, detector),
            "W",
            f"{needle:g} W / {share:.3g}",
            f"pep {sums.pep_from_two_tone_needle(needle, detector):.4g}w",
        )
        for detector, share in sums.TWO_TONE_SHARE.items()
    )


def _scope_depth_sheet(crest: float, trough: float) -> tuple[SumLine, ...]:
    depth = sums.depth_from_max_min(crest, trough)
    working = f"({crest:g} − {trough:g}) / ({crest:g} + {trough:g}), symmetrical envelope"
    return (_line("Depth", depth, "%", working, f"mod {crest:g}/{trough:g}"),)


def _sideband_sheet(below: float) -> tuple[SumLine, ...]:
    depth = sums.depth_from_sideband(below)
    return (_line("Depth", depth, "%", f"2 × 10^(−{below:g}/20)", f"mod {depth:.3g}%"),)


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
        _line(
            "Resistors in series (capacitors in parallel)", sums.series((first, second)), "", f"{first:g} + {second:g}"
        ),
        _line(
            "Resistors in parallel (capacitors in series)",
            sums.parallel((first, second)),
            "",
            f"1 / (1/{first:g} + 1/{second:g})",
        ),
    )


def _efficiency_sheet(volts: float, amperes: float, output: float, drive: float) -> tuple[SumLine, ...]:
    dc = sums.above_zero("supply voltage", volts, "V") * sums.above_zero("supply current", amperes, "A")
    if output > dc + drive:
        raise OutOfDomain("output", output, "W", f"no more than the {dc + drive:g} W put in")
    return (
        _line("Power put in", dc, "W", f"{volts:g} V × {amperes:g} A"),
        _line("Efficiency", 100 * output / dc, "%", f"{output:g} W / {dc:g} W", f"efficiency {100 * output / dc:.3g}%"),
        _line(
            "Dissipation",
            dc + drive - output,
            "W",
            f"{dc:g} + {drive:g} − {output:g} W",
            f"dissipation {dc + drive - output:.4g}w",
        ),
    )


def _feeder_sheet(seen: float, loss: float) -> tuple[SumLine, ...]:
    aerial = sums.return_loss_at_aerial(seen, loss)
    swr = sums.swr_from_reflection(sums.reflection_from_return_loss(aerial))
    return (
        _line("Return loss at the aerial", aerial, "dB", f"{seen:g} − 2 × {loss:g} dB"),
        *(
            (_line("SWR at the aerial", swr, "1", f"from {aerial:.3g} dB", f"swr {swr:.3g}"),)
            if math.isfinite(swr)
            else ()
        ),
    )


def _may(channel: Channel) -> str:
    return ", ".join(w for w in ("" if channel.allowed else "not to be transmitted on", channel.remark) if w)


def _which_channel(mhz: float) -> tuple[SumLine, ...]:
    """Every plan that has a channel there, with the error; where none has, the nearest of all."""
    hz = 1e6 * sums.above_zero("frequency", mhz, "MHz")
    nearest = [(plan, *plan.nearest(hz)) for plan in channel_plans().values()]
    on = [n for n in nearest if abs(n[2]) <= n[0].reach_hz]
    lines = []
    for plan, channel, error in on or [min(nearest, key=lambda n: abs(n[2]))]:
        words = [f"{hz / 1e6:.6f} − {channel.hz / 1e6:.6g} MHz = {error:+.0f} Hz", _may(channel)]
        name = (
            f"{plan.title}: channel {channel.number}" if on else f"On no channel; nearest {plan.title} {channel.number}"
        )
        working = "; ".join(w for w in words if w).replace("-", "\N{MINUS SIGN}")
        lines.append(SumLine(name, channel.hz, "Hz", working, f"{hz / 1e6:.6f}M" if on else None))
    return tuple(lines)


def _where_is_channel(number: float) -> tuple[SumLine, ...]:
    """That channel in every plan that has it. Raises OutOfDomain where none has."""
    lines = tuple(
        SumLine(
            plan.title,
            channel.hz,
            "Hz",
            f"channel {channel.number} = {format_value(channel.hz, 'Hz', figures=8)}; "
            f"{'; '.join(w for w in (_may(channel), plan.source) if w)}",
        )
        for plan in channel_plans().values()
        for channel in plan.channels
        if channel.number == number
    )
    if not lines:
        raise OutOfDomain("channel", number, "", "one that a plan has")
    return lines


QUICK_SUMS: tuple[QuickSum, ...] = (
    QuickSum("dbm", "dBm to watts and volts", (SumField("Level", "dBm", 36.0),), _dbm_sheet),
    QuickSum("watts", "Watts to dBm and volts", (SumField("Power", "W", 4.0),), _watts_sheet),
    QuickSum("which-channel", "Which channel is this?", (SumField("Frequency", "MHz", 27.185),), _which_channel),
    QuickSum("where-channel", "Where is this channel?", (SumField("Channel", "", 19.0),), _where_is_channel),
    QuickSum("microvolts", "Microvolts to dBm", (SumField("Signal", "µV", 1.0),), _microvolt_sheet),
    QuickSum("level", "dBm to microvolts", (SumField("Level", "dBm", -73.0),), _level_sheet),
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
        "percent",
        "Percent to ppm and hertz",
        (SumField("Tolerance", "%", 0.005), SumField("Frequency", "MHz", 27.2)),
        _percent_sheet,
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
    QuickSum("return-loss", "Return loss to SWR", (SumField("Return loss", "dB", 14.0),), _return_loss_sheet),
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
