"""Seconds since 1970 that neither jump nor go back while this machine runs, whatever is done to its clock.

Cool-offs, key-downs, watches and the age of a live value count in them. After the machine was started anew they agree
with its clock again. Two processes of one run agree: who starts the other hands its `anchor` over."""

import contextlib
import json
import os
import time
from datetime import UTC, datetime
from pathlib import Path

FILE = "steady-clock.json"
BOOT_ID = Path("/proc/sys/kernel/random/boot_id")


class _Anchor:
    """What leads from the time since the machine started to s since 1970."""

    def __init__(self) -> None:
        self.at = time.time() - _since_boot()


def _since_boot() -> float:
    return time.clock_gettime(time.CLOCK_BOOTTIME)  # goes on while the machine sleeps


_anchor = _Anchor()


def now() -> float:
    """The time in s since 1970."""
    return _anchor.at + _since_boot()


def moment() -> datetime:
    """The time with its calendar."""
    return datetime.fromtimestamp(now(), UTC)


def from_monotonic(at: float) -> float:
    """A time of `time.monotonic` of this process as s since 1970."""
    return now() - (time.monotonic() - at)


def anchor() -> float:
    """What another process of this run counts from."""
    return _anchor.at


def go_by(at: float) -> None:
    """Count from the anchor of the process that started this one."""
    _anchor.at = at


def settle(folder: Path) -> None:
    """Go on with the clock that this data folder had before the program was started again, while the machine ran on.
    Where that cannot be kept it is no worse than the machine's own clock."""
    file = folder / FILE
    with contextlib.suppress(OSError, ValueError, KeyError, TypeError):
        boot = BOOT_ID.read_text().strip()
        with contextlib.suppress(FileNotFoundError):
            kept = json.loads(file.read_text())
            if kept["boot"] == boot:
                _anchor.at = float(kept["anchor"])
                return
        partial = file.with_suffix(".partial")
        partial.write_text(json.dumps({"boot": boot, "anchor": _anchor.at}))
        os.replace(partial, file)
