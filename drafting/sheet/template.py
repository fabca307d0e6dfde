"""A frame as data: border, zones, marks, title block and view slots; and the frames that ship with the
application.

Sources: ISO 5457 (zones, centering and trimming marks), ISO 7200 (data fields; a block at most 180 mm wide),
ASME Y14.1 (from memory).
"""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from drafting.data import Data, Text
from drafting.errors import CommandError
from drafting.views.orientation import Relation

Millimeters = Annotated[float, Field(ge=2, le=300)]
Fraction = Annotated[float, Field(ge=0, le=1)]
MOST = 40

FIELDS = {
    "title": "Title",
    "number": "Drawing number",
    "owner": "Owner",
    "material": "Material",
    "mass": "Mass",
    "finish": "Finish",
    "scale": "Scale",
    "units": "Units",
    "size": "Size",
    "sheet": "Sheet",
    "revision": "Revision",
    "projection": "Projection",
    "standard": "Standard",
    "tolerance": "General tolerance",
    "document": "Document",
    "drawn_by": "Drawn by",
    "date": "Date",
    "checked_by": "Checked by",
    "checked_date": "Date",
    "approved_by": "Approved by",
    "approved_date": "Date",
}
"""Fields a cell can show and what they are called; "own:" and a name shows one of the part's own fields."""
FROM_MODEL = ("title", "number", "material", "mass", "finish")
BY_ITSELF = ("scale", "units", "size", "sheet", "projection", "standard", "document")


class Cell(Data):
    """A cell of a title block over one or more rows and columns of its grid (rows from the top, counted from
    0).

    What it shows: a field, fixed text, or the logo. height: of the lettering in mm.
    """

    row: Annotated[int, Field(ge=0, lt=MOST)]
    column: Annotated[int, Field(ge=0, lt=MOST)]
    rows: Annotated[int, Field(ge=1, le=MOST)] = 1
    columns: Annotated[int, Field(ge=1, le=MOST)] = 1
    label: Text = ""
    field: Annotated[str, Field(max_length=64)] = ""
    text: Text = ""
    logo: bool = False
    height: Annotated[float, Field(ge=1.5, le=20)] = 2.5

    @model_validator(mode="after")
    def _known(self) -> "Cell":
        if self.field and self.field not in FIELDS and not self.field.startswith("own:"):
            raise ValueError(f"a title block has no field called {self.field!r}")
        return self


class TitleBlock(Data):
    """A grid with cells that cover it without overlapping. Widths of columns from the left and heights of
    rows from the top, mm."""

    columns: Annotated[list[Millimeters], Field(min_length=1, max_length=MOST)]
    rows: Annotated[list[Millimeters], Field(min_length=1, max_length=MOST)]
    cells: Annotated[list[Cell], Field(max_length=400)] = []

    @property
    def width(self) -> float:
        """Of all columns together, mm."""
        return sum(self.columns)

    @property
    def height(self) -> float:
        """Of all rows together, mm."""
        return sum(self.rows)

    @model_validator(mode="after")
    def _covered(self) -> "TitleBlock":
        taken: set[tuple[int, int]] = set()
        for c in self.cells:
            places = {
                (r, k) for r in range(c.row, c.row + c.rows) for k in range(c.column, c.column + c.columns)
            }
            if c.row + c.rows > len(self.rows) or c.column + c.columns > len(self.columns):
                raise ValueError("a cell of the title block lies outside its grid")
            if places & taken:
                raise ValueError("two cells of the title block overlap")
            taken |= places
        return self


class Slot(Data):
    """A named rectangle of the room for views, as fractions from its lower left, into which a new drawing's
    view is placed by itself."""

    name: Text
    shows: Literal["main", "pictorial"] | Relation
    left: Fraction
    bottom: Fraction
    right: Fraction
    top: Fraction

    @model_validator(mode="after")
    def _sized(self) -> "Slot":
        if self.right - self.left < 0.02 or self.top - self.bottom < 0.02:
            raise ValueError(f"the slot {self.name!r} has no size")
        return self


class FrameTemplate(Data):
    """A frame with its title block. margins None: those of the sheet size. zones: letters and numbers of the
    standard's way, or none."""

    name: Text
    margin_left: Annotated[float, Field(ge=0, le=100)] | None = None
    margin: Annotated[float, Field(ge=0, le=100)] | None = None
    zones: Literal["none", "iso", "asme"] = "iso"
    centering: bool = True
    trimming: bool = False
    block: TitleBlock
    slots: Annotated[list[Slot], Field(max_length=20)] = []


def _cells(*rows: tuple[int, int, int, int, str, float]) -> list[Cell]:
    return [
        Cell(
            row=r,
            column=c,
            rows=h,
            columns=w,
            field=f,
            label=FIELDS[f] if f != "projection" else "",
            height=size,
        )
        for r, c, h, w, f, size in rows
    ]


ISO_FRAME = FrameTemplate(
    name="After ISO 7200",
    zones="iso",
    block=TitleBlock(
        columns=[36, 26, 16, 14, 18, 26, 16, 28],
        rows=[8, 8, 8, 16],
        cells=_cells(
            (0, 0, 1, 2, "owner", 2.5),
            (0, 2, 1, 3, "material", 2.5),
            (0, 5, 1, 1, "mass", 2.5),
            (0, 6, 1, 1, "scale", 2.5),
            (0, 7, 2, 1, "projection", 2.5),
            (1, 0, 1, 1, "drawn_by", 2.5),
            (1, 1, 1, 1, "date", 2.5),
            (1, 2, 1, 1, "units", 2.5),
            (1, 3, 1, 1, "size", 2.5),
            (1, 4, 1, 1, "sheet", 2.5),
            (1, 5, 1, 2, "tolerance", 2.5),
            (2, 0, 1, 1, "checked_by", 2.5),
            (2, 1, 1, 1, "checked_date", 2.5),
            (2, 2, 1, 3, "approved_by", 2.5),
            (2, 5, 1, 1, "approved_date", 2.5),
            (2, 6, 1, 1, "revision", 2.5),
            (2, 7, 1, 1, "document", 2.5),
            (3, 0, 1, 5, "title", 5.0),
            (3, 5, 1, 3, "number", 5.0),
        ),
    ),
)
ASME_FRAME = FrameTemplate(
    name="After ASME Y14.1",
    zones="none",
    centering=False,
    block=TitleBlock(
        columns=[44, 24, 24, 12, 42, 12, 22],
        rows=[8, 8, 8, 10, 10],
        cells=_cells(
            (0, 0, 3, 1, "tolerance", 2.5),
            (0, 1, 1, 1, "drawn_by", 2.5),
            (0, 2, 1, 1, "date", 2.5),
            (0, 3, 2, 4, "owner", 3.5),
            (1, 1, 1, 1, "checked_by", 2.5),
            (1, 2, 1, 1, "checked_date", 2.5),
            (2, 1, 1, 1, "approved_by", 2.5),
            (2, 2, 1, 1, "approved_date", 2.5),
            (2, 3, 2, 4, "title", 5.0),
            (3, 0, 1, 1, "material", 2.5),
            (3, 1, 1, 1, "finish", 2.5),
            (3, 2, 1, 1, "units", 2.5),
            (4, 0, 1, 1, "projection", 2.5),
            (4, 1, 1, 1, "scale", 2.5),
            (4, 2, 1, 1, "mass", 2.5),
            (4, 3, 1, 1, "size", 2.5),
            (4, 4, 1, 1, "number", 3.5),
            (4, 5, 1, 1, "revision", 2.5),
            (4, 6, 1, 1, "sheet", 2.5),
        ),
    ),
)
SMALL_FRAME = FrameTemplate(
    name="Small parts, no zones",
    zones="none",
    centering=False,
    block=TitleBlock(
        columns=[36, 24, 20, 30],
        rows=[8, 8, 12],
        cells=_cells(
            (0, 0, 1, 1, "owner", 2.5),
            (0, 1, 1, 2, "material", 2.5),
            (0, 3, 1, 1, "projection", 2.5),
            (1, 0, 1, 1, "drawn_by", 2.5),
            (1, 1, 1, 1, "date", 2.5),
            (1, 2, 1, 1, "scale", 2.5),
            (1, 3, 1, 1, "mass", 2.5),
            (2, 0, 1, 2, "title", 3.5),
            (2, 2, 1, 1, "sheet", 2.5),
            (2, 3, 1, 1, "number", 3.5),
        ),
    ),
)
BUILT_IN = {"iso": ISO_FRAME, "asme": ASME_FRAME, "small": SMALL_FRAME}


def merged(block: TitleBlock, first: int, second: int) -> TitleBlock:
    """The block with two cells that share a whole side made one; the first one's content stays. Raises
    CommandError."""
    a, b = block.cells[first], block.cells[second]
    level = (a.row, a.rows) == (b.row, b.rows) and (
        a.column + a.columns == b.column or b.column + b.columns == a.column
    )
    upright = (a.column, a.columns) == (b.column, b.columns) and (
        a.row + a.rows == b.row or b.row + b.rows == a.row
    )
    if not (level or upright):
        raise CommandError("Only cells that share a whole side can be made one.")
    one = a.model_copy(
        update={
            "row": min(a.row, b.row),
            "column": min(a.column, b.column),
            "rows": a.rows if level else a.rows + b.rows,
            "columns": a.columns + b.columns if level else a.columns,
        }
    )
    return TitleBlock(
        columns=block.columns,
        rows=block.rows,
        cells=[one if c is a else c for c in block.cells if c is not b],
    )


def split(block: TitleBlock, cell: int, way: Literal["columns", "rows"]) -> TitleBlock:
    """The block with a cell cut into two: between the grid lines it spans, or by a new line through its
    middle. The new cell is empty."""
    c = block.cells[cell]
    lines = list(block.columns if way == "columns" else block.rows)
    at, span = (c.column, c.columns) if way == "columns" else (c.row, c.rows)
    cells = list(block.cells)
    if span == 1:
        size = lines[at]
        if size < 4:
            raise CommandError(f"A cell of {size:g} mm is too small to be split.")
        if len(lines) >= MOST:
            raise CommandError(f"A title block has at most {MOST} rows and columns.")
        lines[at : at + 1] = [size / 2, size / 2]
        grown = []
        for o in cells:
            start, count = (o.column, o.columns) if way == "columns" else (o.row, o.rows)
            update = {}
            if start > at:
                update = {"column" if way == "columns" else "row": start + 1}
            elif start <= at < start + count and o is not c:
                update = {way: count + 1}
            grown.append(o.model_copy(update=update) if update else o)
        cells, span = grown, 2
    first = span // 2
    name = "column" if way == "columns" else "row"
    kept = c.model_copy(update={way: first})
    added = Cell.model_validate(
        {
            "row": c.row,
            "column": c.column,
            "rows": c.rows,
            "columns": c.columns,
            name: at + first,
            way: span - first,
            "height": c.height,
        }
    )
    place = cells.index(c)
    cells[place : place + 1] = [kept, added]
    return TitleBlock(
        columns=lines if way == "columns" else block.columns,
        rows=lines if way == "rows" else block.rows,
        cells=cells,
    )
