"""Harmonics and spurs from levels a hand reads off an analyser, corrected by the path at each frequency."""

from young_spark.core.figure import Input, Instrument, Measured, Term, measured, propagate
from young_spark.core.measures.accuracy import decibel_error, origin_remarks

TYPICAL_LOSS_BOUND_DB = 0.3


def _minus(text: str) -> str:
    return text.replace("-", "−")


def relative_level(
    quantity_id: str,
    level_db: float,
    carrier_db: float,
    analyser: Instrument,
    *,
    loss_at_carrier_db: float | None = None,
    loss_at_level_db: float | None = None,
    at_hz: float | None = None,
    bound: bool = False,
) -> Measured:
    """A level in dBc: (level + loss at its own frequency) − (carrier + loss at the carrier), all in dB or dBm.

    `level_db` relative to the carrier as displayed goes with carrier_db = 0. Without both losses the path is
    uncorrected, and a remark says so. `bound` marks a level at the floor: at most, not a number."""
    corrected = loss_at_carrier_db is not None and loss_at_level_db is not None
    loss_c, loss_n = (loss_at_carrier_db or 0.0, loss_at_level_db or 0.0) if corrected else (0.0, 0.0)
    error = decibel_error(analyser, "relative_level")
    path = Input(0.0, (Term("path loss", TYPICAL_LOSS_BOUND_DB, typical=True),) if corrected else ())
    spread = propagate(
        lambda error, path: (level_db + loss_n) - (carrier_db + loss_c) + error + path, {"error": error, "path": path}
    )
    words = f"{level_db:g} − {carrier_db:g}" if carrier_db else f"{level_db:g} dB as displayed"
    if corrected:
        words += f" + {loss_n:.4g} − {loss_c:.4g} dB path"
    remarks = origin_remarks(analyser)
    if not corrected:
        remarks = ("path not corrected at the harmonic: give its loss as 'loss 20.0/20.8'", *remarks)
    working = _minus(f"{words} = {spread.value:.4g} dBc")
    if bound:
        return Measured(
            quantity=quantity_id,
            value=spread.value,
            unit="dBc",
            bound="upper",
            at_hz=at_hz,
            method="analyser",
            working=working,
            remarks=("below the analyser's floor: at most, not a number", *remarks),
        )
    return measured(
        quantity_id, spread, method="analyser", working=working, remarks=remarks, at_hz=at_hz, known=bool(error.terms)
    )
