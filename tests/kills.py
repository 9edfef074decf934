"""A scripted job under load while the web or the bench process is killed at random moments.

Two hands write lines, take some back, tick some off, add pictures and ask for the slip; whatever is not answered is
sent again with the same id. At the end everything that was acknowledged must be there, once, in each hand's order."""

import contextlib
import hashlib
import http.client
import random
import sqlite3
import threading
import time
import urllib.error
import urllib.request
import uuid
from dataclasses import dataclass, field
from pathlib import Path

from tests.processes import kill_below
from tests.served import FIRST_PERSON, Served, free_port

NOT_ANSWERED = (urllib.error.URLError, ConnectionError, OSError, ValueError, http.client.HTTPException)


@dataclass
class Hand:
    """One pair of hands: what it sent and what was acknowledged, in order."""

    name: str
    dice: random.Random
    lines: list[str] = field(default_factory=list)
    pictures: list[str] = field(default_factory=list)
    taken_back: set[str] = field(default_factory=set)
    slowest_s: float = 0.0


@dataclass
class Outcome:
    """What so many kills came to."""

    kills: int = 0
    of_the_web: int = 0
    of_the_bench: int = 0
    acknowledged: int = 0
    sent_again: int = 0
    lost: list[str] = field(default_factory=list)
    doubled: list[str] = field(default_factory=list)
    unclean: list[str] = field(default_factory=list)
    slowest_start_s: float = 0.0

    def __str__(self) -> str:
        return (
            f"kills: {self.kills} ({self.of_the_web} of the web, {self.of_the_bench} of the bench "
            f"process); {self.acknowledged} acknowledged, "
            f"{self.sent_again} sent again; {len(self.lost)} lost, {len(self.doubled)} doubled, "
            f"{len(self.unclean)} starts unclean; slowest start {self.slowest_start_s:.1f} s"
        )


class Killing:
    """The program on a data folder of its own, its two hands, and the killer."""

    def __init__(self, folder: Path, seed: int) -> None:
        self.folder, self.port, self.dice = folder, free_port(), random.Random(seed)
        self.outcome = Outcome()
        self.hands = [Hand("left", random.Random(seed + 1)), Hand("right", random.Random(seed + 2))]
        self.served = self._start(**FIRST_PERSON)
        self.served.sign_in("Wren", "a long way up")
        self.cookies = self.served.cookies
        self.job = self.served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Tarnbeck M27, kill: weak"})["id"]
        self.up = threading.Event()
        self.up.set()
        self.done = threading.Event()

    def _start(self, **environment: str) -> Served:
        began = time.monotonic()
        served = Served("serve", self.folder, self.port, **environment)
        if not served.address:
            self.outcome.unclean.append(served.complained()[-300:])
            raise RuntimeError(f"it did not start again: {self.outcome.unclean[-1]}")
        self.outcome.slowest_start_s = max(self.outcome.slowest_start_s, time.monotonic() - began)
        return served

    def run(self, kills: int) -> Outcome:
        """So many kills while both hands write; then everything is looked for."""
        threads = [threading.Thread(target=self._write, args=(hand,)) for hand in self.hands]
        for thread in threads:
            thread.start()
        for _ in range(kills):
            self._let_them_write()
            if self.dice.random() < 0.5 and self._kill_bench():
                self.outcome.of_the_bench += 1
            else:
                self._kill_web()
                self.outcome.of_the_web += 1
            self.outcome.kills += 1
            if self.outcome.kills % 100 == 0:
                print(f"  killed {self.outcome.kills} times of {kills}", flush=True)
        self.done.set()
        for thread in threads:
            thread.join()
        self._look_for_everything()
        return self.outcome

    def _let_them_write(self) -> None:
        """Until a random moment: now and then while it still starts, mostly a while after something was
        acknowledged."""
        before, patience = sum(len(h.lines) for h in self.hands), time.monotonic() + 60
        if self.dice.random() < 0.8:
            while sum(len(h.lines) for h in self.hands) == before and time.monotonic() < patience:
                time.sleep(0.01)
        time.sleep(self.dice.uniform(0.0, 0.6))

    def _kill_web(self) -> None:
        self.up.clear()
        self.served.process.kill()
        self.served.process.wait()
        if "Traceback" in (said := self.served.complained()):
            self.outcome.unclean.append(said[-400:])
        self.served.process.stdout.close()
        self.served.complaints.unlink()
        self.served = self._start()
        self.served.cookies = self.cookies
        self.served.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies))
        self.up.set()

    def _kill_bench(self) -> bool:
        return bool(kill_below(self.served.process.pid, "young_spark.bench.process"))

    def _until_answered(self, send) -> None:
        while True:
            try:
                self.up.wait(120)
                send(self.served)
                return
            except NOT_ANSWERED as problem:
                if isinstance(problem, urllib.error.HTTPError) and problem.code < 500:
                    raise
                self.outcome.sent_again += 1
                time.sleep(0.02)

    def _write(self, hand: Hand) -> None:
        count = 0
        while not self.done.is_set():
            count += 1
            act = hand.dice.random()
            began = time.monotonic()
            if act < 0.7 or len(hand.lines) < 3:
                self._line(hand, count)
            elif act < 0.85:
                back = hand.dice.choice(hand.lines)
                self._until_answered(lambda s, back=back: s.post(f"/api/lines/{back}/withdraw", {"reason": "retaken"}))
                hand.taken_back.add(back)
            elif act < 0.93:
                self._picture(hand)
            else:
                self._until_answered(lambda s: s.get(f"/api/jobs/{self.job}"))
            hand.slowest_s = max(hand.slowest_s, time.monotonic() - began)

    def _line(self, hand: Hand, count: int) -> None:
        text = hand.dice.choice(
            [f"note {hand.name} {count}", f"{1 + count % 300 / 100:.2f}w", f"tx {1 + count % 90 / 100:.2f}a"]
        )
        line = {"id": str(uuid.uuid4()), "text": text, "job": self.job}
        self._until_answered(lambda s: s.post("/api/lines", line))
        hand.lines.append(line["id"])

    def _picture(self, hand: Hand) -> None:
        line = str(uuid.uuid4())
        data = _picture(40 + len(hand.pictures) % 20, 30)
        self._until_answered(lambda s: s.picture(self.job, data, line))
        hand.pictures.append(line)

    def _look_for_everything(self) -> None:
        slip = self.served.get(f"/api/jobs/{self.job}")
        there = [line["id"] for line in slip["lines"] if line["kind"] != "said"]
        by_id = {line["id"]: line for line in slip["lines"]}
        mine = [set(hand.lines) | set(hand.pictures) for hand in self.hands]
        wanted = mine[0] | mine[1]
        self.outcome.acknowledged = len(wanted) + sum(len(h.taken_back) for h in self.hands)
        self.outcome.lost += sorted(wanted - set(there))
        self.outcome.doubled += sorted(set(there) - wanted) + ([] if len(there) == len(set(there)) else ["an id twice"])
        for hand in self.hands:
            if [i for i in there if i in set(hand.lines)] != hand.lines:
                self.outcome.lost.append(f"the order of the {hand.name} hand")
            self.outcome.lost += [f"{i} was taken back" for i in hand.taken_back if by_id[i]["withdrawn"] is None]
            for line in hand.pictures:
                digest = by_id[line]["picture"]["sha256"]
                file = self.folder / "pictures" / digest
                if not file.is_file() or hashlib.sha256(file.read_bytes()).hexdigest() != digest:
                    self.outcome.lost.append(f"picture {digest}")
        numbers = [line["number"] for line in slip["lines"]]
        if numbers != list(range(1, len(numbers) + 1)):
            self.outcome.doubled.append("a number")
        if any(len(line["readings"]) != 1 for line in slip["lines"] if line["kind"] == "reading"):
            self.outcome.doubled.append("a figure of a line")
        with contextlib.closing(sqlite3.connect(self.folder / "young-spark.sqlite3")) as data:
            if data.execute("PRAGMA integrity_check").fetchone() != ("ok",):
                self.outcome.unclean.append("the data file")


def _picture(width: int, height: int) -> bytes:
    """A picture that nobody made before."""
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.effect_noise((width, height), 60).convert("RGB").save(out, "JPEG")
    return out.getvalue()


def kills(count: int, folder: Path, seed: int = 7) -> Outcome:
    """So many kills at random moments of a scripted job under load."""
    killing = Killing(folder, seed)
    try:
        return killing.run(count)
    finally:
        killing.done.set()
        killing.served.end()
