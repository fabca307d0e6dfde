"""What the standards' tables say, for looking up."""

from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from drafting.errors import SizeError
from drafting.standards import fits
from drafting.standards.general_notes import library
from drafting.standards.reference import Table, tables
from server.errors import Problem

router = Router(tags=["reference"])


class TableOf(Schema):
    """A table: the first column names the row; empty cells are null."""

    name: str
    source: str
    columns: list[str]
    rows: list[list[str | float | None]]


class Sides(Schema):
    """Deviations and limits of a size with a class, mm."""

    designation: str
    upper: float
    lower: float
    largest: float
    smallest: float


class Looked(Schema):
    """A size with a class, or two that make a fit. clearance: the most and the least that there is between
    them, below 0 where they overlap, mm; kind: what fit it is; None of one class alone."""

    size: float
    sides: list[Sides]
    clearance: list[float]
    kind: str


@router.get("/tables", response=list[TableOf])
def all_tables(request: HttpRequest) -> list[Table]:
    """The standards' tables."""
    return tables()


@router.get("/limits", response={200: Looked, 422: Problem})
def looked_up(
    request: HttpRequest,
    size: Annotated[float, Query(gt=0, le=10_000)],
    designation: Annotated[str, Query(max_length=20)],
) -> Any:
    """Limits of a size by ISO 286: H7, g6, or H7/g6 for a fit."""
    words = [w.strip() for w in designation.split("/")]
    if len(words) > 2 or not all(words):
        raise SizeError("Write a class as H7, or a fit as H7/g6.")
    sides = [_sides(size, word) for word in words]
    if len(sides) == 1:
        return Looked(size=size, sides=sides, clearance=[], kind="")
    hole, shaft = sorted(words, key=fits.is_hole, reverse=True)
    found = fits.fit(size, hole, shaft)
    return Looked(
        size=size,
        sides=[_sides(size, hole), _sides(size, shaft)],
        clearance=[found.most, found.least],
        kind=found.kind,
    )


def _sides(size: float, designation: str) -> Sides:
    found = fits.limits(size, designation)
    return Sides(
        designation=designation,
        upper=round(found.upper, 6),
        lower=round(found.lower, 6),
        largest=round(size + found.upper, 6),
        smallest=round(size + found.lower, 6),
    )


class LibraryNote(Schema):
    """A general note that offices put on drawings, and the standard that it cites."""

    group: str
    text: str
    cites: str


@router.get("/notes", response=list[LibraryNote])
def notes(
    request: HttpRequest, standard: Literal["ISO", "ASME"] = "ISO", sign: Literal[".", ","] = "."
) -> list[LibraryNote]:
    """General notes for drawings of a standard, by what they are about. sign: before decimals."""
    return [LibraryNote(group=n.group, text=n.text, cites=n.cites) for n in library(standard, sign)]
