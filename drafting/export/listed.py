"""Pages of rows in words, as they go behind sheets."""

from collections.abc import Sequence

from drafting.ink.elements import Element, Group, Line, SheetInk, Text
from drafting.ink.lettering import wrapped

WIDE, TALL, MARGIN, HEIGHT = 297.0, 210.0, 15.0, 2.5
LEADING = 1.9 * HEIGHT


def listed(rows: Sequence[tuple[str, str]], title: str) -> list[SheetInk]:
    """Rows with the kind of group that gives them their tone, on as many pages as they take."""
    out: list[SheetInk] = []
    y = 0.0
    for kind, said in rows:
        for line in wrapped(said, HEIGHT, WIDE - 2 * MARGIN):
            if not out or y < MARGIN:
                out.append(_page(title, len(out)))
                y = TALL - MARGIN - 3 * LEADING
            words: Element = Text((MARGIN, y), line, HEIGHT)
            out[-1].groups.append(Group("row", kind, elements=[words]))
            y -= LEADING
        y -= 0.4 * LEADING
    return out


def _page(title: str, number: int) -> SheetInk:
    top = TALL - MARGIN
    head: list[Element] = [
        Text((MARGIN, top), title if not number else f"{title}, continued", 3.5),
        Line((MARGIN, top - 3), (WIDE - MARGIN, top - 3), "frame_thin"),
    ]
    return SheetInk(WIDE, TALL, [Group("head", "same", elements=head)])
