"""A swept network: SWR of an aerial or load, loss of a part."""

import math

import numpy as np

from young_spark.core.analysis.figures import K95, bounded, estimate, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.smoothing import Dense, Smooth, smooth
from young_spark.core.captures import Capture, Network, Real
from young_spark.core.figure import Measured
from young_spark.core.path import BadPath

METHOD = "sweep"
CLOSE = 1e-9
SILENCE = 1e-15  # of a ratio: nothing passes, and its loss in dB stays finite
NO_ACCURACY = "the analyser's own error is not in the spread: only the noise of the sweep is"


def analyse_reflection(capture: Network, options: Options) -> Analysis:
    """SWR and return loss at a frequency, least SWR and where, and the bandwidth under a limit."""
    curve = smooth(capture.frequency_hz, capture.s)
    dense = curve.dense()
    xs, gamma = dense.x, dense.y
    size = np.abs(gamma)
    best = int(np.argmin(size))
    readings = [
        *_at_channel(curve, options),
        *_least(dense, size, best),
        _bandwidth(curve, xs, size, best, options.limit_swr),
    ]
    shown = np.minimum((1 + size) / np.maximum(1 - size, 1e-3), 99.0)
    marks = [PlotMark("least", float(xs[best]), float(shown[best]))]
    if options.nominal_hz is not None and xs[0] <= options.nominal_hz <= xs[-1]:
        marks.append(PlotMark("channel", options.nominal_hz, float(np.interp(options.nominal_hz, xs, shown))))
    plot = Plot("frequency, Hz", "SWR", (PlotLine("SWR", tuple(xs.tolist()), tuple(shown.tolist())),), tuple(marks))
    return Analysis("reflection", None, tuple(readings), (NO_ACCURACY,), plot)


def swr_of(size: float) -> float:
    """SWR of a reflection's size, below 1."""
    return (1 + size) / (1 - size)


def _size(curve: Smooth, at_hz: float) -> tuple[float, float]:
    """|Γ| and its standard deviation at a frequency; what noise adds to a size is taken off."""
    value, u = curve.at(at_hz)
    return math.sqrt(max(abs(value) ** 2 - u**2, 0.0)), u


def _at_channel(curve: Smooth, options: Options) -> list[Measured]:
    names = ("swr", "return_loss")
    at = options.nominal_hz
    if at is None:
        return [nothing(n, "at which frequency was not said [nominal_hz]", method=METHOD) for n in names]
    if not curve.x[0] <= at <= curve.x[-1]:
        why = f"the sweep, {curve.x[0] / 1e6:.9g} to {curve.x[-1] / 1e6:.9g} MHz, does not reach it"
        return [nothing(n, why, method=METHOD) for n in names]
    size, u = _size(curve, at)
    if size >= 1 - max(K95 * u, CLOSE):
        return [
            nothing("swr", "everything comes back", method=METHOD, reason="infinite"),
            estimate(
                "return_loss",
                abs(20 * math.log10(size)),
                8.686 * u / size,
                method=METHOD,
                working=f"−20·log10({size:.4g})",
                at_hz=at,
            ),
        ]
    loss = _down("return_loss", size, u, at)
    return [_swr("swr", size, u, at), loss]


def _down(name: str, size: float, u: float, at_hz: float) -> Measured:
    """A size of Γ or of S21 in dB below 1, or at least how far where it does not stand out of the noise; u its
    standard deviation."""
    if size <= 2 * u:
        most = size + K95 * u + CLOSE
        return bounded(
            name, -20 * math.log10(most), "lower", "not above the noise of the sweep", method=METHOD, at_hz=at_hz
        )
    words = f"−20·log10({size:.4g})"
    return estimate(name, -20 * math.log10(size), 8.686 * u / size, method=METHOD, working=words, at_hz=at_hz)


def _swr(name: str, size: float, u: float, at_hz: float) -> Measured:
    return estimate(
        name,
        swr_of(size),
        2 * u / (1 - size) ** 2,
        method=METHOD,
        working=f"(1 + {size:.4g})/(1 − {size:.4g})",
        at_hz=at_hz,
    )


def _least(dense: Dense, size: Real, best: int) -> list[Measured]:
    curve, xs = dense.curve, dense.x
    lowest, u = _size(curve, float(xs[best]))
    if lowest >= 1 - max(K95 * u, CLOSE):
        return [
            nothing(n, "everything comes back over the whole sweep", method=METHOD, reason="infinite")
            for n in ("swr_minimum", "resonant_frequency")
        ]
    at = _lowest_place(xs, size)
    lowest, u = _size(curve, at)
    if best in {0, len(xs) - 1}:
        why = "the SWR still falls at the end of the sweep: the resonance lies beyond it"
        most = bounded("swr_minimum", swr_of(min(lowest + K95 * u, 1 - CLOSE)), "upper", why, method=METHOD, at_hz=at)
        return [most, nothing("resonant_frequency", why, method=METHOD)]
    readings = [_swr("swr_minimum", lowest, u, at)]
    (found,) = dense.doubted(lambda gamma: (_lowest_place(xs, np.abs(gamma)),))
    span = float(xs[-1] - xs[0])
    at_u = found.doubt if found is not None else span
    if K95 * at_u > SPAN_SHARE * span:
        why = "no resonance stands out of this sweep: what comes back is about the same all over it"
        return [*readings, nothing("resonant_frequency", why, method=METHOD)]
    return [
        *readings,
        estimate("resonant_frequency", at, at_u, method=METHOD, working="where the SWR is least", at_hz=at),
    ]


SPAN_SHARE = 0.25  # of the sweep: a resonance that is known no better is none


def _lowest_place(xs: Real, size: Real) -> float:
    """Where |Γ| is least, in Hz: the foot of the parabola of |Γ|² through the lowest point and its neighbours."""
    at = int(np.clip(np.argmin(size), 1, len(xs) - 2))
    below, here, above = (float(s) ** 2 for s in size[at - 1 : at + 2])
    bend = below - 2 * here + above
    if bend <= 0:
        return float(xs[at])
    off = float(np.clip((below - above) / (2 * bend), -1, 1))
    return float(xs[at] + off * (xs[at + 1] - xs[at - 1]) / 2)


def _bandwidth(curve: Smooth, xs: Real, size: Real, best: int, limit: float) -> Measured:
    edge = (limit - 1) / (limit + 1)
    if size[best] >= edge:
        return nothing(
            "swr_bandwidth", f"the SWR is nowhere under {limit:g}", method=METHOD, reason="invalid_conditions"
        )
    low, low_u = _crossing(curve, xs, size, best, edge, -1)
    high, high_u = _crossing(curve, xs, size, best, edge, 1)
    if low is None or high is None:
        reach = (high if high is not None else float(xs[-1])) - (low if low is not None else float(xs[0]))
        return bounded("swr_bandwidth", reach, "lower", f"still under {limit:g} where the sweep ends", method=METHOD)
    return estimate(
        "swr_bandwidth",
        high - low,
        math.hypot(low_u, high_u),
        method=METHOD,
        working=f"{high / 1e6:.6g} − {low / 1e6:.6g} MHz, SWR under {limit:g}",
    )


def _crossing(curve: Smooth, xs: Real, size: Real, best: int, edge: float, step: int) -> tuple[float | None, float]:
    """Where |Γ| first passes an edge on one side of the best point, and its standard deviation."""
    at = best
    while 0 <= at + step < len(xs) and size[at + step] < edge:
        at += step
    if not 0 <= at + step < len(xs):
        return None, 0.0
    share = (edge - size[at]) / (size[at + step] - size[at])
    place = float(xs[at] + share * (xs[at + step] - xs[at]))
    slope = abs(float((size[at + step] - size[at]) / (xs[at + step] - xs[at])))
    return place, curve.at(place)[1] / slope if slope > 0 else 0.0


def analyse_transmission(capture: Network, options: Options) -> Analysis:
    """Insertion loss at a frequency."""
    curve = smooth(capture.frequency_hz, capture.s)
    level = -20 * np.log10(np.maximum(np.abs(capture.s), 1e-12))
    plot = Plot(
        "frequency, Hz",
        "insertion loss, dB",
        (PlotLine("loss", tuple(capture.frequency_hz.tolist()), tuple(level.tolist())),),
    )
    at = options.nominal_hz
    if at is None or not curve.x[0] <= at <= curve.x[-1]:
        why = "at which frequency was not said [nominal_hz]" if at is None else "the sweep does not reach it"
        return Analysis("transmission", None, (nothing("insertion_loss", why, method=METHOD),), (), plot)
    size, u = _size(curve, at)
    reading = _down("insertion_loss", size, u, at)
    return Analysis("transmission", None, (reading,), (NO_ACCURACY,), plot)


def insertion_losses(capture: Capture) -> list[tuple[float, float]]:
    """Loss in dB (-20·log10|S21|) against frequency in Hz at every row of a two-port sweep. Raises BadPath for anything
    else."""
    if capture.kind != "transmission":
        raise BadPath("a part's loss is read from a two-port file (.s2p)")
    return [
        (float(hz), -20 * math.log10(max(abs(complex(s)), SILENCE)))
        for hz, s in zip(capture.frequency_hz, capture.s, strict=True)
    ]
