"""From raw figures to a reading: one module a family of figures, and the sheet of quick sums."""

from young_spark.core.measures import (
    amplitude_modulation,
    frequency,
    frequency_modulation,
    plain,
    power,
    reflection,
    spectrum,
)
from young_spark.core.measures.accuracy import accuracy_terms, best_element, element_for, origin_remarks

__all__ = [
    "accuracy_terms",
    "amplitude_modulation",
    "best_element",
    "element_for",
    "frequency",
    "frequency_modulation",
    "origin_remarks",
    "plain",
    "power",
    "quick_sums",
    "reflection",
    "spectrum",
]
