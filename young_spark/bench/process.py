"""The bench process: alone it owns the instruments. It finds the web by a file of the data folder and talks to it
over a local socket (`wire`). It ends when whoever started it ends."""

import asyncio
import contextlib
import json
import logging
import os
import signal
import sys
import threading
import uuid
from pathlib import Path

from young_spark import steady_clock, wire
from young_spark.bench.held import Held
from young_spark.bench.lines import Lines
from young_spark.bench.poller import Heard, Told
from young_spark.bench.searching import lines_of_this_machine
from young_spark.bench.watcher import Watcher
from young_spark.core.live import Captured, CarrierChanged, Misplaced, TakerEvent, Unseen

calendar = steady_clock.from_monotonic
KNOCK_S = 0.5
AGAIN_S = 5.0
log = logging.getLogger(__name__)


class BenchProcess:
    """Lines below, the web above, taking and watching between."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.loop = asyncio.get_running_loop()
        self.lines = Lines(data, self._told_from_a_thread)
        self.taker = self.lines.taker
        self.watcher = Watcher(self.lines, self._send)
        self._held = Held(data)
        self._writer: asyncio.StreamWriter | None = None
        self._place: wire.Place | None = None  # whose the captured readings are, as the web said
        self._announced = False  # whether this web was told if there is a carrier

    # the web above --------------------------------------------------------------------------------------------------

    async def run(self) -> None:
        """Knock at the web's door, again and again; while in, do as it says."""
        while True:
            with contextlib.suppress(OSError, ValueError, asyncio.IncompleteReadError, asyncio.LimitOverrunError):
                await self._inside()
            self._writer = None
            self.lines.attend("idle")
            await asyncio.sleep(KNOCK_S)

    async def _inside(self) -> None:
        door = json.loads((self.data / wire.DOOR_FILE).read_text())
        reader, writer = await asyncio.open_connection("127.0.0.1", door["port"], limit=wire.LONGEST_LINE)
        self._writer = writer
        try:
            self._send(wire.Hello(token=door["token"]))
            self._announced = False
            for state in self.lines.states.values():
                self._send(state)
            for captured in tuple(self._held.waiting.values()):
                self._send(captured)
            while line := await reader.readline():
                self._hear(line)
        finally:
            writer.close()

    def _hear(self, line: bytes) -> None:
        """One line of the web; one that is no order is logged and answered."""
        try:
            order = wire.order_in(line)
        except wire.Garbled as garbled:
            log.warning("an order of the web was not understood: %s", garbled)
            self._send(wire.NotUnderstoodMessage(of=garbled.of, why=garbled.why))
        else:
            self._do(order)

    def _send(self, message: wire.FromBench) -> None:
        if self._writer is not None and not self._writer.is_closing():
            self._writer.write(wire.line_of(message))

    def _do(self, order: wire.Order) -> None:
        match order:
            case wire.OwnInstruments():
                for refused in self.lines.own(order.instruments):
                    self._send(refused)
            case wire.LookFor():
                self.taker.want(order.rows)
                self._place = order.place
                self.lines.expect(order.carrier_hz, order.place.conditions.mode)
                self.lines.stir()
                self._send_left()
            case wire.Attend():
                self.lines.attend(order.level)
            case wire.KeepWatch():
                self.watcher.keep(order.id, order.began)
            case wire.Acknowledged():
                self._held.let_go(order.id)
            case wire.AskTrace():
                if not self.lines.ask_trace(order):
                    self._send(wire.Traced(id=order.id, sentence="it does not talk"))
            case wire.TryLine():
                self.lines.try_line(order)
            case wire.FindLines():
                threading.Thread(target=self._find, name="find", daemon=True).start()
            case wire.NotUnderstoodMessage():
                log.warning("the web did not understand %s: %s", order.of, order.why)

    def _find(self) -> None:
        """Search the lines, in a thread of its own: it takes seconds."""
        lines = wire.FoundMessage(addresses=lines_of_this_machine(self.data))
        self.loop.call_soon_threadsafe(self._send, lines)

    # the instruments below ------------------------------------------------------------------------------------------

    def _told_from_a_thread(self, message: Told) -> None:
        self.loop.call_soon_threadsafe(self._told, message)

    def _told(self, message: Told) -> None:
        """Something came from a poller's thread, now in this loop."""
        match message:
            case wire.Traced() | wire.Tried():
                self._send(message)
            case wire.LineState():
                if self.lines.stands(message):
                    self.watcher.lines_changed()
                    self._send(message)
            case Heard() if self.lines.has(message.instrument):
                self._values(message)

    def _values(self, heard: Heard) -> None:
        events = self.taker.heard(heard.instrument, heard.asked, heard.at, heard.values)
        at = calendar(heard.at)
        self._send(wire.ValuesMessage(instrument=heard.instrument, at=at, values=heard.values))
        if "frequency" in heard.values:
            self.lines.carrier_at(heard.instrument, heard.values["frequency"])
        if heard.beside is not None:
            self._send(wire.SpectrumMessage(instrument=heard.instrument, at=at, beside=heard.beside))
        if self.taker.sensor in heard.values:
            self.lines.set_rhythm()
            if not self._announced:
                self._announced = True
                self._send(wire.CarrierMessage(up=self.taker.up, at=at, again=True))
        for event in events:
            self._event(event)
        self.watcher.heard(heard)

    def _event(self, event: TakerEvent) -> None:
        match event:
            case CarrierChanged():
                self.lines.stir()
                self._send(wire.CarrierMessage(up=event.up, at=calendar(event.at)))
            case Captured():
                self._captured(event)
            case Misplaced():
                self._send(wire.MisplacedMessage(frequency_hz=event.frequency_hz))
            case Unseen():
                self._send(wire.UnseenMessage())
        self._send_left()

    def _captured(self, event: Captured) -> None:
        """Tell of a reading, and hold it until the web has it on disk."""
        if self._place is None:
            return  # nobody asked for it
        message = wire.CapturedMessage(
            id=uuid.uuid4(),
            place=self._place,
            row=event.row,
            quantity=event.quantity,
            values=event.values,
            steadiness=event.steadiness,
            instruments=event.instruments,
            samples={n: tuple((calendar(s.at), s.value) for s in of) for n, of in event.samples.items()},
            at=calendar(event.at),
        )
        self._held.keep(message)
        self._send(message)

    async def send_again(self) -> None:
        """What the web could not store is sent again until it could; it knows what it has by its id."""
        while True:
            await asyncio.sleep(AGAIN_S)
            self._held.put_down()
            for captured in tuple(self._held.waiting.values()):
                self._send(captured)

    def _send_left(self) -> None:
        self._send(wire.Left(rows=tuple(w.row for w in self.taker.left_here), up=self.taker.up))


async def _main(data: Path) -> None:
    process = BenchProcess(data)
    running = [asyncio.create_task(work) for work in (process.run(), process.send_again())]
    # whoever started this process holds the other end of its input: when that closes, it ends
    await asyncio.get_running_loop().run_in_executor(None, sys.stdin.buffer.read)
    for task in running:
        task.cancel()


if __name__ == "__main__":
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # a Ctrl-C at the terminal is for the web, which then ends this one
    steady_clock.go_by(float(sys.argv[2]))
    asyncio.run(_main(Path(sys.argv[1])))
    os._exit(0)  # threads that wait on a dead line are not waited for
