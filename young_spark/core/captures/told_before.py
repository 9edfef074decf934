"""What the lines before a spectrum say of how it was taken: the resolution bandwidth and the detector."""

import re
from typing import Literal

Detector = Literal["sample", "peak", "rms"]
RBW = re.compile(
    r"\b(?:rbw|res(?:olution)?\.? ?(?:bw|bandwidth))(?: ?\((?P<in>[kmg]?hz)\))?[ ,;:=\t\"]*(?P<value>\d+(?:\.\d+)?"
    r"(?:e[+-]?\d+)?)[ ,;\t\"]*(?P<unit>[kmg]?hz)?\b",
    re.IGNORECASE,
)
DETECTOR = re.compile(r"\bdetect(?:or|ion)(?: type| mode)?[ ,;:=\t\"]*(?P<name>[+a-z][a-z +-]*)", re.IGNORECASE)
HERTZ = {"hz": 1.0, "khz": 1e3, "mhz": 1e6, "ghz": 1e9}
DETECTORS: tuple[tuple[str, Detector], ...] = (
    (r"pos|peak|\+pk|max", "peak"), (r"rms|average|avg|mean", "rms"), (r"samp", "sample"),
)  # fmt: skip
NOT_KNOWN = re.compile(r"neg|quasi|qp|auto|normal|rosen", re.IGNORECASE)  # detectors that no reading is made for


def rbw_in(preamble: str) -> float | None:
    """The resolution bandwidth in Hz that the lines give, or None."""
    found = RBW.search(preamble)
    if found is None:
        return None
    unit = (found["unit"] or found["in"] or "Hz").lower()
    return float(found["value"]) * HERTZ[unit] or None


def detector_in(preamble: str) -> Detector | None:
    """The detector that the lines name, or None for none, or for one that no reading is made for."""
    found = DETECTOR.search(preamble)
    if found is None or NOT_KNOWN.search(found["name"]):
        return None
    return next((name for words, name in DETECTORS if re.search(words, found["name"], re.IGNORECASE)), None)
