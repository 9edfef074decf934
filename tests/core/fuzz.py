"""Mutated files of every kind, read and analysed: an answer or one clear refusal, never anything else.

By hand, for as many as wanted: python -m tests.core.fuzz 100000"""

import contextlib
import io
import math
import random
import sys
import tempfile
import time
import warnings
import wave
from pathlib import Path

import numpy as np

from tests.core import records
from young_spark.core.analysis import Options, analyse, verdicts
from young_spark.core.captures import read
from young_spark.core.ground import CoreError
from young_spark.core.judging import profiles
from young_spark.core.path import driven_by, levels, read_path

SLOWEST_S = 2.0
BITS = (
    b"nan",
    b"inf",
    b"-",
    b"1e309",
    b"1e-320",
    b",",
    b"\n",
    b"\r",
    b"\0",
    b"\xff",
    b"#",
    b"!",
    b'"',
    b"\xef\xbb\xbf",
    b"0" * 400,
    b"[" * 3000,
    b"{",
    b"-1",
    b"9" * 30,
)
PATH = """{"from": "c1", "parts": [
  {"id": "c1", "kind": "coupler", "loss_db": 0.05, "coupling_db": 20, "directivity_db": 30, "rating_w": 200,
    "through": "load",
    "coupled": "att"},
  {"id": "att", "kind": "attenuator", "loss_db": [[1e6, 20.0], [3e7, 20.1]], "rating_w": 2, "to": "ts"},
  {"id": "ts", "kind": "instrument", "safe_dbm": 10, "safe_dc_v": 0, "usable_dbm": [-60, 5]},
  {"id": "load", "kind": "load", "rating_w": 100, "rating_s": 60}]}"""


def samples(folder: Path) -> list[Path]:
    """One good file of each kind."""
    rng = np.random.default_rng(1)
    t = np.arange(400) / 48_000
    envelope = 2 * (1 + 0.8 * np.sin(records.TURN * 1000 * t))
    f = np.linspace(26e6, 29e6, 41)
    made = [
        records.write_csv(folder / "scope.csv", "time_s,volts", t / 1000, np.cos(records.TURN * 5e6 * t / 1000)),
        records.write_csv(folder / "envelope.csv", "time_s,volts", t, envelope),
        records.write_csv(
            folder / "spectrum.csv",
            "frequency_hz,level_dbm",
            *records.spectrum(rng, [(27e6, -10)], stop=60e6, step=500e3, rbw=1e6),
        ),
        records.write_csv(folder / "fade.csv", "time_s,power_w", t * 500, 3 + np.exp(-t * 50)),
        records.write_csv(folder / "response.csv", "frequency_hz,level_db", f, -(((f - 27.5e6) / 5e5) ** 2)),
        records.write_sigmf(folder / "float", records.am(rng, seconds=0.02), rate=48_000, centre=27.185e6),
        records.write_sigmf(
            folder / "short", records.fm(rng, seconds=0.02)[0], rate=48_000, centre=27.185e6, datatype="ci16_le"
        ),
        records.write_touchstone(folder / "aerial.s1p", f, records.aerial(f), form="MA"),
        records.write_touchstone(folder / "part.s2p", f, 0.9 * np.exp(-1j * f / 1e6), form="DB", two=True),
    ]
    with contextlib.closing(wave.open(str(folder / "tone.wav"), "wb")) as out:
        out.setnchannels(1), out.setsampwidth(2), out.setframerate(8000)
        out.writeframes((8000 * np.sin(records.TURN * 500 * np.arange(800) / 8000)).astype("<i2").tobytes())
    (folder / "path.json").write_text(PATH)
    return [*made, folder / "tone.wav", folder / "path.json"]


def mutated(data: bytes, dice: random.Random) -> bytes:
    """A few changes: bytes, pieces cut out, doubled, moved, or put in."""
    out = bytearray(data)
    for _ in range(dice.choice((1, 1, 2, 4, 10))):
        at, way = dice.randrange(len(out) + 1), dice.random()
        size = dice.choice((1, 2, 7, 40, 400))
        if way < 0.3 and at < len(out):
            out[at] = dice.randrange(256)
        elif way < 0.5:
            del out[at : at + size]
        elif way < 0.7:
            out[at:at] = out[at : at + size]
        elif way < 0.95:
            out[at:at] = dice.choice(BITS)
        else:
            del out[at:]
    return bytes(out)


def try_one(file: Path, dice: random.Random) -> str:
    """'read' or 'refused'; whatever else happens is raised."""
    if file.suffix == ".json":
        path = read_path(file.read_bytes().decode("utf-8", "replace"), file.name)
        levels(path, driven_by(10.0, dice.choice(("am", "fm", "ssb", "cw"))), 27e6)
        return "read"
    profile = ("us-27mhz", profiles()["us-27mhz"])
    options = Options(
        mode=dice.choice(("am", "fm", "ssb", "two-tone", "cw")),
        nominal_hz=dice.choice((None, 27.185e6)),
        full_scale_dbm=40.0,
        profile=profile,
        tones_hz=dice.choice(((), (1000.0,))),
        reference_deviation_hz=2000.0,
        hz_per_unit=dice.choice((None, 5000.0)),
    )
    found = analyse(read(file, envelope="envelope" in file.name), options)
    for reading in found.readings:
        numbers = [reading.value, reading.uncertainty, *(reading.interval or ())]
        if any(n is not None and not math.isfinite(n) for n in numbers):
            raise AssertionError(f"{reading.quantity} is {numbers}")
        verdicts(reading, found, options)
    return "read"


def fuzz(count: int, seed: int = 1) -> str:
    """So many mutated files; raises AssertionError with the file's kind and seed where one is not answered properly."""
    tally = {"read": 0, "refused": 0}
    slowest = 0.0
    with (
        tempfile.TemporaryDirectory() as name,
        warnings.catch_warnings(),
        contextlib.redirect_stdout(io.StringIO()) as said,
    ):
        warnings.simplefilter("ignore")
        folder = Path(name)
        good = samples(folder)
        whole = {
            file: (file, file.with_suffix(".sigmf-data") if file.suffix == ".sigmf-meta" else file) for file in good
        }
        original = {part: part.read_bytes() for parts in whole.values() for part in parts}
        for n in range(count):
            dice = random.Random(seed * 1_000_003 + n)
            file = dice.choice(good)
            part = dice.choice(whole[file])
            part.write_bytes(mutated(original[part], dice))
            began = time.process_time()
            try:
                tally[try_one(file, dice)] += 1
            except CoreError as refusal:
                tally["refused"] += 1
                assert len(str(refusal).splitlines()) == 1, (
                    f"{file.name}, seed {seed}, file {n}: {refusal!s} is no single line"
                )
            except Exception as problem:
                raise AssertionError(
                    f"{file.name}, seed {seed}, file {n}: {type(problem).__name__}: {problem}"
                ) from problem
            slowest = max(slowest, time.process_time() - began)
            assert slowest < SLOWEST_S, f"{file.name}, seed {seed}, file {n} took {slowest:.1f} s"
            part.write_bytes(original[part])
        assert said.getvalue() == ""
    return f"{count} mutated files: {tally['read']} read, {tally['refused']} refused, slowest {slowest:.2f} s"


if __name__ == "__main__":
    print(fuzz(int(sys.argv[1]) if len(sys.argv) > 1 else 100_000, int(sys.argv[2]) if len(sys.argv) > 2 else 1))
