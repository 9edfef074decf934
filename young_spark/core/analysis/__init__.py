"""From a capture to the questions it is asked, and the figures that answer them."""

from young_spark.core.analysis.by_kind import analyse, carrier_watts, verdicts
from young_spark.core.analysis.options import Analysis, Detector, Mode, Options, Plot, phrased

__all__ = [
    "Analysis",
    "Detector",
    "Mode",
    "Options",
    "Plot",
    "analyse",
    "carrier_watts",
    "instrument_doubt",
    "listening",
    "marks",
    "mixer_check",
    "network_sweep",
    "phrased",
    "record_place",
    "verdicts",
]
