"""Text and plain data from outside, freed of what no file format can hold."""

import json
import math
import re
from typing import Any

from drafting.errors import DraftingError

UNWRITABLE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")
"""Control characters but tab and line ends, halves of surrogate pairs, and what is no character: XML 1.0 has
no way to write them, and the database none for the first."""
DEEPEST = 40
LARGEST = 1e15
"""Of numbers: more than any length, mass or count."""


class RefusedData(DraftingError):
    """Data that cannot be taken in."""


def cleaned(text: str) -> str:
    """Text without characters that cannot be written."""
    return UNWRITABLE.sub("", text)


def one_line(text: str) -> str:
    """Clean text without line ends and with single spaces."""
    return re.sub(r"\s+", " ", cleaned(text)).strip()


def parsed(source: bytes | str) -> Any:
    """JSON as plain data with clean texts. Raises RefusedData for what is no JSON, too deep, or holds numbers
    that are none."""
    try:
        return cleaned_data(json.loads(source, parse_constant=_no_number))
    except RecursionError as error:
        raise RefusedData("The data are nested too deeply.") from error
    except ValueError as error:
        raise RefusedData("The data are not valid JSON.") from error


def cleaned_data(value: Any, depth: int = 0) -> Any:
    """Plain data with clean texts. Raises RefusedData."""
    if isinstance(value, str):
        return cleaned(value)
    if isinstance(value, bool) or value is None:
        return value
    if isinstance(value, int | float):
        if not -LARGEST <= value <= LARGEST or math.isnan(value):
            raise RefusedData("A number is too large.")
        return value
    if depth >= DEEPEST:
        raise RefusedData("The data are nested too deeply.")
    if isinstance(value, list):
        return [cleaned_data(v, depth + 1) for v in value]
    return {cleaned(k): cleaned_data(v, depth + 1) for k, v in value.items()}


def _no_number(name: str) -> float:
    raise RefusedData(f"A number is {name}.")
