"""What SQLite's write-ahead log holds, read from the file itself as sqlite.org/fileformat2 (section 4) describes it."""

from dataclasses import dataclass
from pathlib import Path

LOG_HEAD, FRAME_HEAD = 32, 24


@dataclass(frozen=True)
class Logged:
    """The pages whose last state stands in the log, and how many pages the data have by it; none where nothing in it
    was committed."""

    pages: frozenset[int]
    count: int


def logged(log: Path) -> Logged:
    """What of a log counts: its frames up to the last that was committed. What an earlier round left behind is known
    by its salt, and does not count. Their checksums are not looked at."""
    pages: set[int] = set()
    waiting: set[int] = set()
    count = 0
    try:
        with open(log, "rb") as file:
            head = file.read(LOG_HEAD)
            step = int.from_bytes(head[8:12], "big")
            while len(frame := file.read(FRAME_HEAD)) == FRAME_HEAD and frame[8:16] == head[16:24]:
                if len(file.read(step)) < step:
                    break
                waiting.add(int.from_bytes(frame[:4], "big"))
                if committed := int.from_bytes(frame[4:8], "big"):
                    pages |= waiting
                    waiting, count = set(), committed
    except FileNotFoundError:
        pass
    return Logged(frozenset(pages), count)
