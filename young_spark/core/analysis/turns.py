"""A tone's turns and their multiples over an evenly spaced series, without writing each of them out: e^(ikθ) of a
sample is that of its row times that of its place in the row, so sums over the series become small matrix
products."""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from young_spark.core.captures import Complex, Real


def turning(step: float, n: int) -> Complex:
    """e^(i·step·m), m = 0 … n − 1."""
    wide = math.ceil(math.sqrt(n))
    rows = np.exp(1j * step * wide * np.arange(-(-n // wide)))
    return np.asarray(np.multiply.outer(rows, np.exp(1j * step * np.arange(wide))).reshape(-1)[:n])


def hann(n: int) -> Real:
    """The window that rises from 0 to 1 and falls again as a cosine, both ends included."""
    return np.asarray(0.5 - 0.5 * turning(2 * math.pi / max(1, n - 1), n).real)


@dataclass(frozen=True)
class Turns:
    """e^(ikθ), k = 0 … harmonics, with θ = 2π·tone·t at `n` samples evenly about t = 0."""

    n: int
    rate_hz: float
    tone_hz: float
    harmonics: int

    @cached_property
    def times(self) -> Real:
        """Times of the samples in s, about their middle (n,)."""
        return (np.arange(self.n) - (self.n - 1) / 2) / self.rate_hz

    @property
    def _wide(self) -> int:
        return math.ceil(math.sqrt(self.n))

    @property
    def _rows(self) -> int:
        return -(-self.n // self._wide)

    def _tables(self, highest: int) -> tuple[Complex, Complex]:
        """Turns of the first sample of each row (highest + 1, rows), and of a place in a row (highest + 1, wide)."""
        k = np.arange(highest + 1)[:, None]
        step = 2 * math.pi * self.tone_hz / self.rate_hz
        first = -step * (self.n - 1) / 2
        return (
            np.exp(1j * k * (first + step * self._wide * np.arange(self._rows))),
            np.exp(1j * k * (step * np.arange(self._wide))),
        )

    @cached_property
    def _own(self) -> tuple[Complex, Complex]:
        return self._tables(self.harmonics)

    def sums(self, series: Real) -> Complex:
        """Σ series·e^(ikθ) for each k (harmonics + 1,)."""
        rows, places = self._own
        padded = np.zeros(self._rows * self._wide)
        padded[: self.n] = series
        grid = padded.reshape(self._rows, self._wide)
        inner = grid @ places.real.T + 1j * (grid @ places.imag.T)
        return np.asarray((rows * inner.T).sum(axis=1))

    def wave(self, coefficients: Complex) -> Real:
        """Re Σ c_k·e^(ikθ), k = 1 …, at each sample (n,)."""
        rows, places = self._own
        count = len(coefficients)
        weighed = (coefficients[:, None] * rows[1 : count + 1]).T
        grid = weighed.real @ places[1 : count + 1].real - weighed.imag @ places[1 : count + 1].imag
        return np.asarray(grid.reshape(-1)[: self.n])

    def moments(self) -> Complex:
        """Σ t^p·e^(ikθ), p = 0, 1, 2 and k = 0 … 2·harmonics (3, 2·harmonics + 1)."""
        rows, places = self._tables(2 * self.harmonics)
        at_row = (np.arange(self._rows) * self._wide - (self.n - 1) / 2) / self.rate_hz
        at_place = np.arange(self._wide) / self.rate_hz
        row = np.stack([(rows * at_row**p).sum(axis=1) for p in range(3)])
        place = np.stack([(places * at_place**p).sum(axis=1) for p in range(3)])
        whole = np.stack(
            [
                row[0] * place[0],
                row[1] * place[0] + row[0] * place[1],
                row[2] * place[0] + 2 * row[1] * place[1] + row[0] * place[2],
            ]
        )
        beyond = self._rows * self._wide - self.n  # of the last row's places hold no sample
        if not beyond:
            return whole
        turn = rows[:, -1:] * places[:, -beyond:]
        late = at_row[-1] + at_place[-beyond:]
        return np.asarray(whole - np.stack([(turn * late**p).sum(axis=1) for p in range(3)]))
