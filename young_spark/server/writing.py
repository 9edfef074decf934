"""One writer at a time, in the order they came.

SQLite has one writer at a time anyhow, but those who wait for it ask again by chance, and one of many may wait for
seconds. What takes long (reading a picture, a record, a bundle, hashing a password) is done before the turn."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import transaction

turn_to_write = threading.RLock()


@contextmanager
def writing() -> Iterator[None]:
    """A turn to write, and one transaction in it."""
    with turn_to_write, transaction.atomic():
        yield
