"""What a text says: readings at their addresses, on the ground of what the slip knows."""

from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import cast

from young_spark.core.entry.facts.fact import Fact, FigureRead
from young_spark.core.figure import QUANTITIES
from young_spark.core.gear import BANDS_M

MOST_OFF_HZ = 12.5e3  # from a frequency that is meant: half of what channels are apart
NEAR_A_CHANNEL_HZ = 2500.0
NEAR = 0.004  # of a channel or band: a frequency that is meant for it
ON_CHANNEL = 2e-4  # of a channel's frequency: a counter's figure that belongs to it
SAME_BAND = 0.08
COUNTED_ON_VHF, LEAST_VHF_MHZ, MOST_MHZ = 3, 100.0, 1300.0  # decimals, of frequencies that no volts look like
ONLY_COUNTED = 5  # decimals of a MHz that nothing but a counter shows
SHORT_WAVE_HZ = 30e6
LEAST_KHZ, MOST_KHZ = 1605.0, 29999.0
THE_SAME = 1e-9
RASTERS_HZ = (6250.0, 25e3 / 3)  # on which channels stand that nobody listed
SAID_OF_A_CHANNEL_HZ, SAID_HZ = 100.0, 10.0  # last digits that only a counter shows, of a channel and of any carrier
LEAST_COUNTED_HZ, OF_A_DIGIT = 1e6, 0.6
FARTHEST_COUNT_HZ = 4e3  # from where it should be; a set that is off by more is on another channel
READ_AGAIN = 3  # decimals of a count near what was read before
OF_A_RECEIVER = ("sensitivity_", "squelch_", "s_meter_", "minimum_discernible_signal", "readability")
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
    greatest_power_w: float | None = None
    last: tuple[str, float] | None = None  # the newest reading: its quantity and value
    rows_before: tuple[tuple[tuple[str, float], ...], ...] = ()  # what lines of late read at one place, newest first
    places_before: tuple[tuple[str, str], ...] = ()  # of one line: its quantity at several points, in their order
    channels_before: tuple[tuple[str, int], ...] = ()  # of one line: its quantity on several channels, in their order
    frequencies_before: tuple[tuple[str, float], ...] = ()  # of one line: the same at several frequencies in Hz
    newest_figures: tuple[FigureRead, ...] = ()  # as the newest line of readings was typed
    newest_words: str | None = None  # the kind of the newest line, where it is one of words without a figure
    powers: tuple["PowerRead", ...] = ()  # that were read before
    read_at: tuple[float, ...] = ()  # the frequencies in Hz that something was read at before, the newest last
    driven: tuple[float, float] | None = None  # the drive in W that was read just before, and where in Hz
    rippled: frozenset[str] = frozenset()  # places where ripple was what was read in volts last
    fed_v: float | None = None  # the volts of its supply as they were read last
    heard: tuple[tuple[str, dict[str, object]], ...] = ()  # sensitivities that were read, each with its mode and Hz
    sensitivity: str | None = None  # as which it was read last in the mode of the hand
    modes: tuple[str, ...] = ()
    lent: tuple[str, ...] = ()  # parts of the hand's address that only the current line asks for

    @property
    def wants(self) -> str | None:
        """The quantity that the current line wants."""
        return None if self.current is None else str(self.current["quantity"])

    def wants_in(self, *units: str) -> str | None:
        """What the current line wants, where it is of one of these units."""
        return self.wants if self.wants is not None and UNIT_OF.get(self.wants) in units else None

    @cached_property
    def frequencies(self) -> list[float]:
        """Every frequency that an open line is wanted at."""
        return [float(str(line["frequency_hz"])) for line in self.lines if "frequency_hz" in line]

    @property
    def is_fed_at_rest(self) -> bool:
        """Whether an open line wants what the unit draws at standby."""
        return any(line.get("quantity") == "supply_current" and line.get("state") == "standby" for line in self.lines)

    @property
    def current_mode(self) -> str | None:
        """The mode of the current line."""
        return None if self.current is None else cast("str | None", self.current.get("mode"))

    @property
    def mode_sent(self) -> str | None:
        """The mode of what is sent now; none where only a line for the receiver asks for one."""
        if "mode" in self.lent and (self.wants or "").startswith(OF_A_RECEIVER):
            return None
        return self.current_mode or cast("str | None", self.hand.get("mode"))

    @property
    def place_wanted(self) -> str | None:
        """The place that the current line asks for."""
        return None if self.current is None else cast("str | None", self.current.get("place"))

    @property
    def bands(self) -> set[int]:
        """The bands, in metres, that open lines are wanted in, and the channels where there is a plan."""
        of_lines = {m for m, hz in BANDS_M.items() if any(abs(f / hz - 1) < SAME_BAND for f in self.frequencies)}
        return of_lines | set(self.channel_hz)

    @property
    def assigned_hz(self) -> float | None:
        """The frequency where the hand stands."""
        channel = self.hand.get("channel")
        known = self.hand.get("frequency_hz") if channel is None else self.channel_hz.get(int(float(str(channel))))
        return None if known is None else float(str(known))

    def channel_at(self, hz: float) -> int | None:
        """The channel that a frequency lies on, if any."""
        return next((n for n, on in self.channel_hz.items() if abs(on - hz) < NEAR_A_CHANNEL_HZ), None)

    def state_meant(self, state: str) -> str:
        """A state as the plan knows it: 'key up' of a sender without a receiver is standby."""
        known = {line.get("state") for line in self.lines if line.get("quantity") == "supply_current"}
        resting = "standby" in known or (not known and self.high_voltage and self.wanted_at_all("drive_power"))
        return "standby" if state == "receive" and resting and "receive" not in known else state

    def wanted_mode_is(self, modes: set[str]) -> bool:
        """Whether the hand, or the current line, stands on one of these modes."""
        return (self.current_mode or self.hand.get("mode")) in modes

    def wanted_at_all(self, quantity: str) -> bool:
        """Whether any open line wants a quantity."""
        return any(line.get("quantity") == quantity for line in self.lines)

    def is_bare_power(self, items: list["Item"]) -> bool:
        """Whether figures without a unit can only be the power that is wanted."""
        return UNIT_OF.get(self.wants or "") == "W" and all(i.fact.unit is None for i in items)

    def frequency_of(self, hz: float, within: float = NEAR) -> float:
        """The frequency of the lines that is meant, or the one that was said."""
        near = (
            k for k in self.frequencies if abs(hz / k - 1) < within and (within > NEAR or abs(hz - k) < MOST_OFF_HZ)
        )
        return next(near, hz)

    def frequency_of_band(self, band: str) -> float:
        """Where the lines are wanted in a band of so many metres, or its middle."""
        return self.frequency_of(BANDS_M[int(band.rstrip("m"))], SAME_BAND)

    def as_kilohertz(self, fact: Fact) -> float | None:
        """A bare figure as kilohertz of the short waves in Hz, on a unit that may be for them: '2182'."""
        known = self.frequencies or self.read_at
        short_wave = not self.channel_hz and (not known or min(known) < SHORT_WAVE_HZ)
        bare = fact.unit is None and not fact.signed and fact.decimals <= 1
        return fact.value * 1e3 if short_wave and bare and LEAST_KHZ <= fact.value <= MOST_KHZ else None

    def in_hertz_if_counted(self, fact: Fact) -> Fact:
        """'27185.04': the kilohertz of a counter, where a carrier of the unit is so near; any other figure as it is."""
        bare = fact.unit is None and not fact.signed and fact.decimals > 0 and fact.value >= LEAST_KHZ
        known = (*self.channel_hz.values(), *self.frequencies, *self.read_at) if bare else ()
        if not any(abs(fact.value * 1e3 / hz - 1) < ON_CHANNEL for hz in known):
            return fact
        return replace(fact, unit="Hz", value=fact.value * 1e3, factor=fact.factor * 1e3)

    def is_a_count(self, fact: Fact) -> bool:
        """Whether a frequency is what a counter showed, and not where something was read: finer than a hand says one,
        and off a channel or a frequency of the unit by more than the last digit. Of a unit whose frequencies nobody
        listed: to ten hertz, and on no raster of channels."""
        if fact.unit not in {None, "Hz"} or fact.signed or (fact.unit is None and not fact.decimals):
            return False
        to_hertz = 1.0 if fact.unit == "Hz" else 1e6
        hz, digit_hz = fact.value * to_hertz, fact.step * to_hertz
        if hz < LEAST_COUNTED_HZ or digit_hz > 1.01 * (SAID_OF_A_CHANNEL_HZ if self.channel_hz else SAID_HZ):
            return False
        off = min((abs(hz - known) for known in (*self.channel_hz.values(), *self.frequencies)), default=hz)
        if off < FARTHEST_COUNT_HZ:
            return off > OF_A_DIGIT * digit_hz
        tuned_there = not self.channel_hz and off < SAME_BAND * hz  # '14.20500 98w' of a set that is wanted at 14.2 MHz
        on_a_raster = any(abs(hz - step * round(hz / step)) < OF_A_DIGIT * digit_hz for step in RASTERS_HZ)
        return digit_hz <= 1.01 * SAID_HZ and not (tuned_there or on_a_raster)

    def is_planned_megahertz(self, fact: Fact) -> bool:
        """Whether a figure is exactly where an open line is wanted, in MHz as a hand says it: '14.2', '14.2 MHz'."""
        hz = fact.value if fact.unit == "Hz" else fact.value * 1e6
        said = fact.unit in {None, "Hz"} and not fact.signed and 0 < fact.decimals < READ_AGAIN
        return said and any(abs(hz - known) < 1 for known in self.frequencies)

    def as_carrier(self, fact: Fact) -> float | None:
        """A figure as the frequency of a carrier in Hz, where it can be one."""
        if fact.unit in {"Hz", "k"}:
            return fact.value if fact.value >= 1e5 else None
        if fact.unit == "m":
            return fact.value * 1e6 if fact.value >= 0.1 else None
        if fact.unit is not None or fact.signed or not fact.decimals:
            return None
        hz = fact.value * 1e6
        vhf = fact.decimals >= COUNTED_ON_VHF and LEAST_VHF_MHZ < fact.value < MOST_MHZ
        if vhf or (fact.decimals >= ONLY_COUNTED and 1 < fact.value < MOST_MHZ):
            return hz
        return hz if self._is_known(hz, fact.decimals) else None

    def _is_known(self, hz: float, decimals: int) -> bool:
        """Whether a frequency with so many decimals of a MHz is on a channel, or near what is wanted or was read."""
        if any(abs(hz / known - 1) < NEAR for known in self.frequencies):
            return True
        if any(abs(hz / known - 1) < THE_SAME for known in self.read_at):
            return True
        counted = (*self.channel_hz.values(), *self.read_at) if decimals >= READ_AGAIN else ()
        return any(abs(hz / known - 1) < ON_CHANNEL for known in counted)


@dataclass(frozen=True)
class PowerRead:
    """A power that was read before: its quantity, how many watts, and where."""

    quantity: str
    value: float
    at: dict[str, object]


AS_WANTED = "as wanted"  # the mark of a figure that only the current line says the quantity of


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
    inputs: tuple[int, ...] = ()  # positions in the breath of those that it follows from
    typed: Fact | None = None  # the figure as it was read, where its sum needs that: dBm behind pads, volts on a scope
    step: float = 0.0  # the last digit that was typed, in the quantity's unit
    lent: bool = False  # its place is where the hand was last, and nobody said it here
    named: bool = False  # a word of the text says which quantity it is
    in_its_unit: bool = False  # the figure carries a unit
    where_added: bool = False  # the text says no channel, band or frequency for it
    leans: bool = False  # neither a word nor a unit says which quantity it is: the slip does
    as_wanted: bool = False  # and only because its current line wants that
    signed: bool = False  # it was typed with a sign
    at: int = field(default=-1, compare=False)  # where the figure stands among the facts
    led_by: str = ""  # the quantity whose name stands directly before the figure
    address: dict[str, object] = field(default_factory=dict)


@dataclass(frozen=True)
class Breath:
    """What was said in one breath. `sure` is false where a fact was not explained."""

    said: tuple[Said, ...] = ()
    remark: str = ""
    sure: bool = True
    in_rows: bool = False  # rows of figures that belong together by pairs


@dataclass
class Item:
    """A figure on its way to become a reading."""

    fact: Fact
    at: int
    quantity: str | None = None
    address: dict[str, object] = field(default_factory=dict)
    bound: str | None = None
    about: bool = False
    by_sign: bool = False  # the bound was written '<' or '>'
    side: str | None = None
    form: str | None = None
    is_rf: bool = False
    upper: Fact | None = None  # the other end of a range
    used: bool = False
    clause: int = 0  # between commas: which of them it stands in
    noise: bool = False  # it is in the noise: at most that
    result: str | None = None  # that was said beside the figure: 'low'
    marks: set[str] = field(default_factory=set)  # emf, pep: words for the figure itself
    besides: dict[str, Fact] = field(default_factory=dict)  # marked, due: figures that belong to it
