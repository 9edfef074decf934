"""Refusals of the server, and the one place that turns any refusal into problem+json."""

import logging
from collections.abc import Callable
from typing import Any, TypeVar, cast

from django.core.exceptions import BadRequest, PermissionDenied, RequestDataTooBig
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, RawPostDataException, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from young_spark.core.ground import CoreError, NoPlainJson

log = logging.getLogger(__name__)
Problem = TypeVar("Problem", bound=Exception)


class Refused(Exception):
    """Base of the server's refusals: a status, a stable code, one sentence."""

    status, code = 400, "refused"

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


class Conflict(Refused):
    """The same id came with other inputs, or the thing has moved on."""

    status, code = 409, "conflict"


def must_be_the_same(what: str, *pairs: tuple[object, object]) -> None:
    """A thing whose client-made id is known comes again: each part as it is kept, and as it is sent now. Raises
    Conflict where it is another thing under the same id."""
    if any(kept != sent for kept, sent in pairs):
        raise Conflict(f"Another {what} is here already under that id: this one was not kept. Send it under a new id.")


class NotUnderstood(Refused):
    """The text has no single sense; the sentence is the question."""

    status, code = 422, "not_understood"


class TooLarge(Refused):
    """An upload is over its bound."""

    status, code = 413, "too_large"


class TooMany(Refused):
    """Too many wrong tries."""

    status, code = 429, "too_many_tries"


class NotSignedIn(Refused):
    """Name, password or PIN are not right."""

    status, code = 401, "not_signed_in"


def problem(status: int, code: str, sentence: str) -> HttpResponse:
    """One problem+json response (RFC 9457)."""
    body = {"type": "about:blank", "title": code.replace("_", " "), "status": status, "detail": sentence, "code": code}
    return JsonResponse(body, status=status, content_type="application/problem+json")


def _validation_sentence(problem_found: ValidationError) -> str:
    first = problem_found.errors[0]
    place = ".".join(str(part) for part in first.get("loc", ()) if part not in {"body", "data", "query", "path"})
    return f"{place or 'request'}: {first.get('msg', 'not valid')}"


def add_handlers(api: NinjaAPI) -> None:
    """Teach the API to answer every refusal as problem+json."""

    def answer(kind: type[Problem], found: Callable[[HttpRequest, Problem], HttpResponse]) -> None:
        api.add_exception_handler(kind, cast(Any, found))  # its own type asks for a class where an instance comes

    answer(Refused, lambda request, e: problem(e.status, e.code, e.sentence))
    answer(CoreError, lambda request, e: problem(422, e.code, str(e)))
    answer(ValidationError, lambda request, e: problem(422, "invalid", _validation_sentence(e)))
    answer(HttpError, _body)
    answer(AuthenticationError, lambda request, e: problem(401, "not_signed_in", "Sign in first."))
    answer(PermissionDenied, lambda request, e: problem(403, "not_allowed", str(e) or "Not allowed."))
    answer(Http404, lambda request, e: problem(404, "not_found", "There is no such thing here."))
    for garbled in (MultiPartParserError, RawPostDataException, UnreadablePostError, BadRequest):
        answer(garbled, lambda request, e: problem(400, "garbled", "The request came in garbled; it was not read."))
    answer(RequestDataTooBig, lambda request, e: problem(413, "too_large", "That is more than one request may hold."))
    answer(OperationalError, _database)
    answer(OSError, _storage)
    answer(Exception, _unforeseen)


def _body(request: HttpRequest, error: HttpError) -> HttpResponse:
    """A body that is not understood: the framework's own refusal, with what is wrong where that is known."""
    why = f": {error.__cause__}" if isinstance(error.__cause__, NoPlainJson) else ""
    return problem(error.status_code, "garbled", f"The request is not understood{why}. Nothing was changed.")


def _database(request: HttpRequest, error: OperationalError) -> HttpResponse:
    log.error("database: %s", error)
    if "full" in str(error):
        return problem(
            507, "storage", "The disk is full: nothing was changed, and what you typed is kept here. Make room."
        )
    if "readonly" in str(error):
        return problem(
            507, "storage", "The data file may not be written: nothing was changed, and what you typed is kept here."
        )
    return problem(503, "database", "The data file cannot be written just now; what you typed is kept here. Try again.")


def _storage(request: HttpRequest, error: OSError) -> HttpResponse:
    log.error("storage at %s: %s", request.path, error)
    words = (error.strerror or "it cannot be written").lower()
    return problem(
        507, "storage", f"The disk will not take it: {words}. Nothing was changed; make room, then try again."
    )


def _unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
    log.exception("unforeseen at %s", request.path)
    return problem(500, "unforeseen", "Something went wrong here; what you typed is kept. The log says more.")
