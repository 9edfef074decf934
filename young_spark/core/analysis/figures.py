"""Readings out of estimates: scale, doubt and remarks in one place."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from young_spark.core.analysis.options import Options
from young_spark.core.figure import Input, Measured, Reason, Shape, Term, format_value, measured, propagate, quantity

K95 = 1.959964
FAR_HZ = 5_000.0  # of a carrier off its channel: half a channel of the narrowest plans


def normal(value: float, standard: float, *more: Term) -> Input:
    """A value with noise of a standard deviation, and further terms."""
    return Input(value, (Term("noise of the record", K95 * standard, Shape.NORMAL), *more))


def found(
    name: str,
    function: Callable[..., float],
    inputs: dict[str, Input],
    *,
    method: str,
    working: str,
    remarks: tuple[str, ...] = (),
    at_hz: float | None = None,
) -> Measured:
    """A reading from a function of estimates."""
    spread = propagate(function, inputs)
    return measured(
        name,
        spread,
        method=method,
        working=f"{working} = {format_value(spread.value, quantity(name).unit)}",
        remarks=remarks,
        at_hz=at_hz,
    )


def estimate(
    name: str,
    value: float,
    standard: float,
    *,
    method: str,
    working: str,
    remarks: tuple[str, ...] = (),
    at_hz: float | None = None,
) -> Measured:
    """A reading that is itself what was estimated."""
    return found(
        name, lambda x: x, {"x": normal(value, standard)}, method=method, working=working, remarks=remarks, at_hz=at_hz
    )


def nothing(name: str, why: str, *, method: str, reason: Reason = "not_supported") -> Measured:
    """A figure that the record cannot give, with the reason."""
    return Measured(
        quantity=name,
        value=None,
        unit=quantity(name).unit,
        reason=reason,
        method=method,
        working="no figure",
        remarks=(why,),
    )


def bounded(
    name: str,
    value: float,
    bound: str,
    why: str,
    *,
    method: str,
    at_hz: float | None = None,
    remarks: tuple[str, ...] = (),
) -> Measured:
    """A figure beyond the record's reach: at most, or at least."""
    side = "upper" if bound == "upper" else "lower"
    words = "at most" if bound == "upper" else "at least"
    return Measured(
        quantity=name,
        value=value,
        unit=quantity(name).unit,
        bound=side,
        method=method,
        at_hz=at_hz,
        remarks=(why, *remarks),
        working=f"{words} {format_value(value, quantity(name).unit)}",
    )


@dataclass(frozen=True)
class Scale:
    """What the square of a record's amplitude is worth in W at the unit's connector; None where nobody said."""

    watts: float | None
    level_db: Input  # 0 dB with how well the level is known
    remarks: tuple[str, ...]
    words: str

    def power(self, name: str, square: Input, *, method: str, more: tuple[str, ...] = ()) -> Measured:
        """A power from the mean square of a record's amplitude."""
        if self.watts is None:
            return nothing(name, "powers need the level of full scale [full_scale_dbm]", method=method)
        watts = self.watts
        return found(
            name, lambda square, level: watts * square * 10 ** (level / 10), {"square": square, "level": self.level_db},
            method=method, working=f"{self.words} × {square.value:.4g}", remarks=(*self.remarks, *more),
        )  # fmt: skip


def level_known(options: Options) -> tuple[Input, tuple[str, ...]]:
    """An error of 0 dB as far as it was told, and the remark where it was not."""
    if options.level_uncertainty_db is None:
        return Input(0.0), (
            "how well the level is known was not given [level_uncertainty_db]: it is not in the spread",
        )
    return Input(0.0, (Term("level", options.level_uncertainty_db, Shape.NORMAL),)), ()


def baseband_scale(options: Options) -> Scale:
    """|I + jQ|² in W. Full scale is stated at the unit's connector: the path is in it already."""
    level, remarks = level_known(options)
    if options.full_scale_dbm is None:
        return Scale(None, level, remarks, "")
    watts = 10 ** (options.full_scale_dbm / 10 - 3)
    return Scale(watts, level, remarks, f"full scale {options.full_scale_dbm:g} dBm")


def volts_scale(options: Options, at_hz: float) -> Scale:
    """V² of a sine's peak in W: P = V²/(2R), times the probe's ratio squared and the path's loss."""
    level, remarks = level_known(options)
    loss = options.loss_db(at_hz) or 0.0
    watts = options.probe_ratio**2 / (2 * options.load_ohm) * 10 ** (loss / 10)
    words = f"V²/(2 × {options.load_ohm:g} Ω)" + (f" × {options.probe_ratio:g}²" if options.probe_ratio != 1 else "")
    return Scale(watts, level, remarks, words + (f" + {loss:.4g} dB path" if loss else ""))


def frequencies(
    options: Options, carrier_hz: float, standard: float, *, method: str, remarks: tuple[str, ...] = ()
) -> tuple[Measured, Measured]:
    """The carrier's frequency and its error, with the reference's own doubt."""
    bound = abs(carrier_hz) * (options.reference_ppm or 0.0) / 1e6
    terms = (Term("reference", bound),) if bound else ()
    if options.reference_ppm is None:
        remarks = ("how good the reference is was not given [reference_ppm]: it is not in the spread", *remarks)
    inputs = {"f": normal(carrier_hz, standard, *terms)}
    carrier = found(
        "carrier_frequency", lambda f: f, inputs, method=method, working="line of the carrier", remarks=remarks
    )
    if options.nominal_hz is None:
        why = "the assigned frequency was not given [nominal_hz]"
        return carrier, nothing("frequency_error", why, method=method)
    nominal = options.nominal_hz
    if abs(carrier_hz - nominal) > FAR_HZ:
        remarks = (f"the carrier lies {(carrier_hz - nominal) / 1e3:+.4g} kHz from the assigned frequency", *remarks)
    error = found(
        "frequency_error",
        lambda f: f - nominal,
        inputs,
        method=method,
        working=f"{carrier_hz:.2f} − {nominal:.2f} Hz ({1e6 * (carrier_hz - nominal) / nominal:+.3f} ppm)",
        remarks=remarks,
    )
    return carrier, error


def decibels(ratio: float) -> float:
    """20·log10 of a ratio of amplitudes, far down for nothing at all."""
    return 20 * math.log10(max(ratio, 1e-15))
