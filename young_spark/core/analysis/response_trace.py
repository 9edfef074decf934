"""A filter swept from audio to RF: its edges and its ripple."""

import math
from dataclasses import replace

import numpy as np

from young_spark.core.analysis.figures import estimate, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.analysis.smoothing import Doubted, smooth
from young_spark.core.captures import Curve, Real
from young_spark.core.figure import Measured

METHOD = "response"
EDGES = ((3, -1), (3, 1), (6, -1), (6, 1))  # dB below the highest point, and on which side of it
SMALLEST_HUMP = 2.5  # standard deviations of the smooth curve: less is no peak of its own


def analyse_response(capture: Curve, options: Options) -> Analysis:
    """Edges 3 and 6 dB below the highest point, and the ripple between the outermost peaks."""
    curve = smooth(capture.x, capture.y)
    dense = curve.dense()
    xs, ys = dense.x, np.real(dense.y)
    top = int(np.argmax(ys))
    least_hump = SMALLEST_HUMP * curve.at(float(xs[top]))[1]
    *edges, ripple = dense.doubted(
        lambda level: (*(_edge(xs, np.real(level), *e) for e in EDGES), _ripple(np.real(level), least_hump))
    )
    edges = [
        _beside_its_points(found, _edge(capture.x, capture.y, *edge), capture.x)
        for edge, found in zip(EDGES, edges, strict=True)
    ]
    readings = [_edge_reading(edge, found) for edge, found in zip(EDGES, edges, strict=True)]
    marks = [PlotMark("highest", float(xs[top]), float(ys[top]))]
    marks += [
        PlotMark(f"{down} dB", r.value, float(ys[top]) - down)
        for (down, _), r in zip(EDGES, readings, strict=True)
        if r.value is not None
    ]
    readings.append(_ripple_reading(ripple, _humps(ys, least_hump), xs, ys, least_hump))
    plot = Plot(
        "frequency, Hz",
        "level, dB",
        (PlotLine("response", tuple(capture.x.tolist()), tuple(capture.y.tolist())),),
        tuple(marks),
    )
    return Analysis("response", None, tuple(readings), (), plot)


def _edge(xs: Real, ys: Real, down: int, side: int) -> float | None:
    """The outermost place on one side where the curve stands so far down: a valley inside the passband is ripple, no
    edge."""
    level = float(ys.max()) - down
    above = np.flatnonzero(ys >= level)
    at = int(above[0] if side < 0 else above[-1])
    if not 0 <= at + side < len(xs):
        return None
    share = (level - ys[at]) / (ys[at + side] - ys[at])
    return float(xs[at] + share * (xs[at + side] - xs[at]))


def _beside_its_points(found: Doubted | None, straight_hz: float | None, xs: Real) -> Doubted | None:
    """An edge between points that lie far apart beside its doubt: a curve and straight lines through them differ by
    what nobody knows of the bend between them."""
    if found is None or straight_hz is None:
        return found
    at = min(max(int(np.searchsorted(xs, found.value)), 1), len(xs) - 1)
    if xs[at] - xs[at - 1] < FAR_APART * found.doubt:
        return found
    return replace(found, bend=math.hypot(found.bend, abs(found.value - straight_hz) / BEND_KNOWN))


FAR_APART = 4.0  # standard deviations: with closer points it is their noise in which the two ways differ
BEND_KNOWN = 1.5  # the difference over this is taken for a standard deviation: 1.3 times it are in the interval


def _edge_reading(edge: tuple[int, int], found: Doubted | None) -> Measured:
    down, side = edge
    name = f"edge_{'low' if side < 0 else 'high'}_{down}db"
    if found is None:
        return nothing(name, "the sweep does not reach it", method=METHOD)
    return estimate(
        name, found.value, found.doubt, method=METHOD, working=f"where it stands {down} dB below its highest point"
    )


def _humps(ys: Real, least: float) -> list[int]:
    """Peaks of the passband that stand out of the noise."""
    inner = ys[1:-1]
    peaks = 1 + np.flatnonzero((inner >= ys[:-2]) & (inner > ys[2:]))
    top = float(ys.max())
    return [int(p) for p in peaks if ys[p] > top - 6 and _prominence(ys, int(p)) > least]


def _ripple(ys: Real, least_hump: float) -> float:
    """Highest peak to deepest valley between the outermost peaks, in dB; 0 where there is one peak only."""
    peaks = _humps(ys, least_hump)
    between = ys[peaks[0] : peaks[-1] + 1] if len(peaks) > 1 else ys[:1]
    return float(between.max() - between.min())


def _ripple_reading(found: Doubted | None, peaks: list[int], xs: Real, ys: Real, least_hump: float) -> Measured:
    # the highest of several peaks and the deepest of several valleys lean outwards by the noise: that is taken off
    value, doubt = (max(found.value - found.shift, 0.0), found.doubt) if found is not None else (0.0, 0.0)
    if len(peaks) < 2:
        doubt = max(doubt, least_hump / 2)  # less stands out of no noise
        return estimate("passband_ripple", 0.0, doubt, method=METHOD, working="one peak only")
    between = ys[peaks[0] : peaks[-1] + 1]
    lean = f", less {found.shift:.2f} dB of noise" if found is not None and found.shift >= 0.005 else ""
    words = (
        f"{between.max():.2f} − ({between.min():.2f}) dB between {xs[peaks[0]]:.6g} and {xs[peaks[-1]]:.6g} Hz{lean}"
    )
    return estimate("passband_ripple", value, doubt, method=METHOD, working=words.replace("-", "−"))


def _prominence(ys: Real, peak: int) -> float:
    """How far one must go down from a peak before a higher one is reached."""
    sides = []
    for part in (ys[:peak][::-1], ys[peak + 1 :]):
        higher = np.flatnonzero(part > ys[peak])
        stretch = part[: int(higher[0])] if len(higher) else part
        sides.append(float(ys[peak] - stretch.min()) if len(stretch) else 0.0)
    return min(sides)
