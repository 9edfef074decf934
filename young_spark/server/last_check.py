"""What the last check of everything that is kept found; a small file beside the data, since the data may be what is
wrong."""

import contextlib
import os
from datetime import datetime

from django.conf import settings
from ninja import Schema

FILE = "last-check.json"
MOST_KEPT = 200  # problems; more than that need a backup, not a list


class LastCheck(Schema):
    """A finished check: when, how much was read, and what is not whole, in words."""

    at: datetime
    jobs: int
    files: int
    problems: list[str]

    @property
    def words(self) -> str:
        """The check as one sentence."""
        read = f"{self.jobs} jobs and {self.files} pictures and records were read"
        count = len(self.problems)
        return f"{read}: " + ("everything is whole." if not count else f"{count} things are not whole.")


def keep(check: LastCheck) -> None:
    """Keep a finished check; on a disk that takes nothing the one before it stays."""
    partial = settings.DATA / f"{FILE}.partial"
    with contextlib.suppress(OSError):
        partial.write_text(check.model_copy(update={"problems": check.problems[:MOST_KEPT]}).model_dump_json())
        os.replace(partial, settings.DATA / FILE)


def last() -> LastCheck | None:
    """The last finished check; None where there was none."""
    try:
        return LastCheck.model_validate_json((settings.DATA / FILE).read_text())
    except (OSError, ValueError):
        return None
