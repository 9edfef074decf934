"""How well the level and the frequency of a record are known: by the accuracy of the instrument that made it, or by
what is typical of its class until somebody tells it."""

import math
from collections.abc import Callable, Sequence

from young_spark.core.figure import Accuracy, Instrument
from young_spark.core.ground import Frozen
from young_spark.core.measures import origin_remarks

# by kind of record: the function of its instrument that the level is read by, and the decibels that ten times as much
# of it is
LEVEL_BY = {"scope": ("voltage_rf", 20), "spectrum": ("level", 20), "fade": ("power", 10), "baseband": ("level", 20)}
# what stands in for an instrument's own accuracy (options of the same names)
TYPICAL: dict[str, dict[str, float]] = {
    "scope": {"level_uncertainty_db": 0.3},
    "spectrum": {"level_uncertainty_db": 1.0},
    "fade": {"level_uncertainty_db": 0.3},
    "baseband": {"level_uncertainty_db": 1.0, "reference_ppm": 1.0},
    "audio": {"reference_ppm": 100.0},  # the crystal of a sound card or recorder
}
UNITS = {"level_uncertainty_db": "dB in level", "reference_ppm": "ppm in frequency"}
UNTIL_TOLD = "typical, until it is told"


class InstrumentDoubt(Frozen):
    """How well a level (dB) or a frequency (ppm) of a record is known, as the option of that name takes it, and by
    what."""

    option: str
    value: float
    why: str


def doubts_of(kind: str, instrument_for: Callable[[str], Instrument]) -> tuple[InstrumentDoubt, ...]:
    """The doubts of a kind of record, none where its figures do not hang on any; `instrument_for` gives the
    instrument in use for a function, or one that is typical of its class."""
    if kind not in LEVEL_BY:
        return tuple(InstrumentDoubt(option=n, value=v, why=UNTIL_TOLD) for n, v in TYPICAL.get(kind, {}).items())
    function, decade_db = LEVEL_BY[kind]
    instrument = instrument_for(function)
    own = {} if instrument.typical else _own(instrument, function, decade_db)
    why = "; ".join((f"the accuracy of {instrument.name}", *origin_remarks(instrument)))
    return tuple(
        InstrumentDoubt(option=name, value=own[name], why=why)
        if name in own
        else InstrumentDoubt(option=name, value=value, why=UNTIL_TOLD)
        for name, value in TYPICAL[kind].items()
    )


def said(doubts: Sequence[InstrumentDoubt]) -> tuple[str, ...]:
    """The doubts in words, together where they come from the same."""
    reasons = dict.fromkeys(doubt.why for doubt in doubts)
    told = {why: [f"{d.value:.2g} {UNITS[d.option]}" for d in doubts if d.why == why] for why in reasons}
    return tuple(f"taken as known to {' and '.join(figures)}: {why}" for why, figures in told.items())


def _own(instrument: Instrument, function: str, decade_db: int) -> dict[str, float]:
    level = _level_db(instrument.functions[function], decade_db)
    reference = instrument.functions.get("frequency", Accuracy()).ppm or None
    told = {"level_uncertainty_db": level, "reference_ppm": reference}
    return {name: value for name, value in told.items() if value is not None}


def _level_db(accuracy: Accuracy, decade_db: int) -> float | None:
    """The bound in dB of what reads a share wrong; None where it is wrong by a share of full scale, which a file
    does not tell."""
    if accuracy.percent_of_full_scale or accuracy.absolute:
        return None
    return accuracy.db + decade_db * math.log10(1 + accuracy.percent_of_reading / 100) or None
