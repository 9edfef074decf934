"""Requests for a host that is not this one are refused, before anything else looks at them."""

from collections.abc import Callable

from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse

from young_spark.server.problems import problem


def known_host(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """The middleware: a page elsewhere that has its own name point here gets nothing."""

    def middleware(request: HttpRequest) -> HttpResponse:
        try:
            request.get_host()
        except DisallowedHost:
            return problem(400, "host", "This address is not one that Young Spark was told to answer to.")
        return get_response(request)

    return middleware
