"""Which analysis belongs to a capture, and the verdicts on what comes out."""

import math
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from young_spark.core.analysis.asked import answered, asked
from young_spark.core.analysis.options import Analysis, Options
from young_spark.core.captures import Baseband, Capture, Curve, Network, Waveform
from young_spark.core.figure import Measured, quantity
from young_spark.core.ground import CoreError

if TYPE_CHECKING:
    from young_spark.core.judging import VerdictLine


class CannotAnalyse(CoreError):
    """Options that do not go with a capture."""

    code = "cannot_analyse"


def analyse(capture: Capture, options: Options) -> Analysis:
    """Every reading that a capture gives. Raises CannotAnalyse where an option does not go with it, or where the
    figures in it are beyond all arithmetic (a hostile file may hold any numbers)."""
    _check(capture, options)
    try:
        with np.errstate(all="ignore"):  # what comes of it is looked at below
            found = asked(capture, options)
            analysis = answered(_analysis(capture, options)(found.capture, options), found)
    except (ArithmeticError, ValueError, IndexError, np.linalg.LinAlgError) as problem:
        raise CannotAnalyse(
            f"no figure can be worked out from this {capture.kind} record: its values make no sense together"
        ) from problem
    for reading in analysis.readings:
        if not all(
            math.isfinite(n) for n in (reading.value, reading.uncertainty, *(reading.interval or ())) if n is not None
        ):
            raise CannotAnalyse(
                f"no {quantity(reading.quantity).name.lower()} can be worked out from this {capture.kind} "
                "record: its values make no sense together"
            )
    return analysis


def _check(capture: Capture, options: Options) -> None:
    if isinstance(capture, Baseband):
        if options.mode is None:
            raise CannotAnalyse("a record of complex baseband needs its mode [mode]")
        if options.nominal_hz is not None and capture.centre_hz == 0 and options.nominal_hz > capture.rate_hz:
            raise CannotAnalyse(
                "the record does not say its centre frequency (core:frequency): no frequency error can be told"
            )
    if options.unmodulated is not None and type(options.unmodulated) is not type(capture):
        raise CannotAnalyse("the unmodulated record is of another kind than the modulated one")


def _analysis(capture: Capture, options: Options) -> Callable[[Any, Options], Analysis]:
    """The analysis of a kind; each module is loaded only where it is used."""
    if isinstance(capture, Baseband):
        if options.mode == "am":
            from young_spark.core.analysis.am_record import analyse_am

            return analyse_am
        if options.mode == "fm":
            from young_spark.core.analysis.fm_record import analyse_fm

            return analyse_fm
        if options.mode == "cw":
            from young_spark.core.analysis.cw_record import analyse_cw

            return analyse_cw
        from young_spark.core.analysis.ssb_record import analyse_ssb, analyse_two_tone

        return analyse_ssb if options.mode == "ssb" else analyse_two_tone
    if isinstance(capture, Network):
        from young_spark.core.analysis.network_sweep import analyse_reflection, analyse_transmission

        return analyse_reflection if capture.kind == "reflection" else analyse_transmission
    if isinstance(capture, Waveform):
        if capture.kind == "audio":
            from young_spark.core.analysis.audio_record import analyse_audio

            return analyse_audio
        from young_spark.core.analysis.scope_record import analyse_envelope, analyse_scope

        return analyse_envelope if capture.kind == "envelope" else analyse_scope
    return _of_trace(capture)


def _of_trace(capture: Curve) -> Callable[[Any, Options], Analysis]:
    if capture.kind == "spectrum":
        from young_spark.core.analysis.spectrum_trace import analyse_spectrum

        return analyse_spectrum
    if capture.kind == "fade":
        from young_spark.core.analysis.fade_trace import analyse_fade

        return analyse_fade
    from young_spark.core.analysis.response_trace import analyse_response

    return analyse_response


def verdicts(reading: Measured, analysis: Analysis, options: Options) -> "tuple[VerdictLine, ...]":
    """What the profile's rows say of a reading."""
    if options.profile is None:
        return ()
    from young_spark.core.judging import Situation, judge_reading

    watts = carrier_watts(analysis)
    mode = options.mode if options.mode != "two-tone" else "ssb"
    toned = any(r.quantity == "audio_frequency" and r.value is not None for r in analysis.readings)
    situation = Situation(
        mode=mode, assigned_hz=options.nominal_hz, carrier_w=watts, modulation="on" if toned else None
    )
    return judge_reading(reading, {options.profile[0]: options.profile[1]}, situation)


def carrier_watts(analysis: Analysis) -> float | None:
    """The unit's carrier power in W as the record has it; None where it is not that of the unit, or not known."""
    return next(
        (
            r.value
            for r in analysis.readings
            if r.quantity == "carrier_power" and r.bound is None and r.not_judged is None
        ),
        None,
    )
