"""The bench process: alone it owns the instruments. It finds the web by a file of the data folder and talks to it over a
local socket, one JSON object a line. It ends when whoever started it ends."""

import asyncio
import contextlib
import json
import os
import signal
import sys
import threading
import time
import uuid
from dataclasses import asdict
from pathlib import Path
from typing import Any

from young_spark.bench.poller import Address, Heard, LineState, Poller, Traced
from young_spark.core.live import (
    Capture,
    Captured,
    CarrierChanged,
    Drop,
    Event,
    LiveName,
    Misplaced,
    Point,
    Source,
    Unseen,
    Wanted,
    Watch,
    definitions,
)

DOOR_FILE = "bench-door.json"
SIMULATED_FILE = "simulated-bench.json"
# s from one question to the next: nobody looks; a slip is open, no carrier; a carrier is up, or something is watched or turned
IDLE_S, SENSOR_S, OTHERS_S, BUSY_S = 5.0, 0.12, 0.5, 0.1
KNOCK_S = 0.5
DROWSY_AFTER_S, DROWSY_S = 300.0, 0.4  # a slip that lies open, and nobody keys
LARGEST_LINE = 4_000_000


class BenchProcess:
    """Pollers below, the web above, capture and watch between."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.loop = asyncio.get_running_loop()
        self.pollers: dict[str, Poller] = {}
        self.states: dict[str, LineState] = {}
        self.capture = Capture({})
        self.attention = "idle"
        self.watch: Watch | None = None
        self._watch_began = 0.0
        self._unacknowledged: dict[str, dict[str, Any]] = {}
        self._writer: asyncio.StreamWriter | None = None
        self._clock = time.time() - time.monotonic()  # from this process's clock to the calendar
        self._place: dict[str, Any] = {}  # whose the captured readings are, as the web said
        self._announced = False  # whether this web was told if there is a carrier
        self._quiet_since = time.monotonic()

    async def run(self) -> None:
        """Knock at the web's door, again and again; while in, do as it says."""
        while True:
            with contextlib.suppress(OSError, ValueError, asyncio.IncompleteReadError, asyncio.LimitOverrunError):
                await self._inside()
            self._writer = None
            self._set_attention("idle")
            await asyncio.sleep(KNOCK_S)

    async def _inside(self) -> None:
        door = json.loads((self.data / DOOR_FILE).read_text())
        reader, writer = await asyncio.open_connection("127.0.0.1", door["port"], limit=LARGEST_LINE)
        self._writer = writer
        try:
            self._send({"kind": "hello", "token": door["token"]})
            self._announced = False
            for state in self.states.values():
                self._send({"kind": "state", **asdict(state)})
            for captured in self._unacknowledged.values():
                self._send(captured)
            while line := await reader.readline():
                self._do(json.loads(line))
        finally:
            writer.close()

    def _send(self, message: dict[str, Any]) -> None:
        if self._writer is not None and not self._writer.is_closing():
            self._writer.write(json.dumps(message).encode() + b"\n")

    def _do(self, order: dict[str, Any]) -> None:
        match order["kind"]:
            case "instruments":
                self._own(order["instruments"])
            case "wanted":
                self.capture.want(Wanted.model_validate(w) for w in order["rows"])
                self._place = order["place"]
                self._quiet_since = time.monotonic()
                self._send_left()
            case "attention":
                self._set_attention(order["level"])
            case "watch":
                self._set_watch(order["id"], order.get("began"))
            case "acknowledged":
                self._unacknowledged.pop(order["id"], None)
            case "trace":
                if (poller := self.pollers.get(order["instrument"])) is not None:
                    poller.ask_trace(order["id"], order["trace"])
                else:
                    self._told(Traced(order["id"], sentence="it does not talk"))
            case "find":
                threading.Thread(target=self._find, name="find", daemon=True).start()

    def _find(self) -> None:
        """What can be found on lines of this machine: the simulated bench, serial and USB; a thread of its own."""
        found: list[dict[str, str]] = []
        with contextlib.suppress(OSError, ValueError):
            ports = json.loads((self.data / SIMULATED_FILE).read_text())
            found += [
                {"address": f"simulated:{name}", "words": "simulated bench"} for name in ports if name != "control"
            ]
        try:
            import pyvisa

            found += [
                {"address": address, "words": "found on a line"}
                for address in pyvisa.ResourceManager("@py").list_resources()
            ]
        except Exception as problem:
            found.append({"address": "", "words": f"lines cannot be searched: {problem}"[:160]})
        self.loop.call_soon_threadsafe(self._send, {"kind": "found", "addresses": found})

    def _own(self, wanted: list[dict[str, str]]) -> None:
        """Own these instruments: lines that stayed as they were are not touched."""
        addresses = {i["id"]: a for i in wanted if (a := self._address(i)) is not None}
        for name in [n for n, p in self.pollers.items() if addresses.get(n) != p.instrument]:
            self.pollers.pop(name).end()
            self.states.pop(name, None)
            self.capture.lost(name)
        for name, address in addresses.items():
            if name not in self.pollers:
                self.pollers[name] = Poller(address, lambda found: self.loop.call_soon_threadsafe(self._told, found))
                self.pollers[name].start()
        self.capture.sources = self._sources()
        self._set_rhythm()

    def _address(self, told: dict[str, str]) -> Address | None:
        definition = definitions().get(told["definition"])
        address = told["address"]
        if definition is None:
            self._send(
                {
                    "kind": "state",
                    **asdict(LineState(told["id"], False, sentence=f"no definition file '{told['definition']}'")),
                }
            )
            return None
        if address.startswith("simulated:"):
            try:
                port = json.loads((self.data / SIMULATED_FILE).read_text())[address.removeprefix("simulated:")]
            except (OSError, ValueError, KeyError):
                self._send(
                    {
                        "kind": "state",
                        **asdict(LineState(told["id"], False, sentence="the simulated bench does not run")),
                    }
                )
                return None
            address = f"TCPIP::127.0.0.1::{port}::SOCKET"
        return Address(told["id"], told["name"], address, definition)

    def _sources(self) -> dict[LiveName, Source]:
        """Who gives what, of those that are connected; the first in order of the shop's list where two give the same."""
        found: dict[LiveName, Source] = {}
        for name, poller in self.pollers.items():
            if (state := self.states.get(name)) is None or not state.connected:
                continue
            for ask in poller.instrument.definition.asks:
                for gives in ask.gives:
                    found.setdefault(gives.value, Source(name, gives))
        return found

    def _set_attention(self, level: str) -> None:
        self.attention = level
        self._set_rhythm()

    def _set_rhythm(self) -> None:
        sensor = self.capture.sources.get(self.capture.sensor) if self.capture.sensor else None
        drowsy = time.monotonic() - self._quiet_since > DROWSY_AFTER_S
        for name, poller in self.pollers.items():
            if not poller.instrument.definition.asks:
                rhythm = IDLE_S  # it gives traces, and those when they are asked for
            elif (
                self.watch is not None
                or self.attention == "turning"
                or (self.attention == "looking" and self.capture.up)
            ):
                rhythm = BUSY_S
            elif self.attention == "looking":
                rhythm = (
                    (DROWSY_S if drowsy else SENSOR_S) if sensor is not None and sensor.instrument == name else OTHERS_S
                )
            else:
                rhythm = IDLE_S
            poller.set_rhythm(rhythm)

    def _told(self, found: Heard | LineState | Traced) -> None:
        """Something came from a poller's thread, now in this loop."""
        if isinstance(found, Traced):
            self._send({"kind": "traced", **asdict(found)})
        elif isinstance(found, LineState):
            self._line_state(found)
        elif found.instrument in self.pollers:
            self._values(found)

    def _line_state(self, state: LineState) -> None:
        if state.instrument not in self.pollers:
            return
        before = self.states.get(state.instrument)
        self.states[state.instrument] = state
        if before is None or before.connected != state.connected:
            if not state.connected:
                self.capture.lost(state.instrument)
            self.capture.sources = self._sources()
            if self.watch is not None:
                self.watch.floors = self._floors()
            self._set_rhythm()
        if before != state:
            self._send({"kind": "state", **asdict(state)})

    def _values(self, heard: Heard) -> None:
        events = self.capture.heard(heard.instrument, heard.asked, heard.at, heard.values)
        self._send(
            {"kind": "values", "instrument": heard.instrument, "at": heard.at + self._clock, "values": heard.values}
        )
        if self.capture.sensor in heard.values:
            self._set_rhythm()
        if not self._announced and self.capture.sensor in heard.values:
            self._announced = True
            self._send({"kind": "carrier", "up": self.capture.up, "at": heard.at + self._clock, "again": True})
        for event in events:
            self._event(event)
        if self.watch is not None:
            self._watch_values(self.watch, heard)

    def _event(self, event: Event) -> None:
        match event:
            case CarrierChanged():
                self._quiet_since = time.monotonic()
                self._set_rhythm()
                self._send({"kind": "carrier", "up": event.up, "at": event.at + self._clock})
            case Captured():
                found = asdict(event) | {"steadiness": event.steadiness.model_dump(), "at": event.at + self._clock}
                found["samples"] = {
                    n: [[s.at + self._clock, s.value] for s in all_of] for n, all_of in event.samples.items()
                }
                message = {"kind": "captured", "id": str(uuid.uuid4()), "place": self._place, **found}
                self._unacknowledged[message["id"]] = message
                self._send(message)
            case Misplaced():
                self._send({"kind": "misplaced", "frequency_hz": event.frequency_hz})
            case Unseen():
                self._send({"kind": "unseen"})
        self._send_left()

    def _send_left(self) -> None:
        self._send({"kind": "left", "rows": [w.row for w in self.capture.left_here], "up": self.capture.up})

    def _set_watch(self, watch_id: str | None, began: float | None) -> None:
        """Begin, go on with, or end a watch; `began` on the calendar's clock."""
        if self.watch is not None and self.watch.id != watch_id:
            self._send_watch(self.watch, [], self.watch.chunk(time.monotonic(), all_of_it=True))
            self.watch = None
        if watch_id is not None and self.watch is None:
            self.watch, self._watch_began = Watch(watch_id, self._floors()), began or time.time()
        self._set_rhythm()

    def _floors(self) -> dict[LiveName, float]:
        return {name: 2 * source.gives.floor for name, source in self.capture.sources.items()}

    def _watch_values(self, watch: Watch, heard: Heard) -> None:
        at = heard.at + self._clock - self._watch_began
        drops: list[Drop] = []
        for name, value in heard.values.items():
            source = self.capture.sources.get(name)
            if name not in {"power", "amps", "frequency"} or source is None or source.instrument != heard.instrument:
                continue
            if value is None and name != "power":
                continue  # a counter without a carrier says nothing
            drops += watch.add(Point(at=at, name=name, value=value or 0.0))
        points = watch.chunk(time.monotonic(), all_of_it=bool(drops))
        if drops or points:
            self._send_watch(watch, drops, points)

    def _send_watch(self, watch: Watch, drops: list[Drop], points: list[Point]) -> None:
        self._send(
            {
                "kind": "watched",
                "id": watch.id,
                "drops": [d.model_dump() for d in drops],
                "points": [[round(p.at, 3), p.name, p.value] for p in points],
            }
        )


async def _main(data: Path) -> None:
    process = BenchProcess(data)
    running = asyncio.create_task(process.run())
    # whoever started this process holds the other end of its input: when that closes, it ends
    await asyncio.get_running_loop().run_in_executor(None, sys.stdin.buffer.read)
    running.cancel()


if __name__ == "__main__":
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # a Ctrl-C at the terminal is for the web, which then ends this one
    asyncio.run(_main(Path(sys.argv[1])))
    os._exit(0)  # threads that wait on a dead line are not waited for
