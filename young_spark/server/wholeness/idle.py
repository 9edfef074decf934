"""The check that goes on by itself, a piece at a time, while nobody works: once a day round."""

import logging
import threading
import time
from collections.abc import Callable, Iterator
from datetime import timedelta

from django.db import close_old_connections
from django.utils import timezone

from young_spark.server.bulletin import bulletin
from young_spark.server.last_check import LastCheck, keep, last
from young_spark.server.wholeness.pieces import Piece, pieces

EVERY = timedelta(hours=20)
QUIET_S = 60.0  # since anything happened
LOOK_AGAIN_S = 30.0
SHARE = 0.1  # of one core, at most
log = logging.getLogger(__name__)


class IdleCheck(threading.Thread):
    """Reads a piece, rests nine times as long, and goes on; waits while there is a carrier or somebody writes."""

    def __init__(self, is_busy: Callable[[], bool]) -> None:
        super().__init__(name="idle check", daemon=True)
        self._is_busy = is_busy
        self._happened_at = time.monotonic()
        self._ended = threading.Event()
        bulletin.listen("idle check", self._happened)

    def _happened(self, kind: str, data: dict[str, object]) -> None:
        self._happened_at = time.monotonic()

    @property
    def _is_quiet(self) -> bool:
        return not self._is_busy() and time.monotonic() - self._happened_at > QUIET_S

    def run(self) -> None:
        """Until ended."""
        while not self._ended.wait(LOOK_AGAIN_S):
            if not _is_due() or not self._is_quiet:
                continue
            try:
                self.round()
            except Exception:
                log.exception("the check of what is kept did not come to its end")
            finally:
                close_old_connections()

    def end(self) -> None:
        """Check no more."""
        self._ended.set()

    def round(self) -> None:
        """Once over everything, in the pauses of the day; what it found is kept at its end."""
        jobs = files = 0
        problems: list[str] = []
        for piece in self._when_quiet(pieces()):
            began = time.monotonic()
            problems += piece.look()
            jobs, files = jobs + piece.jobs, files + piece.files
            self._ended.wait((time.monotonic() - began) * (1 / SHARE - 1))
        if self._ended.is_set():
            return
        keep(LastCheck(at=timezone.now(), jobs=jobs, files=files, problems=problems))
        bulletin.publish("checked", {"problems": len(problems)})

    def _when_quiet(self, all_of_it: Iterator[Piece]) -> Iterator[Piece]:
        for piece in all_of_it:
            while not (self._is_quiet or self._ended.is_set()):
                self._ended.wait(1.0)
            if self._ended.is_set():
                return
            yield piece


def _is_due() -> bool:
    before = last()
    return before is None or abs(timezone.now() - before.at) > EVERY
