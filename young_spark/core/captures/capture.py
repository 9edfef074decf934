"""What a file holds once it is read."""

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import numpy.typing as npt

from young_spark.core.ground import CoreError

Real = npt.NDArray[np.floating[Any]]
Complex = npt.NDArray[np.complexfloating[Any, Any]]
Mask = npt.NDArray[np.bool_]

MOST_BYTES = 512 * 2**20
MOST_SAMPLES = 100_000_000


class CannotRead(CoreError):
    """A file that is not understood; names file, line where there is one, and cause."""

    code = "cannot_read"

    def __init__(self, file: str, cause: str, line: int | None = None) -> None:
        super().__init__(file, cause, line)
        self.file, self.cause, self.line = file, cause, line

    def __str__(self) -> str:
        where = f"{self.file}, line {self.line}" if self.line is not None else self.file
        return f"{where}: {self.cause}"


@dataclass(frozen=True)
class Waveform:
    """Evenly spaced samples: of a scope or an envelope in V, of sound with 1.0 as full scale."""

    kind: Literal["scope", "envelope", "audio"]
    rate_hz: float
    values: Real  # (n,)
    remarks: tuple[str, ...] = ()  # what was done to read it
    overload: float = 0.0  # share of the samples that the instrument did not give: beyond its range


@dataclass(frozen=True)
class Baseband:
    """Complex samples about a centre frequency; |I + jQ| = 1.0 is full scale."""

    rate_hz: float
    centre_hz: float
    samples: Complex  # (n,)
    kind: Literal["baseband"] = "baseband"


@dataclass(frozen=True)
class Curve:
    """One value against another, rising in x: spectrum (Hz, dBm), response (Hz, dB), fade (s, W)."""

    kind: Literal["spectrum", "response", "fade"]
    x: Real  # (n,)
    y: Real  # (n,)
    remarks: tuple[str, ...] = ()
    rbw_hz: float | None = None  # as the file says it
    detector: Literal["sample", "peak", "rms"] | None = None


@dataclass(frozen=True)
class Network:
    """Scattering parameters over frequency: reflection S11 of a one-port, transmission S21 of a two-port."""

    kind: Literal["reflection", "transmission"]
    frequency_hz: Real  # (n,)
    s: Complex  # (n,)
    reference_ohm: float
    remarks: tuple[str, ...] = ()


Capture = Waveform | Baseband | Curve | Network
