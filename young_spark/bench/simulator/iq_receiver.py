"""A receiver dongle's server as a stand-in: 8-bit I and Q over TCP of what leaves the unit, heard behind a sampler.

Its own reference is off, it hears itself in the middle of its band, it overloads, and it can lose samples."""

import asyncio
import contextlib
import math
import random
import struct
import time
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from young_spark.bench.simulator.lines import Port
from young_spark.bench.simulator.unit import Output, Unit

HEADER = struct.pack(">4sII", b"SIM0", 5, 29)
GAIN_STEP_DB = 1.7
REFERENCE_PPM = 14.2
TONE_HZ = 1000.0
BLOCK_S = 0.02
COUPLING_DB = 62.0  # of the sampler and its pads, from the unit to full scale at no gain
NOISE = 0.004  # of full scale, each of I and Q
OFFSET = 0.01  # what it hears of itself
LOSES_A_BLOCK_IN = 12
FAULTS = ("none", "refuse", "time-out", "drop", "overload", "loses samples")


@dataclass
class IqSource:
    """What the receiver hears, block by block: it keeps its phases from one to the next."""

    unit: Unit
    chance: np.random.Generator
    tuned_hz: float = 100e6
    rate_hz: float = 240_000.0
    gain: int = 0
    overloaded: bool = False
    _phase: float = 0.0
    _tone: float = 0.0

    def block(self, count: int) -> bytes:
        """So many samples from now on."""
        out = self.unit.output()
        steps = np.arange(1, count + 1) / self.rate_hz
        tone = self._tone + 2 * np.pi * TONE_HZ * steps
        turned = self._phase + 2 * np.pi * (out.frequency_hz - self.tuned_hz * (1 + REFERENCE_PPM * 1e-6)) * steps
        sent = turned - out.deviation_hz / TONE_HZ * np.cos(tone)
        heard = self._amplitude(out) * (1 + out.depth * np.sin(tone)) * np.exp(1j * sent)
        heard += NOISE * (self.chance.standard_normal(count) + 1j * self.chance.standard_normal(count)) + OFFSET
        self._phase, self._tone = float(turned[-1] % (2 * np.pi)), float(tone[-1] % (2 * np.pi))
        return _as_bytes(heard)

    def _amplitude(self, out: Output) -> float:
        inside = abs(out.frequency_hz - self.tuned_hz) < 0.45 * self.rate_hz
        if out.carrier_w <= 0 or not inside:
            return 0.0
        decibels = 10 * math.log10(out.carrier_w * 1e3) - COUPLING_DB + GAIN_STEP_DB * self.gain
        return float(10 ** ((decibels + (60 if self.overloaded else 0)) / 20))


def _as_bytes(heard: npt.NDArray[np.complex128]) -> bytes:
    pairs = np.empty(2 * len(heard))
    pairs[0::2], pairs[1::2] = heard.real, heard.imag
    return np.clip(np.round(127.5 + 127.5 * pairs), 0, 255).astype(np.uint8).tobytes()


class IqLine(Port):
    """The receiver behind its TCP port."""

    name = "iq-receiver"
    faults = FAULTS

    def __init__(self, unit: Unit, seed: int, port: int = 0) -> None:
        super().__init__(port)
        self.unit, self._seed = unit, seed

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        source = IqSource(self.unit, np.random.default_rng(self._seed))
        self._writers.add(writer)
        orders = asyncio.create_task(_hear(reader, source))
        try:
            writer.write(HEADER)
            await self._stream(writer, source)
        except (ConnectionError, asyncio.CancelledError):
            pass  # the line is cut, or the bench is put away
        finally:
            orders.cancel()
            self._writers.discard(writer)
            with contextlib.suppress(ConnectionError):
                writer.close()

    async def _stream(self, writer: asyncio.StreamWriter, source: IqSource) -> None:
        """In step with the clock for as long as somebody listens."""
        due, chance = time.monotonic(), random.Random(self._seed)
        while not writer.is_closing():
            due += BLOCK_S
            await asyncio.sleep(max(0.0, due - time.monotonic()))
            source.overloaded = self.fault == "overload"
            heard = source.block(round(BLOCK_S * source.rate_hz))
            lost = self.fault == "loses samples" and chance.randrange(LOSES_A_BLOCK_IN) == 0
            if self.fault != "time-out" and not lost:
                writer.write(heard)
                await writer.drain()


async def _hear(reader: asyncio.StreamReader, source: IqSource) -> None:
    """Orders of five bytes: what, and a big-endian figure."""
    with contextlib.suppress(asyncio.IncompleteReadError, ConnectionError):
        while True:
            order, figure = struct.unpack(">BI", await reader.readexactly(5))
            if order == 0x01:
                source.tuned_hz = float(figure)
            elif order == 0x02:
                source.rate_hz = float(min(max(figure, 200_000), 3_200_000))
            elif order == 0x0D:
                source.gain = min(figure, 28)
