"""A filter swept from audio to RF: its edges and its ripple."""

import math

import numpy as np

from young_spark.core.analysis.figures import estimate, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.smoothing import Smooth, smooth
from young_spark.core.captures.capture import Real, Trace
from young_spark.core.reading import Measured

METHOD = "response"
SMALLEST_HUMP = 2.5  # standard deviations of the smooth curve: less is no peak of its own


def analyse_response(capture: Trace, options: Options) -> Analysis:
    """Edges 3 and 6 dB below the highest point, and the ripple between the outermost peaks."""
    curve = smooth(capture.x, capture.y)
    xs, level = curve.dense()
    ys: Real = np.real(level)
    top = int(np.argmax(ys))
    readings: list[Measured] = []
    marks = [PlotMark("highest", float(xs[top]), float(ys[top]))]
    for down in (3, 6):
        for side, word in ((-1, "low"), (1, "high")):
            reading = _edge(f"edge_{word}_{down}db", curve, xs, ys, top, float(ys[top]) - down, side)
            readings.append(reading)
            if reading.value is not None:
                marks.append(PlotMark(f"{down} dB", reading.value, float(ys[top]) - down))
    readings.append(_ripple(curve, xs, ys))
    plot = Plot(
        "frequency, Hz",
        "level, dB",
        (PlotLine("response", tuple(capture.x.tolist()), tuple(capture.y.tolist())),),
        tuple(marks),
    )
    return Analysis("response", None, tuple(readings), (), plot)


def _edge(name: str, curve: Smooth, xs: Real, ys: Real, top: int, level: float, side: int) -> Measured:
    """The outermost place on one side where the curve stands at a level: a valley inside the passband is ripple, no edge."""
    above = np.flatnonzero(ys >= level)
    at = int(above[0] if side < 0 else above[-1])
    if not 0 <= at + side < len(xs):
        return nothing(name, "the sweep does not reach it", method=METHOD)
    share = (level - ys[at]) / (ys[at + side] - ys[at])
    place = float(xs[at] + share * (xs[at + side] - xs[at]))
    slope = abs(float((ys[at + side] - ys[at]) / (xs[at + side] - xs[at])))
    doubt = math.hypot(curve.at(place)[1], curve.at(float(xs[top]))[1])
    return estimate(
        name, place, doubt / slope if slope > 0 else 0.0, method=METHOD, working=f"where it stands at {level:.2f} dB"
    )


def _ripple(curve: Smooth, xs: Real, ys: Real) -> Measured:
    """Highest peak to deepest valley between the outermost peaks."""
    inner = ys[1:-1]
    peaks = 1 + np.flatnonzero((inner >= ys[:-2]) & (inner > ys[2:]))
    top = float(ys.max())
    doubt = curve.at(float(xs[int(np.argmax(ys))]))[1]
    peaks = np.array([p for p in peaks if ys[p] > top - 6 and _prominence(ys, int(p)) > SMALLEST_HUMP * doubt])
    if len(peaks) < 2:
        return estimate("passband_ripple", 0.0, math.sqrt(2) * doubt, method=METHOD, working="one peak only")
    between = ys[peaks[0] : peaks[-1] + 1]
    value = float(between.max() - between.min())
    return estimate(
        "passband_ripple", value, math.sqrt(2) * doubt, method=METHOD,
        working=f"{between.max():.2f} − ({between.min():.2f}) dB between {xs[peaks[0]]:.6g} and {xs[peaks[-1]]:.6g} Hz".replace("-", "−"),
    )  # fmt: skip


def _prominence(ys: Real, peak: int) -> float:
    """How far one must go down from a peak before a higher one is reached."""
    sides = []
    for part in (ys[:peak][::-1], ys[peak + 1 :]):
        higher = np.flatnonzero(part > ys[peak])
        stretch = part[: int(higher[0])] if len(higher) else part
        sides.append(float(ys[peak] - stretch.min()) if len(stretch) else 0.0)
    return min(sides)
