"""Every example of the field's own data, said over and over up to a thousand signs: how long the field takes over it. A
pattern that looks everywhere twice shows here first. For './spark bench'."""

import signal
import statistics
import time
import tomllib
from types import FrameType

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import EntryContext, understand
from young_spark.core.ground import shipped_text

FILES = ("sayings", "asides", "circumstances")
SIGNS, PATIENCE_S, SHOWN = 1000, 10, 5


def long_texts() -> str:
    """Lines to be printed: the slowest of them, and those that nobody would wait for."""
    context = ground_of_kind("cb-am-mobile", "current-standby")
    times = sorted(((_taken_s(example, context), example) for example in _examples()), reverse=True)
    over = [example for taken, example in times if taken >= PATIENCE_S]
    told = ", ".join(f"{example!r} {taken:.1f} s" for taken, example in times[:SHOWN])
    return (
        f"{len(times)} examples of the field said over and over up to {SIGNS} signs: median "
        f"{1e3 * statistics.median(taken for taken, _ in times):.0f} ms, {len(over)} given up after {PATIENCE_S} s\n"
        f"  slowest: {told}"
    )


def _examples() -> list[str]:
    data = [tomllib.loads(shipped_text("entry", name)) for name in FILES]
    rows = [row for file in data for rows in file.values() if isinstance(rows, list) for row in rows]
    return sorted({row["as_in"] for row in rows if "as_in" in row})


def _taken_s(example: str, context: EntryContext) -> float:
    """How long one of them takes, in s; what takes longer than anybody waits is given up."""
    text = (f"{example} " * SIGNS)[:SIGNS]
    signal.signal(signal.SIGALRM, _give_up)
    signal.alarm(PATIENCE_S)
    began = time.perf_counter()
    try:
        understand(text, context)
    except TimeoutError:
        return float(PATIENCE_S)
    finally:
        signal.alarm(0)
    return time.perf_counter() - began


def _give_up(number: int, frame: FrameType | None) -> None:
    raise TimeoutError
