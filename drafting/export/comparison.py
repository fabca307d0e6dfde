"""The comparison of two revisions as a PDF: sheets in three tones, then the list of what differs."""

from collections.abc import Sequence

from drafting.annotation.review.comparison import Difference
from drafting.export.pdf import sheets_pdf
from drafting.ink.elements import Element, Group, Line, SheetInk, Text
from drafting.ink.lettering import wrapped
from drafting.ink.overlay import overlaid
from drafting.standards.profile import Profile

WIDE, TALL, MARGIN, HEIGHT = 297.0, 210.0, 15.0, 2.5
LEADING = 1.9 * HEIGHT


def comparison_pdf(
    pages: Sequence[tuple[SheetInk, SheetInk]], told: Sequence[Difference], title: str, profile: Profile
) -> bytes:
    """Pages: each sheet as it was and as it is. What is gone is in rowan, what is new in moss."""
    inks = []
    for before, after in pages:
        found = overlaid(before, after)
        groups = [
            Group("same", "same", elements=found.same),
            Group("gone", "gone", elements=found.gone),
            Group("new", "new", elements=found.new),
        ]
        inks.append(SheetInk(max(before.width, after.width), max(before.height, after.height), groups))
    return sheets_pdf([*inks, *_list(told, title)], profile, title)


def _list(told: Sequence[Difference], title: str) -> list[SheetInk]:
    rows: list[tuple[str, list[str]]] = []
    for d in told:
        said = f"{d.what}: {d.before or 'none'} → {d.after or 'none'}"
        kind = {"added": "new", "removed": "gone"}.get(d.change, "same")
        rows.append((kind, list(wrapped(said, HEIGHT, WIDE - 2 * MARGIN))))
    out: list[SheetInk] = []
    y = 0.0
    for kind, lines in rows or [("same", ["Nothing differs."])]:
        for line in lines:
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
