"""The door through which the bench process comes: a local socket, its port and a token in a file of the data folder."""

import contextlib
import json
import logging
import os
import secrets
import socket
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import BinaryIO

from young_spark import wire

FIRST_LINE = 1000  # bytes: a token and no more
KNOCK_S = 5.0  # how long somebody may take for it
MOST_KNOCKING = 16
KNOCK_AGAIN_S = 0.2
log = logging.getLogger(__name__)


class Door(threading.Thread):
    """Waits for the bench process, hands each of its messages to `hear` and its going to `gone`, and carries orders
    back."""

    def __init__(self, data: Path, hear: Callable[[wire.FromBench], None], gone: Callable[[], None]) -> None:
        super().__init__(name="bench door", daemon=True)
        self._file = data / wire.DOOR_FILE
        self._hear = hear
        self._gone = gone
        self._token = secrets.token_urlsafe(24)
        self._socket = socket.create_server(("127.0.0.1", 0))
        self._peer: socket.socket | None = None
        self._lock = threading.Lock()
        self._knocking = threading.BoundedSemaphore(MOST_KNOCKING)
        self._closed = False

    def run(self) -> None:
        """Let the bench process in, as often as it comes."""
        body = json.dumps({"port": self._socket.getsockname()[1], "token": self._token})
        partial = self._file.with_suffix(".partial")
        with os.fdopen(os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out:
            out.write(body)
        partial.replace(self._file)
        while True:
            try:
                peer, _ = self._socket.accept()
            except OSError:
                if self._closed:
                    return
                time.sleep(KNOCK_AGAIN_S)  # too many files are open just now
                continue
            # each in a thread of its own: who says nothing, or nonsense, keeps nobody else waiting
            if self._knocking.acquire(blocking=False):
                threading.Thread(target=self._knocked, args=(peer,), name="knock", daemon=True).start()
            else:
                peer.close()

    def _knocked(self, peer: socket.socket) -> None:
        """Somebody is at the door: the bench process, or nobody that is let in."""
        with contextlib.closing(peer), contextlib.suppress(OSError, ValueError):  # however its line ends, it ends
            peer.settimeout(KNOCK_S)
            with peer.makefile("rb") as lines:
                if (first := self._asks_in(lines)) is not None:
                    self._inside(peer, lines, first)

    def _asks_in(self, lines: BinaryIO) -> wire.Hello | None:
        """The first line where it has the token; None for any other, whatever stands in it."""
        try:
            first = wire.told_in(lines.readline(FIRST_LINE))
        except wire.Garbled:
            return None
        finally:
            self._knocking.release()
        if not isinstance(first, wire.Hello):
            return None
        return first if secrets.compare_digest(first.token.encode(), self._token.encode()) else None

    def _inside(self, peer: socket.socket, lines: BinaryIO, first: wire.Hello) -> None:
        """The bench process, one at a time: a newer one takes the place of one that was not heard to go."""
        peer.settimeout(None)
        with self._lock:
            before, self._peer = self._peer, peer
        if before is not None:
            with contextlib.suppress(OSError):
                before.shutdown(socket.SHUT_RDWR)
        try:
            self._hear(first)
            self._listen(lines)
        finally:
            with self._lock:
                went = self._peer is peer
                if went:
                    self._peer = None
            if went and not self._closed:
                self._gone()

    def _listen(self, lines: BinaryIO) -> None:
        """Every line until it goes; one that is no message is logged and answered."""
        while (line := lines.readline(wire.LONGEST_LINE)) and not self._closed:
            try:
                message = wire.told_in(line)
            except wire.Garbled as garbled:
                log.warning("a message of the bench process was not understood: %s", garbled)
                self.order(wire.NotUnderstoodMessage(of=garbled.of, why=garbled.why))
            else:
                self._hear(message)

    def order(self, order: wire.Order) -> None:
        """Send an order; without a bench process there is nobody to do it."""
        with self._lock, contextlib.suppress(OSError):
            if self._peer is not None:
                self._peer.sendall(wire.line_of(order))

    def close(self) -> None:
        """Wait for nobody any more, and tell of nobody's going: the server stops."""
        self._closed = True
        with contextlib.suppress(OSError):
            self._socket.shutdown(socket.SHUT_RDWR)  # who waits for somebody to come waits no more
        self._socket.close()
        self._file.unlink(missing_ok=True)
