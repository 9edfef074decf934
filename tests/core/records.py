"""Records whose figures are known in closed form. Nothing here uses the code that it exists to test."""

import json
import math
from pathlib import Path

import numpy as np

TURN = 2 * math.pi


def noise(rng, n, sigma):
    """Complex white noise; sigma is the standard deviation of each part."""
    return sigma * (rng.standard_normal(n) + 1j * rng.standard_normal(n))


def sigma_of(amplitude, cnr_db):
    return amplitude * 10 ** (-cnr_db / 20) / math.sqrt(2)


def am(
    rng,
    *,
    rate=48_000.0,
    seconds=0.2,
    offset=713.0,
    depth=0.7,
    second=0.0,
    tone=1000.0,
    size=0.3,
    cnr_db=40.0,
    quiet_s=0.0,
    shift=0.0,
    clip=False,
):
    """A carrier with an envelope 1 + depth·cos θ + second·cos 2θ (times 1 + shift), cut at zero where `clip`, still
    for a while where wanted."""
    n = round(rate * seconds)
    t = np.arange(n) / rate
    theta = TURN * tone * t + rng.uniform(0, TURN)
    envelope = (1 + shift) * (1 + depth * np.cos(theta) + second * np.cos(2 * theta))
    envelope = np.maximum(envelope, 0) if clip else envelope
    envelope = np.where(t < quiet_s, 1.0, envelope)
    x = size * envelope * np.exp(1j * (TURN * offset * t + rng.uniform(0, TURN)))
    return x + noise(rng, n, sigma_of(size, cnr_db))


def am_truth(depth, second=0.0, shift=0.0, clip=False, quiet=False):
    """(crest %, trough %, C) of that envelope, from a dense look at one cycle."""
    theta = np.linspace(0, TURN, 200_001)[:-1]
    envelope = (1 + shift) * (1 + depth * np.cos(theta) + second * np.cos(2 * theta))
    envelope = np.maximum(envelope, 0) if clip else envelope
    level = 1.0 if quiet else float(envelope.mean())
    return 100 * (envelope.max() - level) / level, 100 * (level - envelope.min()) / level, level


def fm(
    rng,
    *,
    rate=48_000.0,
    seconds=0.2,
    offset=713.0,
    deviation=2000.0,
    tone=1000.0,
    clip=0.0,
    hum_hz=0.0,
    hum=0.0,
    size=0.3,
    cnr_db=40.0,
):
    """A carrier whose frequency swings with a tone, clipped to a trapezoid's harmonics up to 15 kHz where wanted;
    and its true peak in Hz."""
    n = round(rate * seconds)
    t = np.arange(n) / rate
    theta = TURN * tone * t + rng.uniform(0, TURN)
    harmonics = {1: 1.0}
    if clip:
        harmonics = {}
        for k in range(1, int(15_000 / tone) + 1, 2):
            grid = (np.arange(20_000) + 0.5) / 20_000 * TURN
            harmonics[k] = 2 * float(np.mean(np.clip(clip * np.sin(grid), -1, 1) * np.sin(k * grid)))
    phase = sum(-deviation * a / (k * tone) * np.cos(k * theta) for k, a in harmonics.items())
    grid = np.linspace(0, TURN, 50_001)
    peak = deviation * float(np.max(sum(a * np.sin(k * grid) for k, a in harmonics.items()))) + hum
    if hum:
        phase = phase - hum / hum_hz * np.cos(TURN * hum_hz * t + rng.uniform(0, TURN))
    x = size * np.exp(1j * (TURN * offset * t + phase + rng.uniform(0, TURN)))
    return x + noise(rng, n, sigma_of(size, cnr_db)), peak


def lines(rng, parts, *, rate=48_000.0, seconds=0.25, cnr_db=50.0):
    """Lines of (offset Hz, amplitude) with phases at random; the noise is told against the first."""
    n = round(rate * seconds)
    t = np.arange(n) / rate
    x = sum(a * np.exp(1j * (TURN * f * t + rng.uniform(0, TURN))) for f, a in parts)
    return x + noise(rng, n, sigma_of(parts[0][1], cnr_db))


def spectrum(rng, parts, *, start=1e6, stop=300e6, step=50e3, rbw=100e3, floor_db=-95.0):
    """A trace through a Gaussian filter: lines of (Hz, dBm) and noise, each point with a phase of its own."""
    f = np.arange(start, stop, step)
    total = np.zeros(len(f), complex)
    for hz, level in parts:
        shape = 10 ** (-(40 * math.log10(2) / rbw**2) * (f - hz) ** 2 / 20)
        total += 10 ** (level / 20) * shape * np.exp(1j * rng.uniform(0, TURN, len(f)))
    total += noise(rng, len(f), 10 ** (floor_db / 20) / math.sqrt(2))
    return f, 20 * np.log10(np.abs(total))


def aerial(f, *, resonance=27.3e6, ohm=40.0, henry=1e-6, feeder_s=10e-9):
    """Reflection of a series circuit behind a lossless feeder."""
    w = TURN * f
    z = ohm + 1j * (w * henry - (TURN * resonance) ** 2 * henry / w)
    return (z - 50) / (z + 50) * np.exp(-2j * w * feeder_s)


def write_sigmf(stem: Path, samples, *, rate, centre, datatype="cf32_le"):
    """A recording of two files; returns the metadata's."""
    meta = stem.with_name(f"{stem.name}.sigmf-meta")
    told = {
        "global": {"core:datatype": datatype, "core:sample_rate": rate, "core:version": "1.0.0"},
        "captures": [{"core:sample_start": 0, "core:frequency": centre}],
        "annotations": [],
    }
    meta.write_text(json.dumps(told))
    parts = np.empty(2 * len(samples))
    parts[::2], parts[1::2] = samples.real, samples.imag
    kind = "<f4" if datatype == "cf32_le" else "<i2"
    data = parts.astype(kind) if kind == "<f4" else np.clip(np.round(parts * 32768), -32768, 32767).astype(kind)
    data.tofile(stem.with_name(f"{stem.name}.sigmf-data"))
    return meta


def write_csv(file: Path, header, *columns, digits=9):
    rows = "\n".join(",".join(f"{value:.{digits}g}" for value in row) for row in zip(*columns, strict=True))
    file.write_text(f"# made for a test\n{header}\n{rows}\n")
    return file


def write_touchstone(file: Path, f, s, *, form="RI", unit="MHZ", two=False):
    per = {"HZ": 1.0, "KHZ": 1e3, "MHZ": 1e6, "GHZ": 1e9}[unit]

    def pair(value):
        if form == "RI":
            return f"{value.real:.9g} {value.imag:.9g}"
        size = 20 * math.log10(abs(value)) if form == "DB" else abs(value)
        return f"{size:.9g} {math.degrees(np.angle(value)):.9g}"

    zero = pair(1e-6 + 0j)
    rows = [
        f"{hz / per:.12g} " + (f"{zero} {pair(v)} {pair(v)} {zero}" if two else pair(v))
        for hz, v in zip(f, s, strict=True)
    ]
    file.write_text("\n".join(["! made for a test", f"# {unit} S {form} R 50", *rows]) + "\n")
    return file
