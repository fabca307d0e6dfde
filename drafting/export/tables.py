"""Tables to spreadsheets: XLSX and CSV with the same rows, numbers as numbers, and no text that a spreadsheet
would run as a formula."""

import csv
import io
from collections.abc import Sequence

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter

Cell = str | float | int | None
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def xlsx(rows: Sequence[Sequence[Cell]], title: str) -> bytes:
    """A workbook of one sheet; the first row is the head."""
    book = Workbook()
    page = book.active
    assert page is not None
    page.title = "".join(c for c in title if c not in "[]:*?/\\")[:31] or "Table"
    for n, row in enumerate(rows, 1):
        for m, value in enumerate(row, 1):
            cell = page.cell(n, m, value)
            if isinstance(value, str):
                cell.data_type = "s"  # never a formula
    for head in page[1]:
        head.font = Font(bold=True)
    page.freeze_panes = "A2"
    for m in range(1, len(rows[0]) + 1):
        page.column_dimensions[get_column_letter(m)].width = min(
            40, 2 + max(len(str(r[m - 1] or "")) for r in rows)
        )
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def comma_separated(rows: Sequence[Sequence[Cell]]) -> bytes:
    """UTF-8 with a byte order mark, so that spreadsheets read the signs right."""
    stream = io.StringIO()
    writer = csv.writer(stream)
    for row in rows:
        writer.writerow(
            [
                "" if v is None else ("'" + v if isinstance(v, str) and v.startswith(FORMULA) else v)
                for v in row
            ]
        )
    return b"\xef\xbb\xbf" + stream.getvalue().encode()
