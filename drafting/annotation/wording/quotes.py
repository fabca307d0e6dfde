"""What a note quotes: names in braces that stand for something of the drawing or the part, and follow it."""

import re

from drafting.context import Context
from drafting.ink.symbols import NAMED, lettered
from drafting.sheet.frame import field_values

_QUOTE = re.compile(r"\{([a-z][a-z /]{0,19})(?::\s*([^{}\n]{1,60}))?\}")
NAMES = ("title", "number", "revision", "material", "finish", "mass", "sheet", "sheets", "scale")
"""What can be quoted; `{sheet: A}` is the sheet on which view A is, or the sheet of that name."""


def quoted(text: str, context: Context) -> str:
    """A text with all that it quotes put in; what nothing answers to is told by `unknown` and stays."""
    return lettered(_QUOTE.sub(lambda m: _value(m[1].strip(), (m[2] or "").strip(), context) or m[0], text))


def unknown(text: str, context: Context) -> list[str]:
    """Names in braces that stand for nothing, as they are typed."""
    return [
        m[0]
        for m in _QUOTE.finditer(text)
        if m[1] not in NAMED and _value(m[1].strip(), (m[2] or "").strip(), context) is None
    ]


def _value(name: str, of: str, context: Context) -> str | None:
    """What a name stands for; None for nothing."""
    sheets = context.drawing.sheets
    if name == "sheet" and of:
        at = [n for n, s in enumerate(sheets, 1) if s.name == of or any(v.letter == of for v in s.views)]
        return str(at[0]) if at else None
    if of or name not in NAMES:
        return None
    if name == "sheet":
        return str(context.drawing.number_of(context.sheet.id))
    if name == "sheets":
        return str(len(sheets))
    if name == "scale":
        return str(context.sheet.scale)
    return field_values(context.drawing, context.sheet, context.facts).get(name) or None
