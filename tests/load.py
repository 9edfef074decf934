"""Several clients that write at once, for as long as wanted: nothing lost, no failure, and how long an answer takes."""

import statistics
import threading
import time
import urllib.error
import uuid
from dataclasses import dataclass, field
from pathlib import Path

from tests.served import FIRST_PERSON, Served, free_port

TEXTS = ("3.{n}w", "tx 1.{n}a", "27.1850{n}M", "swr 3.8/0.{n}", "found mark {n}", "note {n}")


@dataclass
class Load:
    """What so many clients came to; times of an answer in ms."""

    clients: int
    seconds: float
    taken_ms: list[float] = field(default_factory=list)
    understood_ms: list[float] = field(default_factory=list)
    failed: list[str] = field(default_factory=list)
    lost: int = 0
    doubled: int = 0

    def __str__(self) -> str:
        taken, understood = sorted(self.taken_ms), sorted(self.understood_ms)
        return (
            f"load: {self.clients} clients, {self.seconds:.0f} s: {len(taken)} lines taken (median "
            f"{statistics.median(taken):.0f} ms, p95 "
            f"{taken[int(0.95 * len(taken))]:.0f} ms, slowest {taken[-1]:.0f} ms), {len(understood)} "
            f"texts understood (median {statistics.median(understood):.0f} ms); "
            f"{self.lost} lost, {self.doubled} doubled, {len(self.failed)} failed"
        )


def load(clients: int, seconds: float, folder: Path) -> Load:
    """So many clients, four at a job, each typing, taking, and looking at its slip; a slip of sixty lines is long,
    then comes the next job."""
    with Served("serve", folder, free_port(), **FIRST_PERSON) as served:
        return _load(served, clients, seconds)


def _load(served: Served, clients: int, seconds: float) -> Load:
    served.sign_in("Wren", "a long way up")
    found, ended = Load(clients, seconds), time.monotonic() + seconds
    sent: dict[str, list[str]] = {}
    jobs: dict[tuple[int, int], str] = {}
    lock = threading.Lock()

    def job_of(bench: int, turn: int) -> str:
        with lock:
            if (bench, turn) not in jobs:
                words = f"Tarnbeck M27, load {bench}-{turn}: weak"
                jobs[bench, turn] = served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": words})["id"]
                sent[jobs[bench, turn]] = []
            return jobs[bench, turn]

    def timed(times, path, body):
        began = time.monotonic()
        try:
            served.post(path, body)
        except urllib.error.HTTPError as problem:
            found.failed.append(f"{problem.code} {path}: {problem.read()[:200]!r}")
            return False
        with lock:
            times.append(1e3 * (time.monotonic() - began))
        return True

    def client(number: int) -> None:
        n = 0
        while time.monotonic() < ended:
            n += 1
            job = job_of(number % 2, n // 15)
            text = TEXTS[(n + number) % len(TEXTS)].format(n=n % 10)
            timed(found.understood_ms, "/api/understand", {"text": text, "job": job})
            line = str(uuid.uuid4())
            if timed(found.taken_ms, "/api/lines", {"id": line, "text": text, "job": job}):
                with lock:
                    sent[job].append(line)
            if n % 10 == 0:
                served.get(f"/api/jobs/{job}")
            time.sleep(0.25)  # a hand in a hurry

    threads = [threading.Thread(target=client, args=(n,)) for n in range(clients)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    for job in sent:
        there = [line["id"] for line in served.get(f"/api/jobs/{job}")["lines"] if line["kind"] != "said"]
        found.lost += len(set(sent[job]) - set(there))
        found.doubled += len(there) - len(set(there)) + len(set(there) - set(sent[job]))
    return found
