"""Harmonics that are named by where they were found: 'harm 2592 -48' on 1296 MHz is the second, '54.37 -60dbc' on
27.185 MHz. They are written by their number, which is what limits and plans know them by."""

import re

from young_spark.core.entry.facts.said import Ground

LED = re.compile(r"^(?:the )?(?:harm(?:onic)?s?|harms)(?: at| on)?:? (?=\d)")
AT = re.compile(r"(?<![\w.+-])(?P<mhz>\d{2,5}(?:\.\d+)?)(?: ?mhz)?(?::(?= )|(?=,? (?:is |at |none|nil|[-+]?\d)))")
LEVEL = r"(?: |: ?|,? (?:is |at )?)-? ?\d{2}(?:\.\d+)?(?: ?dbc?)?(?: down)?"
ONLY_LEVELS = re.compile(rf"(?:\d{{2,5}}(?:\.\d+)?(?: ?mhz)?{LEVEL}(?:,? |$))+")
NEAR = 0.01  # of a whole multiple: hands round
MOST = 9


def by_their_number(plain: str, ground: Ground) -> str:
    """A folded text with its harmonics by number; as it was typed where one is no multiple of what is sent."""
    led = LED.match(plain)
    channels = sorted(ground.channel_hz.values())
    sent = ground.assigned_hz or next(iter(ground.read_at[-1:] or channels[len(channels) // 2 :]), None)
    if sent is None or not (led or _is_of_levels(plain, ground)):
        return plain
    rest = plain[led.end() :] if led else plain
    orders = [_order(float(found["mhz"]) * 1e6, sent) for found in AT.finditer(rest)]
    if not orders or None in orders:
        return plain
    numbered = iter(orders)
    return AT.sub(lambda _: f"h{next(numbered)}", rest)


def _is_of_levels(plain: str, ground: Ground) -> bool:
    """Whether a text is nothing but levels at frequencies, below the carrier: '54.37 -60dbc'."""
    wanted = (ground.wants or "").startswith("harmonic_")
    return ONLY_LEVELS.fullmatch(plain) is not None and (wanted or "dbc" in plain)


def _order(at_hz: float, sent_hz: float) -> int | None:
    order = round(at_hz / sent_hz)
    return order if 1 < order <= MOST and abs(at_hz / sent_hz / order - 1) < NEAR else None
