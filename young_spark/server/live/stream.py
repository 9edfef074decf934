"""The one event stream of a tab."""

from asgiref.sync import sync_to_async
from django.http import HttpRequest, HttpResponseBase, StreamingHttpResponse

from young_spark.server.accounts.browsers import is_still_in
from young_spark.server.accounts.services import SESSION_BROWSER
from young_spark.server.bulletin import FollowedBy, bulletin
from young_spark.server.problems import problem


async def events(request: HttpRequest) -> HttpResponseBase:
    """Server-sent events after `Last-Event-ID` (or `after`); `bench=1` says that live values are looked at."""
    person = await request.auser()
    if not person.is_authenticated:
        return problem(401, "not_signed_in", "Sign in first.")
    if request.method != "GET":
        return problem(405, "not_allowed", "Events can only be read.")
    session = request.session.session_key or ""
    by = FollowedBy(session, person.pk, request.session.get(SESSION_BROWSER))

    async def still_in() -> bool:
        return await sync_to_async(is_still_in)(session)

    after = request.headers.get("Last-Event-ID") or request.GET.get("after", "")
    response = StreamingHttpResponse(
        bulletin.follow(after[:40], bench=request.GET.get("bench") == "1", by=by, still=still_in),
        content_type="text/event-stream",
    )
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response
