"""Why a value cannot be kept, as a sentence for the drafter."""

from collections.abc import Mapping
from typing import Any

KINDS = {
    "missing": "{field} is missing",
    "extra_forbidden": "{field} is not known here",
    "string_too_long": "{field} is longer than {max_length} letters",
    "string_too_short": "{field} is empty",
    "too_long": "{field} has more than {max_length} entries",
    "too_short": "{field} has too few entries",
    "greater_than": "{field} is more than {gt}",
    "greater_than_equal": "{field} is at least {ge}",
    "less_than": "{field} is less than {lt}",
    "less_than_equal": "{field} is at most {le}",
    "finite_number": "{field} is not a number",
    "union_tag_not_found": "It is not said what {field} is",
    "union_tag_invalid": "There is no such kind of {field}",
    "literal_error": "{field} has to be {expected}",
    "enum": "{field} has to be {expected}",
}
"""By pydantic's own names."""
NOT_FIELDS = ("body", "payload", "query", "path", "form", "file")


def sentence(error: Mapping[str, Any]) -> str:
    """One of pydantic's errors in words."""
    if error["type"] in ("value_error", "assertion_error"):  # raised by our own rules, in words
        words = str(error["msg"]).removeprefix("Value error, ").removeprefix("Assertion failed, ")
    else:
        names = [str(part).replace("_", " ") for part in error["loc"] if part not in NOT_FIELDS]
        field = " of ".join(f"entry {int(n) + 1}" if n.isdigit() else n for n in reversed(names[-3:]))
        what = KINDS.get(error["type"], "{field} cannot be that")
        words = what.format_map({"field": field or "this", **error.get("ctx", {})})
    return words[:1].upper() + words[1:].rstrip(".") + "."


def lower_first(words: str) -> str:
    """A sentence as it goes on after a colon."""
    return words[:1].lower() + words[1:]
