"""Measured values from a table in text: number and measured value, or dx and dy, with piece and size where
there are any."""

import csv
import io
import math
import re

from drafting.errors import CommandError
from drafting.inspection.verdicts import Reading
from drafting.text import one_line

LARGEST = 2_000_000
MOST = 20_000
NAMES = {
    "number": ("number", "no", "nr", "characteristic", "char", "#"),
    "piece": ("piece", "part", "serial", "sample"),
    "value": ("measured", "value", "actual", "reading"),
    "dx": ("dx", "x"),
    "dy": ("dy", "y"),
    "size": ("size", "diameter", "width"),
}
KEPT = {"ok": True, "yes": True, "in": True, "pass": True, "kept": True}
BROKEN = {"nok": False, "no": False, "not ok": False, "out": False, "fail": False}
NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?")


def read(text: str) -> list[Reading]:
    """Readings of a table with a head, separated by commas, semicolons or tabs. Raises CommandError that
    names the line."""
    if len(text) > LARGEST:
        raise CommandError(f"The table is larger than {LARGEST // 1_000_000} MB.")
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if not lines:
        raise CommandError("The table is empty.")
    if len(lines) > MOST:
        raise CommandError(f"The table has more than {MOST} rows.")
    sign = max(";\t,", key=lines[0].count)
    try:
        rows = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=sign))
    except csv.Error:
        raise CommandError("The table cannot be read as comma-separated values.") from None
    at = _columns(rows[0])
    if "number" not in at or not {"value", "dx", "dy"} & set(at):
        raise CommandError("The first row names the columns: number, and measured, or dx and dy.")
    return [_reading(row, n, at) for n, row in enumerate(rows[1:], 2) if any(c.strip() for c in row)]


def _columns(head: list[str]) -> dict[str, int]:
    out: dict[str, int] = {}
    for n, cell in enumerate(head):
        word = cell.strip().strip("'").lower()
        name = next((k for k, words in NAMES.items() if word in words), "")
        if name:
            out.setdefault(name, n)
    return out


def _reading(row: list[str], line: int, at: dict[str, int]) -> Reading:
    def cell(name: str) -> str:
        n = at.get(name, -1)
        return row[n].strip().lstrip("'") if 0 <= n < len(row) else ""

    if not re.fullmatch("[0-9]{1,5}", cell("number")):
        raise CommandError(f"Line {line}: {cell('number')[:20]!r} is no characteristic number.")
    said = cell("value").lower()
    is_kept = {**KEPT, **BROKEN}.get(said)
    return Reading(
        int(cell("number")),
        one_line(cell("piece"))[:40] or "1",
        None if is_kept is not None else _number(said, line),
        _number(cell("dx"), line),
        _number(cell("dy"), line),
        _number(cell("size"), line),
        is_kept,
    )


def _number(text: str, line: int) -> float | None:
    if not text:
        return None
    is_number = len(text) <= 40 and NUMBER.fullmatch(text) is not None
    value = float(text.replace(",", ".")) if is_number else math.nan
    if not math.isfinite(value):
        raise CommandError(f"Line {line}: {text[:20]!r} is no number.")
    return value
