"""Orders of a two-tone test: 'imd -31, 5th -38' and 'two tone: 3rd -29, 5th -36' are products and no harmonics. They
are named as products before a text is read in parts, since a part alone does not say it."""

import re

TEST = re.compile(r"\b(?:imd[357]?|im[357]|intermod\w*|two[ -]?tones?|2[ -]?tones?|(?<=(?:rd|th) )order|products?)\b")
NO_PRODUCTS = re.compile(r"\b(?:harm\w*|h\d|2nd|second|4th|fourth|6th)\b")
NUMBER = {"3rd": "3", "third": "3", "5th": "5", "fifth": "5", "7th": "7", "seventh": "7"}
ORDER = re.compile(
    r"(?<!imd )(?<!im )\b(?P<order>3rds?|thirds?|5ths?|fifths?|7ths?|sevenths?)\b(?! (?:order|imd|im\b|test))"
)
LEADING = re.compile(r"\b(?:imd|intermod\w*)(?: products?)? (?=[+-]?\d)")
FIGURE = re.compile(r"(?<![\w.])[+-]?\d+(?:\.\d+)?(?: ?dbc?)?(?= |,|$)")


def products_by_order(plain: str) -> str:
    """A folded text whose bare orders are written as products where a two-tone test is said; else as it was typed."""
    orders = list(ORDER.finditer(plain))
    if not orders or not TEST.search(plain) or NO_PRODUCTS.search(plain):
        return plain
    behind = len(orders) == len(FIGURE.findall(plain))  # 'imd -31 3rd, -38 5th': the name is said again by each order
    led = LEADING.sub("", plain) if behind else plain
    return ORDER.sub(lambda found: f"imd{NUMBER[found['order'].removesuffix('s')]}", led)
