"""The lines of the simulated bench: one TCP port an instrument, and everything that can go wrong on a line."""

import asyncio
import contextlib
import random

from young_spark.bench.simulator.instruments import SimInstrument

LINE_FAULTS = ("none", "refuse", "time-out", "garbage", "late", "half", "drop", "overload")
LATE_S = 2.0


class Port:
    """A TCP port that can be opened and cut; `fault` is what is wrong with the line just now, one of `faults`."""

    faults: tuple[str, ...] = ()

    def __init__(self, port: int = 0) -> None:
        self.port = port
        self.fault = "none"
        self._server: asyncio.Server | None = None
        self._writers: set[asyncio.StreamWriter] = set()

    async def open(self) -> None:
        """Listen on the port; 0 takes a free one, kept from then on."""
        self._server = await asyncio.start_server(self._serve, "127.0.0.1", self.port)
        self.port = self._server.sockets[0].getsockname()[1]

    async def close(self) -> None:
        """Listen no more, and cut who is connected."""
        if self._server is not None:
            self._server.close()
            self._server = None
        for writer in tuple(self._writers):
            writer.transport.abort()

    async def set_fault(self, fault: str) -> None:
        """Pull a plug, or mend it; raises ValueError for a fault that this line has not."""
        if fault not in self.faults:
            raise ValueError(f"no line fault '{fault}': {', '.join(self.faults)}")
        self.fault = fault
        if fault in {"refuse", "drop"}:
            await self.close()
        if fault != "refuse" and self._server is None:
            await self.open()
        if fault == "drop":
            self.fault = "none"  # the plug was pulled and is in again

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        raise NotImplementedError


class SimLine(Port):
    """An instrument behind a TCP port."""

    faults = LINE_FAULTS

    def __init__(self, instrument: SimInstrument, port: int = 0) -> None:
        super().__init__(port)
        self.instrument = instrument
        self._tasks: set[asyncio.Task[None]] = set()

    async def close(self) -> None:
        """Listen no more, cut who is connected, and say nothing that is late."""
        await super().close()
        for task in tuple(self._tasks):
            task.cancel()

    async def set_fault(self, fault: str) -> None:
        """Pull a plug, or mend it; raises ValueError for a fault that no line has."""
        await super().set_fault(fault)
        self.instrument.overloaded = fault == "overload"

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        self._writers.add(writer)
        try:
            while raw := await reader.readline():
                await self._reply(raw.decode("ascii", "replace"), writer)
        except (ConnectionError, asyncio.LimitOverrunError, ValueError, asyncio.CancelledError):
            pass  # the line is cut, or the bench is put away
        finally:
            self._writers.discard(writer)
            with contextlib.suppress(ConnectionError):
                writer.close()

    async def _reply(self, command: str, writer: asyncio.StreamWriter) -> None:
        await asyncio.sleep(self.instrument.latency_s * random.uniform(0.8, 1.2))
        answer = self.instrument.answer(command)
        if answer is None:
            return
        fault = self.fault
        if fault == "time-out":
            return
        if fault == "late":
            task = asyncio.create_task(self._send_late(answer, writer))
            self._tasks.add(task)
            task.add_done_callback(self._tasks.discard)
            return
        if fault == "garbage" and "IDN" not in command.upper():
            answer = b"\xff\x07?#9]{"
        if fault == "half" and answer.startswith(b"#"):
            writer.write(answer[: len(answer) // 2])
        else:
            writer.write(answer + b"\n")
        await writer.drain()

    @staticmethod
    async def _send_late(answer: bytes, writer: asyncio.StreamWriter) -> None:
        await asyncio.sleep(LATE_S)
        with contextlib.suppress(ConnectionError):
            writer.write(answer + b"\n")
            await writer.drain()
