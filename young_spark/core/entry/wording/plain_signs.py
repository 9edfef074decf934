"""Signs of a folded text that stand for a word, or beside their figure."""

import re

CELSIUS = re.compile(r"(?<![\w.])(?<!to )(\d{2,3}(?:\.\d)?) (?:deg(?:rees)? ?)?c(?:elsius)?(?![\w.])")


def in_plain_signs(plain: str) -> str:
    """A folded text with 'at' in a word, and degrees beside their figure."""
    return CELSIUS.sub(r"\1c", plain.replace(" @ ", " at "))
