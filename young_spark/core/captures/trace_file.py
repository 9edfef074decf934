"""A trace that an instrument handed over, as the file that would have come from its own disk."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from young_spark.core.captures.capture import CannotRead

TraceKind = Literal["spectrum", "scope", "reflection"]
HEADERS = {"spectrum": "frequency_hz,level_dbm", "scope": "time_s,volts"}
REFERENCE_OHM = 50


def written(kind: TraceKind, name: str, start: float, stop: float, values: Sequence[float]) -> tuple[str, bytes]:
    """Name and bytes of the file. `start` and `stop` are the ends of the axis in Hz or s, `values` as `TraceAsk` has
    them.

    Raises CannotRead where these make no axis, or pairs are torn."""
    parts = 2 if kind == "reflection" else 1
    count, rest = divmod(len(values), parts)
    if rest or count < 2 or not start < stop:
        raise CannotRead(name, f"{len(values)} values from {start:g} to {stop:g} are no trace")
    places = np.linspace(start, stop, count).tolist()
    if kind == "reflection":
        pairs = zip(places, values[::2], values[1::2], strict=True)
        lines = [f"# Hz S RI R {REFERENCE_OHM}", *(f"{at:.1f} {re:.8g} {im:.8g}" for at, re, im in pairs)]
        return f"{name}.s1p", _text(lines)
    rows = (f"{at:.12g},{value:.8g}" for at, value in zip(places, values, strict=True))
    return f"{name}.csv", _text([HEADERS[kind], *rows])


def _text(lines: list[str]) -> bytes:
    return ("\n".join(lines) + "\n").encode()
