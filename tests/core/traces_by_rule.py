"""Sound, envelopes, scope records, spectra, fades, sidebands, sweeps and filters put together by rule, with what is
true of each."""

import math
from dataclasses import dataclass

import numpy as np

from tests.core.real_files import CENTRE, FULL_DBM, NONE, TURN, Truth, swept
from young_spark.core.analysis import Options
from young_spark.core.captures import Baseband, Capture, Curve, Network, Waveform

NOTHING_TOLD = Options()


@dataclass(frozen=True)
class Trace:
    """One record, what is told beside it, and the figures that are true of it."""

    capture: Capture
    truth: dict[str, Truth]
    options: Options = NOTHING_TOLD


class Dice:
    """Numbers and chances of one seed."""

    def __init__(self, seed: int) -> None:
        self.rng = np.random.default_rng(seed)

    def between(self, low: float, high: float) -> float:
        return float(self.rng.uniform(low, high))

    def one_of(self, *choices: float) -> float:
        return float(self.rng.choice(choices))

    def happens(self, share: float) -> bool:
        return bool(self.rng.random() < share)

    def noise(self, n: int, sigma: float) -> np.ndarray:
        noise = sigma * self.rng.standard_normal(n)
        wide = int(self.rng.integers(2, 12)) if self.happens(0.3) else 1
        return np.convolve(noise, np.ones(wide) / math.sqrt(wide), "same")


def sound(dice: Dice) -> Trace:
    rate, hz = dice.one_of(8_000, 44_100, 48_000), dice.one_of(400, 1000, 1004, 1750)
    size = 10 ** dice.between(-2, -0.3)
    t = np.arange(round(dice.between(0.2, 2) * rate)) / rate
    second, third = dice.between(0, 0.1) * dice.happens(0.6), dice.between(0, 0.05) * dice.happens(0.6) * (hz < 1100)
    tone = np.sin(TURN * hz * t) + second * np.sin(TURN * 2 * hz * t + 1) + third * np.sin(TURN * 3 * hz * t + 2)
    noise = dice.noise(len(t), size / math.sqrt(2) * 10 ** (-dice.between(10, 70) / 20))
    hum = dice.between(0.002, 0.05) * size * dice.happens(0.3)
    x = size * tone + noise + hum * np.sin(TURN * 100 * t) + dice.between(-0.2, 0.2) * dice.happens(0.2)
    harmonics = size**2 / 2 * (second**2 + third**2)
    rest = harmonics + float((noise**2).mean()) + hum**2 / 2
    truth: dict[str, Truth] = {"audio_frequency": hz, "audio_distortion": 100 * math.hypot(second, third)}
    if dice.happens(0.3):
        x = np.round(x * 128) / 128
    else:
        truth["sinad"] = 10 * math.log10((size**2 / 2 + rest) / rest)
    return Trace(Waveform("audio", rate, x), truth)


def envelope(dice: Dice) -> Trace:
    rate, hz, depth = dice.one_of(50e3, 500e3), dice.one_of(400, 1000, 2000), dice.between(0.05, 0.97)
    t = np.arange(round(dice.between(0.01, 0.2) * rate)) / rate
    ramp = 1 + dice.between(-0.2, 0.2) * dice.happens(0.2) * (t / t[-1] - 0.5)
    x = ramp * (1 + depth * np.cos(TURN * hz * t)) + 10 ** (-dice.between(15, 60) / 20) * dice.rng.standard_normal(
        len(t)
    )
    if dice.happens(0.3):
        x = np.round(x / (2.2 / 256)) * (2.2 / 256)
    if dice.happens(0.2) and depth > 0.3:
        return Trace(Waveform("envelope", rate, np.minimum(x, 1 + 0.8 * depth)), {"am_depth": NONE})
    return Trace(Waveform("envelope", rate, x), {"am_depth": 100 * depth})


def on_a_scope(dice: Dice) -> Trace:
    carrier_hz, size = dice.one_of(3.7e6, 7.1e6, 14.2e6, 27.185e6), 10 ** dice.between(0.5, 2)
    rate = carrier_hz * dice.one_of(2.7, 5.3, 11.7)
    n = int(min(300_000, max(2_000, dice.between(0, 6) * rate / 1000)))
    t = np.arange(n) / rate
    depth = dice.between(0.2, 0.95) * (n > 1.3 * rate / 1000)
    turned = dice.between(0, 0.3) * np.sin(TURN * 1000 * t) * (depth > 0)
    x = size * (1 + depth * np.cos(TURN * 1000 * t)) * np.sin(TURN * carrier_hz * t + turned)
    x = x + size * 10 ** (-dice.between(15, 50) / 20) * dice.rng.standard_normal(n) + dice.between(-1, 1) * size
    if dice.happens(0.4):
        step = size * 2.2 / 256
        x = np.round(x / step) * step
    return Trace(Waveform("scope", rate, x), {"carrier_power": size**2 / 100})


def spectrum(dice: Dice) -> Trace:
    carrier_hz, top = dice.one_of(3.7e6, 14.2e6, 27.185e6), dice.between(0, 50)
    f = np.linspace(0.3 * carrier_hz, carrier_hz * dice.between(3.5, 6.5), int(dice.one_of(401, 801, 2001, 5001)))
    width = max(dice.one_of(10e3, 30e3, 100e3, 300e3), 1.1 * float(f[1] - f[0]))
    floor = top - dice.between(60, 110)
    beside = {n: -dice.between(30, 80) for n in (2, 3)}
    lines = {carrier_hz: top} | {n * carrier_hz: top + below for n, below in beside.items()}
    detector = str(dice.rng.choice(["sample", "peak", "rms"]))
    levels = swept(dice.rng, lines, floor_dbm=floor, rbw=width, detector=detector, f=f)
    if dice.happens(0.3):
        levels = np.round(levels, 1)
    seen = {f"harmonic_{n}": below for n, below in beside.items() if top + below > floor + 15}
    told = Options(detector=detector) if dice.happens(0.5) else Options()
    return Trace(Curve("spectrum", f, levels), {"carrier_power": 10 ** (top / 10 - 3), **seen}, told)


def fade(dice: Dice) -> Trace:
    length, power, fall = dice.between(8, 120), 10 ** dice.between(0, 2), dice.between(-0.1, 0.5)
    tau, late = dice.between(0.05, 0.6) * length, dice.between(0.5, 3) * dice.happens(0.3)
    t = np.arange(0, length, dice.one_of(0.1, 0.5))
    p = power * (1 - fall + fall * np.exp(-np.maximum(t - late, 0) / tau))
    p = np.where(t < late, 1e-3 * power, p * (1 + 10 ** dice.between(-3, -1.5) * dice.rng.standard_normal(len(t))))
    return Trace(Curve("fade", t, p), {"time_constant": tau, "steady_power": power * (1 - fall)})


def one_sideband(dice: Dice) -> Trace:
    rate, size, error = dice.one_of(24e3, 48e3, 96e3), 10 ** dice.between(-1.5, -0.5), dice.between(-80, 80)
    t = np.arange(round(dice.between(0.25, 1.2) * rate)) / rate
    side = 1 if dice.happens(0.7) else -1
    carrier_db, other_db = dice.between(25, 60), dice.between(25, 60)
    tone = np.exp(1j * TURN * side * 1000 * t)
    x = tone + 10 ** (-carrier_db / 20) * np.exp(1j) + 10 ** (-other_db / 20) * np.conj(tone) * np.exp(2j)
    x = size * x * np.exp(1j * TURN * error * t)
    x = np.where(t >= dice.between(0.05, 0.3) * t[-1] * dice.happens(0.25), x, 0)
    hiss = size * 10 ** (-dice.between(30, 70) / 20) / math.sqrt(2)
    x = x + dice.noise(len(t), hiss) + 1j * dice.noise(len(t), hiss)
    if dice.happens(0.25):
        x = (np.round(x.real * 128) + 1j * np.round(x.imag * 128)) / 128
    told = Options(
        mode="ssb",
        nominal_hz=CENTRE,
        full_scale_dbm=FULL_DBM,
        tones_hz=(1000.0,),
        sideband="usb" if side > 0 else "lsb",
    )
    truth: dict[str, Truth] = {"carrier_suppression": carrier_db, "opposite_sideband_suppression": other_db}
    return Trace(Baseband(rate, CENTRE, x), truth, told)


def aerial(dice: Dice) -> Trace:
    resonance, ohms, quality = dice.between(3e6, 50e6), dice.between(20, 110), dice.between(5, 60)
    f = np.linspace(
        resonance * dice.between(0.85, 0.97), resonance * dice.between(1.03, 1.15), int(dice.one_of(51, 401))
    )

    def reflected(hz):
        z = ohms * (1 + 1j * quality * (hz / resonance - resonance / hz))
        return (z - 50) / (z + 50)

    noise = 10 ** dice.between(-4.5, -2.2) * (dice.rng.standard_normal(len(f)) + 1j * dice.rng.standard_normal(len(f)))
    at = resonance * dice.between(0.98, 1.02)
    share = abs(reflected(at))
    return Trace(
        Network("reflection", f, reflected(f) + noise, 50.0), {"swr": (1 + share) / (1 - share)}, Options(nominal_hz=at)
    )


def filter_sweep(dice: Dice) -> Trace:
    low, high, order = dice.between(200, 500), dice.between(2200, 3400), int(dice.rng.integers(3, 7))
    f = np.arange(50.0, dice.between(3800, 6000), dice.one_of(10, 20, 50))

    def level(hz):
        part = 10**0.6 - 1
        return -10 * np.log10(1 + (low / hz) ** (2 * order) * part) - 10 * np.log10(
            1 + (hz / high) ** (2 * order) * part
        )

    fine = np.arange(50.0, f[-1], 0.02)
    curve = level(fine)
    inside = fine[curve >= curve.max() - 6]
    noisy = level(f) + 10 ** dice.between(-2.5, -0.8) * dice.rng.standard_normal(len(f))
    return Trace(Curve("response", f, noisy), {"edge_low_6db": float(inside[0]), "edge_high_6db": float(inside[-1])})


KINDS = (sound, envelope, on_a_scope, spectrum, fade, one_sideband, aerial, filter_sweep)


def trace(seed: int) -> Trace:
    """The record of a seed; each kind in its turn."""
    return KINDS[seed % len(KINDS)](Dice(seed))
