"""The whole check at once, as the command does it: jobs on every core of the machine."""

import os
from concurrent.futures import ProcessPoolExecutor
from uuid import UUID

from django.db import connections
from django.utils import timezone

from young_spark.server.last_check import LastCheck, keep
from young_spark.server.wholeness.pieces import batched, job_ids, pieces

JOBS_AT_ONCE = 50


def check_all() -> LastCheck:
    """Read everything, keep what was found, and return it."""
    problems: list[str] = []
    files = 0
    for piece in pieces():
        if piece.jobs:
            break  # these come last, and are shared out
        problems += piece.look()
        files += piece.files
    ids = job_ids()
    connections.close_all()
    with ProcessPoolExecutor(os.cpu_count(), initializer=_begin) as workers:
        for told in workers.map(_jobs, batched(ids, JOBS_AT_ONCE)):
            problems += told
    found = LastCheck(at=timezone.now(), jobs=len(ids), files=files, problems=problems)
    keep(found)
    return found


def _begin() -> None:
    import django

    django.setup()


def _jobs(some: tuple[UUID, ...]) -> list[str]:
    from young_spark.server.wholeness.pieces import jobs

    return jobs(some)
