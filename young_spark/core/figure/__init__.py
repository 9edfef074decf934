"""One figure: its quantity and unit, how it was read, what it is worth, and the plain formulas."""

from young_spark.core.figure import instruments, sums
from young_spark.core.figure.exit_test import tries_in, tries_needed, what_it_rules_out
from young_spark.core.figure.instruments import FUNCTION_UNITS, default_for, instrument_classes, typical
from young_spark.core.figure.quantities import QUANTITIES, format_figure, format_value, quantity
from young_spark.core.figure.reading import (
    AERIAL,
    Accuracy,
    Conditions,
    Detector,
    Instrument,
    Measured,
    Phase,
    Reason,
    Result,
    measured,
)
from young_spark.core.figure.uncertainty import (
    VERDICT_WORDS,
    WORST_FIRST,
    Input,
    Shape,
    Spread,
    Term,
    Verdict,
    judge,
    propagate,
    worst_of,
)

__all__ = [
    "AERIAL",
    "FUNCTION_UNITS",
    "QUANTITIES",
    "VERDICT_WORDS",
    "WORST_FIRST",
    "Accuracy",
    "Conditions",
    "Detector",
    "Input",
    "Instrument",
    "Measured",
    "Phase",
    "Reason",
    "Result",
    "Shape",
    "Spread",
    "Term",
    "Verdict",
    "default_for",
    "format_figure",
    "format_value",
    "instrument_classes",
    "instruments",
    "judge",
    "measured",
    "propagate",
    "quantity",
    "sums",
    "tries_in",
    "tries_needed",
    "typical",
    "what_it_rules_out",
    "worst_of",
]
