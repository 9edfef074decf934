"""What a text says: readings at their addresses, on the ground of what the slip knows."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from young_spark.core.entry.facts import BANDS_M, Fact
from young_spark.core.figure import QUANTITIES

NEAR = 0.004  # of a channel or band: a frequency that is meant for it
ON_CHANNEL = 2e-4  # of a channel's frequency: a counter's figure that belongs to it
SAME_BAND = 0.08
UNIT_OF = {q.id: q.unit for q in QUANTITIES.values()}


@dataclass(frozen=True)
class Ground:
    """What is known besides the text: the open lines (quantity and address each), the current one of them, and where
    the hand was last."""

    lines: tuple[dict[str, object], ...] = ()
    current: dict[str, object] | None = None
    hand: dict[str, object] = field(default_factory=dict)
    channel_hz: dict[int, float] = field(default_factory=dict)
    power_settings: tuple[str, ...] = ()
    high_voltage: bool = False
    modes: tuple[str, ...] = ()

    @property
    def wants(self) -> str | None:
        """The quantity that the current line wants."""
        return None if self.current is None else str(self.current["quantity"])

    def wants_in(self, *units: str) -> str | None:
        """What the current line wants, where it is of one of these units."""
        return self.wants if self.wants is not None and UNIT_OF.get(self.wants) in units else None

    @property
    def frequencies(self) -> list[float]:
        """Every frequency that an open line is wanted at."""
        return [float(str(line["frequency_hz"])) for line in self.lines if "frequency_hz" in line]

    def frequency_of(self, hz: float, within: float = NEAR) -> float:
        """The frequency of the lines that is meant, or the one that was said."""
        return next((known for known in self.frequencies if abs(hz / known - 1) < within), hz)

    def frequency_of_band(self, band: str) -> float:
        """Where the lines are wanted in a band, or its middle."""
        return self.frequency_of(BANDS_M[int(band.rstrip("m"))], SAME_BAND)

    def as_carrier(self, fact: Fact) -> float | None:
        """A figure as the frequency of a carrier in Hz, where it can be one."""
        if fact.unit == "Hz":
            return fact.value if fact.value >= 1e5 else None
        if fact.unit == "m":
            return fact.value * 1e6 if fact.value >= 0.1 else None
        if fact.unit is not None or fact.signed or not fact.decimals:
            return None
        hz = fact.value * 1e6
        on_channel = fact.decimals >= 3 and any(abs(hz / c - 1) < ON_CHANNEL for c in self.channel_hz.values())
        return hz if on_channel or any(abs(hz / known - 1) < NEAR for known in self.frequencies) else None


@dataclass(frozen=True)
class Said:
    """One reading that a text says: a figure (or a range, or a result) of a quantity, at an address."""

    quantity: str | None
    value: float | None = None
    low: float | None = None
    high: float | None = None
    unit: str = ""
    result: str | None = None
    bound: str | None = None
    about: bool = False
    derived: bool = False
    address: dict[str, object] = field(default_factory=dict)


@dataclass(frozen=True)
class Breath:
    """What was said in one breath. `sure` is false where a fact was not explained."""

    said: tuple[Said, ...] = ()
    remark: str = ""
    sure: bool = True


@dataclass
class Item:
    """A figure on its way to become a reading."""

    fact: Fact
    at: int
    quantity: str | None = None
    address: dict[str, object] = field(default_factory=dict)
    bound: str | None = None
    about: bool = False
    side: str | None = None
    form: str | None = None
    is_rf: bool = False
    upper: Fact | None = None  # the other end of a range
    used: bool = False


def follows_from(said: list[Said], ground: Ground) -> list[Said]:
    """What follows from figures of the same breath: SWR, gain, hysteresis, depth from both peaks, the error of a
    counted carrier."""
    by = {s.quantity: s for s in said if s.value is not None and s.bound is None}
    made = [derived for s in said if (derived := _error_of(s, ground)) is not None]
    for quantity, (first, second) in PAIRS.items():
        if quantity in by or first not in by or second not in by:
            continue
        one, two = float(by[first].value or 0.0), float(by[second].value or 0.0)
        if one > 0 or quantity == "squelch_hysteresis":
            value = SUMS[quantity](one, two)
            made.append(replace(by[second], quantity=quantity, value=value, unit=UNIT_OF[quantity], derived=True))
    return made


def _error_of(said: Said, ground: Ground) -> Said | None:
    if said.quantity != "carrier_frequency" or said.value is None:
        return None
    channel = said.address.get("channel")
    due = ground.channel_hz.get(int(float(str(channel)))) if channel is not None else said.address.get("frequency_hz")
    if due is None or abs(said.value / float(str(due)) - 1) > ON_CHANNEL:
        return None
    return replace(said, quantity="frequency_error", value=said.value - float(str(due)), unit="Hz", derived=True)


def swr_of(forward_w: float, reflected_w: float) -> float:
    """SWR = (1 + √(Pr/Pf)) / (1 − √(Pr/Pf)); as much as a meter can show where all comes back."""
    root = math.sqrt(min(max(reflected_w, 0.0) / forward_w, 0.998))
    return (1 + root) / (1 - root)


def gain_of(drive_w: float, output_w: float) -> float:
    """Gain in dB."""
    return 10 * math.log10(max(output_w, 1e-12) / drive_w)


PAIRS = {
    "swr": ("forward_power", "reflected_power"),
    "gain": ("drive_power", "carrier_power"),
    "squelch_hysteresis": ("squelch_open", "squelch_close"),
    "am_depth": ("am_depth_positive", "am_depth_negative"),
    "fm_deviation": ("fm_deviation_positive", "fm_deviation_negative"),
}
SUMS: dict[str, Callable[[float, float], float]] = {
    "swr": swr_of,
    "gain": gain_of,
    "squelch_hysteresis": lambda opens, closes: opens - closes,
    "am_depth": lambda crest, trough: (crest + trough) / 2,
    "fm_deviation": max,
}
