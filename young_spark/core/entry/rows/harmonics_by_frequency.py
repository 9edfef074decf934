"""Harmonics that are named by where they were found: 'harm 2592 -48' on 1296 MHz is the second. They are written by
their number, which is what limits and plans know them by."""

import re

from young_spark.core.entry.facts.said import Ground

LED = re.compile(r"^(?:the )?(?:harm(?:onic)?s?|harms)(?: at| on)?:? (?=\d)")
AT = re.compile(r"(?<![\w.+-])(?P<mhz>\d{2,5}(?:\.\d+)?)(?: ?mhz)?(?=,? (?:is |at |none|nil|[-+]?\d))")
NEAR = 0.01  # of a whole multiple: hands round
MOST = 9


def by_their_number(plain: str, ground: Ground) -> str:
    """A folded text with its harmonics by number; as it was typed where one is no multiple of what is sent."""
    led = LED.match(plain)
    sent = ground.assigned_hz or (ground.read_at[-1] if ground.read_at else None)
    if led is None or sent is None:
        return plain
    rest = plain[led.end() :]
    orders = [_order(float(found["mhz"]) * 1e6, sent) for found in AT.finditer(rest)]
    if not orders or None in orders:
        return plain
    numbered = iter(orders)
    return AT.sub(lambda _: f"h{next(numbered)}", rest)


def _order(at_hz: float, sent_hz: float) -> int | None:
    order = round(at_hz / sent_hz)
    return order if 1 < order <= MOST and abs(at_hz / sent_hz / order - 1) < NEAR else None
