"""Rows of revision tables, with the zones of their clouds (ASME Y14.35, zones as ISO 5457; memory)."""

from drafting.annotation.kinds.revision_cloud import RevisionCloud
from drafting.annotation.kinds.revision_table import RevisionTable, clouded, ink
from drafting.context import Context
from drafting.data import Point
from drafting.document import Drawing, OnSheet, RevisionRow, Sheet
from drafting.ink.elements import Text
from drafting.standards.profile import ISO_MM
from tests.core.conftest import demo


def cloud(name: str, x: float, y: float, mark: str = "B") -> RevisionCloud:
    return RevisionCloud(id=name, anchor=OnSheet(), position=Point(x=x, y=y), mark=mark)


def drawing(*sheets: Sheet, zone: str = "") -> Drawing:
    revisions = [
        RevisionRow(mark="A", description="first"),
        RevisionRow(mark="B", description="next", zone=zone),
    ]
    return Drawing(name="x", profile=ISO_MM, projection="first", sheets=list(sheets), revisions=revisions)


def test_a_revision_names_the_zones_of_its_clouds() -> None:
    """ISO 5457: from the upper left, letters down and numbers across; A3 has eight by six."""
    clouds = [
        cloud("one", 30, 280),
        cloud("two", 405, 20),
        cloud("three", 32, 275),
        cloud("old", 200, 150, "A"),
    ]
    table = RevisionTable(id="t", anchor=OnSheet(), position=Point(x=400, y=60))
    sheet = Sheet(id="s", name="1", size="A3", annotations=[*clouds, table])
    one = drawing(sheet)
    assert clouded(one, "B") == ["A1", "F8"]
    context = Context(one, sheet, demo("HB-210").facts, None, True)
    said = [e.text for e in ink(table, context) if isinstance(e, Text)]
    assert "A1, F8" in " ".join(said)
    more = sheet.model_copy(update={"annotations": [*clouds, cloud("four", 200, 150), table]})
    many = drawing(more)
    said = [e.text for e in ink(table, Context(many, more, context.facts, None, True)) if isinstance(e, Text)]
    assert "3 zones" in " ".join(said)
    typed = drawing(sheet, zone="C4")
    said = [
        e.text for e in ink(table, Context(typed, sheet, context.facts, None, True)) if isinstance(e, Text)
    ]
    assert "C4" in said
    assert "F8" not in " ".join(said)


def test_of_several_sheets_each_zone_has_its_number() -> None:
    sheets = [
        Sheet(id=f"s{n}", name=str(n), size="A3", annotations=[cloud(f"c{n}", 30, 280)]) for n in (1, 2)
    ]
    assert clouded(drawing(*sheets), "B") == ["1-A1", "2-A1"]
