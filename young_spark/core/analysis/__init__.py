"""From a capture to the questions it is asked, and the figures that answer them."""

from young_spark.core.analysis.by_kind import analyse, carrier_watts, verdicts
from young_spark.core.analysis.options import Analysis, Detector, Mode, Options, Plot, phrased
from young_spark.core.analysis.sound_stretch import SoundStretch, listened
from young_spark.core.analysis.wide_band import carrier_in

__all__ = [
    "Analysis",
    "Detector",
    "Mode",
    "Options",
    "Plot",
    "SoundStretch",
    "analyse",
    "carrier_in",
    "carrier_watts",
    "instrument_doubt",
    "listened",
    "listening",
    "marks",
    "mixer_check",
    "network_sweep",
    "phrased",
    "record_place",
    "verdicts",
]
