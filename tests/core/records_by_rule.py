"""Records of complex baseband put together by rule, with what is true of each: a mode, and by chance drift, a late key,
noise of any colour, hum, a subtone, a phase that goes with the tone, a receiver's own spike, coarse steps, clipping."""

import math

import numpy as np

from tests.core.real_files import CENTRE, FULL_DBM, FULL_W, TURN
from young_spark.core.analysis import Options
from young_spark.core.captures import Baseband

MODES = ("am", "fm", "cw")


class Made:
    """One record: its samples, what is told beside it, and the figures that are true of it."""

    def __init__(self, seed: int) -> None:
        self.rng = np.random.default_rng(seed)
        self.mode = str(self.rng.choice(MODES))
        self.rate = float(self.rng.choice([24e3, 48e3, 96e3]))
        self.t = np.arange(round(self._between(0.3, 1.2) * self.rate)) / self.rate
        self.size = 10 ** self._between(-1.5, -0.35)
        self.offset = self._between(-3e3, 3e3) if self.mode == "fm" else self._between(-9e3, 9e3)
        self.truth: dict[str, float] = {"carrier_power": FULL_W * self.size**2}
        self.told: list[str] = [self.mode]
        self.samples = self._keyed(self._modulated())
        self._received()

    def _between(self, low: float, high: float) -> float:
        return float(self.rng.uniform(low, high))

    def _by_chance(self, share: float, words: str) -> bool:
        happens = bool(self.rng.random() < share)
        self.told += [words] if happens else []
        return happens

    def _modulated(self) -> np.ndarray:
        u = self.t - self.t.mean()
        self.drift = self._between(-40, 40) if self._by_chance(0.3, "drifts") else 0.0
        phase = TURN * (self.offset * u + 0.5 * self.drift * u * u)
        hum = self._between(0.005, 0.05) if self._by_chance(0.3, "hum") else 0.0
        envelope = 1 + (hum * np.cos(TURN * 100 * self.t) if self.mode != "fm" else 0 * self.t)
        tone = float(self.rng.choice([400, 700, 1000, 1500, 2400]))
        if self.mode == "am":
            depth = self._between(0.1, 0.95)
            envelope = envelope + depth * np.cos(TURN * tone * self.t)
            if self._by_chance(0.3, "phase goes with the tone"):
                phase = phase + self._between(0.02, 0.4) * np.sin(TURN * tone * self.t + self._between(0, 6))
            self.truth |= {"audio_frequency": tone} | ({} if hum else {"am_depth": 100 * depth})
        if self.mode == "fm":
            deviation = self._between(300, 4500) * min(1.0, self.rate / 48e3)
            phase = phase + deviation / tone * np.sin(TURN * tone * self.t) + 20 * hum * np.sin(TURN * 100 * self.t)
            if self._by_chance(0.3, "subtone"):
                sub = float(self.rng.choice([67, 88.5, 123, 203.5]))
                phase = phase + self._between(300, 600) / sub * np.sin(TURN * sub * self.t)
            self.truth |= {"audio_frequency": tone} | ({} if hum else {"fm_deviation": deviation})
        if hum and self.mode != "fm":
            self.truth.pop("carrier_power")
        return self.size * envelope * np.exp(1j * phase)

    def _keyed(self, x: np.ndarray) -> np.ndarray:
        begins = 0.0
        if self._by_chance(0.3, "keyed late"):
            begins = self._between(0.05, 0.4) * self.t[-1]
        middle = (begins + self.t[-1]) / 2 - self.t.mean()
        self.truth["carrier_frequency"] = CENTRE + self.offset + self.drift * middle
        return np.where(self.t >= begins, x, 0)

    def _received(self) -> None:
        n = self.rng.standard_normal((2, len(self.t)))
        noise = (n[0] + 1j * n[1]) * self.size * 10 ** (-self._between(15, 60) / 20) / math.sqrt(2)
        if self._by_chance(0.3, "coloured noise"):
            wide = int(self.rng.integers(2, 12))
            noise = np.convolve(noise, np.ones(wide) / math.sqrt(wide), "same")
        x = self.samples + noise
        if self._by_chance(0.2, "own spike"):
            x = x + self.size * self._between(0.005, 0.08)
        if max(np.abs(x.real).max(), np.abs(x.imag).max()) > 1:
            self.told.append("clipped")
            x = np.clip(x.real, -1, 1) + 1j * np.clip(x.imag, -1, 1)
            for name in ("am_depth", "carrier_power"):
                self.truth.pop(name, None)
        if self._by_chance(0.3, "eight bits"):
            x = (np.round(x.real * 128) + 1j * np.round(x.imag * 128)) / 128
        self.samples = x

    @property
    def capture(self) -> Baseband:
        return Baseband(self.rate, CENTRE, self.samples)

    @property
    def options(self) -> Options:
        return Options(mode=self.mode, nominal_hz=CENTRE, full_scale_dbm=FULL_DBM)
