"""Requests that write wait for each other; those that read something long first take their turn by themselves."""

import re
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from young_spark.server.writing import turn_to_write

SAFE = {"GET", "HEAD", "OPTIONS"}
# what only reads, what waits for an instrument, what hashes passwords, and what brings a file or a long text: none of
# it holds the writer before it is read
APART = re.compile(
    r"/api/(understand|library/sums/|bench/traces|bench/loss|sign-in|tap|pin|people|bundles|library/profiles/|chains"
    r"|jobs/[^/]+/(pictures|records))"
)


def one_writer(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """The middleware."""

    def middleware(request: HttpRequest) -> HttpResponse:
        if request.method in SAFE or APART.match(request.path):
            return get_response(request)
        with turn_to_write:
            return get_response(request)

    return middleware
