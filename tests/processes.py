"""Ending processes that a test started: by their parent, never by a name that another program may have too."""

import contextlib
import os
import signal
from collections.abc import Iterator
from pathlib import Path


def descendants(of: int) -> Iterator[tuple[int, list[str]]]:
    """Every process below one, with its command line."""
    below: dict[int, list[int]] = {}
    for entry in Path("/proc").glob("[0-9]*/stat"):
        with contextlib.suppress(OSError):  # it went meanwhile
            after_name = entry.read_text().rpartition(")")[2].split()
            below.setdefault(int(after_name[1]), []).append(int(entry.parent.name))
    waiting = list(below.get(of, ()))
    while waiting:
        pid = waiting.pop()
        waiting += below.get(pid, ())
        with contextlib.suppress(OSError):
            yield pid, Path(f"/proc/{pid}/cmdline").read_bytes().decode(errors="replace").split("\0")


def kill_below(parent: int, argument: str) -> list[int]:
    """Kill the processes below one that were started with this very argument; which they were."""
    found = [pid for pid, arguments in descendants(parent) if argument in arguments]
    for pid in found:
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)
    return found
