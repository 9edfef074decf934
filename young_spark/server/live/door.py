"""The door through which the bench process comes: a local socket, its port and a token in a file of the data folder."""

import contextlib
import json
import logging
import os
import secrets
import socket
import threading
from collections.abc import Callable
from pathlib import Path
from typing import BinaryIO

from young_spark import wire

FIRST_LINE = 1000  # bytes: a token and no more
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
        self._closed = False

    def run(self) -> None:
        """One bench process after the other."""
        body = json.dumps({"port": self._socket.getsockname()[1], "token": self._token})
        partial = self._file.with_suffix(".partial")
        with os.fdopen(os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out:
            out.write(body)
        partial.replace(self._file)
        while True:
            try:
                peer, _ = self._socket.accept()
            except OSError:
                return  # closed: the server stops
            with contextlib.suppress(OSError, wire.Garbled):
                self._talk(peer)
            with self._lock:
                self._peer = None
            peer.close()
            if self._closed:
                return
            self._gone()

    def _talk(self, peer: socket.socket) -> None:
        peer.settimeout(5)
        with peer.makefile("rb") as lines:
            first = wire.told_in(lines.readline(FIRST_LINE))
            if not isinstance(first, wire.Hello) or not secrets.compare_digest(first.token, self._token):
                return
            peer.settimeout(None)
            with self._lock:
                self._peer = peer
            self._hear(first)
            self._listen(lines)

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
        self._socket.close()
        self._file.unlink(missing_ok=True)
