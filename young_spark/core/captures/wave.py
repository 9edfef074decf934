"""WAV: PCM of 8, 16, 24 or 32 bits, or float of 32 or 64."""

import struct
from pathlib import Path
from typing import NamedTuple

import numpy as np

from young_spark.core.captures.capture import MOST_BYTES, CannotRead, Real, Waveform

PCM, FLOAT, EXTENSIBLE = 1, 3, 0xFFFE
FEWEST = 256


class Form(NamedTuple):
    """How the samples are written."""

    code: int
    channels: int
    rate_hz: int
    bits: int


def read_wave(path: Path, channel: int) -> Waveform:
    """One channel of a WAV file, 1.0 as full scale; `channel` counts from 1. Raises CannotRead."""
    if path.stat().st_size > MOST_BYTES:
        raise CannotRead(path.name, f"larger than {MOST_BYTES >> 20} MB")
    data = memoryview(path.read_bytes())
    form, body = _chunks(data, path.name)
    if not 1 <= channel <= form.channels:
        raise CannotRead(path.name, f"there is no channel {channel}: it has {form.channels}")
    values = _values(body, form, channel, path.name)
    if len(values) < FEWEST:
        raise CannotRead(path.name, f"{len(values)} samples are too few, at least {FEWEST} are needed")
    bad = ~np.isfinite(values) | (np.abs(values) > 1e15)
    if bad.any():
        raise CannotRead(path.name, f"sample {int(np.argmax(bad))} is not a number")
    return Waveform("audio", float(form.rate_hz), values)


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
    wanted = {PCM: {8, 16, 24, 32}, FLOAT: {32, 64}}.get(code)
    if wanted is None or bits not in wanted:
        raise CannotRead(file, f"format {code} with {bits} bits is not read; PCM or float is")
    if not (1 <= channels <= 64 and 100 <= rate <= 10_000_000 and block == channels * bits // 8):
        raise CannotRead(file, f"{channels} channels of {bits} bits at {rate} Hz in blocks of {block} bytes cannot be")
    return Form(code, channels, rate, bits)


def _values(body: memoryview, form: Form, channel: int, file: str) -> Real:
    width = form.bits // 8
    frames = len(body) // (width * form.channels)
    raw = np.frombuffer(body[: frames * width * form.channels], np.uint8).reshape(frames, form.channels, width)
    one = np.ascontiguousarray(raw[:, channel - 1])
    if form.code == FLOAT:
        return one.view("<f4" if width == 4 else "<f8").reshape(-1).astype(np.float64)
    if width == 1:
        return (one.reshape(-1).astype(np.float64) - 128) / 128
    if width == 3:
        padded = np.zeros((frames, 4), np.uint8)
        padded[:, 1:] = one
        return np.asarray(padded.view("<i4").reshape(-1) / 2.0**31, np.float64)
    return np.asarray(one.view("<i2" if width == 2 else "<i4").reshape(-1) / 2.0 ** (form.bits - 1), np.float64)
