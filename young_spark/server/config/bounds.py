"""Bodies are bounded before anything keeps them: by address, and by whether somebody is signed in."""

import json
import re
from collections.abc import Awaitable, Callable, Mapping
from http.cookies import CookieError, SimpleCookie
from typing import Any

from asgiref.sync import sync_to_async
from django.conf import settings

Scope = dict[str, Any]
Message = Mapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Application = Callable[[Scope, Receive, Send], Awaitable[None]]

SMALL = 1 << 20  # what anybody may send: signing in is less
AROUND = 64 << 10  # what a form writes around its file
LARGE = (
    (re.compile(r"/api/jobs/[^/]+/pictures$"), settings.LARGEST_UPLOAD),
    (re.compile(r"/api/jobs/[^/]+/records$"), settings.LARGEST_RECORD),
    (re.compile(r"/api/bundles$"), settings.LARGEST_BUNDLE),
    (re.compile(r"/api/benches/loss$"), settings.LARGEST_UPLOAD),
)


class _TooLong(Exception):
    """More came than the address takes."""


def bounded(application: Application) -> Application:
    """The application behind bounds: a body that says it is too long is refused unread, one that lies is cut off."""

    async def within(scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return await application(scope, receive, send)
        most = next((size + AROUND for path, size in LARGE if path.search(scope["path"])), SMALL)
        said = _said_length(scope)
        if said is not None and said > most:
            return await _refuse(send, 413, "too_large", "That is more than this may take: nothing of it was kept.")
        if most > SMALL and (said is None or said > SMALL) and not await _signed_in(scope):
            return await _refuse(send, 401, "not_signed_in", "Sign in first.")
        started = False

        async def counted() -> Message:
            nonlocal most
            message = await receive()
            most -= len(message.get("body", b""))
            if most < 0:
                raise _TooLong
            return message

        async def noted(message: Message) -> None:
            nonlocal started
            started = True
            await send(message)

        try:
            return await application(scope, counted, noted)
        except _TooLong:
            if not started:
                await _refuse(send, 413, "too_large", "That is more than this may take: nothing of it was kept.")

    return within


def _said_length(scope: Scope) -> int | None:
    """What the headers say of the body's length; None where it comes in pieces. What is no number is too long."""
    headers = dict(scope["headers"])
    if b"transfer-encoding" in headers:
        return None
    said = headers.get(b"content-length", b"0")
    return int(said) if said.isdigit() and len(said) < 16 else 1 << 60


async def _signed_in(scope: Scope) -> bool:
    from young_spark.server.accounts.browsers import is_still_in

    cookies = SimpleCookie()
    try:
        cookies.load(dict(scope["headers"]).get(b"cookie", b"").decode("latin-1"))
    except CookieError:
        return False
    session = cookies.get(settings.SESSION_COOKIE_NAME)
    return session is not None and await sync_to_async(is_still_in)(session.value)


async def _refuse(send: Send, status: int, code: str, sentence: str) -> None:
    body = {"type": "about:blank", "title": code.replace("_", " "), "status": status, "detail": sentence, "code": code}
    headers = [(b"content-type", b"application/problem+json"), (b"connection", b"close")]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": json.dumps(body).encode()})
