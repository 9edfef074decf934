"""What was captured and not yet stored by the web: held on disk by the bench process, in room that was taken before.

The disk may be full for an hour and this process be killed in it: the file is written over in place, never grown."""

import contextlib
import logging
import os
import uuid
import zlib
from pathlib import Path

from young_spark import wire

FILE = "held-captures"
SLOT, SLOTS = 64 << 10, 64
HEAD = 8  # bytes: length and checksum of what a slot holds
log = logging.getLogger(__name__)


class Held:
    """Messages by id, in the order in which they came."""

    def __init__(self, folder: Path) -> None:
        self.waiting: dict[uuid.UUID, wire.CapturedMessage] = {}
        self._slots: dict[uuid.UUID, int] = {}
        self._file = folder / FILE
        self._handle: int | None = None
        self._open()

    def keep(self, message: wire.CapturedMessage) -> bool:
        """Hold a message until it is let go of; whether it is on disk. Without a disk it is held in memory."""
        self.waiting[message.id] = message
        self.put_down()
        return message.id in self._slots

    def put_down(self) -> None:
        """Write what is held in memory only, as far as there is room."""
        if not self._open():
            return
        free = iter(sorted(set(range(SLOTS)) - set(self._slots.values())))
        for message in tuple(self.waiting.values()):
            data = wire.line_of(message)
            if message.id in self._slots or len(data) > SLOT - HEAD:
                continue
            if (slot := next(free, None)) is None:
                return
            try:
                self._write(slot, len(data).to_bytes(4, "big") + zlib.crc32(data).to_bytes(4, "big") + data)
            except OSError as problem:
                log.error("what was captured is held in memory only: %s", problem)
                return
            self._slots[message.id] = slot

    def let_go(self, message_id: uuid.UUID) -> None:
        """It is stored: hold it no longer."""
        self.waiting.pop(message_id, None)
        slot = self._slots.pop(message_id, None)
        if slot is not None:
            with contextlib.suppress(OSError):  # it would be sent once more, and be known
                self._write(slot, bytes(HEAD))

    def _open(self) -> bool:
        """Take the room, once; read what an earlier process held in it."""
        if self._handle is not None:
            return True
        try:
            handle = os.open(self._file, os.O_RDWR | os.O_CREAT, 0o600)
            for n in range(os.fstat(handle).st_size // SLOT, SLOTS):
                os.pwrite(handle, bytes(SLOT), n * SLOT)  # written, not only promised: it must not be refused later
            os.fsync(handle)
        except OSError as problem:
            log.warning("no room to hold what is captured: %s", problem)
            return False
        self._handle = handle
        self._read(handle)
        return True

    def _read(self, handle: int) -> None:
        found: list[tuple[int, wire.CapturedMessage]] = []
        for slot in range(SLOTS):
            data = os.pread(handle, SLOT, slot * SLOT)
            length, check = int.from_bytes(data[:4], "big"), int.from_bytes(data[4:HEAD], "big")
            body = data[HEAD : HEAD + length]
            if length == 0 or zlib.crc32(body) != check:
                continue  # free, or torn by a kill: then it was never acknowledged to a hand
            with contextlib.suppress(wire.Garbled):
                message = wire.told_in(body)
                if isinstance(message, wire.CapturedMessage):
                    found.append((slot, message))
        for slot, message in sorted(found, key=lambda pair: pair[1].at):
            self.waiting[message.id] = message
            self._slots[message.id] = slot

    def _write(self, slot: int, data: bytes) -> None:
        assert self._handle is not None
        os.pwrite(self._handle, data, slot * SLOT)
        os.fsync(self._handle)
