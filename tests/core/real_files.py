"""Files as benches really make them, with what is true of each. Nothing here uses the code that it exists to test.

A truth is a figure; NONE, where the record does not support one; or AT_LEAST/AT_MOST, where it only bounds it. What a
record is asked is in the names: presence, when, drift, clipping, noise, modulation, detector, fraction, dialect."""

import json
import math
import struct
import wave
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

TURN = 2 * math.pi
CENTRE = 27.185e6
FULL_DBM = 46.0
FULL_W = 10 ** (FULL_DBM / 10 - 3)
RATE = 48_000.0


@dataclass(frozen=True)
class Bound:
    """A truth that the record only bounds: a lower or an upper bound that holds is right, and so is no figure."""

    value: float


NONE = "none"
Truth = float | str | Bound
Writer = Callable[[Path, np.random.Generator], Path]


@dataclass(frozen=True)
class RealFile:
    """One file: how it is written, what is told beside it, what is true of it."""

    name: str
    write: Writer
    options: dict[str, object] = field(default_factory=dict)
    truth: dict[str, Truth] = field(default_factory=dict)
    remark: str | None = None  # a word that some remark has
    wanted: tuple[str, ...] = ()  # figures that must be there, and not only not be wrong


FILES: list[RealFile] = []


def case(name: str, options=None, truth=None, *, remark=None, wanted=()):
    """Keep the decorated writer as a file."""

    def keep(write: Writer) -> Writer:
        FILES.append(RealFile(name, write, options or {}, truth or {}, remark, tuple(wanted)))
        return write

    return keep


# signals --------------------------------------------------------------------------------------------------------------


def times(seconds: float, rate: float = RATE) -> np.ndarray:
    return np.arange(round(seconds * rate)) / rate


def hiss(rng, n: int, sigma: float) -> np.ndarray:
    return sigma * (rng.standard_normal(n) + 1j * rng.standard_normal(n)) / math.sqrt(2)


def carrier(t, hz: float, drift: float = 0.0, size: float = 0.3) -> np.ndarray:
    """A carrier whose frequency is `hz` at the middle of the record and moves by `drift` Hz a second."""
    u = t - (t[0] + t[-1]) / 2
    return size * np.exp(1j * TURN * (hz * u + 0.5 * drift * u * u))


def cut(x: np.ndarray, level: float) -> np.ndarray:
    return np.clip(x.real, -level, level) + 1j * np.clip(x.imag, -level, level)


def babble(rng, n: int, rate: float) -> np.ndarray:
    """Speech as far as a modulator knows it: syllables of band-limited noise, with gaps; peak about 1."""
    x = np.fft.rfft(rng.standard_normal(n))
    f = np.fft.rfftfreq(n, 1 / rate)
    x[(f < 300) | (f > 3000)] = 0
    y = np.fft.irfft(x, n)
    t = np.arange(n) / rate
    gate = np.clip(1.5 * np.sin(TURN * 3.1 * t + rng.uniform(0, 6)) + 0.2, 0, 1)
    y = y * gate
    return y / np.max(np.abs(y))


def sigmf(folder: Path, x: np.ndarray, rate: float = RATE, kind: str = "cf32_le", centre: float = CENTRE) -> Path:
    """A pair of SigMF files."""
    if kind == "cf32_le":
        raw = x.astype(np.complex64).tobytes()
    else:
        scale, zero, of = {"ci16_le": (32768, 0, "<i2"), "ci8": (128, 0, "i1"), "cu8": (128, 128, "u1")}[kind]
        both = np.empty(2 * len(x))
        both[0::2], both[1::2] = x.real, x.imag
        low, high = (0, 255) if kind == "cu8" else (-scale, scale - 1)
        raw = np.clip(np.round(both * scale + zero), low, high).astype(of).tobytes()
    (folder / "r.sigmf-data").write_bytes(raw)
    meta = {
        "global": {"core:datatype": kind, "core:sample_rate": rate, "core:version": "1.0.0"},
        "captures": [{"core:sample_start": 0, "core:frequency": centre}],
        "annotations": [],
    }
    (folder / "r.sigmf-meta").write_text(json.dumps(meta))
    return folder / "r.sigmf-meta"


def csv(folder: Path, header: str, *columns, text: Callable[[str], str] = lambda s: s, form: str = "%.9g") -> Path:
    rows = "\n".join(",".join(form % v for v in row) for row in zip(*columns, strict=True))
    (folder / "r.csv").write_text(text(f"{header}\n{rows}\n"))
    return folder / "r.csv"


def wav(folder: Path, x: np.ndarray, rate: int = 48_000, bits: int = 16) -> Path:
    with wave.open(str(folder / "r.wav"), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(bits // 8)
        out.setframerate(rate)
        top = 2 ** (bits - 1) - 1
        out.writeframes(np.clip(np.round(x * top), -top - 1, top).astype("<i2").tobytes())
    return folder / "r.wav"


AM = {"mode": "am", "nominal_hz": CENTRE, "full_scale_dbm": FULL_DBM}
FM = {"mode": "fm", "nominal_hz": CENTRE, "full_scale_dbm": FULL_DBM}
CW = {"mode": "cw", "nominal_hz": CENTRE, "full_scale_dbm": FULL_DBM}
SSB = {"mode": "ssb", "nominal_hz": CENTRE, "full_scale_dbm": FULL_DBM, "tones_hz": (1000.0,)}
TWO = {"mode": "two-tone", "nominal_hz": CENTRE, "full_scale_dbm": FULL_DBM, "tones_hz": (700.0, 1900.0)}
POWER = FULL_W * 0.3**2
ENVELOPE = {"envelope": True}  # as the option of the command says it
NO_CARRIER = dict.fromkeys(("carrier_power", "carrier_frequency", "frequency_error"), NONE)
NO_DEPTH = dict.fromkeys(("am_depth", "am_depth_positive", "am_depth_negative"), NONE)
NO_DEVIATION = dict.fromkeys(("fm_deviation", "fm_deviation_positive", "fm_deviation_negative"), NONE)


# 1. is there a carrier at all? ----------------------------------------------------------------------------------------


@case("presence: noise alone, cw", CW, NO_CARRIER, remark="no carrier")
def _(folder, rng):
    return sigmf(folder, hiss(rng, 24_000, 0.05))


@case("presence: noise alone, am", AM, {**NO_CARRIER, **NO_DEPTH}, remark="no carrier")
def _(folder, rng):
    return sigmf(folder, hiss(rng, 24_000, 0.05))


@case("presence: noise alone, fm", FM, {**NO_CARRIER, **NO_DEVIATION}, remark="no carrier")
def _(folder, rng):
    return sigmf(folder, hiss(rng, 24_000, 0.05))


@case("presence: coloured noise alone, cw", CW, NO_CARRIER, remark="no carrier")
def _(folder, rng):
    x = np.fft.fft(hiss(rng, 24_000, 0.05))
    f = np.fft.fftfreq(24_000, 1 / RATE)
    return sigmf(folder, np.fft.ifft(x * np.exp(-(((f - 4000) / 3000) ** 2))))


@case("presence: the receiver's spike at nothing and noise", CW, NO_CARRIER, remark="no carrier")
def _(folder, rng):
    return sigmf(folder, hiss(rng, 24_000, 0.02) + 0.05)


@case(
    "presence: a spike beside a real carrier",
    CW,
    {"carrier_frequency": CENTRE + 3210.0, "carrier_power": POWER},
    wanted=("carrier_frequency", "carrier_power"),
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 3210.0) + 0.05 + hiss(rng, len(t), 0.01))


@case(
    "presence: weak am at the receiver's very centre",
    AM,
    {"carrier_frequency": CENTRE, "am_depth": 60.0},
    wanted=("am_depth",),
)
def _(folder, rng):
    t = times(0.5)
    x = carrier(t, 0.0, size=0.04) * (1 + 0.6 * np.cos(TURN * 1000 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.0005))


@case(
    "presence: a carrier far from the assigned one",
    {**CW, "nominal_hz": CENTRE - 15_000.0},
    {"carrier_frequency": CENTRE + 4321.0},
    remark="from",
    wanted=("carrier_frequency",),
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 4321.0) + hiss(rng, len(t), 0.01))


@case("presence: weak but there", CW, {"carrier_frequency": CENTRE + 1234.0}, wanted=("carrier_frequency",))
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, carrier(t, 1234.0, size=0.01) + hiss(rng, len(t), 0.05))


@case("presence: scope noise alone", {}, {"carrier_power": NONE, **NO_DEPTH})
def _(folder, rng):
    t = np.arange(4000) * 2e-9
    return csv(folder, "time_s,volts", t, 0.02 * rng.standard_normal(4000))


@case("presence: envelope of nothing", ENVELOPE, NO_DEPTH)
def _(folder, rng):
    t = np.arange(4000) * 5e-6
    return csv(folder, "time_s,volts", t, 0.002 * rng.standard_normal(4000))


@case("presence: audio of noise alone", {}, dict.fromkeys(("audio_frequency", "sinad", "audio_distortion"), NONE))
def _(folder, rng):
    return wav(folder, 0.1 * rng.standard_normal(48_000))


@case(
    "presence: spectrum of the floor alone", {}, {"carrier_power": NONE, "harmonic_2": NONE, "occupied_bandwidth": NONE}
)
def _(folder, rng):
    f = np.linspace(1e6, 100e6, 2001)
    return csv(folder, "frequency_hz,level_dbm", f, -95 + 10 * np.log10(rng.exponential(1, 2001)))


# 2. when? -------------------------------------------------------------------------------------------------------------


@case(
    "when: keyed late, cw",
    CW,
    {"carrier_power": POWER, "carrier_frequency": CENTRE + 500.0},
    wanted=("carrier_power", "carrier_frequency"),
)
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, np.where(t > 0.6, carrier(t, 500.0), 0) + hiss(rng, len(t), 0.003))


@case("when: unkeyed early, cw", CW, {"carrier_power": POWER}, wanted=("carrier_power",))
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, np.where(t < 0.3, carrier(t, -800.0), 0) + hiss(rng, len(t), 0.003))


@case("when: two key-downs, cw", CW, {"carrier_power": POWER}, wanted=("carrier_power",))
def _(folder, rng):
    t = times(1.0)
    on = ((t > 0.1) & (t < 0.4)) | ((t > 0.6) & (t < 0.9))
    return sigmf(folder, np.where(on, carrier(t, 200.0), 0) + hiss(rng, len(t), 0.003))


@case("when: a burst of 20 ms, cw", CW, {"carrier_power": POWER, "carrier_frequency": CENTRE + 700.0})
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, np.where((t > 0.5) & (t < 0.52), carrier(t, 700.0), 0) + hiss(rng, len(t), 0.003))


@case(
    "when: keyed late, am with its tone",
    AM,
    {"carrier_power": POWER, "am_depth": 70.0},
    wanted=("carrier_power", "am_depth"),
)
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 300.0) * (1 + 0.7 * np.cos(TURN * 1000 * t))
    return sigmf(folder, np.where(t > 0.7, x, 0) + hiss(rng, len(t), 0.003))


@case(
    "when: tone, then not keyed any more: no unmodulated carrier",
    AM,
    {"carrier_power": POWER, "am_depth": 60.0, "carrier_shift": NONE},
    wanted=("am_depth",),
)
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 300.0) * (1 + 0.6 * np.cos(TURN * 1000 * t))
    return sigmf(folder, np.where(t < 0.6, x, 0) + hiss(rng, len(t), 0.002))


@case(
    "when: still, then toned, as it should be",
    AM,
    {"carrier_power": POWER, "am_depth_positive": 80.0, "carrier_shift": 0.0},
    wanted=("carrier_power", "am_depth_positive", "carrier_shift"),
)
def _(folder, rng):
    t = times(0.6)
    x = carrier(t, 300.0) * (1 + np.where(t > 0.2, 0.8 * np.cos(TURN * 1000 * t), 0))
    return sigmf(folder, x + hiss(rng, len(t), 0.002))


@case("when: shorter than one cycle of its tone", {**AM, "tones_hz": (100.0,)}, NO_DEPTH)
def _(folder, rng):
    t = times(0.006)
    return sigmf(folder, carrier(t, 300.0) * (1 + 0.6 * np.cos(TURN * 100 * t)) + hiss(rng, len(t), 0.003))


@case(
    "when: keyed late, fm with its tone",
    FM,
    {"carrier_power": POWER, "fm_deviation": 2500.0},
    wanted=("carrier_power", "fm_deviation"),
)
def _(folder, rng):
    t = times(1.0)
    x = 0.3 * np.exp(1j * (TURN * 400 * t + 2.5 * np.sin(TURN * 1000 * t)))
    return sigmf(folder, np.where(t > 0.5, x, 0) + hiss(rng, len(t), 0.003))


@case(
    "when: squelch tail of noise behind the fm",
    FM,
    {"fm_deviation": 2500.0, "carrier_power": POWER},
    wanted=("fm_deviation",),
)
def _(folder, rng):
    t = times(1.0)
    x = 0.3 * np.exp(1j * (TURN * 400 * t + 2.5 * np.sin(TURN * 1000 * t)))
    return sigmf(folder, np.where(t < 0.7, x, hiss(rng, len(t), 0.05)) + hiss(rng, len(t), 0.003))


@case("when: rf on a scope, keyed in the middle", {}, {"carrier_power": 4.0})
def _(folder, rng):
    t = np.arange(20_000) * 4e-9
    v = np.where(t > 40e-6, 20 * np.sin(TURN * 27.185e6 * t), 0)
    return csv(folder, "time_s,volts", t, v + 0.02 * rng.standard_normal(len(t)))


@case("when: envelope, keyed in the middle", ENVELOPE, {"am_depth": 50.0})
def _(folder, rng):
    t = np.arange(10_000) * 2e-6
    v = np.where(t > 8e-3, 1 + 0.5 * np.cos(TURN * 1000 * t), 0)
    return csv(folder, "time_s,volts", t, v + 0.004 * rng.standard_normal(len(t)))


@case(
    "when: power against time, keyed late",
    {},
    {"power_fade": 10 * math.log10(3.0 / (3 + 3 * (math.exp(-0.2 / 3) - math.exp(-1.2 / 3))))},
)
def _(folder, rng):
    t = np.arange(0, 30, 0.1)
    p = np.where(t > 5, 3 + np.exp(-(t - 5.0) / 3), 0.0)
    return csv(folder, "time_s,power_w", t, np.abs(p + 0.004 * rng.standard_normal(len(t))))


@case("when: the tone stops half-way, audio", {}, {"audio_frequency": 1000.0}, wanted=("audio_frequency",))
def _(folder, rng):
    t = times(1.0)
    return wav(folder, np.where(t < 0.5, 0.5 * np.sin(TURN * 1000 * t), 0) + 0.001 * rng.standard_normal(len(t)))


# 3. does it move? -----------------------------------------------------------------------------------------------------


def _drifting(drift: float):
    @case(
        f"drift: {drift:g} Hz/s, cw",
        CW,
        {"carrier_power": POWER, "carrier_frequency": CENTRE + 600.0},
        remark="Hz/s",
        wanted=("carrier_power", "carrier_frequency"),
    )
    def _(folder, rng):
        t = times(1.0)
        return sigmf(folder, carrier(t, 600.0, drift) + hiss(rng, len(t), 0.006))


for _drift in (6.0, 60.0, -400.0, 3000.0):
    _drifting(_drift)


@case(
    "drift: am with its tone",
    AM,
    {"carrier_power": POWER, "am_depth": 75.0, "carrier_frequency": CENTRE - 250.0},
    wanted=("carrier_power", "am_depth", "carrier_frequency"),
)
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, -250.0, 45.0) * (1 + 0.75 * np.cos(TURN * 1000 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.006))


@case(
    "drift: fm with its tone",
    FM,
    {"carrier_power": POWER, "fm_deviation": 2000.0, "carrier_frequency": CENTRE + 150.0},
    wanted=("carrier_power", "fm_deviation", "carrier_frequency"),
)
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 150.0, 80.0) * np.exp(1j * 2.0 * np.sin(TURN * 1000 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.006))


@case("drift: it settles as it warms", CW, {"carrier_power": POWER}, wanted=("carrier_power",))
def _(folder, rng):
    t = times(1.0)
    phase = TURN * (500 * t - 90 * 0.25 * np.exp(-t / 0.25))
    return sigmf(folder, 0.3 * np.exp(1j * phase) + hiss(rng, len(t), 0.006))


@case(
    "drift: one sideband and its carrier",
    SSB,
    {"opposite_sideband_suppression": 45.0, "peak_envelope_power": POWER * (1 + 10 ** (-45 / 20)) ** 2},
    wanted=("peak_envelope_power",),
)
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 1000.0, 30.0) + 10 ** (-45 / 20) * carrier(t, -1000.0, 30.0)
    return sigmf(folder, x + hiss(rng, len(t), 0.002))


# 4. is it cut off? ----------------------------------------------------------------------------------------------------


@case(
    "clipping: am, both parts at full scale",
    AM,
    {"am_depth_positive": Bound(80.0), "am_depth": NONE, "peak_envelope_power": Bound(FULL_W * 0.8**2 * 1.8**2)},
    remark="clip",
)
def _(folder, rng):
    t = times(0.5)
    x = carrier(t, 300.0, size=0.8) * (1 + 0.8 * np.cos(TURN * 1000 * t))
    return sigmf(folder, cut(x + hiss(rng, len(t), 0.003), 0.999))


@case("clipping: cw at full scale", CW, {"carrier_power": Bound(FULL_W * 1.3**2)}, remark="clip")
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, cut(carrier(t, 300.0, size=1.3) + hiss(rng, len(t), 0.003), 0.999))


@case("clipping: rf on a scope, top and bottom", {}, {"carrier_power": Bound(20**2 / 100)}, remark="cut")
def _(folder, rng):
    t = np.arange(20_000) * 2e-9
    v = np.clip(20 * np.sin(TURN * 27.185e6 * t) + 0.05 * rng.standard_normal(len(t)), -14, 14)
    return csv(folder, "time_s,volts", t, v)


@case(
    "clipping: am on a scope, tops",
    {},
    {"am_depth_positive": Bound(80.0), "am_depth": NONE, "peak_envelope_power": Bound(36.0**2 / 100)},
    remark="cut",
)
def _(folder, rng):
    t = np.arange(200_000) * 2e-8
    v = 20 * (1 + 0.8 * np.cos(TURN * 1000 * t)) * np.sin(TURN * 7.03e6 * t)
    return csv(folder, "time_s,volts", t, np.clip(v + 0.05 * rng.standard_normal(len(t)), -26, 26), form="%.6g")


@case("clipping: envelope at the top", ENVELOPE, {"am_depth_positive": Bound(80.0), "am_depth": NONE}, remark="cut")
def _(folder, rng):
    t = np.arange(10_000) * 2e-6
    v = np.clip(1 + 0.8 * np.cos(TURN * 1000 * t) + 0.003 * rng.standard_normal(len(t)), 0, 1.4)
    return csv(folder, "time_s,volts", t, v)


@case("clipping: audio at full scale", {}, {"audio_distortion": Bound(1.0), "sinad": Bound(40.0)}, remark="clip")
def _(folder, rng):
    t = times(0.5)
    return wav(folder, np.clip(1.6 * np.sin(TURN * 1000 * t) + 0.003 * rng.standard_normal(len(t)), -1, 1))


@case("clipping: a coupled envelope, its mean at nothing", ENVELOPE, NO_DEPTH, remark="couple")
def _(folder, rng):
    t = np.arange(10_000) * 2e-6
    return csv(folder, "time_s,volts", t, 0.5 * np.cos(TURN * 1000 * t) + 0.004 * rng.standard_normal(len(t)))


@case("clipping: a detector upside down", ENVELOPE, {"am_depth": 50.0}, remark="upside")
def _(folder, rng):
    t = np.arange(10_000) * 2e-6
    return csv(folder, "time_s,volts", t, -(1 + 0.5 * np.cos(TURN * 1000 * t)) + 0.004 * rng.standard_normal(len(t)))


@case("clipping: overmodulated, the trough at nothing", AM, {"am_depth_positive": 120.0, "am_depth_negative": 100.0})
def _(folder, rng):
    t = times(0.6)
    e = np.maximum(1 + np.where(t > 0.2, 1.2 * np.cos(TURN * 1000 * t), 0), 0)
    return sigmf(folder, carrier(t, 300.0) * e + hiss(rng, len(t), 0.002))


# 5. what noise? -------------------------------------------------------------------------------------------------------


def _coloured(rng, n: int, sigma: float, at: float, width: float) -> np.ndarray:
    x = np.fft.fft(hiss(rng, n, 1.0))
    f = np.fft.fftfreq(n, 1 / RATE)
    y = np.fft.ifft(x * np.exp(-(((f - at) / width) ** 2) / 2))
    return sigma * y / math.sqrt(float(np.mean(np.abs(y) ** 2)))


@case(
    "noise: a hump under the carrier, cw",
    CW,
    {"carrier_frequency": CENTRE + 900.0, "carrier_power": POWER},
    wanted=("carrier_frequency",),
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 900.0) + _coloured(rng, len(t), 0.03, 900.0, 150.0))


@case("noise: a hump under am", AM, {"am_depth": 60.0, "carrier_power": POWER}, wanted=("am_depth",))
def _(folder, rng):
    t = times(0.5)
    x = carrier(t, 0.0) * (1 + 0.6 * np.cos(TURN * 1000 * t))
    return sigmf(folder, x + _coloured(rng, len(t), 0.02, 0.0, 1500.0))


@case("noise: a narrow receiver's filter round fm", FM, {"fm_deviation": 1500.0}, wanted=("fm_deviation",))
def _(folder, rng):
    t = times(0.5)
    x = 0.3 * np.exp(1j * 1.5 * np.sin(TURN * 1000 * t))
    return sigmf(folder, x + _coloured(rng, len(t), 0.02, 0.0, 4000.0))


@case("noise: pink, behind a tone, audio", {}, {"audio_frequency": 1000.0}, wanted=("audio_frequency",))
def _(folder, rng):
    t = times(1.0)
    x = np.fft.rfft(rng.standard_normal(len(t)))
    f = np.fft.rfftfreq(len(t), 1 / RATE)
    pink = np.fft.irfft(x / np.sqrt(np.maximum(f, 20.0)), len(t))
    return wav(folder, 0.4 * np.sin(TURN * 1000 * t) + 0.03 * pink / np.std(pink))


@case("noise: fm at a poor level", FM, {"fm_deviation": 2000.0})
def _(folder, rng):
    t = times(0.6)
    return sigmf(folder, 0.3 * np.exp(1j * 2.0 * np.sin(TURN * 1000 * t)) + hiss(rng, len(t), 0.12))


# 6. what modulates? ---------------------------------------------------------------------------------------------------


@case(
    "modulation: fm, a tone and a subtone",
    FM,
    {"fm_deviation": 2400.0, "audio_frequency": 1000.0},
    remark="subtone",
    wanted=("fm_deviation",),
)
def _(folder, rng):
    t = times(1.0)
    phase = 2.4 * np.sin(TURN * 1000 * t) + 600 / 88.5 * np.sin(TURN * 88.5 * t + 1)
    return sigmf(folder, 0.3 * np.exp(1j * (phase + TURN * 120 * t)) + hiss(rng, len(t), 0.003))


@case("modulation: fm, a subtone alone", FM, {"fm_deviation": 500.0, "carrier_frequency": CENTRE + 120.0})
def _(folder, rng):
    t = times(1.0)
    phase = 500 / 123.0 * np.sin(TURN * 123.0 * t + 1)
    return sigmf(folder, 0.3 * np.exp(1j * (phase + TURN * 120 * t)) + hiss(rng, len(t), 0.003))


@case(
    "modulation: fm, hum of a large index",
    FM,
    {"carrier_frequency": CENTRE + 77.0, "carrier_power": POWER},
    wanted=("carrier_power",),
)
def _(folder, rng):
    t = times(1.0)
    phase = 8.0 * np.sin(TURN * 50 * t) + 2.0 * np.sin(TURN * 1000 * t)
    return sigmf(folder, 0.3 * np.exp(1j * (phase + TURN * 77 * t)) + hiss(rng, len(t), 0.003))


def _spoken(depth: float, seed: int, seconds: float = 3.0) -> tuple[np.ndarray, np.ndarray]:
    t = times(seconds)
    return t, depth * babble(np.random.default_rng(seed), len(t), RATE)


VOICE = _spoken(2500.0, 6)[1]
SPOKEN_HZ = float(max(np.quantile(VOICE, 0.999), -np.quantile(VOICE, 0.001)))  # exceeded 0.1 % of the time


@case(
    "modulation: am, speech",
    AM,
    {"am_depth": NONE, "am_depth_negative": NONE, "audio_frequency": NONE, "audio_distortion": NONE},
    remark="speech",
)
def _(folder, rng):
    t, voice = _spoken(0.8, 5)
    return sigmf(folder, carrier(t, 300.0) * (1 + voice) + hiss(rng, len(t), 0.003))


@case(
    "modulation: fm, speech",
    FM,
    {"audio_frequency": NONE, "audio_distortion": NONE, "fm_deviation": SPOKEN_HZ},
    remark="speech",
)
def _(folder, rng):
    t, voice = _spoken(2500.0, 6)
    phase = TURN * np.cumsum(voice) / RATE
    return sigmf(folder, 0.3 * np.exp(1j * (phase + TURN * 300 * t)) + hiss(rng, len(t), 0.003))


@case(
    "modulation: two carriers",
    CW,
    {"carrier_power": POWER, "carrier_frequency": CENTRE + 500.0},
    remark="second carrier",
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 500.0) + carrier(t, 3300.0, size=0.25) + hiss(rng, len(t), 0.003))


@case("modulation: am, tone and hum", AM, {"am_depth": 60.0, "audio_frequency": 1000.0}, wanted=("audio_frequency",))
def _(folder, rng):
    t = times(1.0)
    e = 1 + 0.6 * np.cos(TURN * 1000 * t) + 0.08 * np.cos(TURN * 100 * t)
    return sigmf(folder, carrier(t, 300.0) * e + hiss(rng, len(t), 0.003))


@case(
    "modulation: the lower sideband, told as the upper",
    SSB,
    {"carrier_frequency": CENTRE, "peak_envelope_power": POWER * 1.01**2, "frequency_error": 0.0},
    remark="sideband",
)
def _(folder, rng):
    t = times(0.5)
    x = carrier(t, -1000.0) + 10 ** (-40 / 20) * carrier(t, 0.0)
    return sigmf(folder, x + hiss(rng, len(t), 0.001))


@case(
    "modulation: none, am", AM, {"carrier_power": POWER, **NO_DEPTH, "audio_frequency": NONE}, wanted=("carrier_power",)
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 300.0) + hiss(rng, len(t), 0.003))


@case(
    "modulation: two tones on ssb, one of them twice the other",
    TWO,
    {"peak_envelope_power": FULL_W * 0.3**2},
    wanted=("peak_envelope_power",),
)
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 700.0, size=0.2) + carrier(t, 1900.0, size=0.1)
    return sigmf(folder, x + hiss(rng, len(t), 0.001))


@case("modulation: one tone only, told as two", TWO, {"imd3": NONE, "imd5": NONE, "imd7": NONE})
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 700.0) + hiss(rng, len(t), 0.001))


@case("modulation: dtmf-like pair, fm", FM, {"audio_distortion": NONE})
def _(folder, rng):
    t = times(0.5)
    phase = TURN * np.cumsum(1200 * np.sin(TURN * 770 * t) + 1200 * np.sin(TURN * 1336 * t)) / RATE
    return sigmf(folder, 0.3 * np.exp(1j * phase) + hiss(rng, len(t), 0.003))


@case("modulation: hum and a tone, audio", {}, {"audio_frequency": 1000.0}, wanted=("audio_frequency",))
def _(folder, rng):
    t = times(1.0)
    return wav(
        folder, 0.4 * np.sin(TURN * 1000 * t) + 0.05 * np.sin(TURN * 100 * t) + 0.001 * rng.standard_normal(len(t))
    )


@case("modulation: speech, audio", {}, {"audio_frequency": NONE, "sinad": NONE, "audio_distortion": NONE})
def _(folder, rng):
    t, voice = _spoken(0.6, 7)
    return wav(folder, voice + 0.001 * rng.standard_normal(len(t)))


@case("modulation: envelope of speech", ENVELOPE, {"am_depth": NONE, "am_depth_negative": NONE})
def _(folder, rng):
    t, voice = _spoken(0.7, 8, seconds=1.0)
    return csv(folder, "time_s,volts", t, 1 + voice + 0.003 * rng.standard_normal(len(t)))


# 7. spectra -----------------------------------------------------------------------------------------------------------

ANALYSER_HZ = np.linspace(1e6, 100e6, 9901)  # 10 kHz apart


def swept(
    rng,
    lines: dict[float, float],
    *,
    floor_dbm: float,
    rbw: float,
    detector: str,
    f: np.ndarray = ANALYSER_HZ,
    offset: float = 0.0,
):
    """Levels in dBm of lines through a Gaussian filter of 3 dB width `rbw` over a noise floor, by detector."""
    field_ = np.zeros(len(f), complex)
    for hz, dbm in lines.items():
        away = f - hz - offset
        field_ += 10 ** (dbm / 20) * np.exp(-2 * math.log(2) * (away / rbw) ** 2)
    looks = {"sample": 1, "rms": 40, "peak": 40}[detector]
    noise = (
        10 ** (floor_dbm / 20)
        * (rng.standard_normal((looks, len(f))) + 1j * rng.standard_normal((looks, len(f))))
        / math.sqrt(2)
    )
    power = np.abs(field_ + noise) ** 2
    kept = power.max(axis=0) if detector == "peak" else power.mean(axis=0)
    return 10 * np.log10(kept)


LINES = {27.185e6: 36.0, 54.37e6: -24.0, 81.555e6: -34.0}
LEVELS = {"carrier_power": 10 ** (36 / 10 - 3), "harmonic_2": -60.0, "harmonic_3": -70.0}


def _spectrum(detector: str, told: bool):
    @case(
        f"detector: {detector}{', told' if told else ''}",
        {"detector": detector} if told else {},
        LEVELS,
        wanted=("carrier_power", "harmonic_2"),
    )
    def _(folder, rng):
        levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector=detector)
        return csv(folder, "frequency_hz,level_dbm", ANALYSER_HZ, levels)


for _detector in ("sample", "rms", "peak"):
    _spectrum(_detector, told=False)
    _spectrum(_detector, told=True)


@case("detector: a harmonic hardly over the floor", {}, {"harmonic_2": -90.0, "carrier_power": LEVELS["carrier_power"]})
def _(folder, rng):
    levels = swept(rng, {27.185e6: 36.0, 54.37e6: -54.0}, floor_dbm=-60.0, rbw=30e3, detector="sample")
    return csv(folder, "frequency_hz,level_dbm", ANALYSER_HZ, levels)


@case("detector: harmonics under the floor", {}, {"harmonic_2": Bound(-100.0), "harmonic_3": Bound(-100.0)})
def _(folder, rng):
    levels = swept(rng, {27.185e6: 36.0}, floor_dbm=-60.0, rbw=30e3, detector="sample")
    return csv(folder, "frequency_hz,level_dbm", ANALYSER_HZ, levels)


@case(
    "detector: points wider apart than the filter", {}, {"carrier_power": LEVELS["carrier_power"], "harmonic_2": -60.0}
)
def _(folder, rng):
    f = np.linspace(1e6, 100e6, 1001)  # 99 kHz apart, a filter of 30 kHz: the line may be missed
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="sample", f=f)
    return csv(folder, "frequency_hz,level_dbm", f, levels)


@case("detector: downwards", {}, LEVELS, wanted=("carrier_power", "harmonic_2"))
def _(folder, rng):
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="rms")
    return csv(folder, "frequency_hz,level_dbm", ANALYSER_HZ[::-1], levels[::-1])


@case("detector: dBuV where dBm is written", {}, {"carrier_power": NONE}, remark="dB")
def _(folder, rng):
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="rms") + 107
    return csv(folder, "frequency_hz,level_dbm", ANALYSER_HZ, levels)


@case("detector: occupied bandwidth of the floor's equal ends", {}, {"occupied_bandwidth": NONE})
def _(folder, rng):
    f = np.linspace(27.16e6, 27.21e6, 1001)
    levels = swept(rng, {27.185e6: -20.0}, floor_dbm=-40.0, rbw=1e3, detector="sample", f=f)
    return csv(folder, "frequency_hz,level_dbm", f, levels)


@case("detector: occupied bandwidth of an emission well over its floor", {}, {"occupied_bandwidth": 6000.0})
def _(folder, rng):
    f = np.linspace(27.16e6, 27.21e6, 2001)
    inside = np.abs(f - 27.185e6) < 3030.0
    power = np.where(inside, 1.0, 1e-6) * 1e-2
    return csv(folder, "frequency_hz,level_dbm", f, 10 * np.log10(power * rng.exponential(1, len(f)).clip(0.02)))


# 8. a fraction of a cycle, two lines on a scope -----------------------------------------------------------------------


@case(
    "fraction: am on a scope, one and a quarter cycles",
    {},
    {"am_depth": 60.0, "carrier_power": 4.0},
    wanted=("am_depth",),
)
def _(folder, rng):
    t = np.arange(50_000) * 2.5e-8
    v = 20 * (1 + 0.6 * np.cos(TURN * 1000 * t + 0.7)) * np.sin(TURN * 7.03e6 * t)
    return csv(folder, "time_s,volts", t, v + 0.05 * rng.standard_normal(len(t)), form="%.6g")


@case("fraction: am on a scope, a third of a cycle", {}, {"am_depth": NONE, "carrier_power": NONE})
def _(folder, rng):
    t = np.arange(16_000) * 2e-8
    v = 20 * (1 + 0.6 * np.cos(TURN * 1000 * t + 0.7)) * np.sin(TURN * 7.03e6 * t)
    return csv(folder, "time_s,volts", t, v + 0.05 * rng.standard_normal(len(t)), form="%.6g")


@case(
    "fraction: two tones on a scope",
    {"mode": "two-tone"},
    {"peak_envelope_power": 16.0, **NO_DEPTH, "carrier_power": NONE},
    wanted=("peak_envelope_power",),
)
def _(folder, rng):
    t = np.arange(100_000) * 2e-8
    v = 20 * np.sin(TURN * 7.0307e6 * t) + 20 * np.sin(TURN * 7.0319e6 * t + 1)
    return csv(folder, "time_s,volts", t, v + 0.05 * rng.standard_normal(len(t)), form="%.6g")


@case("fraction: a plain carrier on a scope, eight bits", {}, {"carrier_power": 4.0}, wanted=("carrier_power",))
def _(folder, rng):
    t = np.arange(2500) * 2e-9
    v = np.round(20 * np.sin(TURN * 27.185e6 * t) / 0.2) * 0.2
    return csv(folder, "time_s,volts", t, v)


@case("fraction: fade of three points", {}, {"power_fade": NONE, "time_constant": NONE, "steady_power": NONE})
def _(folder, rng):
    return csv(folder, "time_s,power_w", np.array([0.0, 5, 10]), np.array([4.0, 3.6, 3.5]))


@case("fraction: fade cut before it settles", {}, {"time_constant": NONE, "steady_power": NONE})
def _(folder, rng):
    t = np.arange(0, 6, 0.1)
    return csv(folder, "time_s,power_w", t, 3 + np.exp(-t / 40) + 0.003 * rng.standard_normal(len(t)))


@case(
    "modulation: a stronger carrier on the next channel",
    AM,
    {"am_depth": 50.0},
    wanted=("am_depth",),
    remark="second carrier",
)
def _(folder, rng):
    t = times(0.6)
    wanted = carrier(t, -120.0, size=0.1) * (1 + 0.5 * np.cos(TURN * 1000 * t))
    return sigmf(folder, wanted + carrier(t, 10_000.0, size=0.2) + hiss(rng, len(t), 0.001))


@case(
    "modulation: two carriers that beat, and no tone",
    AM,
    {"am_depth": NONE, "am_depth_positive": NONE, "carrier_power": NONE, "carrier_frequency": CENTRE + 40.0},
    wanted=("carrier_frequency",),
    remark="beat",
)
def _(folder, rng):
    t = times(0.6)
    return sigmf(folder, carrier(t, 40.0) + carrier(t, 1340.0, size=0.1) + hiss(rng, len(t), 0.001))


# dialects -------------------------------------------------------------------------------------------------------------


def _envelope_text(rng, *, seconds: float = 0.02):
    t = np.arange(round(seconds * 500_000)) / 500_000
    return t, 1 + 0.5 * np.cos(TURN * 1000 * t) + 0.003 * rng.standard_normal(len(t))


HALF = {"am_depth": 50.0}


def _dialect(
    name: str,
    spell: Callable[[np.ndarray, np.ndarray], str],
    options=None,
    truth=None,
    encoding="utf-8",
    called="r.csv",
    **more,
):
    @case(f"dialect: {name}", options or ENVELOPE, truth or HALF, wanted=("am_depth",) if truth is None else (), **more)
    def _(folder, rng):
        t, v = _envelope_text(rng)
        (folder / called).write_bytes(spell(t, v).encode(encoding))
        return folder / called


def rows(t, v, joint=",", form="%.7g", point="."):
    return "\n".join(joint.join((form % a, form % b)).replace(".", point) for a, b in zip(t, v, strict=True)) + "\n"


_dialect("semicolons and a decimal comma", lambda t, v: "time_s;volts\n" + rows(t, v, ";", point=","))
_dialect("tabs", lambda t, v: "time_s\tvolts\n" + rows(t, v, "\t"))
_dialect(
    "a preamble before the header",
    lambda t, v: "Bench scope export\nRecord length,10000\nSample interval,2e-6\n\ntime_s,volts\n" + rows(t, v),
)
_dialect("quoted headers", lambda t, v: '"time_s","volts"\n' + rows(t, v))
_dialect("units in the header", lambda t, v: "Time (ms),CH1 (mV)\n" + rows(t * 1e3, v * 1e3))
_dialect("units in a line of their own", lambda t, v: "Time,CH1\n(ms),(V)\n" + rows(t * 1e3, v))
_dialect(
    "a byte-order mark and carriage returns", lambda t, v: "\ufefftime_s,volts\r\n" + rows(t, v).replace("\n", "\r\n")
)
_dialect(
    "two channels, one at rest",
    lambda t, v: (
        "Time (s),CH1 (V),CH2 (V)\n"
        + "".join(f"{a:.7g},{0.001 * (n % 2):.4g},{b:.7g}\n" for n, (a, b) in enumerate(zip(t, v, strict=True)))
    ),
)
_dialect(
    "times repeated by rounding",
    lambda t, v: "time_s,volts\n" + "".join(f"{a:.5f},{b:.7g}\n" for a, b in zip(t, v, strict=True)),
    remark="interval",
)
_dialect(
    "a gap of empty cells",
    lambda t, v: (
        "time_s,volts\n"
        + "".join(
            f"{a:.7g},{'' if 4000 <= n < 4004 else format(b, '.7g')}\n"
            for n, (a, b) in enumerate(zip(t, v, strict=True))
        )
    ),
    remark="gap",
)
_dialect(
    "overload written as OL",
    lambda t, v: (
        "time_s,volts\n"
        + "".join(f"{a:.7g},{'OL' if b > 1.4 else format(b, '.7g')}\n" for a, b in zip(t, v, strict=True))
    ),
    truth={"am_depth": NONE, "am_depth_positive": Bound(50.0)},
    remark="over",
)


_dialect(
    "overload written as OVL",
    lambda t, v: (
        "time_s,volts\n"
        + "".join(f"{a:.7g},{'OVL' if b > 1.4 else format(b, '.7g')}\n" for a, b in zip(t, v, strict=True))
    ),
    truth={"am_depth": NONE, "am_depth_positive": Bound(50.0)},
    remark="over",
)
_dialect(
    "a code page of western Europe",
    lambda t, v: "Gerät;Oszi 2\nZeit (µs);Spannung (mV)\n" + rows(t * 1e6, v * 1e3, ";", point=","),
    encoding="latin-1",
)
_dialect("two bytes a letter", lambda t, v: "\ufeffTime [s]\tCH1 [V]\n" + rows(t, v, "\t"), encoding="utf-16-le")
_dialect("another ending of the name", lambda t, v: "Time\tCH1\n(us)\t(V)\n" + rows(t * 1e6, v, "\t"), called="r.txt")
_dialect("spaces between the columns", lambda t, v: "Time(s)   CH1(V)\n" + rows(t, v, "   "), called="r.txt")
_dialect(
    "a minus of its own and a footer",
    lambda t, v: "s,V\n" + rows(t - 0.004, v).replace("-", "\u2212") + "End of record\n",
    remark="behind the figures",
)
_dialect("units behind a stroke", lambda t, v: "t/ms,U/mV\n" + rows(t * 1e3, v * 1e3))
_dialect(
    "one column, and its interval before it",
    lambda t, v: (
        "Record Length,10000\nSample Interval,2.0E-06\nVertical Units,V\n\nCH1\n" + "".join(f"{b:.7g}\n" for b in v)
    ),
    remark="one column",
)
_dialect(
    "one column, and its rate before it",
    lambda t, v: "# Sample Rate: 500 kSa/s\n# Unit: mV\n" + "".join(f"{1e3 * b:.7g}\n" for b in v),
    remark="one column",
)


@case(
    "dialect: spectrum of one column between its ends",
    {},
    LEVELS,
    wanted=("carrier_power", "harmonic_2"),
    remark="one column",
)
def _(folder, rng):
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="rms")
    head = "# Start Freq: 1.000 MHz\n# Stop Freq: 100.000 MHz\n# RBW: 30.0 kHz\n# Detector: RMS\n# Unit: dBm\n"
    (folder / "r.csv").write_text(head + "".join(f"{level:.3f}\n" for level in levels))
    return folder / "r.csv"


@case(
    "dialect: spectrum with its detector in the preamble",
    {},
    LEVELS,
    wanted=("carrier_power", "harmonic_2"),
    remark="as the file says",
)
def _(folder, rng):
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="peak")
    head = "Trace,1\nRes BW,30 kHz\nDetector,Positive peak\nFrequency_MHz,Level_dBm"
    return csv(folder, head, ANALYSER_HZ / 1e6, levels)


@case("dialect: spectrum in dBuV and MHz", {}, LEVELS, wanted=("carrier_power", "harmonic_2"))
def _(folder, rng):
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="rms") + 10 * math.log10(50 * 1e-3 * 1e12)
    return csv(folder, "Frequency (MHz),Amplitude (dBuV)", ANALYSER_HZ / 1e6, levels)


@case(
    "dialect: unsigned bytes of a cheap receiver",
    CW,
    {"carrier_frequency": CENTRE + 900.0, "carrier_power": POWER},
    wanted=("carrier_frequency",),
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 900.0) + hiss(rng, len(t), 0.01), kind="cu8")


@case(
    "dialect: signed bytes",
    CW,
    {"carrier_frequency": CENTRE + 900.0, "carrier_power": POWER},
    wanted=("carrier_frequency",),
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 900.0) + hiss(rng, len(t), 0.01), kind="ci8")


@case(
    "dialect: a wav that says it is longer than it is",
    {},
    {"audio_frequency": 1000.0},
    remark="",
    wanted=("audio_frequency",),
)
def _(folder, rng):
    t = times(0.5)
    path = wav(folder, 0.5 * np.sin(TURN * 1000 * t) + 0.001 * rng.standard_normal(len(t)))
    raw = bytearray(path.read_bytes())
    raw[40:44] = struct.pack("<I", 2**31 - 1)
    path.write_bytes(bytes(raw))
    return path


def touchstone(folder: Path, header: str, f, gamma) -> Path:
    text = "".join(f"{hz:.1f} {g.real:.9f} {g.imag:.9f}\n" for hz, g in zip(f, gamma, strict=True))
    (folder / "r.s1p").write_text(f"! bench\n{header}\n{text}")
    return folder / "r.s1p"


def aerial(f, r: float = 42.0, q: float = 12.0, at: float = 27.3e6):
    return r + 1j * r * q * (f / at - at / f)


@case("dialect: an aerial in 75 ohms", {"nominal_hz": 27.3e6}, {"swr": 50 / 42.0}, wanted=("swr",), remark="75")
def _(folder, rng):
    f = np.linspace(26e6, 29e6, 601)
    z = aerial(f)
    return touchstone(folder, "# Hz S RI R 75", f, (z - 75) / (z + 75))


@case(
    "dialect: an aerial swept downwards",
    {"nominal_hz": 27.3e6},
    {"swr": 50 / 42.0, "resonant_frequency": 27.3e6},
    wanted=("swr", "resonant_frequency"),
)
def _(folder, rng):
    f = np.linspace(29e6, 26e6, 601)
    z = aerial(f)
    return touchstone(folder, "# Hz S RI R 50", f, (z - 50) / (z + 50))


@case("dialect: resonance outside of the sweep", {"nominal_hz": 27.3e6}, {"resonant_frequency": NONE})
def _(folder, rng):
    f = np.linspace(27e6, 28e6, 401)
    z = aerial(f, at=24e6)
    return touchstone(folder, "# Hz S RI R 50", f, (z - 50) / (z + 50))


# and more of each ----------------------------------------------------------------------------------------------------


@case(
    "more: am of a deep slow tone, drifting, at another rate",
    AM,
    {"carrier_power": POWER, "am_depth": 95.0, "carrier_frequency": CENTRE + 2100.0},
    wanted=("carrier_power", "am_depth"),
)
def _(folder, rng):
    t = times(0.8, 192_000.0)
    x = carrier(t, 2100.0, -120.0) * (1 + 0.95 * np.cos(TURN * 400 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.01), rate=192_000.0)


@case(
    "more: fm without any audio",
    FM,
    {"carrier_power": POWER, "carrier_frequency": CENTRE - 640.0, **NO_DEVIATION},
    wanted=("carrier_power", "carrier_frequency"),
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, -640.0) + hiss(rng, len(t), 0.004))


@case(
    "more: fm, wide, a low tone",
    FM,
    {"fm_deviation": 4800.0, "audio_frequency": 300.0, "carrier_power": POWER},
    wanted=("fm_deviation", "audio_frequency"),
)
def _(folder, rng):
    t = times(0.7, 96_000.0)
    x = 0.3 * np.exp(1j * (TURN * 900 * t + 16.0 * np.sin(TURN * 300 * t)))
    return sigmf(folder, x + hiss(rng, len(t), 0.005), rate=96_000.0)


@case(
    "more: fm, keyed late, drifting, with a subtone",
    FM,
    {"fm_deviation": 2200.0, "carrier_power": POWER},
    wanted=("fm_deviation", "carrier_power"),
)
def _(folder, rng):
    t = times(2.0)
    phase = 2.2 * np.sin(TURN * 1000 * t) + 450 / 103.5 * np.sin(TURN * 103.5 * t)
    x = carrier(t, 200.0, 25.0) * np.exp(1j * phase)
    return sigmf(folder, np.where(t > 0.8, x, 0) + hiss(rng, len(t), 0.003))


@case("more: cw as dots", CW, {"carrier_power": POWER, "carrier_frequency": CENTRE + 333.0}, wanted=("carrier_power",))
def _(folder, rng):
    t = times(2.0)
    return sigmf(folder, np.where((t % 0.24) < 0.12, carrier(t, 333.0), 0) + hiss(rng, len(t), 0.003))


@case("more: clipped on one side, hardly", AM, {"am_depth": NONE, "am_depth_positive": Bound(90.0)}, remark="clip")
def _(folder, rng):
    t = times(0.5)
    x = carrier(t, 300.0, size=0.55) * (1 + 0.9 * np.cos(TURN * 1000 * t)) + hiss(rng, len(t), 0.002)
    return sigmf(folder, cut(x, 0.96), kind="ci16_le")


@case("more: speech, drifting, am", AM, {"am_depth": NONE, "carrier_power": POWER, "audio_frequency": NONE})
def _(folder, rng):
    t, voice = _spoken(0.6, 11)
    return sigmf(folder, carrier(t, 100.0, 15.0) * (1 + voice) + hiss(rng, len(t), 0.003))


@case(
    "more: a neighbour stronger than the one that is assigned",
    {**CW, "nominal_hz": CENTRE},
    {"carrier_frequency": CENTRE + 150.0, "carrier_power": FULL_W * 0.02**2},
    wanted=("carrier_frequency",),
)
def _(folder, rng):
    t = times(0.5)
    return sigmf(folder, carrier(t, 150.0, size=0.02) + carrier(t, 10_150.0, size=0.4) + hiss(rng, len(t), 0.001))


@case(
    "more: ssb, its tone off by drift, carrier under the noise",
    SSB,
    {"carrier_suppression": Bound(60.0), "peak_envelope_power": POWER},
    wanted=("peak_envelope_power",),
)
def _(folder, rng):
    t = times(0.6)
    return sigmf(folder, carrier(t, 1000.0) + 10 ** (-60 / 20) * carrier(t, 0.0) + hiss(rng, len(t), 0.01))


@case("more: rf on a scope with an offset", {"probe_ratio": 10.0}, {"carrier_power": 100.0}, wanted=("carrier_power",))
def _(folder, rng):
    t = np.arange(10_000) * 2e-9
    return csv(folder, "time_s,volts", t, 10 * np.sin(TURN * 14.2e6 * t) + 1.7 + 0.02 * rng.standard_normal(len(t)))


@case("more: rf on a scope, its top cut by the screen", {}, {"carrier_power": Bound(4.0)}, remark="cut")
def _(folder, rng):
    t = np.arange(10_000) * 2e-9
    v = np.minimum(20 * np.sin(TURN * 14.2e6 * t), 16.0)
    return csv(folder, "time_s,volts", t, np.round(v / 0.4) * 0.4)


@case("more: an envelope over a diode's threshold", ENVELOPE, {"am_depth_negative": 100.0}, wanted=())
def _(folder, rng):
    t = np.arange(20_000) * 1e-6
    v = np.maximum(1 + 1.0 * np.cos(TURN * 400 * t), 0.0)
    return csv(folder, "time_s,volts", t, v + 0.002 * rng.standard_normal(len(t)))


@case("more: an envelope of two tones", ENVELOPE, {"am_depth": NONE})
def _(folder, rng):
    t = np.arange(50_000) * 2e-6
    v = 1 + 0.4 * np.cos(TURN * 700 * t) + 0.4 * np.cos(TURN * 1900 * t)
    return csv(folder, "time_s,volts", t, v + 0.002 * rng.standard_normal(len(t)))


@case("more: a spectrum from nothing with the analyser's own line", {}, LEVELS, wanted=("carrier_power", "harmonic_2"))
def _(folder, rng):
    f = np.linspace(0, 100e6, 10_001)
    levels = swept(rng, {0.0: 30.0, **LINES}, floor_dbm=-60.0, rbw=30e3, detector="rms", f=f)
    return csv(folder, "frequency_hz,level_dbm", f, levels)


@case(
    "more: a spectrum over a floor that rises",
    {},
    {"carrier_power": LEVELS["carrier_power"], "harmonic_2": -60.0},
    wanted=("harmonic_2",),
)
def _(folder, rng):
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="sample") + 0.0
    tilt = 12 * (ANALYSER_HZ - ANALYSER_HZ[0]) / np.ptp(ANALYSER_HZ)
    noise = swept(rng, {}, floor_dbm=-60.0, rbw=30e3, detector="sample") + tilt
    return csv(folder, "frequency_hz,level_dbm", ANALYSER_HZ, np.where(levels > -45, levels, noise))


@case(
    "more: a fade with the key let go at its end",
    {},
    {"power_fade": 10 * math.log10(3.0 / (3 + 3 * (1 - math.exp(-1 / 3))))},
)
def _(folder, rng):
    t = np.arange(0, 40, 0.1)
    p = np.where(t < 30, 3 + np.exp(-t / 3), 0.0)
    return csv(folder, "time_s,power_w", t, np.abs(p + 0.003 * rng.standard_normal(len(t))))


@case("more: power that comes and goes", {}, {"time_constant": NONE, "steady_power": NONE})
def _(folder, rng):
    t = np.arange(0, 30, 0.1)
    p = np.where((t % 6) < 4, 4.0, 0.4)
    return csv(folder, "time_s,power_w", t, np.abs(p + 0.01 * rng.standard_normal(len(t))))


@case("more: audio, two tones", {}, {"audio_distortion": NONE, "sinad": NONE})
def _(folder, rng):
    t = times(1.0)
    return wav(
        folder, 0.3 * np.sin(TURN * 700 * t) + 0.3 * np.sin(TURN * 1900 * t) + 0.001 * rng.standard_normal(len(t))
    )


@case(
    "more: audio, a weak tone in noise",
    {},
    {"audio_frequency": 1000.0, "sinad": 10 * math.log10((0.02 + 0.0144) / 0.0144)},
    wanted=("audio_frequency",),
)
def _(folder, rng):
    t = times(1.0)
    return wav(folder, 0.2 * np.sin(TURN * 1000 * t) + 0.12 * rng.standard_normal(len(t)))


@case("more: a table in another language", ENVELOPE, HALF, wanted=("am_depth",))
def _(folder, rng):
    t, v = _envelope_text(rng)
    (folder / "r.csv").write_text("Messung 3\n\nZeit (ms);Kanal A (V)\n" + rows(t * 1e3, v, ";", point=","))
    return folder / "r.csv"


@case("more: samples by number, the interval in the header", ENVELOPE, HALF)
def _(folder, rng):
    _, v = _envelope_text(rng)
    text = "X,CH1,Start,Increment\nSequence,Volt,0.0,2e-06\n" + "".join(f"{n},{b:.6g}\n" for n, b in enumerate(v))
    (folder / "r.csv").write_text(text)
    return folder / "r.csv"


@case(
    "more: an aerial in magnitude and angle, in GHz",
    {"nominal_hz": 27.3e6},
    {"swr": 50 / 42.0, "return_loss": -20 * math.log10(8 / 92)},
    wanted=("swr",),
)
def _(folder, rng):
    f = np.linspace(26e6, 29e6, 601)
    z = aerial(f)
    g = (z - 50) / (z + 50)
    text = "".join(f"{hz / 1e9:.9f} {abs(x):.9f} {math.degrees(np.angle(x)):.6f}\n" for hz, x in zip(f, g, strict=True))
    (folder / "r.s1p").write_text("# GHz S MA R 50\n" + text)
    return folder / "r.s1p"


# does it hold? --------------------------------------------------------------------------------------------------------


@case("hold: a depth that steps from 50 to 80", AM, {"carrier_power": POWER, **NO_DEPTH}, remark="holds")
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 300.0) * (1 + np.where(t < 0.5, 0.5, 0.8) * np.cos(TURN * 1000 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.002))


@case("hold: a depth that rises all along", AM, {"carrier_power": POWER, **NO_DEPTH}, remark="holds")
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, carrier(t, 300.0) * (1 + (0.2 + 0.6 * t) * np.cos(TURN * 1000 * t)) + hiss(rng, len(t), 0.002))


@case("hold: a power that steps down, cw", CW, {"carrier_power": NONE, "carrier_frequency": CENTRE + 400.0}, remark="%")
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, carrier(t, 400.0) * np.where(t < 0.5, 1.0, 0.5) + hiss(rng, len(t), 0.002))


@case(
    "hold: a power that sags a little, cw", CW, {"carrier_power": POWER}, wanted=("carrier_power",), remark="level goes"
)
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, carrier(t, 400.0) * (1.04 - 0.08 * t) + hiss(rng, len(t), 0.002))


@case(
    "hold: a carrier that wobbles by 50 Hz three times a second",
    CW,
    {"carrier_power": POWER, "carrier_frequency": CENTRE + 400.0},
    wanted=("carrier_power",),
    remark="wanders",
)
def _(folder, rng):
    t = times(2.0)
    return sigmf(folder, carrier(t, 400.0) * np.exp(50j / 3 * np.sin(TURN * 3 * t)) + hiss(rng, len(t), 0.002))


@case("hold: a phase that walks at random", CW, {"carrier_power": POWER}, wanted=("carrier_power",), remark="wanders")
def _(folder, rng):
    t = times(1.0)
    walk = np.cumsum(rng.standard_normal(len(t))) * 0.01
    return sigmf(folder, carrier(t, 400.0) * np.exp(1j * walk) + hiss(rng, len(t), 0.002))


@case("hold: a tone whose pitch wanders, audio", {}, {"audio_frequency": 1000.0, "sinad": NONE}, remark="wanders")
def _(folder, rng):
    t = times(2.0)
    return wav(folder, 0.4 * np.sin(TURN * 1000 * t + 3 * np.sin(TURN * 2 * t)) + 5e-4 * rng.standard_normal(len(t)))


@case("hold: a tone that comes up, audio", {}, {"sinad": NONE, "audio_distortion": NONE}, wanted=("audio_frequency",))
def _(folder, rng):
    t = times(1.0)
    return wav(folder, (0.1 + 0.3 * t) * np.sin(TURN * 1000 * t) + 5e-4 * rng.standard_normal(len(t)))


@case("hold: a deviation that steps", FM, {**NO_DEVIATION, "carrier_power": POWER}, remark="holds")
def _(folder, rng):
    t = times(1.0)
    x = 0.3 * np.exp(1j * np.where(t < 0.5, 1.5, 2.5) * np.sin(TURN * 1000 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.002))


@case("hold: power that falls at once", {}, {"time_constant": NONE, "steady_power": NONE}, wanted=("power_fade",))
def _(folder, rng):
    t = np.arange(0, 60, 0.1)
    return csv(folder, "time_s,power_w", t, np.where(t < 20, 4.0, 1.5) + 0.005 * rng.standard_normal(len(t)))


@case("hold: an envelope of a triangle", ENVELOPE, {"am_depth": 60.0, "am_depth_positive": 60.0}, wanted=("am_depth",))
def _(folder, rng):
    t = np.arange(20_000) * 2e-6
    wave_form = 2 / math.pi * np.arcsin(np.sin(TURN * 1000 * t))
    return csv(folder, "time_s,volts", t, 1 + 0.6 * wave_form + 0.003 * rng.standard_normal(len(t)))


# a phase that goes with the tone, and what stands where a carrier would -----------------------------------------------


def _turned(index: float, depth: float, at: float):
    @case(
        f"phase: am of {depth:.0%} whose phase goes with its tone by {index:g} rad, {at:g} rad behind",
        AM,
        {
            "carrier_power": POWER, "am_depth": 100 * depth, "carrier_frequency": CENTRE + 300.0,
            "audio_distortion": Bound(0.0),
        },
        wanted=("am_depth", "carrier_power"),
    )  # fmt: skip
    def _(folder, rng):
        t = times(0.8)
        x = (
            carrier(t, 300.0)
            * (1 + depth * np.cos(TURN * 1000 * t))
            * np.exp(1j * index * np.sin(TURN * 1000 * t + at))
        )
        return sigmf(folder, x + hiss(rng, len(t), 0.002))


_turned(0.1, 0.7, 0.4)
_turned(0.3, 0.3, math.pi / 2)
_turned(0.5, 0.95, math.pi / 2)


@case("phase: on a scope too", {}, {"carrier_power": 4.0, "am_depth": 70.0}, wanted=("am_depth",))
def _(folder, rng):
    t = np.arange(400_000) * 2e-8
    v = 20 * (1 + 0.7 * np.cos(TURN * 1000 * t)) * np.sin(TURN * 7.1e6 * t + 0.3 * np.sin(TURN * 1000 * t + 0.4))
    return csv(folder, "time_s,volts", t, v + 0.1 * rng.standard_normal(len(t)))


@case("presence: a large line at rest in the very centre, and another", CW, NO_CARRIER, remark="cannot be told")
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, carrier(t, 7000.0, size=0.05) + 0.2 + hiss(rng, len(t), 0.003))


@case("fraction: fm wider than the record's rate", FM, {**NO_DEVIATION, "carrier_frequency": NONE}, remark="wider")
def _(folder, rng):
    t = times(0.8, 12_500.0)
    x = 0.3 * np.exp(1j * (TURN * 90 * t + 5 * np.sin(TURN * 1000 * t)))
    return sigmf(folder, x + hiss(rng, len(t), 0.002), rate=12_500.0)


@case(
    "dialect: power against time as a level",
    {},
    {"time_constant": 10.0, "steady_power": 3.6},
    wanted=("time_constant",),
)
def _(folder, rng):
    t = np.arange(0, 60, 0.1)
    p = 4 * (0.9 + 0.1 * np.exp(-t / 10)) * (1 + 0.002 * rng.standard_normal(len(t)))
    return csv(folder, "Time (s),Power (dBm)", t, 10 * np.log10(p * 1e3))


# told as another mode than it is --------------------------------------------------------------------------------------


def _tone_fm(t, hz: float, deviation: float) -> np.ndarray:
    return carrier(t, hz) * np.exp(1j * deviation / 1000 * np.sin(TURN * 1000 * t))


@case(
    "mode: told am, is fm", AM, {"carrier_power": POWER, **NO_DEPTH, "carrier_frequency": CENTRE + 200.0}, remark="fm"
)
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, _tone_fm(t, 200.0, 2000.0) + hiss(rng, len(t), 0.002))


@case("mode: told am, is fm of a small index", AM, {"carrier_power": POWER, **NO_DEPTH}, remark="fm")
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, _tone_fm(t, 200.0, 400.0) + hiss(rng, len(t), 0.002))


@case(
    "mode: told cw, is fm", CW, {"carrier_power": POWER, "carrier_frequency": CENTRE + 200.0}, wanted=("carrier_power",)
)
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, _tone_fm(t, 200.0, 2000.0) + hiss(rng, len(t), 0.002))


@case("mode: told cw, is a voice on one sideband", CW, {"carrier_power": NONE})
def _(folder, rng):
    t = times(2.0)
    voice = np.fft.fft(babble(rng, len(t), RATE))
    voice[np.fft.fftfreq(len(t), 1 / RATE) < 0] = 0
    return sigmf(folder, 0.5 * np.fft.ifft(voice) + hiss(rng, len(t), 0.002))


@case(
    "mode: one tone of 1500 Hz, told as 1000", SSB, {"carrier_suppression": 45.0, "frequency_error": 0.0}, remark="tone"
)
def _(folder, rng):
    t = times(1.0)
    x = 0.3 * np.exp(1j * TURN * 1500 * t) + 0.3 * 10 ** (-45 / 20) * np.exp(1j)
    return sigmf(folder, x + hiss(rng, len(t), 5e-4))


@case(
    "clipping: a spectrum whose carrier stands flat at the reference level",
    {},
    {"carrier_power": NONE, "harmonic_2": NONE},
)
def _(folder, rng):
    levels = swept(rng, LINES, floor_dbm=-60.0, rbw=30e3, detector="rms")
    return csv(folder, "frequency_hz,level_dbm", ANALYSER_HZ, np.minimum(levels, 30.0))


# noise that came behind the cut, and what stands beside the one that is meant -----------------------------------------


@case("clipping: envelope at the top, noise behind it", ENVELOPE, {"am_depth_positive": Bound(80.0), "am_depth": NONE},
      remark="cut")  # fmt: skip
def _(folder, rng):
    t = np.arange(20_000) * 5e-6
    v = 2 * np.minimum(1 + 0.8 * np.sin(TURN * 1000 * t + 0.4), 1.5)
    return csv(folder, "time_s,volts", t, v + 0.003 * rng.standard_normal(len(t)))


@case("clipping: a detector's own threshold at the bottom", ENVELOPE, {"am_depth_negative": NONE, "am_depth": NONE},
      remark="cut")  # fmt: skip
def _(folder, rng):
    t = np.arange(20_000) * 5e-6
    v = np.maximum(2 * (1 + 0.95 * np.sin(TURN * 1000 * t + 0.4)), 0.3)
    return csv(folder, "time_s,volts", t, v + 0.003 * rng.standard_normal(len(t)))


@case("clipping: an amplifier before the scope", {}, {"carrier_power": Bound(4.0)}, remark="cut")
def _(folder, rng):
    t = np.arange(25_000) * 4e-9
    v = np.clip(20 * np.sin(TURN * CENTRE * t), -15, 15) + 0.15 * rng.standard_normal(len(t))
    return csv(folder, "time_s,volts", t, v)


@case("clipping: sound of a discriminator", {"hz_per_unit": 5000.0}, {"fm_deviation": Bound(3750.0)}, remark="cut")
def _(folder, rng):
    t = times(2.0)
    v = 0.5 * np.clip(1.5 * np.sin(TURN * 1004.3 * t), -1, 1)
    return wav(folder, v + 0.001 * rng.standard_normal(len(t)))


@case("clipping: a tone that repeats itself is none", {}, {"audio_frequency": 3000.0, "audio_distortion": 5.0},
      wanted=("audio_distortion",))  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    v = 0.5 * np.sin(TURN * 3000 * t + 0.1) + 0.025 * np.sin(TURN * 6000 * t)
    return wav(folder, v + 3e-5 * rng.standard_normal(len(t)))


@case("clipping: a carrier that falls under its tone is none", ENVELOPE, {"am_depth": 20.0, "carrier_shift": -20.0},
      wanted=("am_depth",))  # fmt: skip
def _(folder, rng):
    t = np.arange(20_000) * 5e-6
    v = 2 * np.where(t < 0.05, 1.0, 0.8 * (1 + 0.25 * np.sin(TURN * 1000 * t)))
    return csv(folder, "time_s,volts", t, v + 0.004 * rng.standard_normal(len(t)))


@case("clipping: two tones", TWO, {"imd3": NONE, "imd5": NONE, "peak_envelope_power": Bound(FULL_W * 1.2**2)},
      remark="clip")  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    x = sum(size * np.exp(1j * TURN * hz * t)
            for hz, size in ((700, 0.6), (1900, 0.6), (-500, 0.0107), (3100, 0.0107)))  # fmt: skip
    return sigmf(folder, cut(x, 0.99) + hiss(rng, len(t), 0.0005), kind="ci16_le")


@case("clipping: fm, each part for itself", FM, {"fm_deviation": NONE, "carrier_power": Bound(FULL_W * 1.4**2),
      "carrier_frequency": CENTRE + 3000}, remark="clip", wanted=("carrier_frequency",))  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 3000.0, size=1.4) * np.exp(2.5j * np.sin(TURN * 1000 * t))
    return sigmf(folder, cut(x, 0.999) + hiss(rng, len(t), 0.002))


@case("modulation: two stations in fm, one as strong", FM, {"fm_deviation": NONE, "carrier_power": NONE,
      "carrier_frequency": NONE}, remark="another carrier")  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 100.0) * np.exp(2.5j * np.sin(TURN * 1000 * t))
    x += carrier(t, 900.0, size=0.25) * np.exp(2j * np.sin(TURN * 600 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.002))


@case("modulation: fm with hum on its size", FM, {"fm_deviation": 2500.0}, wanted=("fm_deviation",))
def _(folder, rng):
    t = times(1.0)
    x = carrier(t, 100.0) * (1 + 0.1 * np.sin(TURN * 100 * t)) * np.exp(2.5j * np.sin(TURN * 1000 * t))
    return sigmf(folder, x + hiss(rng, len(t), 0.002))


@case("presence: a weak carrier at the frequency, a strong one beside it", CW, {"carrier_frequency": NONE,
      "carrier_power": NONE}, remark="which of them")  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, carrier(t, -30.0, size=0.05) + carrier(t, 2970.0) + hiss(rng, len(t), 0.003))


@case("presence: a sideband at the frequency is no carrier", AM, {"carrier_frequency": CENTRE + 1010, "am_depth": 60.0,
      "carrier_power": POWER}, wanted=("carrier_frequency", "am_depth"))  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, carrier(t, 1010.0) * (1 + 0.6 * np.cos(TURN * 1000 * t)) + hiss(rng, len(t), 0.002))


@case("when: less than a cycle of its tone", {"mode": "am", "full_scale_dbm": FULL_DBM}, {"am_depth": NONE,
      "carrier_power": NONE}, remark="less than a cycle")  # fmt: skip
def _(folder, rng):
    t = times(0.0015)
    return sigmf(folder, carrier(t, 700.0) * (1 + 0.5 * np.cos(TURN * 400 * t + 0.3)) + hiss(rng, len(t), 0.002))


@case("when: a tone that begins after a moment", ENVELOPE, {"am_depth": 50.0}, wanted=("am_depth",))
def _(folder, rng):
    t = np.arange(20_000) * 5e-6
    v = 2 * np.where(t < 0.03, 1.0, 1 + 0.5 * np.sin(TURN * 1000 * t))
    return csv(folder, "time_s,volts", t, v + 0.004 * rng.standard_normal(len(t)))


SSB_ASSIGNED = {"mode": "ssb", "sideband": "usb", "nominal_hz": CENTRE + 300, "full_scale_dbm": FULL_DBM}


def sideband(t, off_hz: float, carrier_db: float, other_db: float) -> np.ndarray:
    """A tone of 1 kHz on the upper sideband of the assigned frequency + `off_hz`."""
    at = 300.0 + off_hz
    return carrier(t, at + 1000) + sum(
        carrier(t, hz, size=0.3 * 10 ** (-db / 20)) for hz, db in ((at, carrier_db), (at - 1000, other_db))
    )


@case("modulation: ssb off its frequency, its carrier seen", SSB_ASSIGNED, {"carrier_frequency": CENTRE + 420,
      "carrier_suppression": 40.0, "opposite_sideband_suppression": 46.0}, wanted=("carrier_suppression",))  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, sideband(t, 120.0, 40.0, 46.0) + hiss(rng, len(t), 0.0003))


@case("modulation: ssb whose carrier is not seen", SSB_ASSIGNED, {"carrier_frequency": NONE, "frequency_error": NONE,
      "carrier_suppression": Bound(72.0), "opposite_sideband_suppression": Bound(76.0)}, remark="not seen")  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    return sigmf(folder, sideband(t, 0.0, 72.0, 76.0) + hiss(rng, len(t), 0.003))


@case("modulation: two tones read as one", SSB_ASSIGNED, {"carrier_suppression": NONE,
      "opposite_sideband_suppression": NONE})  # fmt: skip
def _(folder, rng):
    t = times(1.0)
    lines = ((1000, 0.2), (2200, 0.2), (-200, 0.0013), (3400, 0.0013), (0, 0.0013))
    return sigmf(folder, sum(carrier(t, 300 + hz, size=size) for hz, size in lines) + hiss(rng, len(t), 0.0003))


FADE_TRUTH = {"steady_power": 80.0, "time_constant": 10.0}


def fall(rng, t: np.ndarray) -> np.ndarray:
    return 80 + 20 * np.exp(-t / 10) + 0.1 * rng.standard_normal(len(t))


def logged(folder: Path, header: str, stamps: list[str], watts: np.ndarray) -> Path:
    rows = "\n".join(f"{stamp},{w:.2f}" for stamp, w in zip(stamps, watts, strict=True))
    (folder / "r.csv").write_text(f"{header}\n{rows}\n")
    return folder / "r.csv"


@case("dialect: a logger's date and time of day", {}, FADE_TRUTH, wanted=("steady_power",))
def _(folder, rng):
    t = np.arange(0, 60, 0.5)
    return logged(folder, "Date,Time,Power (W)", [f"2026-11-03,10:15:{s:04.1f}" for s in t], fall(rng, t))


@case("dialect: times of day in whole seconds, before a comma", {}, FADE_TRUTH, wanted=("steady_power",))
def _(folder, rng):
    t = np.arange(0.0, 60.0)
    return logged(folder, "Time,Power (W)", [f"10:15:{int(s):02d}" for s in t], fall(rng, t))


@case("dialect: one stamp of date and time", {}, FADE_TRUTH, wanted=("steady_power",))
def _(folder, rng):
    t = np.arange(0, 60, 0.5)
    return logged(folder, "Timestamp;Power [W]".replace(";", ","), [f"2026-11-03T23:59:{s:04.1f}Z" for s in t],
                  fall(rng, t))  # fmt: skip


@case("dialect: seconds since 1970", {}, FADE_TRUTH, wanted=("steady_power",))
def _(folder, rng):
    t = np.arange(0, 60, 0.5)
    return logged(folder, "time_s,power_w", [f"{1.7e9 + s:.1f}" for s in t], fall(rng, t))


@case("dialect: whole seconds, two readings in each", {}, FADE_TRUTH, remark="rounding", wanted=("steady_power",))
def _(folder, rng):
    t = np.arange(0, 60, 0.5)
    return logged(folder, "time_s,power_w", [f"{int(s)}" for s in t], fall(rng, t))


@case("dialect: the names in a comment", {}, {"carrier_power": 4.0}, wanted=("carrier_power",))
def _(folder, rng):
    t = np.arange(6000) * 4e-9
    v = 20 * np.sin(TURN * CENTRE * t) + 0.05 * rng.standard_normal(len(t))
    return csv(folder, "# of a scope\n# t/s,u/V", t, v)


@case("fraction: a sweep that ends before its resonance", {"nominal_hz": 27.5e6}, {"swr_minimum": Bound(50 / 38),
      "resonant_frequency": NONE})  # fmt: skip
def _(folder, rng):
    f = np.linspace(27.4e6, 30e6, 101)
    z = 38 + 1j * 38 * 12 * (f / 27.3e6 - 27.3e6 / f)
    rows = "\n".join(f"{hz:.0f} {g.real:.6g} {g.imag:.6g}" for hz, g in zip(f, (z - 50) / (z + 50), strict=True))
    (folder / "r.s1p").write_text(f"# Hz S RI R 50\n{rows}\n")
    return folder / "r.s1p"


# sweeps that show something else than what was meant ------------------------------------------------------------------


@case(
    "beyond: a sweep that begins above what is assigned",
    {"nominal_hz": 27.185e6},
    {"carrier_power": NONE, "harmonic_2": NONE, "harmonic_3": NONE},
    remark="harmonic of order 2",
)
def _(folder, rng):
    f = np.linspace(40e6, 150e6, 11_001)
    lines = {2 * 27.185e6: -42.0, 3 * 27.185e6: -50.0, 4 * 27.185e6: -60.0}
    return csv(
        folder, "frequency_hz,level_dbm", f, swept(rng, lines, floor_dbm=-95.0, rbw=30e3, detector="sample", f=f)
    )


@case("beyond: occupied bandwidth of two sidebands that are lines", {}, {"occupied_bandwidth": 2000.0})
def _(folder, rng):
    f = np.linspace(27.165e6, 27.205e6, 4001)
    lines = {27.185e6: 10.0, 27.186e6: 2.0, 27.184e6: 2.0}
    return csv(
        folder, "frequency_hz,level_dbm", f, swept(rng, lines, floor_dbm=-90.0, rbw=100.0, detector="sample", f=f)
    )


@case("beyond: a load that has no resonance", {"nominal_hz": 27.3e6}, {"resonant_frequency": NONE}, wanted=("swr",))
def _(folder, rng):
    f = np.linspace(24e6, 31e6, 301)
    gamma = 0.01 + 0.002 * (rng.standard_normal(301) + 1j * rng.standard_normal(301))
    return touchstone(folder, "# Hz S RI R 50", f, gamma)


@case("beyond: a filter in twelve points", {}, {"edge_low_3db": 300.2, "edge_high_3db": 2698.6})
def _(folder, rng):
    f = np.array([100.0, 200, 300, 400, 600, 1000, 1500, 2000, 2500, 2700, 3000, 4000])
    level = -10 * np.log10(1 + (300 / f) ** 8) - 10 * np.log10(1 + (f / 2700) ** 8)
    return csv(folder, "frequency_hz,level_db", f, np.round(level, 1))


@case("beyond: a wattmeter's own noise", {}, {"power_fade": NONE, "time_constant": NONE, "steady_power": NONE})
def _(folder, rng):
    return csv(folder, "time_s,power_w", np.arange(600) / 10, np.abs(0.02 * rng.standard_normal(600)))
