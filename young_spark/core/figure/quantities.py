"""The quantities of the trade: names, units, and how a figure is written for a person.

The core computes in the unit given here; `format_figure` scales it for reading."""

import math
from dataclasses import dataclass

from young_spark.core.ground import UnknownName, nearest


@dataclass(frozen=True, slots=True)
class Quantity:
    """One measurable quantity: its id in code and exports, its unit, its name on screen."""

    id: str
    unit: str
    name: str


_TABLE = """
carrier_power W Carrier power
peak_envelope_power W Peak envelope power
mean_power W Mean power
power_flatness dB Power flatness
power_step dB Power step
power_fade dB Power fade
time_constant s Time constant of the fall
steady_power W Steady power
frequency_error Hz Frequency error
carrier_frequency Hz Carrier frequency
am_depth_positive % Depth, crest
am_depth_negative % Depth, trough
am_depth % Modulation depth
carrier_shift % Carrier shift
fm_deviation_positive Hz Deviation up
fm_deviation_negative Hz Deviation down
fm_deviation Hz Peak deviation
audio_frequency Hz Audio frequency
audio_distortion % Audio distortion
sinad dB SINAD
signal_to_noise dB (S+N)/N
hum_and_noise dB Hum and noise
harmonic_2 dBc 2nd harmonic
harmonic_3 dBc 3rd harmonic
harmonic_4 dBc 4th harmonic
harmonic_5 dBc 5th harmonic
harmonic_6 dBc 6th harmonic
harmonic_7 dBc 7th harmonic
harmonic_8 dBc 8th harmonic
harmonic_9 dBc 9th harmonic
harmonic_10 dBc 10th harmonic
spurious_worst dBc Worst spurious
occupied_bandwidth Hz Occupied bandwidth
adjacent_channel_power W Adjacent channel power
adjacent_channel_ratio dBc Adjacent channel, below the carrier
carrier_suppression dB Carrier suppression
opposite_sideband_suppression dB Opposite sideband suppression
imd3 dB Third-order product, below one tone
imd5 dB Fifth-order product, below one tone
imd7 dB Seventh-order product, below one tone
swr 1 SWR
return_loss dB Return loss
swr_minimum 1 Least SWR
resonant_frequency Hz Resonant frequency
swr_bandwidth Hz SWR bandwidth
insertion_loss dB Insertion loss
forward_power W Forward power
reflected_power W Reflected power
drive_power W Drive power
input_swr 1 Input SWR
gain dB Gain
efficiency % Efficiency
dissipation W Dissipation
supply_voltage V Supply voltage
supply_current A Supply current
ripple V Ripple
ripple_frequency Hz Ripple frequency
idle_current A Idle current
bias_voltage V Bias voltage
screen_voltage V Screen voltage
screen_current A Screen current
grid_current A Grid current
plate_current A Plate current
modulator_current A Modulator current
plate_voltage V Plate voltage
filament_voltage V Filament voltage
control_voltage V Control voltage
edge_low_3db Hz Low edge at 3 dB
edge_high_3db Hz High edge at 3 dB
edge_low_6db Hz Low edge at 6 dB
edge_high_6db Hz High edge at 6 dB
passband_ripple dB Passband ripple
modulation_sensitivity V Modulation sensitivity
limiter_peak_deviation Hz Limiter peak deviation
limiter_peak_depth % Limiter peak depth
frequency_drift Hz Frequency drift
power_overshoot dB Power overshoot
keying_rise_time s Keying rise time
subtone_frequency Hz Subtone frequency
subtone_deviation Hz Subtone deviation
sensitivity_12db_sinad dBm Sensitivity for 12 dB SINAD
sensitivity_10db_sn dBm Sensitivity for 10 dB S+N/N
squelch_open dBm Squelch opens
squelch_close dBm Squelch closes
s_meter_reference dBm S-meter reference
temperature °C Temperature
resistance Ω Resistance
esr Ω ESR
capacitance F Capacitance
transistor_gain 1 Transistor gain
dc_voltage V Volts DC
ac_voltage V Volts AC or RF
rf_level dBm RF level
dc_current A Current of a stage
stage_frequency Hz Frequency of a stage
inrush_current A Inrush current
alc_voltage V ALC volts
switching_delay s Switching delay
needle_on_audio W Needle on audio
compression_1db_power W Power at 1 dB compression
chirp Hz Chirp
clarifier_range Hz Clarifier range
sensitivity_20db_quieting dBm Sensitivity for 20 dB quieting
minimum_discernible_signal dBm Minimum discernible signal
sensitivity_by_ear dBm Sensitivity by ear
squelch_hysteresis dB Squelch hysteresis
image_rejection dB Image rejection
adjacent_channel_selectivity dB Adjacent channel selectivity
s_meter_reading S S-meter reading
audio_power W Audio power
filter_bandwidth Hz Filter bandwidth
readability 1 Readability
condition 1 Condition
junction_voltage V Junction volts
insulation_resistance Ω Insulation resistance
leakage_current A Leakage current
inductance H Inductance
valve_emission % Valve emission
"""

QUANTITIES: dict[str, Quantity] = {
    row.split()[0]: Quantity(*row.split(maxsplit=2)) for row in _TABLE.strip().splitlines()
}

_PREFIXED = {"W", "Hz", "A", "V", "s", "Ω", "F", "H"}
_PREFIXES = ((1e9, "G"), (1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"), (1e-6, "µ"), (1e-9, "n"), (1e-12, "p"))
MOST_DECIMALS = 4
LEAST_HZ = 0.01  # a record may tell a frequency closer than any reference; nobody reads that
_SIGNED = {"frequency_error", "power_step", "power_fade", "carrier_shift"}


def quantity(name: str) -> Quantity:
    """Look a quantity up by id. Raises UnknownName, with the nearest id, for anything else."""
    try:
        return QUANTITIES[name]
    except KeyError:
        raise UnknownName("quantity", name, nearest(name, QUANTITIES)) from None


def scaled_unit(value: float, unit: str) -> tuple[float, str]:
    """The factor and the prefixed unit in which `value` (in `unit`) reads best: 0.25 A is (1e-3, 'mA')."""
    size = abs(value)
    if unit not in _PREFIXED or size == 0 or not math.isfinite(size):
        return 1.0, unit
    if unit in {"W", "V", "A"} and size < 10_000 and size >= 1:
        return 1.0, unit  # the trade says 1500 W and 2400 V
    for factor, prefix in _PREFIXES:
        if size >= factor * 0.99999:
            return factor, prefix + unit
    return _PREFIXES[-1][0], _PREFIXES[-1][1] + unit


def _decimals_for(uncertainty: float) -> int:
    """Decimals that show one figure of the uncertainty, two when it begins with 1 or 2."""
    exponent = math.floor(math.log10(uncertainty))
    leading = uncertainty / 10.0**exponent
    return max(0, -exponent + (1 if leading < 3 else 0))


def _plain(value: float, figures: int = 4) -> str:
    """`value` to so many significant figures, never with an exponent."""
    if value == 0 or not math.isfinite(value):
        return f"{value:g}"
    decimals = max(0, figures - 1 - math.floor(math.log10(abs(value))))
    text = f"{value:.{decimals}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def format_value(value: float, unit: str, *, figures: int = 4, signed: bool = False) -> str:
    """A bare figure with its scaled unit: (0.25, 'A') gives '250 mA'; minus is the real sign."""
    factor, shown = scaled_unit(value, unit)
    wanted = max(figures, 7) if shown in {"MHz", "GHz"} else figures
    text = _plain(value / factor, wanted)
    return _with_unit(f"+{text}" if signed and value > 0 else text, shown)


NOTHING_BELOW = 0.05  # of the plain unit


def format_figure(quantity_id: str, value: float | None, uncertainty: float | None, bound: str | None = None) -> str:
    """A reading as the slip shows it: '19.3 W ± 1.0', 'at most 0.5 W', 'none'.

    `value` and `uncertainty` are in the quantity's own unit. The decimals follow the uncertainty."""
    unit = quantity(quantity_id).unit
    if value is None:
        return "no figure"
    signed = quantity_id in _SIGNED
    if bound is not None:
        return ("at most " if bound == "upper" else "at least ") + format_value(value, unit, figures=3)
    if not uncertainty:
        return format_value(value, unit, signed=signed)
    uncertainty = max(uncertainty, LEAST_HZ) if unit == "Hz" else uncertainty
    nothing = value == 0 and uncertainty > NOTHING_BELOW  # '0 V ± 0.5', and no millivolts of it
    factor, shown = (1.0, unit) if nothing else scaled_unit(max(abs(value), uncertainty), unit)
    decimals = _decimals_for(uncertainty / factor)
    if factor <= 1e3:  # of a frequency in MHz every hertz is wanted
        decimals = min(decimals, MOST_DECIMALS)
    rounded = round(value / factor, decimals) or 0.0  # no minus before a zero
    text = f"{rounded:{'+' if signed and rounded else ''}.{decimals}f}"
    if factor > 1e3 and uncertainty < factor / 1000:  # a carrier in MHz known to some hertz
        return f"{_with_unit(text, shown)} ± {format_value(uncertainty, unit, figures=2)}"
    if uncertainty / factor < 0.5 * 10**-decimals:
        return f"{_with_unit(text, shown)} ± under {10**-decimals:.{decimals}f}"
    return f"{_with_unit(text, shown)} ± {uncertainty / factor:.{decimals}f}"


def _with_unit(text: str, unit: str) -> str:
    text = text.replace("-", "\N{MINUS SIGN}")
    return text if unit == "1" else f"{text} {unit}"
