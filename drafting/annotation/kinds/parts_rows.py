"""What a parts list says: columns, rows and cells, item numbers that stay, and sums.

Columns: ISO 7573 and ASME Y14.34, both from memory.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cmp_to_key
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from drafting.annotation.wording.numbers import rounded
from drafting.data import Data, Point
from drafting.data import Text as Words
from drafting.document import AnnotationBase, Drawing, Item, Sheet
from drafting.model import bill
from drafting.model.bill import Line as BillLine
from drafting.model.model import Facts, PartFacts
from drafting.standards.materials import mass_in, mass_number
from drafting.standards.profile import Profile

FIELDS = {
    "item": "Item",
    "count": "Quantity",
    "name": "Designation",
    "number": "Reference",
    "description": "Description",
    "material": "Material",
    "mass": "Mass",
    "total_mass": "Total mass",
    "finish": "Finish",
    "supplier": "Supplier",
    "make": "Make or buy",
    "unit_cost": "Unit cost",
    "cost": "Cost",
    "remarks": "Remarks",
}
AWAITED = "..."
"""In place of a mass that is not measured yet."""
MASSES = ("mass", "total_mass")
SUMMED = ("total_mass", "cost")
NUMBERS = ("item", "count", "mass", "total_mass", "unit_cost", "cost")
WRITABLE = ("name", "number", "description", "material", "finish", "supplier", "make", "unit_cost", "remarks")
"""What may be said on the drawing in place of the model; what is counted or computed may not."""
STANDARD = {
    "ISO": [
        ("item", "Item", 14.0),
        ("count", "Qty", 12.0),
        ("name", "Designation", 52.0),
        ("number", "Reference", 30.0),
        ("material", "Material", 34.0),
        ("mass", "Mass {mass}", 18.0),
        ("remarks", "Remarks", 20.0),
    ],
    "ASME": [
        ("item", "FIND NO.", 17.0),
        ("count", "QTY REQD", 17.0),
        ("number", "PART OR IDENTIFYING NO.", 48.0),
        ("name", "NOMENCLATURE OR DESCRIPTION", 62.0),
        ("material", "MATERIAL", 36.0),
    ],
}
WIDTH = 24.0
"""Of a column that the standard does not have, mm."""


class PartsColumn(Data):
    """A column of a parts list. field: what it says (see `FIELDS`), or "own:" and the name of an
    own field; title and width (mm) None: the standard's."""

    field: Words
    title: Annotated[str, Field(max_length=60)] | None = None
    width: Annotated[float, Field(ge=5, le=300)] | None = None


class PartsList(AnnotationBase):
    """A parts list on a sheet. columns empty: the standard's. attached: on the title block, else with its
    corner at position (the lower left where it grows up, the upper left where it grows down). most_rows:
    after so many it goes on in a further column of the sheet, up to blocks; rest_of: the list on an earlier
    sheet of which this one shows the rest."""

    refers_by: ClassVar[tuple[str, ...]] = ("rest_of",)
    kind: Literal["parts_list"] = "parts_list"
    columns: Annotated[list[PartsColumn], Field(max_length=20)] = []
    levels: Literal["top", "parts", "indented"] = "parts"
    sort: Literal["item", "number", "name"] = "item"
    attached: bool = True
    position: Point = Point(x=30, y=30)
    grow: Literal["up", "down"] = "up"
    totals: bool = False
    most_rows: Annotated[int, Field(ge=3, le=500)] | None = None
    blocks: Annotated[int, Field(ge=1, le=6)] = 1
    rest_of: Words = ""


def lists_on(sheet: Sheet) -> list[PartsList]:
    """The parts lists of a sheet."""
    return [a for a in sheet.annotations if isinstance(a, PartsList)]


@dataclass(frozen=True)
class Cell:
    """text: as it is written; value: the number it stands for, None for words; changed: it departs from the
    model, which says `model`."""

    text: str
    value: float | None = None
    changed: bool = False
    model: str = ""


@dataclass(frozen=True)
class Row:
    """One item. gone: its part is no longer in the model."""

    key: str
    item: int
    depth: int
    cells: Mapping[str, Cell]
    gone: bool = False
    group: bool = False


@dataclass(frozen=True)
class Column:
    """A column as it stands: its field, title and width in mm."""

    field: str
    title: str
    width: float


def columns_of(plist: PartsList, profile: Profile) -> list[Column]:
    """The list's columns with titles and widths (mm) filled in."""
    known = {field: (title, width) for field, title, width in STANDARD[profile.standard]}
    wanted = plist.columns or [PartsColumn(field=field) for field in known]
    out = []
    for c in wanted:
        plain = FIELDS.get(c.field, c.field.removeprefix("own:"))
        if c.field in MASSES:
            plain = f"{plain} {profile.mass_in}"
        title, width = known.get(c.field, (plain.upper() if profile.standard == "ASME" else plain, WIDTH))
        title = title.replace("{mass}", profile.mass_in)
        out.append(Column(c.field, title if c.title is None else c.title, c.width or width))
    return out


def numbered(items: Mapping[str, Item], wanted: list[BillLine], facts: Facts) -> dict[str, Item]:
    """Item numbers with those of new lines appended: made parts before bought ones, else as they come.
    Numbers that are there stay."""
    out = dict(items)
    after = max((i.number for i in items.values()), default=0)
    fresh = {line.key: line for line in wanted if line.key not in out}
    for line in sorted(fresh.values(), key=lambda line: _is_bought(facts, line)):
        after += 1
        out[line.key] = Item(number=after, name=line.name)
    return out


def _is_bought(facts: Facts, line: BillLine) -> bool:
    return not line.group and facts.parts[line.key].make == "buy"


def renumber(drawing: Drawing, facts: Facts) -> None:
    """Give the parts that are new to the drawing's lists their numbers, and keep the names of those that are
    there."""
    lists = [plist for sheet in drawing.sheets for plist in lists_on(sheet)]
    wanted = [line for levels in dict.fromkeys(p.levels for p in lists) for line in bill.lines(facts, levels)]
    if not wanted and any(a.kind == "balloon" for s in drawing.sheets for a in s.annotations):
        wanted = bill.lines(facts, "parts")
    items = numbered(drawing.items, wanted, facts)
    names = {line.key: line.name for line in wanted}
    drawing.items = {
        key: item.model_copy(update={"name": names.get(key, item.name)}) for key, item in items.items()
    }


def rows(drawing: Drawing, plist: PartsList, facts: Facts) -> list[Row]:
    """All rows of a list in order, of parts gone from the model last. Cells hold every field and the own
    fields of all parts."""
    found = bill.lines(facts, plist.levels)
    items = numbered(drawing.items, found, facts)
    out = [_row(line, items[line.key].number, drawing, facts) for line in found]
    if plist.levels != "indented":  # indented ones keep the order of the tree
        out.sort(key=cmp_to_key(lambda a, b: _order(a, b, plist.sort)))
    here = {
        key
        for levels in ("top", "parts", "indented")
        for key in (line.key for line in bill.lines(facts, levels))
    }  # type: ignore[arg-type]
    here |= {
        key for key, home in bill.one_key(facts).items() if home != key
    }  # listed as another part, not gone
    for key, item in sorted(drawing.items.items(), key=lambda i: i[1].number):
        if key not in here:
            out.append(
                Row(
                    key,
                    item.number,
                    0,
                    {"item": Cell(str(item.number), item.number), "name": Cell(item.name)},
                    gone=True,
                )
            )
    return out


def _order(a: Row, b: Row, by: str) -> int:
    def key(row: Row) -> tuple[object, ...]:
        words = row.cells[by].text.casefold() if by != "item" else ""
        return (words == "" and by != "item", words, row.item)

    return -1 if key(a) < key(b) else 1  # type: ignore[operator]


def _row(line: BillLine, number: int, drawing: Drawing, facts: Facts) -> Row:
    part = None if line.group else facts.parts[line.key]
    profile, said = drawing.profile, drawing.cells.get(line.key, {})
    model = {"name": line.name, **({"number": line.number} if line.group else {}), **_properties(part, facts)}
    cells: dict[str, Cell] = {"item": Cell(str(number), number), "count": _count(line, part, facts, profile)}
    for field in (
        *WRITABLE,
        *(f for f in model if f.startswith("own:")),
        *(f for f in said if f.startswith("own:")),
    ):
        text = said.get(field, model.get(field, ""))
        cells[field] = Cell(text, None, field in said and text != model.get(field, ""), model.get(field, ""))
    masses = [facts.mass(facts.parts[key]) for key, _ in line.parts]
    whole = (
        None if None in masses else sum((m or 0.0) * n for m, (_, n) in zip(masses, line.parts, strict=True))
    )
    awaited = any(facts.awaits(facts.parts[key]) for key, _ in line.parts)
    alike = line.group or len({f"{m:.9g}" for m in masses if m is not None}) == 1
    cells["mass"], cells["total_mass"] = (
        mass_cell(None if whole is None or not alike else whole / line.total, profile),
        mass_cell(whole, profile),
    )
    if awaited:
        cells["mass"] = cells["total_mass"] = Cell(AWAITED, None)
    price = _price(cells["unit_cost"].text)
    cells["unit_cost"] = Cell(
        money(price, profile), price, cells["unit_cost"].changed, cells["unit_cost"].model
    )
    if line.group and price is None:
        total = _cost_within(line, drawing, facts)
        cells["unit_cost"] = Cell(
            "" if total is None else money(total / line.total, profile),
            None if total is None else total / line.total,
        )
    else:
        total = None if price is None else price * _amount(line, part, facts, profile)
    cells["cost"] = Cell(money(total, profile), total)
    return Row(line.key, number, line.depth, cells, group=line.group)


def _amount(line: BillLine, part: PartFacts | None, facts: Facts, profile: Profile) -> float:
    """How much there is of a line in the whole: pieces, or meters or inches of stock."""
    if part is None or part.counted != "length":
        return line.total
    length = sum(bill.length_of(facts.parts[key]) * n for key, n in line.parts)
    return length / (25.4 if profile.units == "in" else 1000.0)


def _count(line: BillLine, part: PartFacts | None, facts: Facts, profile: Profile) -> Cell:
    if part is None or part.counted != "length":
        return Cell(str(line.count), line.count)
    value = _amount(line, part, facts, profile) * line.count / line.total
    places, unit = (2, "in") if profile.units == "in" else (3, "m")
    text = rounded(value, places).rstrip("0").rstrip(".").replace(".", profile.decimal_sign)
    return Cell(f"{text} {unit}", round(value, 6))


def _cost_within(line: BillLine, drawing: Drawing, facts: Facts) -> float | None:
    """The cost of all that groups of a line are made of; None where a part has none."""
    same, total = bill.one_key(facts), 0.0
    for key, n in line.parts:
        part = facts.parts[same.get(key, key)]
        price = _price(
            drawing.cells.get(same.get(key, key), {}).get(
                "unit_cost", "" if part.unit_cost is None else f"{part.unit_cost:g}"
            )
        )
        if price is None:
            return None
        of = BillLine(key, "", n, n, 0, parts=((key, n),))
        total += price * _amount(of, part, facts, drawing.profile)
    return total


def _properties(part: PartFacts | None, facts: Facts) -> dict[str, str]:
    if part is None:
        return {}
    own = {f"own:{name}": value for name, value in part.own.items()}
    return {
        "number": part.number,
        "description": part.description,
        "material": facts.material_of(part),
        "finish": part.finish,
        "supplier": part.supplier,
        "make": part.make,
        "unit_cost": "" if part.unit_cost is None else f"{part.unit_cost:g}",
        **own,
    }


def mass_cell(kg: float | None, profile: Profile) -> Cell:
    """Three significant figures, no exponent; blank where the material is unknown."""
    if kg is None:
        return Cell("")
    value = mass_in(kg, profile.mass_in)
    return Cell(mass_number(value).replace(".", profile.decimal_sign), value)


def _price(text: str) -> float | None:
    try:
        return float(text.replace(",", ".")) if text else None
    except ValueError:
        return None


def money(value: float | None, profile: Profile) -> str:
    """An amount of money with two decimals, in the profile's decimal sign; empty where it is not known."""
    return "" if value is None else f"{value:.2f}".replace(".", profile.decimal_sign)


def totals(found: list[Row]) -> dict[str, float | None]:
    """Sums of the summed columns, each part once; None where a part lacks what is summed."""
    out: dict[str, float | None] = {}
    counted = [r for r in found if not r.gone and r.depth == 0]
    for field in SUMMED:
        values = [r.cells[field].value for r in counted]
        out[field] = None if any(v is None for v in values) else sum(v or 0.0 for v in values)
    return out


# ---- the table on the sheet --------------------------------------------------------------------------------
