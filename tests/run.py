"""`./spark test`: every check, its parts side by side where that is quicker, and how long each took.

Static checks of Python and of the web run beside each other; then the tests of Python; then those in the browser,
with the live bench by themselves: what stands still for half a second does so only where the machine has time to
look."""

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PYTEST = ("pytest", "-p", "no:cacheprovider")
# three hands for two processors: many of these tests wait for a process or a line
ONE_THREAD = {"OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1"}  # each: else their sums wait for each other
SPREAD = ("-n", "3", "--dist", "load", "--durations", "12")
IN_BROWSER = ("-n", "2", "--dist", "load", "--reruns", "2", "--durations", "6")
LIVE = "tests/browser/test_live.py"


@dataclass(frozen=True)
class Check:
    """One command; `folder` is where it runs."""

    name: str
    command: tuple[str, ...]
    folder: str = "."


STATIC: dict[str, tuple[Check, ...]] = {
    "python": (
        Check("style", ("ruff", "check", ".")),
        Check("format", ("ruff", "format", "--check", ".")),
        Check("layers", ("lint-imports",)),
        Check("types", ("mypy",)),
        Check("web types", ("npm", "run", "--silent", "check"), "web"),
    ),
    "web": (
        Check("web style", ("npm", "run", "--silent", "lint"), "web"),
        Check("web format", ("npm", "run", "--silent", "format:check"), "web"),
        Check("web unused", ("npm", "run", "--silent", "unused"), "web"),
        Check("web tests", ("npm", "run", "--silent", "test"), "web"),
    ),
}
TESTS: dict[str, Check] = {
    "core": Check("core", (*PYTEST, *SPREAD, "tests/core")),
    "bench": Check("bench", (*PYTEST, *SPREAD, "tests/bench")),
    "server": Check("server", (*PYTEST, *SPREAD, "tests/server")),
    "browser": Check("browser", (*PYTEST, *IN_BROWSER, "tests/browser", "--ignore", LIVE)),
    "live": Check("live", (*PYTEST, *IN_BROWSER, LIVE)),
}
PLAIN = Check("core, bench and server", (*PYTEST, *SPREAD, "tests", "--ignore", "tests/browser"))
QUICK = Check("core and plain server", (*PYTEST, *SPREAD, "-m", "not long", "tests/core", "tests/server"))
PARTS = (*STATIC, *TESTS)
PREPARED = tempfile.TemporaryDirectory(prefix="young-spark-prepared-")  # made once for all parts of a run


class Failed(Exception):
    """The name of a check that did not pass."""


@dataclass
class Run:
    """What ran so far, and how long each took in s."""

    times: dict[str, float] = field(default_factory=dict)

    @contextmanager
    def timed(self, name: str) -> Iterator[None]:
        """Keep how long something takes."""
        began = time.monotonic()
        try:
            yield
        finally:
            self.times[name] = time.monotonic() - began

    def shown(self, check: Check) -> None:
        """Run a check with its words on the terminal as they come. Raises Failed."""
        print(f"== {check.name}", flush=True)
        with self.timed(check.name):
            if subprocess.run(check.command, cwd=ROOT / check.folder, env=_environment()).returncode:
                raise Failed(check.name)

    def told_afterwards(self, checks: tuple[Check, ...]) -> None:
        """Run checks one after the other; the words of each are printed when it is done. Raises Failed."""
        for check in checks:
            with self.timed(check.name):
                found = subprocess.run(
                    check.command, cwd=ROOT / check.folder, env=_environment(), capture_output=True, text=True
                )
            print(f"== {check.name}\n{found.stdout}{found.stderr}", end="", flush=True)
            if found.returncode:
                raise Failed(check.name)

    def side_by_side(self, *groups: tuple[Check, ...]) -> None:
        """Groups of checks beside each other. Raises Failed with the first that failed, after all are done."""
        with ThreadPoolExecutor(len(groups)) as pool:
            for done in [pool.submit(self.told_afterwards, group) for group in groups]:
                done.result()

    def summary(self) -> str:
        """How long each part took."""
        rows = [f"  {name:24} {seconds:6.1f} s" for name, seconds in self.times.items()]
        return "\n".join(["== how long each part took", *rows])


def _environment() -> dict[str, str]:
    path = f"{Path(sys.executable).parent}{os.pathsep}{os.environ['PATH']}"
    return {**os.environ, "PATH": path, "YOUNG_SPARK_PREPARED": PREPARED.name} | ONE_THREAD


def everything(run: Run) -> None:
    """All of it."""
    run.side_by_side(*STATIC.values())
    for check in (PLAIN, TESTS["browser"], TESTS["live"]):
        run.shown(check)


def quick(run: Run) -> None:
    """What a hand wants to know before each commit."""
    run.side_by_side(*STATIC.values())
    run.shown(QUICK)


def only(part: str) -> Callable[[Run], None]:
    """One part by its name."""

    def one(run: Run) -> None:
        if part in STATIC:
            run.told_afterwards(STATIC[part])
        else:
            run.shown(TESTS[part])

    return one


def main(words: list[str]) -> int:
    """Run what was asked for; 0 where all passed."""
    asked = quick if words == ["--quick"] else only(words[1]) if words else everything
    run, began = Run(), time.monotonic()
    try:
        asked(run)
    except Failed as failed:
        print(f"spark: {failed} failed", file=sys.stderr)
        return 2
    finally:
        print(f"{run.summary()}\n  {'in all':24} {time.monotonic() - began:6.1f} s", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
