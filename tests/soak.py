"""Half an hour of a busy shop with things going wrong: eight clients, tabs opened and closed all along, the data file
locked twice, the disk filled once, a simulated unit keyed now and then. Nothing may be lost, and afterwards everything
must be as quiet as before."""

import contextlib
import os
import random
import sqlite3
import subprocess
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from tests.prepared import DATA_FILE
from tests.served import Served, free_port, spark

CLIENTS, TABS = 8, 6
LOCKED_S, FULL_S = 30.0, 60.0
AGAIN = {503, 507}  # what a page keeps its line for and sends again
DISK_MB = 192


@dataclass
class Soak:
    """What it came to; memory in MB of the web process, processor as a share of one core."""

    seconds: float
    sent: dict[str, list[str]] = field(default_factory=dict)
    refused: int = 0
    failed: list[str] = field(default_factory=list)
    tabs: int = 0
    lost: int = 0
    doubled: int = 0
    held: int = 0
    followers: int = 0
    memory_mb: list[float] = field(default_factory=list)
    rest: float = 0.0
    disk: str = ""
    complaints: int = 0

    def __str__(self) -> str:
        lines = sum(map(len, self.sent.values()))
        return (
            f"soak: {self.seconds:.0f} s, {CLIENTS} clients, {lines} lines taken, {self.lost} lost, {self.doubled} "
            f"doubled, {len(self.failed)} failed; {self.refused} times refused and sent again while locked or full "
            f"({self.disk}); {self.tabs} tabs opened and closed, {self.followers} follow afterwards; {self.held} "
            f"readings still held; memory {self.memory_mb[0]:.0f} MB after a tenth, {self.memory_mb[-1]:.0f} MB at the "
            f"end; at rest afterwards {self.rest:.1%} of a core; {self.complaints} kB of complaints"
        )


def soak(seconds: float, folder: Path) -> Soak:
    """Run it on a disk of its own where one can be mounted."""
    found = Soak(seconds)
    with _disk(folder, found) as place, Served("demo", place / "shop", free_port()) as served:
        served.opener.open(served.entry).close()
        _Soaking(served, found).run()
    return found


class _Soaking:
    def __init__(self, served: Served, found: Soak) -> None:
        self.served, self.found = served, found
        self.ended = threading.Event()
        self.lock = threading.Lock()
        self.jobs: dict[tuple[int, int], str] = {}
        self.began = time.monotonic()

    def run(self) -> None:
        work = [threading.Thread(target=self.client, args=(n,)) for n in range(CLIENTS)]
        work += [threading.Thread(target=self.tab, args=(n,)) for n in range(TABS)]
        work += [threading.Thread(target=self.trouble), threading.Thread(target=self.hands)]
        for thread in work:
            thread.start()
        self.ended.wait(self.found.seconds / 10)
        self.found.memory_mb.append(self.memory())
        self.ended.wait(self.found.seconds * 0.9)
        self.ended.set()
        for thread in work:
            thread.join()
        self.found.memory_mb.append(self.memory())
        self.count()

    # what goes on ---------------------------------------------------------------------------------------------------

    def client(self, number: int) -> None:
        n = 0
        while not self.ended.is_set():
            n += 1
            job = self.job_of(number % 2, n // 15)
            line = str(uuid.uuid4())
            if self.kept_at("/api/lines", {"id": line, "text": f"note {number} {n}", "job": job}):
                with self.lock:
                    self.found.sent[job].append(line)
            if n % 10 == 0:
                with contextlib.suppress(urllib.error.HTTPError):
                    self.served.get(f"/api/jobs/{job}")
            self.ended.wait(0.4)

    def job_of(self, bench: int, turn: int) -> str:
        with self.lock:
            if (bench, turn) not in self.jobs:
                job = str(uuid.uuid4())
                self.kept_at("/api/jobs", {"id": job, "words": f"Tarnbeck M27, soak {bench}-{turn}: weak"})
                self.jobs[bench, turn] = job
                self.found.sent[job] = []
            return self.jobs[bench, turn]

    def kept_at(self, path: str, body: dict[str, object]) -> bool:
        """Send it until it is kept, as a page does; the same id every time."""
        for _ in range(400):
            try:
                self.served.post(path, body)
                return True
            except urllib.error.HTTPError as problem:
                if problem.code not in AGAIN:
                    self.found.failed.append(f"{problem.code} {path}: {problem.read()[:200]!r}")
                    return False
                self.found.refused += 1
            except OSError as problem:
                self.found.failed.append(f"{path}: {problem}")
                return False
            time.sleep(1)
        self.found.failed.append(f"{path}: never kept")
        return False

    def tab(self, number: int) -> None:
        """A tab that follows what happens for a while, and is closed in the middle of it."""
        dice = random.Random(number)
        while not self.ended.is_set():
            with contextlib.suppress(OSError):
                stream = self.served.opener.open(f"{self.served.address}/api/events?bench=1", timeout=20)
                ends = time.monotonic() + dice.uniform(0.1, 3.0)
                while time.monotonic() < ends and stream.readline():
                    pass
                stream.close()
                self.found.tabs += 1
            self.ended.wait(dice.uniform(0.0, 0.5))

    def hands(self) -> None:
        """Somebody keys the simulated unit now and then."""
        while not self.ended.wait(20):
            for keyed in ("true", "false"):
                spark("hands", f"keyed={keyed}", data=self.served.data)
                self.ended.wait(4)

    def trouble(self) -> None:
        """A third of the way the data file is locked, then the disk is full, then it is locked again."""
        part = self.found.seconds / 4
        locked, full = min(LOCKED_S, part / 2), min(FULL_S, part / 2)
        for begin, act in ((part, self.locked), (2 * part, self.full), (3 * part, self.locked)):
            self.ended.wait(max(0.0, begin - (time.monotonic() - self.began)))
            if not self.ended.is_set():
                act(full if act == self.full else locked)

    def locked(self, seconds: float) -> None:
        with contextlib.closing(sqlite3.connect(self.served.data / DATA_FILE, timeout=30)) as data:
            data.execute("begin immediate")
            time.sleep(seconds)
            data.rollback()

    def full(self, seconds: float) -> None:
        if not self.found.disk.startswith("a disk"):
            return
        ballast = self.served.data.parent / "ballast"
        ends = time.monotonic() + seconds
        handle = os.open(ballast, os.O_WRONLY | os.O_CREAT)
        while time.monotonic() < ends:
            with contextlib.suppress(OSError):
                while time.monotonic() < ends:
                    os.write(handle, bytes(65536))
            time.sleep(0.05)  # whatever is freed meanwhile is filled again
        os.close(handle)
        ballast.unlink()

    # what is left -----------------------------------------------------------------------------------------------------

    def memory(self) -> float:
        status = Path(f"/proc/{self.served.process.pid}/status").read_text()
        return int(next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1]) / 1024

    def processor(self) -> float:
        figures = Path(f"/proc/{self.served.process.pid}/stat").read_text().rpartition(")")[2].split()
        return (int(figures[11]) + int(figures[12])) / os.sysconf("SC_CLK_TCK")

    def count(self) -> None:
        time.sleep(12)  # what was held is sent again, and closed tabs are noticed
        self.found.complaints = len(self.served.complained()) // 1000
        page = self.served.get("/api/bench/instruments")
        self.found.held, self.found.followers = page["held"], page["followers"]
        before, began = self.processor(), time.monotonic()
        time.sleep(10)
        self.found.rest = (self.processor() - before) / (time.monotonic() - began)
        for job, sent in self.found.sent.items():
            there = [line["id"] for line in self.served.get(f"/api/jobs/{job}")["lines"] if line["kind"] == "note"]
            self.found.lost += len(set(sent) - set(there))
            self.found.doubled += len(there) - len(set(there))


@contextlib.contextmanager
def _disk(folder: Path, found: Soak) -> Iterator[Path]:
    """A small file system of its own, so that it can be filled; the folder itself where none can be mounted."""
    place = folder / "disk"
    place.mkdir(parents=True)
    command = ["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m", "tmpfs", str(place)]
    if subprocess.run(command, capture_output=True).returncode:
        found.disk = "no disk of its own could be mounted: it was never full"
        yield place
        return
    found.disk = f"a disk of {DISK_MB} MB"
    try:
        yield place
    finally:
        subprocess.run(["umount", "-l", str(place)], check=False)
