"""Errors as the API sends them: a sentence, and for a stale edit the current state."""

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import ValidationError

from drafting.errors import DraftingError


class Problem(Schema):
    message: str


class NotThere(Exception):
    """What was asked for is no longer there; says so in a sentence (404)."""


class NotYet(Exception):
    """What was asked for is still being made; says so in a sentence (425)."""


def install(api: NinjaAPI) -> None:
    @api.exception_handler(DraftingError)
    def drafting_error(request: HttpRequest, error: DraftingError) -> HttpResponse:
        return api.create_response(request, {"message": str(error)}, status=422)

    @api.exception_handler(NotThere)
    def not_there(request: HttpRequest, error: NotThere) -> HttpResponse:
        return api.create_response(request, {"message": str(error)}, status=404)

    @api.exception_handler(NotYet)
    def not_yet(request: HttpRequest, error: NotYet) -> HttpResponse:
        return api.create_response(request, {"message": str(error)}, status=425)

    @api.exception_handler(ValidationError)
    def validation_error(request: HttpRequest, error: ValidationError) -> HttpResponse:
        first = error.errors[0]
        where = ".".join(str(p) for p in first["loc"] if p not in ("body", "payload"))
        if first["type"] == "value_error":  # raised by our own rules, in words
            words = str(first["msg"]).removeprefix("Value error, ")
            return api.create_response(request, {"message": words[0].upper() + words[1:] + "."}, status=422)
        return api.create_response(request, {"message": f"{where}: {first['msg']}"}, status=422)
