"""Scenes that a module of tests plays in: built and committed once, left as they were by every test, gone after the
module."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection
from django.test import override_settings

from young_spark.server.live.bench import LiveBench, install

QUICK = ["django.contrib.auth.hashers.MD5PasswordHasher"]  # slow hashing is for attackers


@contextmanager
def built_once(blocker) -> Iterator[None]:
    """What is written here stays for the tests of a module, each of which rolls its own back; afterwards the data
    are as before."""
    before = sqlite3.connect(":memory:")
    with blocker.unblock(), override_settings(PASSWORD_HASHERS=QUICK):
        connection.ensure_connection()
        connection.connection.backup(before)
        install(LiveBench())
        yield
        connection.rollback()
        before.backup(connection.connection)
    before.close()
