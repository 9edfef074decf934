"""Where a record was taken: under which chips of the slip its figures stand, and whether its carrier is on another
channel."""

from young_spark.core.analysis import Analysis, Mode
from young_spark.core.entry import EntryContext
from young_spark.core.figure import Conditions, format_value
from young_spark.core.ground import Frozen
from young_spark.core.judging import ChannelPlan

OF_THE_UNIT = ("mode", "channel", "frequency_hz", "power_setting", "state", "modulation", "tone_hz")


class SaidOfIt(Frozen):
    """What a person said of a record after it came in; `there` are the chips as they stood then."""

    there: Conditions
    mode: Mode | None = None
    lower_sideband: bool = False
    nominal_hz: float | None = None


def taken_at(said: SaidOfIt, context: EntryContext, now: Conditions) -> Conditions:
    """The chips of now, but those of the unit as they were where the record was taken, and as was said of it since."""
    there = said.there
    at = {name: chip for name in OF_THE_UNIT if (chip := getattr(there, name)) is not None}
    if said.mode is not None:
        at["mode"] = _mode_chip(said.mode, said.lower_sideband, there.mode)
    assigned = context.model_copy(update={"conditions": there}).assigned_hz()
    if said.nominal_hz is not None and said.nominal_hz != assigned:
        channel = context.channel_plan.on_channel(said.nominal_hz) if context.channel_plan else None
        at["channel"] = channel.number if channel else None
        at["frequency_hz"] = None if channel else said.nominal_hz
    return now.model_copy(update=at)


def _mode_chip(mode: Mode, lower_sideband: bool, chip: str | None) -> str:
    """A mode of analysis as the chip says it: two tones and a tone are read on one of the sidebands."""
    if mode not in {"ssb", "two-tone"}:
        return mode
    return "ssb" if chip == "ssb" else "lsb" if lower_sideband else "usb"


def of_another_channel(analysis: Analysis, nominal_hz: float | None, plan: ChannelPlan | None) -> str | None:
    """That the carrier of a record is not on the channel in Hz that it was handed in for, in words; None where it
    is, or is on none."""
    at = next((r.value for r in analysis.readings if r.quantity == "carrier_frequency" and r.bound is None), None)
    if at is None or plan is None or nominal_hz is None:
        return None
    here = plan.on_channel(at)
    if here is None or here == plan.on_channel(nominal_hz):
        return None
    return (
        f"{format_value(at, 'Hz')} is channel {here.number}, and it was handed in for "
        f"{format_value(nominal_hz, 'Hz')}: "
        "say its assigned frequency below, or leave its figures"
    )
