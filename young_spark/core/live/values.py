"""Values that instruments hand over by themselves: their names, when they stand still, and how they read as a text."""

import math
from collections.abc import Mapping, Sequence
from typing import Literal

from young_spark.core.ground import Frozen

LiveName = Literal[
    "power", "reflected", "pep", "frequency", "depth", "deviation", "volts", "amps",
    "drive", "drive_reflected", "plate_volts", "plate_amps", "grid_amps", "level", "sinad",
]  # fmt: skip
LIVE_QUANTITIES: dict[LiveName, str] = {
    "power": "carrier_power",
    "reflected": "reflected_power",
    "pep": "peak_envelope_power",
    "frequency": "carrier_frequency",
    "depth": "am_depth",
    "deviation": "fm_deviation",
    "volts": "supply_voltage",
    "amps": "supply_current",
    "drive": "drive_power",
    "drive_reflected": "reflected_power",
    "plate_volts": "plate_voltage",
    "plate_amps": "plate_current",
    "grid_amps": "grid_current",
    "level": "rf_level",
    "sinad": "sinad",
}
# which live values a quantity of the plan is made of; the first decides when it stands still
SOURCES: dict[str, tuple[LiveName, ...]] = {
    "carrier_power": ("power",),
    "frequency_error": ("frequency",),
    "carrier_frequency": ("frequency",),
    "supply_current": ("amps",),
    "supply_voltage": ("volts",),
    "am_depth": ("depth",),
    "fm_deviation": ("deviation",),
    "peak_envelope_power": ("pep",),
    "swr": ("power", "reflected"),
    "forward_power": ("power",),
    "reflected_power": ("reflected",),
    "drive_power": ("drive",),
    "input_swr": ("drive", "drive_reflected"),
    "plate_voltage": ("plate_volts",),
    "plate_current": ("plate_amps",),
    "grid_current": ("grid_amps",),
    "sensitivity_12db_sinad": ("level", "sinad"),
    "sinad": ("sinad", "level"),
    "squelch_open": ("level",),
    "squelch_close": ("level",),
    "s_meter_reference": ("level",),
}
OF_A_LEVEL = {
    "sensitivity_12db_sinad": "sens {level:.1f}dbm 12db sinad",
    "sinad": "sinad {sinad:.1f}db at {level:.1f}dbm",
    "squelch_open": "squelch opens {level:.1f}dbm",
    "squelch_close": "squelch closes {level:.1f}dbm",
    "s_meter_reference": "s9 at {level:.1f}dbm",
}  # of a receiver, with the generator's level at its socket
BACK_OF: dict[str, LiveName] = {"swr": "reflected", "input_swr": "drive_reflected"}  # what comes back, of a ratio

# a rule of the trade (five readings over half a second); `./spark bench --only capture` prints what is missed and what
# is taken wrongly
FEWEST = 5
SHORTEST_S = 0.5
SHARE = 0.005  # a reading may move by this share besides the instrument's own scatter
FREQUENCY_SHARE = 1e-6  # half a per cent of a frequency would be another band

# below these a modulation meter sees only its own noise; above the second pair somebody whistles
QUIET_DEPTH, QUIET_DEVIATION_HZ, QUIET_CREST = 2.0, 100.0, 1.06
LOUD_DEPTH, LOUD_DEVIATION_HZ = 10.0, 300.0


class Sample(Frozen):
    """One value as an instrument gave it; `asked` and `at` in s on one clock: when it was asked, when it answered."""

    asked: float
    at: float
    value: float


class Steady(Frozen):
    """A value that stands still: mean, largest distance from it, slope in its unit per second."""

    value: float
    scatter: float
    slope_per_s: float
    count: int
    seconds: float


def is_nothing(value: float | None, floor: float) -> bool:
    """Whether a value is no more than what its instrument shows of nothing; `floor` in the value's own unit, as its
    definition says."""
    return value is None or value <= floor


def is_there(value: float | None, floor: float) -> bool:
    """Whether a value is enough to be believed for a carrier, or for a supply that is on: twice the floor, so that an
    instrument that breathes about its floor keys nothing."""
    return value is not None and value > 2 * floor


def tolerance(name: LiveName, value: float, scatter: float) -> float:
    """How far a steady value may be from its mean, in its own unit; `scatter` is the instrument's own."""
    return scatter + (FREQUENCY_SHARE if name == "frequency" else SHARE) * abs(value)


def newest_window(samples: Sequence[Sample]) -> tuple[Sample, ...]:
    """The shortest run of newest samples that is long enough to judge: five of them, over half a second; else none."""
    for first in range(len(samples) - FEWEST, -1, -1):
        if samples[-1].at - samples[first].at >= SHORTEST_S:
            return tuple(samples[first:])
    return ()


def steady(name: LiveName, samples: Sequence[Sample], scatter: float) -> Steady | None:
    """The newest value if it stands still, else None."""
    window = newest_window(samples)
    if not window:
        return None
    mean = sum(s.value for s in window) / len(window)
    farthest = max(abs(s.value - mean) for s in window)
    if farthest > tolerance(name, mean, scatter):
        return None
    middle = sum(s.at for s in window) / len(window)
    spread = sum((s.at - middle) ** 2 for s in window)
    slope = sum((s.at - middle) * (s.value - mean) for s in window) / spread
    return Steady(
        value=mean, scatter=farthest, slope_per_s=slope, count=len(window), seconds=window[-1].at - window[0].at
    )


def is_quiet(name: LiveName, value: float) -> bool | None:
    """Whether a value shows that nothing modulates; None where it says nothing about modulation.

    For `pep` the value is its ratio to the mean power: 1 on a bare carrier."""
    limits = {"depth": QUIET_DEPTH, "deviation": QUIET_DEVIATION_HZ, "pep": QUIET_CREST}
    return value <= limits[name] if name in limits else None


def is_loud(quantity: str, value: float) -> bool:
    """Whether a depth (%) or deviation (Hz) is that of a tone and not of noise."""
    return value >= (LOUD_DEVIATION_HZ if quantity == "fm_deviation" else LOUD_DEPTH)


def captured_text(quantity: str, values: Mapping[LiveName, float], state: str | None = None) -> str:
    """A captured reading as a hand would have typed it; raises KeyError for a quantity no live value makes."""
    value = values[SOURCES[quantity][0]]
    if quantity == "supply_current":
        word = {"transmit": "tx", "receive": "rx", "standby": "standby"}.get(state or "", "current")
        return f"{word} {value:.4g}a"
    if quantity in OF_A_LEVEL:
        return OF_A_LEVEL[quantity].format(level=values["level"], sinad=values.get("sinad", 0.0))
    if quantity in BACK_OF:
        return f"{'input ' if quantity == 'input_swr' else ''}swr {value:.4g}/{values[BACK_OF[quantity]]:.3g}w"
    return {
        "drive_power": f"drive {value:.4g}w",
        "plate_voltage": f"plate {value:.4g}v",
        "plate_current": f"ip {1e3 * value:.4g}ma",
        "grid_current": f"ig {1e3 * value:.4g}ma",
        "carrier_power": f"{value:.4g}w",
        "forward_power": f"fwd {value:.4g}w",
        "reflected_power": f"ref {value:.4g}w",
        "peak_envelope_power": f"pep {value:.4g}w",
        "frequency_error": f"{value / 1e6:.6f}M",
        "carrier_frequency": f"{value / 1e6:.6f}M",
        "supply_voltage": f"supply {value:.4g}v",
        "am_depth": f"mod {value:.3g}%",
        "fm_deviation": f"dev {value / 1e3:.4g}k",
    }[quantity]


def captured_figure(quantity: str, values: Mapping[LiveName, float]) -> str:
    """A captured figure as a hand types it behind words that name its quantity; raises KeyError for a quantity that no
    live value makes."""
    value = values[SOURCES[quantity][0]]
    if quantity in BACK_OF:
        return f"{value:.4g}/{values[BACK_OF[quantity]]:.3g}w"
    return {
        "plate_voltage": f"{value:.4g}v",
        "plate_current": f"{1e3 * value:.4g}ma",
        "grid_current": f"{1e3 * value:.4g}ma",
        "supply_current": f"{value:.4g}a",
        "supply_voltage": f"{value:.4g}v",
        "frequency_error": f"{value / 1e6:.6f}M",
        "carrier_frequency": f"{value / 1e6:.6f}M",
        "am_depth": f"{value:.3g}%",
        "fm_deviation": f"{value / 1e3:.4g}k",
    }.get(quantity, f"{value:.4g}w")


STUDENT_95 = {4: 2.78, 5: 2.57, 6: 2.45, 7: 2.36, 8: 2.31, 9: 2.26}  # by degrees of freedom


def repeat_half_width(steady_value: Steady) -> float:
    """95 % half-width, in its unit, of the mean of a steady value by its own scatter (GUM 4.2.3, Student's t). The
    largest distance from the mean stands for the standard deviation, which it exceeds."""
    return STUDENT_95.get(steady_value.count - 1, 2.2) * steady_value.scatter / math.sqrt(steady_value.count)


def steadiness_words(steady_value: Steady, unit: str) -> str:
    """What stood still, in words for the working: 'mean of 6 over 0.6 s, falling 0.02 W a second'."""
    words = f"mean of {steady_value.count} over {steady_value.seconds:.1f} s"
    moved = abs(steady_value.slope_per_s) * steady_value.seconds
    if moved > 0.2 * steady_value.scatter and abs(steady_value.slope_per_s) > 0:
        words += (
            f", {'rising' if steady_value.slope_per_s > 0 else 'falling'} "
            f"{abs(steady_value.slope_per_s):.2g} {unit} a second"
        )
    return words
