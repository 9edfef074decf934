"""Which reader a file of a scope, analyser, receiver or recorder goes to, loaded when it is wanted; or one clear
refusal."""

from collections.abc import Mapping
from pathlib import Path

from young_spark.core.captures.capture import CannotRead, Capture, Waveform

NEGATIVE = 0.05  # an envelope lies above zero; what swings below it by more than this share is RF
KNOWN = ".csv (.txt, .tsv), .sigmf-meta with .sigmf-data, .wav, .s1p, .s2p"


def read(
    path: Path, *, envelope: bool = False, channel: int | None = None, columns: Mapping[str, str] | None = None
) -> Capture:
    """The capture in a file; `envelope` says that volts against time are an envelope, `channel` counts from 1,
    `columns` are units of a table's columns by their names, where those do not say it.

    Raises CannotRead with one sentence that names file, line and cause."""
    name = path.name.lower()
    if not path.is_file():
        raise CannotRead(path.name or str(path), "there is no such file")
    if name.endswith((".csv", ".txt", ".tsv")):
        from young_spark.core.captures.columns import read_columns

        return read_columns(path, envelope=envelope, channel=channel, columns=columns)
    if name.endswith((".sigmf-meta", ".sigmf-data")):
        from young_spark.core.captures.sigmf import read_sigmf

        return read_sigmf(path)
    if name.endswith(".wav"):
        from young_spark.core.captures.wave import read_wave

        return read_wave(path, channel or 1)
    if name.endswith((".s1p", ".s2p")):
        from young_spark.core.captures.touchstone import read_touchstone

        return read_touchstone(path)
    raise CannotRead(path.name, f"a file of this kind is not read; known are {KNOWN}")


def as_envelope(capture: Capture) -> Capture:
    """Volts against time that hardly go below zero, as the envelope that they are; anything else as it is."""
    if not isinstance(capture, Waveform) or capture.kind != "scope":
        return capture
    low, high = float(capture.values.min()), float(capture.values.max())
    return Waveform("envelope", capture.rate_hz, capture.values) if -low < NEGATIVE * high else capture
