"""Channel plans: number to frequency and back, with the error."""

from young_spark.core.ground import Frozen, OutOfDomain, shipped


class Channel(Frozen):
    """One channel: `hz` is the assigned carrier frequency."""

    number: int
    hz: float
    allowed: bool = True
    remark: str = ""


class ChannelPlan(Frozen):
    """A list of channels with where it comes from."""

    title: str
    source: str
    reach_hz: float  # farther than this from every channel is on none
    channels: tuple[Channel, ...]

    def by_number(self, number: int) -> Channel:
        """The channel of that number; raises OutOfDomain for one the plan has not."""
        for channel in self.channels:
            if channel.number == number:
                return channel
        numbers = [c.number for c in self.channels]
        raise OutOfDomain("channel", number, "", f"{min(numbers)} to {max(numbers)} in {self.title}")

    def nearest(self, hz: float) -> tuple[Channel, float]:
        """The channel nearest to a frequency in Hz, and the error in Hz from it."""
        channel = min(self.channels, key=lambda c: abs(c.hz - hz))
        return channel, hz - channel.hz

    def on_channel(self, hz: float) -> Channel | None:
        """The channel a frequency in Hz belongs to, or None when it is on no channel."""
        channel, error = self.nearest(hz)
        return channel if abs(error) <= self.reach_hz else None


def channel_plans() -> dict[str, ChannelPlan]:
    """The shipped plans by id."""
    return shipped("channels", ChannelPlan)
