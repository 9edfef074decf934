"""A noisy trace through its noise: local polynomials, and how far off they may be."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from young_spark.core.captures import Real

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
WINDOWS = (5, 7, 9, 13, 19, 27, 39, 55, 79)
ORDER = 3
DRAWS = 100
PER_STEP = 4
MOST_PLACES = 20_000
DRAW_SEED = 20  # the same bytes give the same figures
PLACES = 48  # of a trace, where curves of different windows are held against each other
FARTHEST = 4.0  # standard deviations
CLIPPED = 3.0
CLIPPED_SQUARE = 0.9950  # mean square of a normal variate that is clipped there
Values = npt.NDArray[Any]  # real or complex


@dataclass(frozen=True)
class Smooth:
    """A trace as local cubics through `window` points; `sigma` is the standard deviation of one point of it (each
    part)."""

    x: Real
    y: Values
    window: int
    sigma: float

    def at(self, x: float) -> tuple[complex, float]:
        """The value at x and its standard deviation."""
        part, weights = self.weights(x)
        return complex(weights[0] @ self.y[part]), self.sigma * math.sqrt(float(weights[0] @ weights[0]))

    def weights(self, x: float) -> tuple[slice, npt.NDArray[Any]]:
        """The points about x, and the weights that make value, slope and bend of the curve there out of them, (3,
        window)."""
        places, weights = self.weights_at(np.array([x]))
        start = int(places[0, 0])
        return slice(start, start + self.window), weights[0]

    def weights_at(self, xs: Real) -> tuple[npt.NDArray[np.int_], npt.NDArray[Any]]:
        """The same for many places at once: the points' numbers (n, window) and their weights (n, 3, window)."""
        first = np.searchsorted(self.x, xs) - self.window // 2
        places = np.clip(first, 0, len(self.x) - self.window)[:, None] + np.arange(self.window)
        there = self.x[places]
        apart = there - xs[:, None]
        scale = there[:, -1] - there[:, 0]
        powers = (apart / scale[:, None])[:, :, None] ** np.arange(ORDER + 1)
        # points count less the farther they are: the curve has no steps where one point gives way to the next
        farthest = np.abs(apart).max(axis=1, keepdims=True) * (1 + 1 / self.window)
        kernel = (1 - np.abs(apart / farthest) ** 3) ** 1.5
        made = np.linalg.pinv(powers * kernel[:, :, None]) * kernel[:, None, :]
        return places, made[:, :3] * (np.array([1.0, 1.0, 2.0]) / scale[:, None] ** np.arange(3))[:, :, None]

    def dense(self) -> "Dense":
        """The curve between its points too."""
        step = max(1, min(PER_STEP, MOST_PLACES // len(self.x)))
        xs = np.interp(np.arange((len(self.x) - 1) * step + 1) / step, np.arange(len(self.x)), self.x)
        places, weights = self.weights_at(xs)
        return Dense(xs, places, weights[:, 0], self, step)

    def noise(self, dice: np.random.Generator) -> Values:
        """Noise as its points carry it, drawn anew."""
        drawn = self.sigma * dice.standard_normal(len(self.x))
        return drawn + 1j * self.sigma * dice.standard_normal(len(self.x)) if np.iscomplexobj(self.y) else drawn


Figures = tuple[float | None, ...]


@dataclass(frozen=True)
class Dense:
    """A smooth curve at many places: each value is `weights` of the points at `places`, both (n, window)."""

    x: Real
    places: npt.NDArray[np.int_]
    weights: npt.NDArray[Any]
    curve: Smooth
    step: int  # so many places to a point

    @cached_property
    def y(self) -> Values:
        """The curve's values at x."""
        return self._from(self.curve.y)

    def _from(self, points: Values) -> Values:
        return np.asarray((self.weights * points[self.places]).sum(axis=1))

    def doubted(self, figures: Callable[[Values], Figures]) -> list["Doubted | None"]:
        """Figures of the curve that its noise scatters and shifts (an extreme, a crossing), with how far, from
        drawing the noise anew over the curve that was found (a parametric bootstrap), against the same curve
        without noise. None where a curve, or most of the draws, does not give one."""
        base = self.y[:: self.step]
        still = figures(self._from(base))  # smoothed once more, as the draws are
        dice = np.random.default_rng(DRAW_SEED)
        drawn = [figures(self._from(base + self.curve.noise(dice))) for _ in range(DRAWS)]
        return [_spread(value, still[n], [d[n] for d in drawn]) for n, value in enumerate(figures(self.y))]


@dataclass(frozen=True)
class Doubted:
    """A figure of a noisy curve: its scatter, how far the noise shifts it on the mean, and how far smoothing once more
    does, beyond that: what the first smoothing took off a bend between points that lie far apart is about as much."""

    value: float
    scatter: float
    shift: float
    bend: float = 0.0

    @property
    def doubt(self) -> float:
        """Standard deviation with the shift in it: it is known no better than that, taken off or not."""
        return math.hypot(self.scatter, self.shift, self.bend)


def _spread(value: float | None, still: float | None, drawn: list[float | None]) -> Doubted | None:
    there = np.array([d for d in drawn if d is not None])
    if value is None or still is None or len(there) < DRAWS / 2:
        return None
    scatter = float(np.std(there, ddof=1))
    return Doubted(value, scatter, float(np.mean(there)) - still, max(0.0, abs(value - still) - scatter))


def smooth(x: Real, y: Values) -> Smooth:
    """The widest window but one whose curve still agrees with every narrower one's within its noise (Lepski's rule):
    the one step back keeps what its bend leaves well below the noise of the curve, so that the noise alone may
    stand for its doubt."""
    noise = _noise(y)
    curves = [Smooth(x, y, window, noise) for window in WINDOWS if window <= len(x)] or [Smooth(x, y, len(x), noise)]
    places = x[np.linspace(0, len(x) - 1, min(PLACES, len(x))).astype(int)]
    made: list[list[tuple[int, Real]]] = []
    good = 0
    for n, curve in enumerate(curves):
        numbers, weights = curve.weights_at(places)
        made.append([(int(at[0]), own) for at, own in zip(numbers, weights[:, 0], strict=True)])
        if any(not _agree(y, noise, made[n], made[m], curve.window) for m in range(n)):
            break
        good = n
    return curves[max(0, good - 1)]


def _agree(y: Values, noise: float, wide: list[tuple[int, Real]], narrow: list[tuple[int, Real]], window: int) -> bool:
    """Whether two curves differ by no more than their noise, over the trace and at its worst place."""
    squares = []
    for (wide_start, wide_weights), (start, weights) in zip(wide, narrow, strict=True):
        apart = wide_weights.copy()
        apart[start - wide_start : start - wide_start + len(weights)] -= weights
        expected = noise**2 * float(apart @ apart) * (2 if np.iscomplexobj(y) else 1)
        squares.append(
            abs(apart @ y[wide_start : wide_start + window]) ** 2
            / max(expected, 1e-24 * float(np.abs(y).max()) ** 2 + 1e-300)
        )
    free = max(1.0, len(y) / window)  # that many windows stand side by side
    return bool(np.mean(squares) <= 1 + 3 * math.sqrt(2 / free) and max(squares) <= FARTHEST**2)


def _noise(y: Values) -> float:
    """Standard deviation of one point (of each part, where complex) from fourth differences: smooth curves leave
    none."""
    if len(y) < 8:
        return 0.0
    d = np.diff(y, 4) / math.sqrt(70)
    parts = np.abs(np.stack((d.real, d.imag) if np.iscomplexobj(y) else (d,)))
    rough = np.median(parts, axis=1) / 0.6745
    # all of it, but what stands far out (a bend, a spike) counts only as far as noise reaches: half the error of the
    # median
    kept = np.minimum(parts, CLIPPED * rough[:, None])
    return math.sqrt(float(np.mean(kept**2)) / CLIPPED_SQUARE)
