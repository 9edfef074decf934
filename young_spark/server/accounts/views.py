"""The single-use address that opens signed in."""

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from young_spark.server.accounts.services import use_way_in


@never_cache
@require_safe
def enter(request: HttpRequest, token: str) -> HttpResponse:
    """Enter and go to the bench; a used or old address goes to signing in. Who only asks what is here (HEAD, as what
    draws previews of addresses does) uses nothing up."""
    response = HttpResponseRedirect("/")
    if request.method != "GET":
        return response
    if not use_way_in(request, response, token) and not request.user.is_authenticated:
        return HttpResponseRedirect("/sign-in?used=1")
    return response
