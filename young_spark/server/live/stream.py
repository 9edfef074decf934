"""The one event stream of a tab."""

from django.http import HttpRequest, HttpResponseBase, StreamingHttpResponse

from young_spark.server.bulletin import bulletin
from young_spark.server.problems import problem


async def events(request: HttpRequest) -> HttpResponseBase:
    """Server-sent events after `Last-Event-ID` (or `after`); `bench=1` says that live values are looked at."""
    person = await request.auser()
    if not person.is_authenticated:
        return problem(401, "not_signed_in", "Sign in first.")
    if request.method != "GET":
        return problem(405, "not_allowed", "Events can only be read.")
    after = request.headers.get("Last-Event-ID") or request.GET.get("after", "")
    response = StreamingHttpResponse(
        bulletin.follow(after[:40], bench=request.GET.get("bench") == "1"), content_type="text/event-stream"
    )
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response
