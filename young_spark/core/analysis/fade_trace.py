"""Power against time at key-down: how far it falls, how fast, and where it would end."""

import math

import numpy as np

from young_spark.core.analysis.figures import K95, estimate, found, level_known, normal, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.captures import Curve, Real
from young_spark.core.figure import Measured

METHOD = "key-down"
END_S = 1.0
OFF = 0.1  # of its middle: not keyed any more
FEWEST = 8
RISEN = 0.9  # of what it comes to: the ramp is over
TOLD = 0.25  # a time constant known worse than this, as standard deviation over value, is not told
MISFIT_PARTS = 12
MOST_MISFIT = 0.06  # of the fall that one fall leaves unexplained
NAMES = ("power_fade", "time_constant", "steady_power")


def analyse_fade(capture: Curve, options: Options) -> Analysis:
    """Fall in dB, time constant and final power of a key-down."""
    start = None if _is_noise(capture.y) else _after_ramp(capture.x, capture.y)
    if start is None:
        why = "no power is in the record"
        return Analysis("fade", None, tuple(nothing(n, why, method=METHOD, reason="invalid_conditions") for n in NAMES))
    end = _let_go(capture.y, start)
    remarks = (f"the key was let go at {capture.x[end]:.4g} s of the record",) if end < len(capture.y) else ()
    t, p = capture.x[start:end] - capture.x[start], capture.y[start:end]
    shape = _fitted(t, p)
    lines = [PlotLine("power", tuple(capture.x.tolist()), tuple(capture.y.tolist()))]
    if shape is not None:
        tau, final, first = shape[0], shape[2], shape[4]
        curve = final + (first - final) * np.exp(-t / tau)
        lines.append(PlotLine("fit", tuple((t + capture.x[start]).tolist()), tuple(curve.tolist())))
    plot = Plot(
        "time, s", "power, W", tuple(lines), (PlotMark("after the ramp", float(capture.x[start]), float(p[0])),)
    )
    return Analysis("fade", None, (_fade(t, p), *_course(t, p, shape, options)), remarks, plot)


def _is_noise(p: Real) -> bool:
    """Whether neighbours differ by so much of what there is that no power is keyed: a meter's own noise."""
    there = p[p > 0.5 * float(np.quantile(p, 0.95))]
    if len(there) < FEWEST:
        return False
    return float(np.std(np.diff(p))) / math.sqrt(2) > NOISE_SHARE * float(np.median(np.abs(p)) or there.mean())


NOISE_SHARE = 0.35  # of the power: speech and keying come nowhere near it from sample to sample


def _after_ramp(t: Real, p: Real) -> int | None:
    """The first sample after the rise at key-down."""
    top = float(np.quantile(p, 0.95))
    if top <= 0:
        return None
    risen = np.flatnonzero(p > 0.5 * top)
    if not len(risen):
        return None
    first = int(risen[0])
    early = p[first : first + max(3, int(np.searchsorted(t, t[first] + 0.5 * END_S)) - first)]
    level = float(np.median(early))
    there = np.flatnonzero(p[first:] >= RISEN * level)
    return first + int(there[0]) + (1 if first + int(there[0]) > 0 else 0) if len(there) else None


def _let_go(p: Real, start: int) -> int:
    """Where the power goes for good; the length of the record where it does not."""
    there = np.flatnonzero(p[start:] > OFF * float(np.median(p[start:])))
    last = start + int(there[-1]) + 1 if len(there) else len(p)
    return last - 1 if last < len(p) - 1 and last - start > FEWEST else len(p)  # the last of it may hold the fall


def _fade(t: Real, p: Real) -> Measured:
    """Mean of the last second against the mean of the first one after the ramp."""
    if t[-1] < 2 * END_S:
        return nothing(
            "power_fade", f"{t[-1]:.1f} s after the ramp are too short: at least 2 s are needed", method=METHOD
        )
    first, last = p[t <= END_S], p[t >= t[-1] - END_S]
    if first.mean() <= 0 or last.mean() <= 0:
        return nothing("power_fade", "the power goes altogether", method=METHOD, reason="infinite")
    inputs = {"first": normal(float(first.mean()), _mean_u(first)), "last": normal(float(last.mean()), _mean_u(last))}
    return found(
        "power_fade", lambda first, last: 10 * math.log10(last / first), inputs, method=METHOD,
        working=f"10·log10({last.mean():.4g}/{first.mean():.4g} W)",
    )  # fmt: skip


def _mean_u(values: Real) -> float:
    """Standard deviation of a mean, from differences between neighbours: a slow fall is no noise."""
    return float(np.std(np.diff(values)) / math.sqrt(2) / math.sqrt(len(values))) if len(values) > 2 else 0.0


def _fitted(t: Real, p: Real) -> tuple[float, float, float, float, float] | None:
    """(τ, u, final, u, first) of final + (first − final)·exp(−t/τ) by least squares; None where no fall is told from
    noise."""
    n = len(t)
    if n < 8 or t[-1] <= 0:
        return None
    best: tuple[float, float] | None = None
    for tau in np.geomspace(t[-1] / 200, 5 * t[-1], 160):
        left = _left(t, p, float(tau))[0]
        if best is None or left < best[0]:
            best = (left, float(tau))
    assert best is not None
    tau = best[1]
    for _ in range(12):
        _, (final, fall) = _left(t, p, tau)
        bend = np.exp(-t / tau)
        rows = np.vstack([np.ones(n), bend, fall * bend * t / tau**2])
        step = np.linalg.lstsq(rows.T, p - final - fall * bend, rcond=None)[0][2]
        tau = float(np.clip(tau + np.clip(step, -0.5 * tau, tau), t[-1] / 1000, 20 * t[-1]))
    left, (final, fall) = _left(t, p, tau)
    bend = np.exp(-t / tau)
    rows = np.vstack([np.ones(n), bend, fall * bend * t / tau**2])
    sigma = math.sqrt(max(left / max(1, n - 3), 1e-300))
    doubt = sigma * np.sqrt(np.abs(np.diag(np.linalg.pinv(rows @ rows.T))))
    flat = float(((p - p.mean()) ** 2).sum())
    if (flat - left) / max(left / max(1, n - 3), 1e-300) < 12:
        return None
    return tau, float(doubt[2]), final, float(doubt[0]), final + fall


def _misfit(t: Real, p: Real, shape: tuple[float, float, float, float, float]) -> tuple[float, float]:
    """What one fall leaves of the course, beyond noise: as a share of the fall, and how many times it makes the stated
    doubts too small, since neighbours go together."""
    tau, _, final, _, first = shape
    left = p - final - (first - final) * np.exp(-t / tau)
    count = min(MISFIT_PARTS, len(left) // 4)
    if count < 2:
        return 0.0, 1.0
    parts = np.array([float(part.mean()) for part in np.array_split(left, count)])
    noise = max(_mean_u(p) * math.sqrt(count), 1e-300)  # of the mean of a part
    beyond = math.sqrt(max(0.0, float((parts**2).mean()) - noise**2))
    return beyond / max(abs(first - final), 1e-300), math.hypot(1.0, beyond / noise)


def _left(t: Real, p: Real, tau: float) -> tuple[float, tuple[float, float]]:
    rows = np.vstack([np.ones(len(t)), np.exp(-t / tau)])
    solved = np.linalg.lstsq(rows.T, p, rcond=None)[0]
    left = p - solved @ rows
    return float(left @ left), (float(solved[0]), float(solved[1]))


def _course(
    t: Real, p: Real, shape: tuple[float, float, float, float, float] | None, options: Options
) -> list[Measured]:
    error, remarks = level_known(options)

    def steady(value: float, standard: float) -> Measured:
        inputs = {"p": normal(value, standard), "error": error}
        return found(
            "steady_power",
            lambda p, error: p * 10 ** (error / 10),
            inputs,
            method=METHOD,
            working="where the fit ends",
            remarks=remarks,
        )

    if len(t) < FEWEST:
        few = f"{len(t)} points after the ramp are too few to tell"
        return [nothing(name, few, method=METHOD) for name in NAMES[1:]]
    if shape is None:
        still = max(_mean_u(p), abs(float(p[len(p) // 2 :].mean()) - float(p.mean())))  # a fall too small to be seen
        flat = nothing("time_constant", "no fall stands out of the scatter", method=METHOD)
        return [flat, steady(float(p.mean()), still)]
    tau, tau_u, final, final_u, _ = shape
    share, times = _misfit(t, p, shape)
    if share > MOST_MISFIT:
        why = "it does not go as one warming does: it jumps, or several go on at once"
        return [nothing(name, why, method=METHOD, reason="invalid_conditions") for name in NAMES[1:]]
    tau_u, final_u = tau_u * times, final_u * times
    if tau_u > TOLD * tau or tau > 1.5 * t[-1] or K95 * final_u > abs(final):
        why = (
            f"it still falls after {t[-1]:.0f} s: key longer to tell"
            if tau > 0.5 * t[-1]
            else "the record is too noisy to tell"
        )
        return [nothing(name, why, method=METHOD) for name in NAMES[1:]]
    return [estimate("time_constant", tau, tau_u, method=METHOD, working="fitted to the fall"), steady(final, final_u)]
