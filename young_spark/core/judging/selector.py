"""The channel selector of a modified unit: position to real frequency, and whether that may be transmitted on."""

import re
from collections.abc import Sequence

from young_spark.core.ground import CoreError
from young_spark.core.judging.channels import Channel, ChannelPlan

POSITION = re.compile(r"(\d{1,4})\s*[:=→]?\s+(\d+(?:[.,]\d+)?)(?:\s*MHz)?", re.IGNORECASE)
LOWEST_MHZ, HIGHEST_MHZ = 0.01, 10_000.0
ON_NO_CHANNEL = "on no channel of {plan}"


class BadSelector(CoreError):
    """A selector map that is not understood; names the line."""

    code = "bad_selector"


def read_selector(text: str) -> tuple[tuple[int, float], ...]:
    """(position, Hz) of each line: '41 27.415' in MHz. Raises BadSelector with the line that is not understood."""
    positions: dict[int, float] = {}
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        match = POSITION.fullmatch(line.strip())
        if match is None:
            raise BadSelector(
                f"line {number} of the selector: {line.strip()[:40]!r}; a position and its MHz: 41 27.415"
            )
        position, mhz = int(match[1]), float(match[2].replace(",", "."))
        if not LOWEST_MHZ <= mhz <= HIGHEST_MHZ:
            raise BadSelector(f"line {number} of the selector: {mhz:g} MHz; expected {LOWEST_MHZ:g} to {HIGHEST_MHZ:g}")
        if position in positions:
            raise BadSelector(f"line {number} of the selector: position {position} stands there twice")
        positions[position] = mhz * 1e6
    return tuple(positions.items())


def mapped(plan: ChannelPlan | None, selector: Sequence[tuple[int, float]]) -> ChannelPlan | None:
    """The plan as this unit's selector has it. A position that the map names is where the map says, allowed only on an
    allowed channel of the plan; the other positions are as in the plan."""
    if not selector:
        return plan
    own = [Channel(number=position, hz=hz, **_may(plan, hz)) for position, hz in selector]
    named = {channel.number for channel in own}
    rest = [channel for channel in plan.channels if channel.number not in named] if plan is not None else []
    return ChannelPlan(
        title=f"{plan.title}, as this selector is mapped" if plan is not None else "selector as mapped",
        source=plan.source if plan is not None else "as mapped",
        reach_hz=plan.reach_hz if plan is not None else 5000.0,
        channels=tuple(sorted((*own, *rest), key=lambda channel: channel.number)),
    )


def _may(plan: ChannelPlan | None, hz: float) -> dict[str, object]:
    if plan is None:
        return {"remark": "no channel plan to hold it against"}
    channel = plan.on_channel(hz)
    if channel is None:
        return {"allowed": False, "remark": ON_NO_CHANNEL.format(plan=plan.title)}
    place = f"channel {channel.number}"
    return {"allowed": channel.allowed, "remark": f"{place}: {channel.remark}" if channel.remark else place}
