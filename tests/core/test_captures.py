"""Files of every kind: read as the libraries of their fields read them, or refused in one line that says where."""

import json
import struct
import subprocess
import sys
import warnings
from pathlib import Path

import numpy as np
import pytest
import scipy.io.wavfile
import skrf
from sigmf import sigmffile

from tests.core import records
from tests.core.fuzz import PATH, fuzz
from young_spark.core.captures import read
from young_spark.core.captures.capture import CannotRead
from young_spark.core.captures.wave import samples_of

pytestmark = pytest.mark.long

ROOT = Path(__file__).resolve().parents[2]
TOUCHSTONE = sorted(Path(skrf.__file__).parent.glob("data/*.s[12]p"))
WAVES = sorted((Path(scipy.io.__file__).parent / "tests" / "data").glob("*-le*.wav"))


@pytest.mark.parametrize("file", TOUCHSTONE, ids=lambda f: f.name)
def test_touchstone_as_its_fields_library_reads_it(file):
    known = skrf.Network(str(file))
    got = read(file)
    wanted = known.s[:, 1, 0] if known.nports == 2 else known.s[:, 0, 0]
    assert got.frequency_hz == pytest.approx(known.f) and got.s == pytest.approx(wanted)


@pytest.mark.parametrize("form", ["RI", "MA", "DB"])
@pytest.mark.parametrize("unit", ["HZ", "KHZ", "MHZ", "GHZ"])
def test_touchstone_in_every_form_and_unit(tmp_path, form, unit):
    f = np.linspace(26e6, 29e6, 31)
    for two in (False, True):
        file = records.write_touchstone(
            tmp_path / ("a.s2p" if two else "a.s1p"), f, records.aerial(f), form=form, unit=unit, two=two
        )
        assert read(file).s == pytest.approx(records.aerial(f), abs=1e-6) and read(file).frequency_hz == pytest.approx(
            f
        )


def test_waves_as_their_fields_library_reads_them():
    agreed = 0
    for file in WAVES:
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                rate, known = scipy.io.wavfile.read(file)
            got_rate, got = samples_of(file.read_bytes(), 1, file.name)
        except (ValueError, CannotRead):
            continue
        known = known if known.ndim == 1 else known[:, 0]
        if known.dtype.kind == "u":
            known = (known.astype(float) - 128) / 128
        elif known.dtype.kind == "i":
            known = known / 2.0 ** (8 * known.dtype.itemsize - 1)
        assert got_rate == rate and got == pytest.approx(known[: len(got)], abs=1e-9), file.name
        agreed += 1
    assert agreed >= 10


@pytest.mark.parametrize("datatype", ["cf32_le", "ci16_le"])
def test_sigmf_as_its_fields_library_writes_and_reads_it(tmp_path, datatype):
    x = records.am(np.random.default_rng(1), seconds=0.01)
    meta = records.write_sigmf(tmp_path / "a", x, rate=48_000, centre=27.185e6, datatype=datatype)
    known = sigmffile.fromfile(str(meta))
    got = read(meta)
    assert got.samples == pytest.approx(known.read_samples(), abs=1e-6) and got.centre_hz == 27.185e6
    assert got.rate_hz == known.get_global_field("core:sample_rate")
    assert read(meta.with_suffix(".sigmf-data")).samples == pytest.approx(got.samples)


def test_tables_in_any_order_with_comments_a_mark_and_other_line_ends(tmp_path):
    file = tmp_path / "a.csv"
    rows = "".join(f"x,{-90 + n % 7},{1e6 + n * 1e3}\r\n" for n in range(20))
    file.write_bytes(("\ufeff# from a bench\r\nremark, LEVEL_dBm ,frequency_hz\r\n" + rows).encode())
    got = read(file)
    assert got.kind == "spectrum" and got.x == pytest.approx(1e6 + 1e3 * np.arange(20)) and got.y[3] == -87


def table(header="time_s,volts", rows=None, **changed):
    lines = rows or [f"{n * 1e-3:.6f},{n % 5}" for n in range(20)]
    for at, text in changed.items():
        lines[int(at[1:])] = text
    return "\n".join([header, *lines]) + "\n"


REFUSED = {
    "text in a number": (table(_4="0.004,high"), r"line 6: volts is 'high', not a number"),
    "not a number": (table(_4="0.004,nan"), r"line 6: volts is 'nan'"),
    "out of order": (table(_4="0.002,1"), r"line 6: time_s 0.002 is out of order"),
    "repeated": (table(_4="0.003,1"), r"line 6: time_s 0.003 is repeated"),
    "a column missing": (table(_4="0.004"), r"line 6: 1 columns where the header has 2"),
    "too few": ("time_s,volts\n0,1\n1,2\n", r"2 rows are too few"),
    "no such columns": (table("temperature,humidity"), r"line 1: the header lacks the columns"),
    "a gap": (table(_9="0.0095,1"), r"line 11: time_s is not evenly spaced|line 1\d: time_s is not evenly spaced"),
    "empty": ("", "no header line"),
    "hexadecimal": (table(_4="0.004,0x1p3"), "line 6"),
}


@pytest.mark.parametrize("name", REFUSED)
def test_a_table_that_is_not_understood_names_the_line(tmp_path, name):
    text, words = REFUSED[name]
    (tmp_path / "a.csv").write_text(text)
    with pytest.raises(CannotRead, match=words):
        read(tmp_path / "a.csv")


def test_a_path_inside_a_file_is_not_followed(tmp_path):
    (tmp_path / "secret").write_bytes(bytes(4096))
    meta = records.write_sigmf(
        tmp_path / "a", records.am(np.random.default_rng(1), seconds=0.01), rate=48_000, centre=0
    )
    told = json.loads(meta.read_text())
    told["global"]["core:dataset"] = "secret"
    meta.write_text(json.dumps(told))
    assert np.abs(read(meta).samples).max() > 0.1
    (tmp_path / "a.sigmf-data").unlink()
    with pytest.raises(CannotRead, match=r"neighbour a\.sigmf-data is not there"):
        read(meta)


def test_mutated_files_are_answered_or_refused():
    print(fuzz(3000, seed=5))


def spark(*words):
    return subprocess.run(
        [sys.executable, "-m", "young_spark.cli", *map(str, words)], cwd=ROOT, capture_output=True, text=True
    )


def test_the_command_keeps_to_its_contract(tmp_path):
    t = np.arange(4800) / 48_000
    file = records.write_csv(tmp_path / "x.csv", "time_s,volts", t, 2 * (1 + 0.9 * np.sin(records.TURN * 1000 * t)))
    done = spark("analyse", file, "--envelope", "--profile", "us-27mhz", "--json")
    assert done.returncode == 0 and done.stderr == "" and done.stdout.count("\n") == 1
    told = json.loads(done.stdout)
    assert (told["file"], told["kind"], told["mode"]) == ("x.csv", "envelope", None)
    depth = next(r for r in told["readings"] if r["quantity"] == "am_depth")
    assert set(depth) == {
        "quantity",
        "value",
        "unit",
        "uncertainty",
        "interval",
        "bound",
        "reason",
        "at_hz",
        "method",
        "remarks",
        "verdicts",
    }
    assert depth["value"] == pytest.approx(90, abs=0.3) and depth["unit"] == "%"
    assert {(v["kind"], v["verdict"]) for v in depth["verdicts"]} == {("regulation", "pass")}
    assert set(depth["verdicts"][0]) == {
        "kind",
        "row",
        "low",
        "high",
        "unit",
        "verdict",
        "reason",
        "source",
        "confidence",
    }
    assert "90.0000 % ± under 0.0001" in spark("analyse", file, "--envelope").stdout
    x = records.fm(np.random.default_rng(1))[0]
    meta = records.write_sigmf(tmp_path / "a", x, rate=48_000, centre=27.185e6)
    (tmp_path / "p.json").write_text(PATH)
    for words, why in (
        ((meta,), "needs its mode"),
        ((meta, "--mode", "pm"), "--mode is 'pm'"),
        ((meta, "--mode", "fm", "--nominal-hz", "nan"), "--nominal-hz is nan"),
        ((meta, "--mode", "fm", "--path", tmp_path / "p.json", "--at", "tz"), "no part of the path is called 'tz'"),
        ((tmp_path / "p.json",), "is not read"),
        ((file, "--profile", "us-27"), "did you mean 'us-27mhz'"),
        ((file, "--channel", "x"), "--channel"),
        ((tmp_path / "no.csv",), "no such file"),
    ):
        refused = spark("analyse", *words, "--json")
        assert (
            refused.returncode == 2
            and refused.stdout == ""
            and len(refused.stderr.splitlines()) == 1
            and why in refused.stderr
        ), refused.stderr


def test_a_wave_that_lies_about_itself_is_refused(tmp_path):
    head = b"RIFF\xff\xff\xff\xffWAVEfmt " + struct.pack("<IHHIIHH", 16, 1, 2, 8000, 32000, 4, 16)
    (tmp_path / "a.wav").write_bytes(head + b"data" + struct.pack("<I", 2**31) + bytes(2048))
    assert len(read(tmp_path / "a.wav").values) == 512  # cut off by a recorder that died
    with pytest.raises(CannotRead, match="there is no channel 3: it has 2"):
        read(tmp_path / "a.wav", channel=3)
    (tmp_path / "b.wav").write_bytes(
        head.replace(struct.pack("<I", 8000), struct.pack("<I", 5)) + b"data" + struct.pack("<I", 4) + bytes(4)
    )
    with pytest.raises(CannotRead, match="cannot be"):
        read(tmp_path / "b.wav")
