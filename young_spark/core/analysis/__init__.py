"""From a capture to readings: estimates with their uncertainty, judged where a profile is given."""

from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark

__all__ = ["Analysis", "Options", "Plot", "PlotLine", "PlotMark"]
