"""Files of one column: what each row stands at is told in the lines before it, as an interval, a rate, or both ends."""

import re
from dataclasses import dataclass

_VALUE = r"[ ,;:=\t]*\"?(?P<value>[+-]?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?)[ \t]*(?P<unit>[a-zµ/]*)"
INTERVAL = re.compile(
    rf"(?:sampl\w* (?:interval|period|time)|time (?:increment|step|per (?:sample|point))|x ?(?:increment|inc)|"
    rf"horizontal interval|delta ?t|dt|interval){_VALUE}",
    re.IGNORECASE,
)
RATE = re.compile(rf"(?:sampl\w* (?:rate|freq\w*)|fs){_VALUE}", re.IGNORECASE)
START = re.compile(rf"start(?: freq\w*)?(?: ?\(hz\))?{_VALUE}", re.IGNORECASE)
STOP = re.compile(rf"(?:stop|end)(?: freq\w*)?(?: ?\(hz\))?{_VALUE}", re.IGNORECASE)
CENTRE = re.compile(rf"(?:cent(?:er|re))(?: freq\w*)?(?: ?\(hz\))?{_VALUE}", re.IGNORECASE)
SPAN = re.compile(rf"span{_VALUE}", re.IGNORECASE)
UNIT = re.compile(r"\b(dbm|dbuv|dbµv|dbmv|mv|volts?|v)\b", re.IGNORECASE)
SECONDS = {"": 1.0, "s": 1.0, "sec": 1.0, "ms": 1e-3, "us": 1e-6, "µs": 1e-6, "ns": 1e-9}
HERTZ = {
    "": 1.0, "hz": 1.0, "khz": 1e3, "mhz": 1e6, "ghz": 1e9, "sa/s": 1.0, "s/s": 1.0, "ksa/s": 1e3, "msa/s": 1e6,
    "gsa/s": 1e9, "ks/s": 1e3, "ms/s": 1e6, "gs/s": 1e9, "sps": 1.0, "ksps": 1e3, "msps": 1e6,
}  # fmt: skip


@dataclass(frozen=True)
class Axis:
    """Where the rows stand: the program's name for it, the first value and the step, in plain units."""

    name: str
    first: float
    step: float


def axis_in(preamble: str, rows: int) -> Axis | None:
    """What the lines before a column say of where its rows stand; None where they do not."""
    interval, rate = _said(INTERVAL, preamble, SECONDS), _said(RATE, preamble, HERTZ)
    if interval is None and rate:
        interval = 1 / rate
    if interval:
        return Axis("time_s", 0.0, interval)
    start, stop = _said(START, preamble, HERTZ), _said(STOP, preamble, HERTZ)
    centre, span = _said(CENTRE, preamble, HERTZ), _said(SPAN, preamble, HERTZ)
    if (start is None or stop is None) and centre is not None and span is not None:
        start, stop = centre - span / 2, centre + span / 2
    if start is None or stop is None or stop <= start or rows < 2:
        return None
    return Axis("frequency_hz", start, (stop - start) / (rows - 1))


def _said(pattern: re.Pattern[str], preamble: str, units: dict[str, float]) -> float | None:
    """The value in plain units that the lines give under a name; None without one, or in a unit that is none."""
    for found in pattern.finditer(preamble):
        unit = found["unit"].lower()
        if unit in units:
            return float(found["value"]) * units[unit]
    return None
