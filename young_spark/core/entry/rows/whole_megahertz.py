"""Where something was read in whole megahertz of metric waves: 'mod 85% at 118, 82 at 136', 'gain 18db at 145'. Behind
'at' or 'on', in a service that the unit may work in, and more than it has watts, such a figure is nothing else."""

import re

from young_spark.core.entry.facts.said import Ground
from young_spark.core.entry.rows.megahertz_in_front import SERVICES_MHZ

_AT = re.compile(r"(?<=\d|[a-z%]) (?P<link>at|on|@) (?P<mhz>[1-9]\d\d)(?=$|[,;)])")
_OTHER = re.compile(r"\b(?:ht|hv|b\+|plate|screen|fuse|pin|page|line|bias|knob|gain (?:set|knob|control)|drive)\b")


def whole_megahertz(plain: str, ground: Ground) -> str:
    """A folded text with each of them in MHz; as it was typed for a unit with channels or high tension, or where one of
    them lies in no such service."""
    found = list(_AT.finditer(plain))
    if not found or ground.channel_hz or ground.high_voltage or _OTHER.search(plain):
        return plain
    if not all(_may_be_there(one, ground) for one in found):
        return plain
    return _AT.sub(r" \g<link> \g<mhz>mhz", plain)


def _may_be_there(found: re.Match[str], ground: Ground) -> bool:
    """Whether it lies in such a service; more than the watts of the unit, unless no watts lead to what was read."""
    mhz, most = float(found["mhz"]), ground.greatest_power_w
    no_watts = _NO_WATTS.search(found.string[: found.start()]) is not None
    return (no_watts or most is None or mhz > most) and any(low <= mhz <= high for low, high in SERVICES_MHZ)


_NO_WATTS = re.compile(r"\d ?(?:db|uv|%)$")
