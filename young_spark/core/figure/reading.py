"""What a reading is: a figure with how, where and under what conditions it was taken."""

import math
from typing import Literal

from pydantic import Field

from young_spark.core.figure.quantities import quantity
from young_spark.core.figure.uncertainty import Spread
from young_spark.core.ground import Frozen

Phase = Literal["as_received", "in_work", "as_left"]
Detector = Literal[
    "peak", "true_mean", "average_envelope", "average", "unknown"
]  # average: that position of the meter's switch, which does not say what it averages
Result = Literal[
    "none", "dead", "weak", "low", "high", "ok", "bad", "open", "short", "over_range", "no_rise"
]  # in words: no figure, or a word beside one
ReadAs = Literal["nothing", "needle"]  # nothing was seen, so a bound at most; a needle on the scale of an element
Reason = Literal["not_supported", "invalid_conditions", "infinite", "not_measured"]


class Accuracy(Frozen):
    """How far one function of an instrument may be out; every figure given is a hard bound."""

    percent_of_full_scale: float = 0.0
    percent_of_reading: float = 0.0
    absolute: float = 0.0  # in the function's own unit
    ppm: float = 0.0
    db: float = 0.0
    digital: bool = False  # the last digit typed is a doubt of its own
    floor: float | None = None  # smallest thing it shows, in the function's own unit
    floor_percent_of_full_scale: float | None = None


class Instrument(Frozen):
    """An instrument, or the class default that stands in until one is named."""

    id: str
    name: str
    kind: str  # its class: wattmeter, counter, scope, …
    functions: dict[str, Accuracy]
    detector: Detector = "unknown"
    elements_w: tuple[float, ...] = ()
    directivity_db: float | None = None
    indication_only: bool = False
    typical: bool = True
    overdue: bool = False  # calibration date has passed
    cold: bool = False  # on for less than its warm-up
    drifted: bool = False  # outside its own accuracy at the last check against the shop's standard


AERIAL = "aerial"  # the item that a reading is of, where the unit is only what feeds it


class Conditions(Frozen):
    """What stays the same from line to line: the chips beside the field."""

    instrument: str | None = None
    element_w: float | None = None
    reflected_element_w: float | None = None
    multiplier: float = 1.0
    pad_db: float = 0.0
    pad_bound_db: float | None = None  # how well the pad is known; None: a typical 0.2 dB
    path: str | None = Field(None, max_length=2000)  # what made the pad up, where the path of the bench did
    detector: Detector | None = None
    channel: int | None = None
    frequency_hz: float | None = None  # assigned frequency
    mode: str | None = None
    power_setting: str | None = None
    supply_v: float | None = None
    covers: Literal["on", "off"] | None = None
    configuration: str | None = None  # "shop valves", "own microphone"; None: as it leaves
    modulation: Literal["on", "off"] | None = None
    tone_hz: float | None = None
    state: Literal["standby", "receive", "transmit", "off"] | None = None
    place: str | None = Field(None, max_length=60)  # a part, a pin, a test point: "Q7 base"
    item: str | None = Field(None, max_length=60)  # "aerial", "load": what it was read at besides the unit
    heat: Literal["cold", "warm", "hot"] | None = None
    after_s: float | None = None  # of keying
    audio: str | None = Field(None, max_length=20)  # whistle, voice, tone, two tones
    load_ohm: float | None = None  # that audio was read into
    test_v: float | None = None  # that insulation was tested with
    form: Literal["pp", "peak", "rms", "ac"] | None = None  # of volts that alternate
    marked: float | None = None  # what is printed on a part, in the quantity's unit
    due: float | None = None  # what it should be, as the hand said, or
    due_at_most: bool | None = None  # what it should not exceed, or
    due_at_least: bool | None = None  # not fall short of, or
    due_to: float | None = None  # the upper end, where `due` is the lower
    channels: str | None = Field(None, max_length=20)  # several at once: "1-40"
    band: str | None = Field(None, max_length=20)  # said without a frequency: "vhf", "low band"
    setting: str | None = Field(None, max_length=60)  # where a control stood: "mic gain max"
    function: str | None = Field(None, max_length=20)  # of the unit, that a result is of: "receive", "squelch"
    direction: Literal["forward", "reverse"] | None = None  # of a junction
    input_dbm: float | None = None  # the level that a receiver was given
    input_v: float | None = None  # the audio that a sender was given
    over_db: float | None = None  # over S9
    at_db: float | None = None  # down, where a width was read


class Measured(Frozen):
    """One figure as the core worked it out; `value` is in `unit`, the quantity's own.

    `uncertainty` is the half-width of the 95 % interval; `interval` is given where its arms differ.
    A bound has no uncertainty; without a value there is a `reason`."""

    quantity: str
    value: float | None
    unit: str
    uncertainty: float | None = None
    interval: tuple[float, float] | None = None
    ends: tuple[float, float] | None = None  # of a figure that bounces
    bound: Literal["upper", "lower"] | None = None
    reason: Reason | None = None
    at_hz: float | None = None
    method: str
    working: str
    remarks: tuple[str, ...] = ()
    not_judged: str | None = None  # why no limit may be held against it
    read_as: ReadAs | None = None
    result: Result | None = None

    def widened(self, half_width: float) -> "Measured":
        """The same figure with one more independent doubt, its 95 % half-width in the figure's own unit."""
        if self.uncertainty is None or half_width == 0:
            return self
        wider = self.model_copy(update={"uncertainty": math.hypot(self.uncertainty, half_width)})
        if self.interval is None or self.value is None:
            return wider
        below, above = self.value - self.interval[0], self.interval[1] - self.value
        ends = (self.value - math.hypot(below, half_width), self.value + math.hypot(above, half_width))
        return wider.model_copy(update={"interval": ends})

    @property
    def arms(self) -> tuple[float, float] | None:
        """Lengths (below, above) of the 95 % interval, or None where nothing is known of it."""
        if self.value is None or self.uncertainty is None:
            return None
        if self.interval is None:
            return self.uncertainty, self.uncertainty
        return self.value - self.interval[0], self.interval[1] - self.value


def measured(
    quantity_id: str,
    spread: Spread,
    *,
    method: str,
    working: str,
    remarks: tuple[str, ...] = (),
    at_hz: float | None = None,
    known: bool = True,
    read_as: ReadAs | None = None,
) -> Measured:
    """A Measured from a propagated spread; `known=False` when no term of doubt could be named."""
    return Measured(
        quantity=quantity_id,
        value=spread.value,
        unit=quantity(quantity_id).unit,
        uncertainty=spread.uncertainty if known else None,
        interval=spread.interval if known and spread.lopsided else None,
        method=method,
        working=working,
        remarks=remarks if known else (*remarks, "no accuracy is known for this instrument, so no spread"),
        at_hz=at_hz,
        read_as=read_as,
    )
