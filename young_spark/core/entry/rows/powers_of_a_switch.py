"""Watts at the three settings of a power switch with strokes between them: '145.5 52w/21/4.9'. From the highest down
each is at the next setting. Two of them may be forward and reflected, and are asked about."""

import re
from itertools import pairwise

from young_spark.core.entry.facts.said import Ground

_SETTINGS = ("high", "mid", "low")
_FIGURE = r"\d+(?:\.\d+)?"
_ROW = re.compile(rf"(?<![\w./]){_FIGURE} ?w? ?/ ?{_FIGURE} ?w? ?/ ?{_FIGURE} ?w?(?![\w./])")
_LEAST_STEP = 1.5  # times from one setting to the next
_OTHERWISE = re.compile(r"\b(?:ch|chan|channels?|hi|high|lo|low|mid|rx|dev|swr|db)\b")


def powers_of_a_switch(plain: str, ground: Ground) -> str:
    """A folded text with the setting said of each; as it was typed of a unit without such a switch, or where they are
    no watts that fall."""
    found = _ROW.search(plain)
    if found is None or not set(_SETTINGS) <= set(ground.power_settings):
        return plain
    if "w" not in found[0] or _OTHERWISE.search(plain):
        return plain
    watts = re.findall(_FIGURE, found[0])
    if any(float(more) < _LEAST_STEP * float(less) for more, less in pairwise(watts)):
        return plain
    told = ", ".join(f"{figure}w {name}" for figure, name in zip(watts, _SETTINGS, strict=True))
    return plain[: found.start()] + told + plain[found.end() :]
