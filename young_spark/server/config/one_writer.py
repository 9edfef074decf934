"""Requests that write wait for each other in the order they came.

SQLite has one writer at a time anyhow, but those who wait for it ask again by chance, and one of many may wait for
seconds."""

import threading
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

SAFE = {"GET", "HEAD", "OPTIONS"}
# what only reads, what waits for an instrument before it writes, and what hashes passwords: nobody waits for that
APART = (
    "/api/understand",
    "/api/library/sums/",
    "/api/bench/traces",
    "/api/sign-in",
    "/api/tap",
    "/api/pin",
    "/api/people",
)


def one_writer(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """The middleware."""
    turn = threading.Lock()

    def middleware(request: HttpRequest) -> HttpResponse:
        if request.method in SAFE or request.path.startswith(APART):
            return get_response(request)
        with turn:
            return get_response(request)

    return middleware
