"""FM deviation from a meter's peaks or from discriminator volts."""

from young_spark.core.figure import Input, Instrument, Measured, Term, format_value, measured, propagate
from young_spark.core.ground import OutOfDomain
from young_spark.core.measures.accuracy import origin_remarks, read_by


def _one_side(quantity_id: str, hertz: float, meter: Instrument, step_hz: float) -> Measured:
    if hertz < 0:
        raise OutOfDomain("deviation", hertz, "Hz", "0 Hz or more: deviation down is a magnitude")
    given = read_by(meter, "deviation", hertz, full_scale=hertz, step=step_hz)
    return measured(
        quantity_id,
        propagate(lambda hertz: hertz, {"hertz": given}),
        method="deviation meter",
        working=f"{format_value(hertz, 'Hz')} on the meter",
        remarks=origin_remarks(meter),
        known=bool(given.terms),
    )


def from_peaks(up_hz: float, down_hz: float | None, meter: Instrument, step_hz: float = 0.0) -> tuple[Measured, ...]:
    """Peak deviation in Hz from a meter; with both sides the larger is `fm_deviation` (magnitudes, Hz)."""
    if down_hz is None:
        return (_one_side("fm_deviation", up_hz, meter, step_hz),)
    up = _one_side("fm_deviation_positive", up_hz, meter, step_hz)
    down = _one_side("fm_deviation_negative", abs(down_hz), meter, step_hz)
    larger = up if up_hz >= abs(down_hz) else down
    words = f"the larger of {format_value(up_hz, 'Hz')} up and {format_value(abs(down_hz), 'Hz')} down"
    return larger.model_copy(update={"quantity": "fm_deviation", "working": words}), up, down


def from_discriminator(volts_peak: float, hz_per_volt: float, scope: Instrument) -> Measured:
    """Peak deviation in Hz from discriminator volts peak and its slope in Hz/V (slope typically known to 3 %)."""
    if hz_per_volt <= 0:
        raise OutOfDomain("slope", hz_per_volt, "Hz/V", "above 0 Hz/V")
    given = read_by(scope, "voltage_audio", volts_peak)
    slope = Input(hz_per_volt, (Term("discriminator slope", 0.03 * hz_per_volt, typical=True),))
    spread = propagate(lambda volts, slope: volts * slope, {"volts": given, "slope": slope})
    return measured(
        "fm_deviation",
        spread,
        method="discriminator volts",
        working=f"{format_value(volts_peak, 'V')} peak × {hz_per_volt / 1e3:g} kHz/V = "
        f"{format_value(spread.value, 'Hz', figures=3)}",
        remarks=("slope known to a typical 3 %", *origin_remarks(scope)),
        known=bool(given.terms),
    )
