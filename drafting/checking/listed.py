"""What was found on a drawing, as rows of a table and as pages."""

from collections.abc import Sequence
from dataclasses import dataclass

from drafting.checking.rule import Gravity
from drafting.export.listed import listed
from drafting.export.pdf import sheets_pdf
from drafting.export.tables import Cell
from drafting.standards.profile import Profile

WORDS: dict[Gravity, str] = {"grave": "grave", "look": "to look at", "off": "off"}
HEAD: list[Cell] = ["Sheet", "Gravity", "Rule", "Clause", "Finding", "It is meant", "By", "Date"]


@dataclass(frozen=True)
class Listed:
    """A finding as it is listed. reason, by, date: of one that is meant; empty for one that is open."""

    sheet: int
    gravity: Gravity
    rule: str
    clause: str
    text: str
    reason: str = ""
    by: str = ""
    date: str = ""


def table(found: Sequence[Listed]) -> list[list[Cell]]:
    """Rows for a spreadsheet, the head first."""
    rows: list[list[Cell]] = [HEAD]
    for f in found:
        rows.append([f.sheet, WORDS[f.gravity], f.rule, f.clause, f.text, f.reason, f.by, f.date])
    return rows


def pdf(found: Sequence[Listed], good: Sequence[str], title: str, profile: Profile) -> bytes:
    """Pages of what was found, sheet by sheet, then of the rules that found nothing."""
    rows: list[tuple[str, str]] = []
    for sheet in sorted({f.sheet for f in found}):
        rows.append(("same", f"Sheet {sheet}"))
        for f in (f for f in found if f.sheet == sheet):
            clause = f" ({f.clause})" if f.clause else ""
            kind = "same" if f.reason or f.gravity != "grave" else "gone"
            rows.append((kind, f"{WORDS[f.gravity]}: {f.text}{clause}"))
            if f.reason:
                rows.append(("same", f"    It is meant: {f.reason} ({f.by}, {f.date})"))
    if not found:
        rows.append(("same", "Nothing was found."))
    rows.append(("same", f"Good: {'; '.join(good) or 'nothing'}."))
    return sheets_pdf(listed(rows, f"{title}: what was found"), profile, title)
