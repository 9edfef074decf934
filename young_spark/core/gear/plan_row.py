"""One line of a plan: a figure that is wanted, where, and what is due there."""

from typing import Literal

from young_spark.core.figure import Conditions, Phase
from young_spark.core.ground import Frozen

# what is due of these without a setting is due at full power
AT_FULL_POWER = frozenset({"carrier_power", "peak_envelope_power", "mean_power", "supply_current"})
SAME_BAND = 0.05
OF_THE_POINT = ("mode", "channel", "frequency_hz", "power_setting", "supply_v", "state", "modulation")


class PlanRow(Frozen):
    """One figure the plan wants, and where: `expected` is the maker's own figure, in the quantity's unit."""

    id: str
    quantity: str
    ask: str
    mode: str | None = None
    channel: int | None = None
    frequency_hz: float | None = None
    within: float = SAME_BAND  # of that frequency: a figure that was read so near to it is at this point
    power_setting: str | None = None
    supply_v: float | None = None
    state: Literal["standby", "receive", "transmit"] | None = None
    modulation: Literal["on", "off"] | None = None
    instrument: Literal["own_meter"] | None = None  # read there only, whatever else is connected
    first_power: bool = False
    phases: tuple[Phase, ...] = ("as_received", "as_left")
    expected: float | None = None
    caution: str | None = None

    def conditions(self, base: Conditions) -> Conditions:
        """The chips as this row wants them, over what is set already."""
        wanted = {name: value for name in OF_THE_POINT if (value := getattr(self, name)) is not None}
        if self.channel is not None and self.frequency_hz is None:
            wanted["frequency_hz"] = None  # the channel plan says
        if self.instrument is not None:
            wanted["instrument"] = self.instrument
        return base.model_copy(update=wanted)

    def under(self, by_hand: Conditions) -> Conditions:
        """The chips that a figure of this row is taken under: what the hand set stands, the row's own point fills
        the rest."""
        names = set(OF_THE_POINT) & by_hand.model_fields_set
        return self.conditions(by_hand).model_copy(update={name: getattr(by_hand, name) for name in names})

    def left_behind(self, conditions: Conditions) -> Conditions:
        """The chips without what only this row set."""
        return conditions.model_copy(
            update={
                n: None
                for n in OF_THE_POINT
                if getattr(self, n) is not None and getattr(conditions, n) == getattr(self, n)
            }
        )
