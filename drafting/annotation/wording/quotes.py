"""What a note quotes: names in braces that stand for something of the drawing and follow it."""

import re
from collections.abc import Mapping

from drafting.annotation.measuring.others import words_of
from drafting.context import Context
from drafting.ink.symbols import NAMED, lettered
from drafting.sheet.frame import field_values

_QUOTE = re.compile(r"\{([a-z][a-z /]{0,19})(?::\s*([^{}\n]{1,60}))?\}")
NAMES = ("title", "number", "revision", "material", "finish", "mass", "sheet", "sheets", "scale")
"""What can be quoted, and `{sheet: A}`, the sheet that has view A or that name, and `{size: id}`, what a size
says."""


def quoted(text: str, context: Context) -> str:
    """A text with all that it quotes put in; what nothing answers to is told by `unknown` and stays."""
    return lettered(_QUOTE.sub(lambda m: _value(m[1].strip(), (m[2] or "").strip(), context) or m[0], text))


def unknown(text: str, context: Context) -> list[str]:
    """Names in braces that stand for nothing, as they are typed."""
    return [
        "a size that is gone" if m[1] == "size" and m[2] else m[0]
        for m in _QUOTE.finditer(text)
        if m[1] not in NAMED and _value(m[1].strip(), (m[2] or "").strip(), context) is None
    ]


def _value(name: str, of: str, context: Context) -> str | None:
    """What a name stands for; None for nothing."""
    sheets = context.drawing.sheets
    if name == "size" and of:
        return words_of(of, context)
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


def requoted(text: str, ids: Mapping[str, str]) -> str:
    """A text in which quotes of sizes go by other ids, where they have one."""
    return _QUOTE.sub(
        lambda m: (
            f"{{size: {ids[m[2].strip()]}}}" if m[1] == "size" and (m[2] or "").strip() in ids else m[0]
        ),
        text,
    )
