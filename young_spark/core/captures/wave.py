"""WAV: PCM of any width up to 64 bits, or float of 32 or 64."""

import struct
from pathlib import Path
from typing import NamedTuple

import numpy as np

from young_spark.core.captures.capture import MOST_BYTES, CannotRead, Real, Waveform

PCM, FLOAT, EXTENSIBLE = 1, 3, 0xFFFE
FEWEST = 256
FARTHEST = 1e6


class Form(NamedTuple):
    """How the samples are written."""

    code: int
    channels: int
    rate_hz: int
    width: int  # bytes of one sample


def read_wave(path: Path, channel: int) -> Waveform:
    """One channel of a WAV file, 1.0 as full scale; `channel` counts from 1. Raises CannotRead."""
    if path.stat().st_size > MOST_BYTES:
        raise CannotRead(path.name, f"larger than {MOST_BYTES >> 20} MB")
    rate, values = samples_of(path.read_bytes(), channel, path.name)
    if len(values) < FEWEST:
        raise CannotRead(path.name, f"{len(values)} samples are too few, at least {FEWEST} are needed")
    return Waveform("audio", rate, values)


def samples_of(data: bytes, channel: int, file: str) -> tuple[float, Real]:
    """Rate in Hz and the samples of one channel. Raises CannotRead."""
    form, body = _chunks(memoryview(data), file)
    if not 1 <= channel <= form.channels:
        raise CannotRead(file, f"there is no channel {channel}: it has {form.channels}")
    values = _values(body, form, channel)
    bad = ~(np.abs(values) < FARTHEST)  # written this way round, NaN is bad too
    if bad.any():
        raise CannotRead(file, f"sample {int(np.argmax(bad))} is not a number, or beyond what can be")
    return float(form.rate_hz), values


def _chunks(data: memoryview, file: str) -> tuple[Form, memoryview]:
    if bytes(data[:4]) != b"RIFF" or bytes(data[8:12]) != b"WAVE":
        raise CannotRead(file, "not a WAV file: RIFF and WAVE do not stand at its beginning")
    form, at = None, 12
    while at + 8 <= len(data):
        name, size = bytes(data[at : at + 4]), struct.unpack_from("<I", data, at + 4)[0]
        body = data[at + 8 : at + 8 + size]
        if name == b"fmt ":
            form = _form(body, file)
        elif name == b"data":
            if form is None:
                raise CannotRead(file, "the samples stand before their format")
            return form, body  # a recorder that was cut off gives fewer than it says
        at += 8 + size + size % 2
    raise CannotRead(file, "it ends before its samples")


def _form(body: memoryview, file: str) -> Form:
    if len(body) < 16:
        raise CannotRead(file, "its format is cut off")
    code, channels, rate, _, block, bits = struct.unpack_from("<HHIIHH", body)
    if code == EXTENSIBLE and len(body) >= 26:
        code = struct.unpack_from("<H", body, 24)[0]
    width = block // channels if channels else 0
    fits = (code == PCM and 1 <= bits <= 8 * width and width <= 8) or (
        code == FLOAT and bits == 8 * width and width in {4, 8}
    )
    if code not in {PCM, FLOAT}:
        raise CannotRead(file, f"format {code} is not read; PCM and float are")
    if not (fits and 1 <= channels <= 64 and 100 <= rate <= 10_000_000 and block == width * channels):
        raise CannotRead(file, f"{channels} channels of {bits} bits at {rate} Hz in blocks of {block} bytes cannot be")
    return Form(code, channels, rate, width)


def _values(body: memoryview, form: Form, channel: int) -> Real:
    frames = len(body) // (form.width * form.channels)
    raw = np.frombuffer(body[: frames * form.width * form.channels], np.uint8).reshape(
        frames, form.channels, form.width
    )
    one = np.ascontiguousarray(raw[:, channel - 1])
    if form.code == FLOAT:
        return one.view("<f4" if form.width == 4 else "<f8").reshape(-1).astype(np.float64)
    if form.width == 1:
        return (one.reshape(-1).astype(np.float64) - 128) / 128
    padded = np.zeros((frames, 8), np.uint8)  # samples fill their container from the top
    padded[:, 8 - form.width :] = one
    return np.asarray(padded.view("<i8").reshape(-1) / 2.0**63, np.float64)
