"""A session lives no longer than the trust in the browser that it was begun on."""

import contextlib
from collections.abc import Callable
from datetime import timedelta

from django.contrib.auth import get_user, logout
from django.contrib.sessions.backends.db import SessionStore
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from young_spark.server.accounts.models import TrustedBrowser
from young_spark.server.accounts.services import SESSION_BROWSER, address_of

SEEN_EVERY = timedelta(minutes=10)


def browser_still_trusted(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """The middleware: signs out where the browser was withdrawn, and keeps when and where each was last seen."""

    def middleware(request: HttpRequest) -> HttpResponse:
        number = request.session.get(SESSION_BROWSER)
        if number is not None:
            browser = TrustedBrowser.objects.filter(pk=number).first()
            if browser is None:
                logout(request)
            else:
                _seen(browser, request)
        return get_response(request)

    return middleware


def _seen(browser: TrustedBrowser, request: HttpRequest) -> None:
    now, place = timezone.now(), address_of(request)[:60]
    if abs(now - browser.seen_at) < SEEN_EVERY and browser.seen_from == place:
        return
    with contextlib.suppress(OperationalError):  # a data file that cannot be written keeps nobody from reading
        TrustedBrowser.objects.filter(pk=browser.pk).update(seen_at=now, seen_from=place)


def is_still_in(session_key: str) -> bool:
    """Whether a session still stands for somebody, as the data file has it."""
    asked = HttpRequest()
    asked.session = SessionStore(session_key)
    number = asked.session.get(SESSION_BROWSER)
    if number is not None and not TrustedBrowser.objects.filter(pk=number).exists():
        return False
    return get_user(asked).is_authenticated
