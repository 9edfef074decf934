"""What is told of a record beside the file: conditions, scales, and how well they are known."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from young_spark.core.captures import Capture
from young_spark.core.figure import Measured

if TYPE_CHECKING:  # profiles and paths cost a tenth of the start of a command that uses neither
    from young_spark.core.judging import Profile
    from young_spark.core.path import LossTo

# at the end of a clause: the options that would answer it, by their names below; whoever shows it says it in words of
# their own
ASKED = re.compile(r" \[([a-z_]+(?:, [a-z_]+)*)\]")
Mode = Literal["am", "fm", "ssb", "two-tone", "cw"]
Detector = Literal["sample", "peak", "rms"]  # of a spectrum analyser


@dataclass(frozen=True)
class Options:
    """Conditions of a record; what is None was not given, and is then not in the uncertainty."""

    mode: Mode | None = None
    sideband: Literal["usb", "lsb"] = "usb"
    nominal_hz: float | None = None
    full_scale_dbm: float | None = None
    path_loss_db: float | None = None
    path: "LossTo | None" = None  # the loss at each frequency
    tones_hz: tuple[float, ...] = ()
    hz_per_unit: float | None = None
    audio_band_hz: tuple[float, float] | None = None
    deemphasis_s: float | None = None
    load_ohm: float = 50.0
    probe_ratio: float = 1.0
    limit_swr: float = 2.0
    rbw_hz: float | None = None
    detector: Detector | None = None
    mixer_dbm: float | None = None
    reference_ppm: float | None = None
    level_uncertainty_db: float | None = None
    reference_depth: float = 100.0
    reference_deviation_hz: float | None = None
    unmodulated: Capture | None = None
    profile: "tuple[str, Profile] | None" = None

    def loss_db(self, at_hz: float) -> float | None:
        """Loss of the path at a frequency, in dB; None where none was given."""
        if self.path is not None:
            return self.path(at_hz)
        return self.path_loss_db


def phrased(sentence: str, words: Callable[[tuple[str, ...]], str]) -> str:
    """A sentence of an analysis with the options that it asks for in `words`, made of their names."""
    return ASKED.sub(lambda found: words(tuple(found[1].split(", "))), sentence)


@dataclass(frozen=True)
class Plot:
    """What a figure came from, for a person to look at: lines and marked points, in the units of the axes."""

    x: str
    y: str
    lines: tuple["PlotLine", ...]
    marks: tuple["PlotMark", ...] = ()


@dataclass(frozen=True)
class PlotLine:
    """One line of a plot."""

    name: str
    xs: tuple[float, ...]
    ys: tuple[float, ...]


@dataclass(frozen=True)
class PlotMark:
    """A point that a figure came from."""

    name: str
    x: float
    y: float


@dataclass(frozen=True)
class Analysis:
    """Every reading of a record, in the order in which it is read out, and what must be known of them."""

    kind: str
    mode: Mode | None
    readings: tuple[Measured, ...]
    remarks: tuple[str, ...] = ()
    plot: Plot | None = None
