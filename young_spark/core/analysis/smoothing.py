"""A noisy trace through its noise: local polynomials, and how far off they may be."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from young_spark.core.captures.capture import Real

WINDOWS = (5, 7, 9, 13, 19, 27, 39, 55)
ORDER = 3
FITS = 1.15  # a residual above this many times the noise: the curve bends more than a cubic
Values = npt.NDArray[Any]  # real or complex


@dataclass(frozen=True)
class Smooth:
    """A trace as local cubics through `window` points; `sigma` is the standard deviation of one point of it (each part)."""

    x: Real
    y: Values
    window: int
    sigma: float

    def at(self, x: float) -> tuple[complex, float]:
        """The value at x and its standard deviation."""
        part, weights = self.weights(x)
        return complex(weights[0] @ self.y[part]), self.sigma * math.sqrt(float(weights[0] @ weights[0]))

    def weights(self, x: float) -> tuple[slice, npt.NDArray[Any]]:
        """The points about x, and the weights that make value, slope and bend of the curve there out of them, (3, window)."""
        start = self._start(x)
        part = slice(start, start + self.window)
        scale = float(self.x[part][-1] - self.x[part][0]) or 1.0
        powers = ((self.x[part] - x)[:, None] / scale) ** np.arange(ORDER + 1)
        return part, np.linalg.pinv(powers)[:3] * np.array([1, 1 / scale, 2 / scale**2])[:, None]

    def dense(self, per_step: int = 4) -> tuple[Real, Values]:
        """The curve between its points too."""
        xs = np.interp(np.arange((len(self.x) - 1) * per_step + 1) / per_step, np.arange(len(self.x)), self.x)
        return xs, np.array([self.at(float(x))[0] for x in xs])

    def _start(self, x: float) -> int:
        place = int(np.searchsorted(self.x, x))
        return max(0, min(len(self.x) - self.window, place - self.window // 2))


def smooth(x: Real, y: Values) -> Smooth:
    """The widest window whose residual is still noise: where a wider one begins to bend, the one before it is kept."""
    n = len(x)
    noise = _noise(y)
    best = min(WINDOWS[0], n)
    for window in WINDOWS:
        if window > n:
            break
        if _bend(x, y, window) > FITS * noise + 1e-12 * float(np.abs(y).max()):
            break
        best = window
    return Smooth(x, y, best, noise)


def _noise(y: Values) -> float:
    """Standard deviation of one point (of each part, where complex) from fourth differences: smooth curves leave none."""
    if len(y) < 8:
        return 0.0
    d = np.diff(y, 4) / math.sqrt(70)
    parts = (d.real, d.imag) if np.iscomplexobj(y) else (d,)
    return math.sqrt(float(np.mean([np.median(np.abs(part)) ** 2 for part in parts]))) / 0.6745


def _bend(x: Real, y: Values, window: int) -> float:
    """Rms residual of local cubics, allowing for the freedom they have."""
    windows = np.lib.stride_tricks.sliding_window_view(y, window)
    places = np.lib.stride_tricks.sliding_window_view(x, window)
    step = max(1, len(windows) // 64)
    total, worst = 0.0, 0.0
    for local, piece in zip(places[::step], windows[::step], strict=True):
        scale = float(local[-1] - local[0]) or 1.0
        powers = ((local - local.mean())[:, None] / scale) ** np.arange(ORDER + 1)
        left = piece - powers @ (np.linalg.pinv(powers) @ piece)
        size = float(np.vdot(left, left).real) / max(1, window - ORDER - 1) / (2 if np.iscomplexobj(y) else 1)
        total, worst = total + size, max(worst, size)
    mean = total / len(places[::step])
    return math.sqrt(max(mean, worst / (1 + 4 / math.sqrt(max(1, window - ORDER - 1)))))
