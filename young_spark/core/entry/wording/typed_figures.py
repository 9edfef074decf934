"""A figure with or without its unit, as patterns of folded text: for what is told apart before the facts are cut."""

import re

UNIT = (
    r"(?:k?hz|mhz|ppm|kw|mw|w(?:atts?)?|kv|mv|uv|v(?: ?pp)?|ma|ua|a(?:mps?)?|db[cm]?|%|k ?ohms?|m ?ohms?|"
    r"meg(?: ?ohms?)?|ohms?|[pnu]f?|[mu]?h|k|ms|secs?|s|c)"
)
_NUMBER = r"[+-]?(?:\d{1,9}(?:\.\d{1,9})?|\.\d{1,9})"  # bounded: a row of digits is no figure
FIGURE = rf"{_NUMBER}(?:k\d)?(?::1| ?{UNIT}(?![\w.]))?(?![\w.])"
_WHOLE = re.compile(r"[+-]?\d*\.?\d+(?P<unit>k(?=\d)|.*$)")


def unit_of(figure: str) -> str:
    """The unit of such a figure as it was typed, or nothing."""
    found = _WHOLE.match(figure)
    return "" if found is None else found["unit"].strip()
