"""The simulated bench as one process: the unit, its instruments on their ports, the control port."""

import asyncio
import json
import os
import random
import sys
import time
from pathlib import Path

from young_spark.bench.simulator.control import Control
from young_spark.bench.simulator.instruments import MAKERS
from young_spark.bench.simulator.iq_receiver import IqLine
from young_spark.bench.simulator.lines import SimLine
from young_spark.bench.simulator.unit import Unit

FIRST_PORT = 8340


class SimulatedBench:
    """Everything on the simulated bench; `ports` tells where each thing answers."""

    def __init__(self, seed: int = 1) -> None:
        self.unit = Unit(clock=time.monotonic, chance=random.Random(seed))
        made = [make(self.unit, random.Random(seed + n)) for n, make in enumerate(MAKERS, 1)]
        self.lines: dict[str, SimLine | IqLine] = {instrument.name: SimLine(instrument) for instrument in made}
        self.lines[IqLine.name] = IqLine(self.unit, seed)
        self.control = Control(self.unit, self.lines)
        self.ports: dict[str, int] = {}
        self._server: asyncio.Server | None = None

    async def open(self, first_port: int | None = None) -> None:
        """Open every port: from `first_port` on where these are free, else any."""
        for n, (name, line) in enumerate(self.lines.items(), 1):
            line.port = first_port + n if first_port else 0
            try:
                await line.open()
            except OSError:
                line.port = 0
                await line.open()
            self.ports[name] = line.port
        try:
            self._server = await asyncio.start_server(self.control.serve, "127.0.0.1", first_port or 0)
        except OSError:
            self._server = await asyncio.start_server(self.control.serve, "127.0.0.1", 0)
        self.ports["control"] = self._server.sockets[0].getsockname()[1]

    async def close(self) -> None:
        """Close every port."""
        for line in self.lines.values():
            await line.close()
        if self._server is not None:
            self._server.close()


async def run(ports_file: Path) -> None:
    """Serve until whoever started this process ends: its end of the pipe closes."""
    bench = SimulatedBench(seed=int.from_bytes(os.urandom(2), "big"))
    await bench.open(FIRST_PORT)
    partial = ports_file.with_suffix(".partial")
    partial.write_text(json.dumps(bench.ports))
    partial.replace(ports_file)
    print(json.dumps(bench.ports), flush=True)
    await asyncio.get_running_loop().run_in_executor(None, sys.stdin.buffer.read)
    await bench.close()


if __name__ == "__main__":
    asyncio.run(run(Path(sys.argv[1])))
