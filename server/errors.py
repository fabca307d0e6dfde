"""Errors as the API sends them: always JSON with a sentence, and for a stale edit the current state."""

import logging
import sys

from django.core.exceptions import (
    ObjectDoesNotExist,
    RequestDataTooBig,
    SuspiciousOperation,
    TooManyFieldsSent,
    TooManyFilesSent,
)
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError

from drafting.errors import DraftingError
from drafting.refusals import sentence

log = logging.getLogger("moorcrest.web")
RETRY_SECONDS = 3
OUT_OF_DATE = "This page is out of date; load it again."
WENT_WRONG = "Something went wrong in Moorcrest itself; the log says what."
NOT_READY = "Moorcrest is not ready yet; it tries again by itself."


class Problem(Schema):
    message: str


class NotThere(Exception):
    """What was asked for is no longer there; says so in a sentence (404)."""


class NotAllowed(Exception):
    """The user may not do that; says so in a sentence (403)."""


class NotYet(Exception):
    """What was asked for is still being made; says so in a sentence (425)."""


def problem(message: str, status: int) -> HttpResponse:
    response = JsonResponse({"message": message}, status=status)
    if status == 503:
        response["Retry-After"] = str(RETRY_SECONDS)
    return response


def answer_to(error: BaseException) -> HttpResponse:
    """What is said to an error that nothing else took."""
    if isinstance(error, OperationalError | InterfaceError):
        log.warning("the database does not answer: %s", type(error).__name__)
        return problem(NOT_READY, 503)
    if isinstance(error, RequestDataTooBig):
        return problem("The request is too large.", 413)
    if isinstance(error, TooManyFilesSent | TooManyFieldsSent):
        return problem("These are too many files at once; bring them in by fewer, or as a zip.", 413)
    if isinstance(error, SuspiciousOperation):
        return problem("The request cannot be understood.", 400)
    log.error("unexpected", exc_info=error)
    return problem(WENT_WRONG, 500)


def install(api: NinjaAPI) -> None:
    @api.exception_handler(DraftingError)
    def drafting_error(request: HttpRequest, error: DraftingError) -> HttpResponse:
        return problem(str(error), 422)

    @api.exception_handler(NotThere)
    def not_there(request: HttpRequest, error: NotThere) -> HttpResponse:
        return problem(str(error), 404)

    @api.exception_handler(NotAllowed)
    def not_allowed(request: HttpRequest, error: NotAllowed) -> HttpResponse:
        return problem(str(error), 403)

    @api.exception_handler(NotYet)
    def not_yet(request: HttpRequest, error: NotYet) -> HttpResponse:
        return problem(str(error), 425)

    @api.exception_handler(Http404)
    def not_found(request: HttpRequest, error: Http404) -> HttpResponse:
        words = str(error)
        return problem(words if words.endswith(".") else "There is no such thing here.", 404)

    @api.exception_handler(ObjectDoesNotExist)
    def gone(request: HttpRequest, error: ObjectDoesNotExist) -> HttpResponse:
        return problem("That is no longer there: somebody has removed it meanwhile.", 404)

    @api.exception_handler(AuthenticationError)
    def unknown(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return problem("You are not signed in.", 401)

    @api.exception_handler(ValidationError)
    def validation_error(request: HttpRequest, error: ValidationError) -> HttpResponse:
        return problem(sentence(error.errors[0]), 422)

    @api.exception_handler(HttpError)
    def http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
        cause = error.__cause__  # of a body that cannot be parsed
        if isinstance(cause, DraftingError):
            return problem(str(cause), 422)
        if isinstance(cause, SuspiciousOperation):
            return answer_to(cause)
        if error.status_code == 403:
            return problem(OUT_OF_DATE, 403)
        return problem(str(error), error.status_code)

    @api.exception_handler(Exception)
    def unexpected(request: HttpRequest, error: Exception) -> HttpResponse:
        return answer_to(error)


# ---- for requests that never reach the API -----------------------------------------------------------------


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    return answer_to(exception) if isinstance(exception, SuspiciousOperation) else problem(WENT_WRONG, 400)


def forbidden(request: HttpRequest, exception: Exception | None = None, reason: str = "") -> HttpResponse:
    return problem(OUT_OF_DATE, 403)


def missing(request: HttpRequest, exception: Exception) -> HttpResponse:
    return problem("There is no such thing here.", 404)


def failed(request: HttpRequest) -> HttpResponse:
    error = sys.exc_info()[1]
    return answer_to(error) if error else problem(WENT_WRONG, 500)
