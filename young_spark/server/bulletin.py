"""What happened, told to every open page: one list of events in memory, followed by any number of streams.

Events are hints to ask again, or values of the moment; nothing is kept here that is not somewhere else too."""

import asyncio
import json
import secrets
import threading
import time
from collections import deque
from collections.abc import AsyncIterator, Awaitable, Callable
from dataclasses import dataclass, field

from django.db import transaction

KEPT = 400
BEHIND = 200
HEARTBEAT_S = 10.0
STILL_EVERY_S = 10.0  # how long a stream may outlive a sign-out that another process made


@dataclass(frozen=True)
class Event:
    """One event: its id for a stream that comes back, its kind, its data as JSON."""

    id: str
    kind: str
    data: str


@dataclass(frozen=True)
class FollowedBy:
    """Who follows: the session, whose it is, and the trusted browser that it was begun on."""

    session: str = ""
    person: int | None = None
    browser: int | None = None


Still = Callable[[], Awaitable[bool]]


async def _always() -> bool:
    return True


@dataclass(eq=False)
class _Follower:
    loop: asyncio.AbstractEventLoop
    bench: bool
    by: FollowedBy
    queue: asyncio.Queue[Event | None] = field(default_factory=asyncio.Queue)


class Bulletin:
    """Publish from any thread, follow from the event loop."""

    def __init__(self) -> None:
        self._run = secrets.token_hex(4)  # ids of another run of the server mean nothing here
        self._count = 0
        self._kept: deque[Event] = deque(maxlen=KEPT)
        self._followers: set[_Follower] = set()
        self._lock = threading.Lock()
        self._listeners: dict[str, Callable[[str, dict[str, object]], None]] = {}
        self.on_looking: Callable[[bool], None] = lambda looking: None

    def listen(self, name: str, listener: Callable[[str, dict[str, object]], None]) -> None:
        """Have a function of this process called with each kept event, in the publisher's thread; one a name."""
        self._listeners[name] = listener

    def publish(self, kind: str, data: dict[str, object], *, kept: bool = True) -> None:
        """Tell everyone. A value of the moment (`kept=False`) is not repeated to a stream that comes back."""
        with self._lock:
            self._count += 1
            event = Event(f"{self._run}-{self._count}", kind, json.dumps(data, default=str))
            if kept:
                self._kept.append(event)
            for follower in self._followers:
                if follower.queue.qsize() < BEHIND or kept:
                    follower.loop.call_soon_threadsafe(follower.queue.put_nowait, event)
        if kept:
            for listener in self._listeners.values():
                listener(kind, data)

    @property
    def newest(self) -> str:
        """The id of the newest event: what is read after this was asked is at least as new."""
        return f"{self._run}-{self._count}"

    @property
    def looking(self) -> bool:
        """Whether a page that shows live values is open."""
        return any(f.bench for f in self._followers)

    @property
    def followers(self) -> int:
        """How many tabs follow just now."""
        return len(self._followers)

    def end(self, which: Callable[[FollowedBy], bool] = lambda by: True) -> None:
        """End the streams of those; of everyone when the server stops."""
        with self._lock:
            for follower in self._followers:
                if which(follower.by):
                    follower.loop.call_soon_threadsafe(follower.queue.put_nowait, None)

    async def follow(
        self, after: str, *, bench: bool, by: FollowedBy = FollowedBy(), still: Still = _always
    ) -> AsyncIterator[bytes]:
        """Events after the one of that id, as server-sent events; a heartbeat when nothing happens. `reset` comes first
        when the id is unknown here: everything should be asked again. It ends when `still`, asked now and then, says
        that whoever follows may no more."""
        follower = _Follower(asyncio.get_running_loop(), bench, by)
        asked_at = time.monotonic()
        with self._lock:
            missed = self._since(after)
            self._followers.add(follower)
        self.on_looking(self.looking)
        try:
            yield b"retry: 1000\n\n"
            if missed is None:
                yield _written(Event(f"{self._run}-{self._count}", "reset", "{}"))
            for event in missed or ():
                yield _written(event)
            while True:
                told = await _next(follower.queue)
                if told is None:
                    return
                if time.monotonic() - asked_at > STILL_EVERY_S:
                    asked_at = time.monotonic()
                    if not await still():
                        return
                yield told
        finally:
            with self._lock:
                self._followers.discard(follower)
            self.on_looking(self.looking)

    def _since(self, after: str) -> list[Event] | None:
        run, _, number = after.partition("-")
        if run != self._run or not number.isdigit():
            return None
        seen = int(number)
        kept = [e for e in self._kept if int(e.id.partition("-")[2]) > seen]
        oldest = int(self._kept[0].id.partition("-")[2]) if self._kept else seen
        return kept if seen >= oldest - 1 or len(self._kept) < KEPT else None


async def _next(queue: "asyncio.Queue[Event | None]") -> bytes | None:
    """What comes next, a heartbeat when nothing does, None at the end."""
    try:
        async with asyncio.timeout(HEARTBEAT_S):  # wait_for may swallow its cancellation
            told = await queue.get()
    except TimeoutError:
        return b": still here\n\n"
    return None if told is None else _written(told)


def _written(event: Event) -> bytes:
    return f"id: {event.id}\nevent: {event.kind}\ndata: {event.data}\n\n".encode()


bulletin = Bulletin()


def after_commit(kind: str, data: dict[str, object]) -> None:
    """Publish once the running transaction is safe on disk; at once outside of one."""
    transaction.on_commit(lambda: bulletin.publish(kind, data))
