"""What a repair touched that names no stage itself: what the slip said of the same part, or of the line before."""

import re
from collections.abc import Sequence

from young_spark.core.entry import area_turned

_VERB = (
    r"(?:cleaned|replaced|changed|swapped|re-?soldered|reflowed|tightened|remade|fixed|repaired|renewed|mended|dried|"
    r"straightened|re-?seated|new ones?)"
)
DESIGNATOR = re.compile(r"\b[A-Z]{1,3}\d{1,3}\b", re.IGNORECASE)
_AGAIN = rf"(?:it|them|both|all|up|out|and|in|fitted|now|again|{_VERB})"
OF_WHAT_STOOD_BEFORE = re.compile(
    rf"(?:new [a-z]+\b|(?:all |both |it |them )?{_VERB})(?: {_AGAIN})*(?=,|;|:|\.|$| [\d.]+$)", re.IGNORECASE
)


def area_from_before(words: str, part: str | None, texts: Sequence[str]) -> str | None:
    """'Q23 replaced' behind 'driver q23 c-e short' touched the driver; 'cleaned, now 0.3 ohms' what the line before it
    speaks of. `texts` are the lines of the slip, oldest first; None where they do not say."""
    if part and DESIGNATOR.search(part):
        named = re.compile(rf"\b{re.escape(part)}\b", re.IGNORECASE)
        told = (area_turned(text) for text in reversed(texts) if named.search(text))
        return next((area for area in told if area is not None), None)
    return area_turned(texts[-1]) if texts and OF_WHAT_STOOD_BEFORE.match(words) else None
