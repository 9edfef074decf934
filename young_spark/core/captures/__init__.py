"""Files of open formats, read into one typed Capture each, and written for a trace that was handed over."""

from young_spark.core.captures.capture import Baseband, Capture, Complex, Curve, Mask, Network, Real, Waveform
from young_spark.core.captures.dialect import COLUMN_UNITS
from young_spark.core.captures.opening import as_envelope, read
from young_spark.core.captures.trace_file import TraceKind, written

__all__ = [
    "COLUMN_UNITS",
    "Baseband",
    "Capture",
    "Complex",
    "Curve",
    "Mask",
    "Network",
    "Real",
    "TraceKind",
    "Waveform",
    "as_envelope",
    "read",
    "written",
]
