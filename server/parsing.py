"""Requests' bodies: the one place where text comes in."""

from django.http import HttpRequest
from ninja.parser import Parser
from ninja.types import DictStrAny

from drafting.text import RefusedData, parsed


class CleanParser(Parser):
    """JSON with clean texts and finite numbers, an object at its top."""

    def parse_body(self, request: HttpRequest) -> DictStrAny:
        data = parsed(request.body)
        if not isinstance(data, dict):
            raise RefusedData("The request holds no object.")
        return data
