"""The comparison of two revisions as a PDF: sheets in three tones, then the list of what differs."""

from collections.abc import Sequence

from drafting.annotation.review.comparison import Difference
from drafting.export.listed import listed
from drafting.export.pdf import sheets_pdf
from drafting.ink.elements import Group, SheetInk
from drafting.ink.overlay import overlaid
from drafting.standards.profile import Profile


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
    rows = [
        (
            {"added": "new", "removed": "gone"}.get(d.change, "same"),
            f"{d.what}: {d.before or 'none'} → {d.after or 'none'}",
        )
        for d in told
    ]
    return listed(rows or [("same", "Nothing differs.")], title)
