"""Bare kilohertz of short waves that say where the figures behind them were read: '2182 usb pep 118, 4125 120'."""

import re

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.said import Ground

BARE = re.compile(
    r"(?<![\w.,+-])(?P<khz>\d{4,5})(?![\d.,\w]| ?(?:v|w|ma|a|k|r|hz|khz|ohms?|pf|nf|uv|volts)\b)(?=:? \S)"
)
LEAST_IN_A_ROW = 2
THE_SAME = 1e-6


def kilohertz_said(plain: str, ground: Ground) -> str:
    """A folded text with such figures written as what they are: two of them at least, or one at which something was
    read before. Gear with high tension has volts of that size, and gear with channels is on these."""
    found = [] if ground.high_voltage or ground.channel_hz else list(BARE.finditer(plain))
    known = [one for one in found if ground.as_kilohertz(cut(one["khz"])[0]) is not None]
    distinct = len({one["khz"] for one in known}) == len(known) >= LEAST_IN_A_ROW
    if not known or not (distinct or all(_was_read_at(one["khz"], ground) for one in known)):
        return plain
    marked = {one.start() for one in known}
    return BARE.sub(lambda one: f"{one['khz']}khz" if one.start() in marked else one[0], plain)


def _was_read_at(khz: str, ground: Ground) -> bool:
    return any(abs(float(khz) * 1e3 / hz - 1) < THE_SAME for hz in ground.read_at)
