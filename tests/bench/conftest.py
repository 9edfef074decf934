"""The simulated bench on real ports, in a loop of its own."""

import asyncio
import threading
import time

import pytest

from young_spark.bench.poller import Address, Heard, LineState, Poller
from young_spark.bench.simulator.bench import SimulatedBench
from young_spark.core.live import definitions


class Bench:
    """The simulated bench, its hands, and what a poller on one of its lines hears."""

    def __init__(self):
        self.loop = asyncio.new_event_loop()
        self.thread = threading.Thread(target=self.loop.run_forever, daemon=True)
        self.thread.start()
        self.simulated = SimulatedBench(seed=4)
        self.run(self.simulated.open())
        self.heard: list[tuple[float, Heard | LineState]] = []
        self.pollers: list[Poller] = []

    def run(self, coroutine):
        return asyncio.run_coroutine_threadsafe(coroutine, self.loop).result(10)

    def hands(self, **what):
        return self.run(self.simulated.control.do(what))

    def fault(self, line: str, fault: str):
        self.hands(line=line, fault_of_line=fault)

    def address(self, line: str, timeout_ms: int = 300) -> Address:
        definition = definitions()[f"simulated-{line}"].model_copy(update={"timeout_ms": timeout_ms})
        return Address(line, line, f"TCPIP::127.0.0.1::{self.simulated.ports[line]}::SOCKET", definition)

    def poll(self, line: str, timeout_ms: int = 300) -> Poller:
        poller = Poller(self.address(line, timeout_ms), lambda found: self.heard.append((time.monotonic(), found)))
        poller.set_rhythm(0.05)
        self.pollers.append(poller)
        poller.start()
        return poller

    def until_it_stands(self):
        """Wait until relay and rail have settled and the carrier of the keyed unit is what it will be."""
        before = 0.0
        for _ in range(1200):
            now = self.simulated.unit.output().carrier_w
            if now > 0 and abs(now - before) < 1e-3 * now:
                return
            before = now
            time.sleep(0.05)
        raise AssertionError("the carrier does not come to rest")

    def wait(self, fits, patience: float = 60.0):
        """The first thing heard from now on that fits."""
        seen, began = len(self.heard), time.monotonic()
        while time.monotonic() - began < patience:
            for _, found in self.heard[seen:]:
                if fits(found):
                    return found
            seen = max(seen, len(self.heard) - 1)
            time.sleep(0.01)
        raise AssertionError(f"not heard; the last was {self.heard[-3:]}")


@pytest.fixture
def bench():
    made = Bench()
    yield made
    for poller in made.pollers:
        poller.end()
        poller.join(3)
    made.run(made.simulated.close())
    made.run(asyncio.sleep(0.05))  # lines that were cut see it
    made.loop.call_soon_threadsafe(made.loop.stop)
    made.thread.join(3)
    made.loop.close()
