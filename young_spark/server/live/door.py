"""The door through which the bench process comes: a local socket, its port and a token in a file of the data folder."""

import contextlib
import json
import os
import secrets
import socket
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

DOOR_FILE = "bench-door.json"
LONGEST_LINE = 4_000_000


class Door(threading.Thread):
    """Waits for the bench process, hands each of its messages to `hear`, and carries orders back."""

    def __init__(self, data: Path, hear: Callable[[dict[str, Any]], None]) -> None:
        super().__init__(name="bench door", daemon=True)
        self._file = data / DOOR_FILE
        self._hear = hear
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
            with contextlib.suppress(OSError, ValueError, KeyError):
                self._talk(peer)
            with self._lock:
                self._peer = None
            peer.close()
            if self._closed:
                return
            self._hear({"kind": "gone"})

    def _talk(self, peer: socket.socket) -> None:
        peer.settimeout(5)
        with peer.makefile("rb") as lines:
            first = json.loads(lines.readline(1000))
            if not secrets.compare_digest(str(first["token"]), self._token):
                return
            peer.settimeout(None)
            with self._lock:
                self._peer = peer
            self._hear(first)
            while (line := lines.readline(LONGEST_LINE)) and not self._closed:
                self._hear(json.loads(line))

    def order(self, order: dict[str, Any]) -> None:
        """Send an order; without a bench process there is nobody to do it."""
        with self._lock, contextlib.suppress(OSError):
            if self._peer is not None:
                self._peer.sendall(json.dumps(order, default=str).encode() + b"\n")

    def close(self) -> None:
        """Wait for nobody any more, and tell of nobody's going: the server stops."""
        self._closed = True
        self._socket.close()
        self._file.unlink(missing_ok=True)
