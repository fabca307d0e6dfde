"""A drawing with the findings of its checkers: marks in red on the sheets, then what was said of each."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from drafting.annotation.kinds.revision_cloud import bows
from drafting.export.listed import listed
from drafting.export.pdf import sheets_pdf
from drafting.ink.elements import XY, Arc, Element, Group, Line, SheetInk, Text
from drafting.standards.profile import Profile

RED = "gone"
"""The kind of group that is drawn in rowan."""
ROUND = 3.2
"""Radius about a finding's number, mm."""
HEAD = 4.0


@dataclass(frozen=True)
class Finding:
    """A mark. page: number of its sheet from 0; kind: cloud, arrow or words; places: sheet mm; said: who said
    what, a line each."""

    number: int
    page: int
    kind: str
    places: tuple[XY, ...]
    state: str
    said: tuple[str, ...]


def checked_pdf(
    sheets: Sequence[SheetInk], findings: Sequence[Finding], title: str, profile: Profile
) -> bytes:
    """Sheets with the marks that are not closed, and the list of all findings behind them."""
    pages = []
    for n, sheet in enumerate(sheets):
        marks = [e for f in findings if f.page == n and f.state != "closed" for e in marked(f)]
        pages.append(
            SheetInk(sheet.width, sheet.height, [*sheet.groups, Group("pencil", RED, elements=marks)])
        )
    rows = [
        ("same" if f.state == "closed" else RED, text)
        for f in findings
        for text in (f"Finding {f.number}, sheet {f.page + 1}, {f.state}", *f.said)
    ]
    told = listed(rows or [("same", "No findings.")], f"{title}: findings")
    return sheets_pdf([*pages, *told], profile, title)


def marked(f: Finding) -> list[Element]:
    """Lines and number of a mark, sheet mm."""
    out: list[Element] = []
    at = f.places[0]
    if f.kind == "cloud":
        (x0, x1), (y0, y1) = (sorted(p[k] for p in f.places) for k in (0, 1))
        out += bows(x0, y0, x1, y1)
        at = (x1 + ROUND, y1 + ROUND)
    elif f.kind == "arrow":
        (ax, ay), (bx, by) = f.places
        way = math.atan2(by - ay, bx - ax)
        edge = (ax + ROUND * math.cos(way), ay + ROUND * math.sin(way))
        out.append(Line(edge, (bx, by), "outline"))
        for turn in (0.4, -0.4):
            tip = (bx - HEAD * math.cos(way + turn), by - HEAD * math.sin(way + turn))
            out.append(Line((bx, by), tip, "outline"))
    out.append(Arc(at, ROUND, 0.0, 2 * math.pi, "dimension"))
    out.append(Text((at[0], at[1] - 1.25), str(f.number), 2.5, "dimension", "middle"))
    return out
