"""Carrier frequency and its error, by counter or by a beat against a receiver's dial."""

from young_spark.core.figure import (
    Conditions,
    Input,
    Instrument,
    Measured,
    Term,
    format_value,
    measured,
    propagate,
    sums,
)
from young_spark.core.measures.accuracy import origin_remarks, read_by

BEAT_BOUND_HZ = 5.0  # matching a beat to a known tone by ear or tuner


def error_from_carrier(carrier: Measured, carrier_input: Input, assigned_hz: float, words: str) -> Measured:
    """Frequency error in Hz against the assigned frequency in Hz, ppm beside it."""
    spread = propagate(lambda carrier_hz: carrier_hz - assigned_hz, {"carrier_hz": carrier_input})
    ppm = sums.ppm_from_hz(spread.value, assigned_hz)
    return measured(
        "frequency_error",
        spread,
        method=carrier.method,
        working=f"{format_value(carrier_input.value, 'Hz')} − {format_value(assigned_hz, 'Hz')} {words} = "
        f"{format_value(spread.value, 'Hz', signed=True)}, {ppm:+.2g} ppm".replace("-", "−"),
        remarks=carrier.remarks,
        known=bool(carrier_input.terms),
    )


def counted(carrier_hz: float, step_hz: float, counter: Instrument, conditions: Conditions) -> tuple[Measured, Input]:
    """Carrier frequency in Hz from a counter; its reference is the floor of the uncertainty.

    Valid only on an unmodulated carrier: with modulation on the figure stands but is not judged."""
    given = read_by(counter, "frequency", carrier_hz, step=step_hz)
    reading = measured(
        "carrier_frequency",
        propagate(lambda hz: hz, {"hz": given}),
        method="counter",
        working=f"{format_value(carrier_hz, 'Hz', figures=8)} on the counter",
        remarks=origin_remarks(counter),
        known=bool(given.terms),
    )
    if conditions.modulation == "on":
        reading = reading.model_copy(
            update={"remarks": ("a counter is not to be believed on a modulated carrier", *reading.remarks)}
        )
    return reading, given


def beaten(
    dial_hz: float, tone_hz: float, sideband: str, receiver_error_hz: float, receiver: Instrument
) -> tuple[Measured, Input]:
    """Carrier frequency in Hz from a receiver's dial and the tone it gives: dial + tone on USB, dial − tone on LSB.

    The receiver's own error in Hz (found on a standard) is subtracted. A zero beat would be blind over tens of
    hertz."""
    sign = 1 if sideband == "usb" else -1
    dial = read_by(receiver, "frequency", dial_hz)
    tone = Input(tone_hz, (Term("matching the beat", BEAT_BOUND_HZ, typical=True),))
    inputs = {"dial": dial, "tone": tone}
    spread = propagate(lambda dial, tone: dial + sign * tone - receiver_error_hz, inputs)
    own = f" − {receiver_error_hz:g} Hz own error" if receiver_error_hz else ""
    reading = measured(
        "carrier_frequency",
        spread,
        method=f"beat with the dial, {sideband.upper()}",
        working=f"{format_value(dial_hz, 'Hz', figures=8)} {'+' if sign > 0 else '−'} {tone_hz:g} Hz{own} "
        f"= {format_value(spread.value, 'Hz', figures=8)}",
        remarks=(
            "turning the dial up must lower the pitch on USB and raise it on LSB; else it is an image",
            *origin_remarks(receiver),
        ),
        known=bool(dial.terms),
    )
    return reading, Input(spread.value, dial.terms + tone.terms)


def error_as_read(error_hz: float, step_hz: float, assigned_hz: float | None, counter: Instrument) -> Measured:
    """A frequency error in Hz as a counter or test set shows it; the reference's ppm of the assigned carrier (Hz)
    bounds it."""
    accuracy = counter.functions.get("frequency")
    terms = (Term("last digit", step_hz / 2),) if step_hz else ()
    if accuracy is not None and assigned_hz is not None:
        terms = (Term("reference", accuracy.ppm * 1e-6 * assigned_hz, typical=counter.typical), *terms)
    known = accuracy is not None and assigned_hz is not None
    return measured(
        "frequency_error",
        propagate(lambda error_hz: error_hz, {"error_hz": Input(error_hz, terms)}),
        method="counter",
        working=f"{format_value(error_hz, 'Hz', signed=True)} as read"
        + (f", {sums.ppm_from_hz(error_hz, assigned_hz):+.2g} ppm" if assigned_hz else ""),
        remarks=origin_remarks(counter)
        if known
        else ("name the channel: the spread hangs on the reference", *origin_remarks(counter)),
        known=known,
    )
