"""Requests that are begun and not finished: timed, bounded in number and size, so that everyone else is served."""

import asyncio
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

HEAD_S = 10.0  # a line that opens has so long until its request's head is there
BODY_S, SLOWEST_BYTES_PER_S = 20.0, 100_000  # and its body so long, and longer where it says that there is much
LONGEST_HEAD = 64 << 10
MOST_HALF = 128  # of all lines together; the one that is half the longest goes


class TimedRequests(HttpToolsProtocol):
    """A line to a client that may not be half a request for long."""

    _half: dict["TimedRequests", None] = {}  # in the order in which they became so
    _timer: asyncio.TimerHandle | None = None
    _head = 0  # bytes of a head that is not whole

    def connection_made(self, transport: Any) -> None:
        """A line opens: its request is due."""
        super().connection_made(transport)
        self._becomes_half(HEAD_S)

    def connection_lost(self, exc: Exception | None) -> None:
        """The line is gone."""
        self._is_whole()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        """Some more of a request."""
        self._head += len(data)
        super().data_received(data)
        if self._head > LONGEST_HEAD:
            self._cut()

    def on_message_begin(self) -> None:
        """The head of a request begins, the first of this line or another."""
        super().on_message_begin()
        self._becomes_half(HEAD_S)

    def on_headers_complete(self) -> None:
        """The head is whole; its body is due."""
        self._head = -1 << 62  # nothing of the body counts as head
        said = dict(self.headers).get(b"content-length", b"0")
        length = int(said) if said.isdigit() and len(said) < 16 else 0
        self._becomes_half(BODY_S + length / SLOWEST_BYTES_PER_S)
        super().on_headers_complete()

    def on_message_complete(self) -> None:
        """The request is whole."""
        self._head = 0
        self._is_whole()
        super().on_message_complete()

    def _becomes_half(self, seconds: float) -> None:
        self._is_whole()
        self._half[self] = None
        self._timer = self.loop.call_later(seconds, self._cut)
        if len(self._half) > MOST_HALF:
            next(iter(self._half))._cut()

    def _is_whole(self) -> None:
        self._half.pop(self, None)
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None

    def _cut(self) -> None:
        self._is_whole()
        if self.transport is not None and not self.transport.is_closing():
            self.transport.abort()
