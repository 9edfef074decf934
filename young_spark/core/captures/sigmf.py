"""SigMF recordings: metadata in JSON beside samples of complex baseband."""

import json
import math
from pathlib import Path
from typing import Any

import numpy as np

from young_spark.core.captures.capture import MOST_BYTES, Baseband, CannotRead, Complex

MOST_META_BYTES = 1 << 20
TYPES: dict[str, "np.dtype[Any]"] = {
    "cf32_le": np.dtype("<f4"), "ci16_le": np.dtype("<i2"), "ci8": np.dtype("i1"), "cu8": np.dtype("u1"),
}  # fmt: skip
FEWEST = 64


def read_sigmf(path: Path) -> Baseband:
    """The recording whose metadata or data file is given; the other one is its neighbour of the same name.

    A path inside the file is not followed. Raises CannotRead."""
    stem = path.name[: -len(".sigmf-meta")]
    meta, data = path.with_name(f"{stem}.sigmf-meta"), path.with_name(f"{stem}.sigmf-data")
    for file in (meta, data):
        if not file.is_file():
            raise CannotRead(path.name, f"its neighbour {file.name} is not there")
    told = _meta(meta)
    about = _table(told, "global", meta.name)
    kind = about.get("core:datatype")
    if not isinstance(kind, str) or kind not in TYPES:
        raise CannotRead(meta.name, f"core:datatype is {str(kind)[:24]!r}; read are {', '.join(TYPES)}")
    rate = _number(about.get("core:sample_rate"), "core:sample_rate", meta.name)
    if not 100 <= rate <= 1e11:
        raise CannotRead(meta.name, f"core:sample_rate is {rate:g} Hz; expected 100 Hz to 100 GHz")
    return Baseband(rate, _centre(told, meta.name), _samples(data, TYPES[kind]))


def _meta(file: Path) -> dict[str, Any]:
    if file.stat().st_size > MOST_META_BYTES:
        raise CannotRead(file.name, f"metadata larger than {MOST_META_BYTES >> 10} kB")
    try:
        told = json.loads(file.read_bytes())
    except json.JSONDecodeError as problem:
        raise CannotRead(file.name, f"not JSON: {problem.msg}", problem.lineno) from problem
    except (ValueError, RecursionError) as problem:
        raise CannotRead(file.name, "not JSON in UTF-8, or nested without end") from problem
    if not isinstance(told, dict):
        raise CannotRead(file.name, "the metadata are not a JSON object")
    return told


def _table(told: dict[str, Any], name: str, file: str) -> dict[str, Any]:
    table = told.get(name)
    if not isinstance(table, dict):
        raise CannotRead(file, f"'{name}' is missing or is no object")
    return table


def _number(value: object, name: str, file: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value := _float(value)):
        raise CannotRead(file, f"{name} is missing or is no number")
    return value


def _float(value: int | float) -> float:
    try:
        return float(value)
    except OverflowError:
        return math.inf


def _centre(told: dict[str, Any], file: str) -> float:
    """Centre frequency of the first segment; without one 0 Hz, so that offsets are shown."""
    segments = told.get("captures", [])
    if not isinstance(segments, list):
        raise CannotRead(file, "'captures' is no list")
    if not segments:
        return 0.0
    if not isinstance(segments[0], dict):
        raise CannotRead(file, "the first of 'captures' is no object")
    centres = {
        _number(s["core:frequency"], "core:frequency", file)
        for s in segments
        if isinstance(s, dict) and "core:frequency" in s
    }
    if len(centres) > 1:
        raise CannotRead(file, "its segments have different centre frequencies: save them apart")
    centre = centres.pop() if centres else 0.0
    if not 0 <= centre <= 1e12:
        raise CannotRead(file, f"core:frequency is {centre:g} Hz; expected 0 to 1 THz")
    return centre


def _samples(file: Path, kind: "np.dtype[Any]") -> Complex:
    size, width = file.stat().st_size, 2 * kind.itemsize
    if size > MOST_BYTES:
        raise CannotRead(file.name, f"larger than {MOST_BYTES >> 20} MB")
    if size % width:
        raise CannotRead(file.name, f"{size} bytes are no whole number of samples of {width} bytes")
    if size < FEWEST * width:
        raise CannotRead(file.name, f"{size // width} samples are too few, at least {FEWEST} are needed")
    parts = np.fromfile(file, dtype=kind)
    if not parts.any():
        raise CannotRead(file.name, "every sample is zero")
    if kind.kind == "u":  # nothing lies between 127 and 128
        return np.asarray((parts.astype(np.float32) - np.float32(127.5)) / np.float32(128)).view(np.complex64)
    if kind.kind == "i":
        full = np.float32(1 << (8 * kind.itemsize - 1))
        return np.asarray(parts.astype(np.float32) / full).view(np.complex64)
    bad = ~np.isfinite(parts)
    if bad.any():
        raise CannotRead(file.name, f"sample {int(np.argmax(bad)) // 2} is not a number")
    if np.abs(parts).max() > 1e6:
        raise CannotRead(file.name, "samples beyond what can be; is the data type another one?")
    return np.ascontiguousarray(parts, dtype=np.float32).view(np.complex64)
