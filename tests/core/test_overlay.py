"""Two states of a sheet one over the other: nothing of either is lost, and nothing is both gone and there."""

import math

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds.revision_cloud import RevisionCloud
from drafting.annotation.kinds.revision_table import box
from drafting.annotation.review.revision_clouds import clouds_about
from drafting.commands import applied
from drafting.commands.revisions import StartRevision
from drafting.context import Context
from drafting.data import Point
from drafting.document import Drawing, OnSheet, Sheet
from drafting.errors import CommandError
from drafting.ink.elements import Arc, Element, Group, Line, Polyline, SheetInk, Text
from drafting.ink.overlay import overlaid
from drafting.ink.shapes import shape
from drafting.sheet.layout import block_box, frame_box
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from tests.core.conftest import demo

PLACE = st.integers(0, 40).map(float)
KIND = st.sampled_from(["visible", "hidden"])
LINE = st.builds(lambda x, y, u, v, k: Line((x, y), (u, v), k), PLACE, PLACE, PLACE, PLACE, KIND)


def sheet(*elements: Element, origin: tuple[float, float] = (0.0, 0.0)) -> SheetInk:
    return SheetInk(100, 80, [Group("v", "view", origin, list(elements))])


def length(elements: list[Element], kind: str) -> float:
    found = [g for e in elements if e.line == kind and (g := shape(e)) is not None]
    return float(shapely.union_all([g.buffer(0.02) for g in found]).area / 0.04) if found else 0.0


@given(
    st.lists(LINE.filter(lambda e: e.a != e.b), max_size=6),
    st.lists(LINE.filter(lambda e: e.a != e.b), max_size=6),
)
@settings(max_examples=60, deadline=None)
def test_what_stayed_is_in_both_and_the_rest_in_one(before: list[Line], after: list[Line]) -> None:
    found = overlaid(sheet(*before), sheet(*after))
    for kind in ("visible", "hidden"):
        assert length([*found.same, *found.gone], kind) == pytest.approx(
            length([*before], kind), rel=0.03, abs=1.5
        )
        assert length([*found.same, *found.new], kind) == pytest.approx(
            length([*after], kind), rel=0.03, abs=1.5
        )
    back = overlaid(sheet(*after), sheet(*before))
    for kind in ("visible", "hidden"):
        assert length(back.gone, kind) == pytest.approx(length(found.new, kind), rel=0.03, abs=1.5)


def test_a_state_over_itself_is_all_the_same_wherever_its_views_stand() -> None:
    drawn = (
        Line((0, 0), (30, 0), "visible"),
        Arc((10, 10), 5, 0, 2 * math.pi, "visible"),
        Text((3, 3), "Ø10", 3.5),
    )
    found = overlaid(sheet(*drawn, origin=(20, 10)), sheet(*drawn, origin=(20, 10)))
    assert (len(found.same), found.gone, found.new) == (3, [], [])
    moved = overlaid(sheet(*drawn), sheet(*drawn, origin=(0, 20)))
    assert moved.same == []


def test_a_line_that_grew_is_new_only_where_it_grew() -> None:
    found = overlaid(sheet(Line((0, 0), (30, 0), "visible")), sheet(Line((0, 0), (40, 0), "visible")))
    (piece,) = found.new
    assert isinstance(piece, Polyline)
    assert sorted(round(x) for x, _ in piece.points) == [30, 40]
    assert found.gone == []
    other = overlaid(sheet(Line((0, 0), (30, 0), "visible")), sheet(Line((0, 0), (30, 0), "hidden")))
    assert (len(other.gone), len(other.new)) == (1, 1)


def test_clouds_hold_all_that_differs_and_what_lies_together_is_in_one() -> None:
    before = sheet(Text((20, 20), "40", 3.5), Text((22, 26), "41", 3.5), Text((80, 60), "9", 3.5))
    after = sheet(Text((20, 20), "42", 3.5), Text((22, 26), "43", 3.5), Text((80, 60), "9", 3.5))
    (cloud,) = clouds_about(before, after, "B", lambda: "c")
    assert cloud.mark == "B"
    assert abs(cloud.position.x - 23) < 5
    assert cloud.width >= 6
    assert cloud.height >= 10
    far = sheet(Text((20, 20), "42", 3.5), Text((22, 26), "41", 3.5), Text((80, 60), "8", 3.5))
    assert len(clouds_about(before, far, "B", lambda: "c")) == 2
    assert clouds_about(before, before, "B", lambda: "c") == []


def test_a_cloud_is_bows_outward_and_a_triangle_with_the_mark() -> None:
    page = Sheet(id="s", size="A3")
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[page])
    cloud = RevisionCloud(id="c", anchor=OnSheet(), position=Point(x=50, y=40), width=30, height=18, mark="B")
    ink = registry.ink(cloud, Context(drawing, page, demo("HB-204").facts, None, True))
    bows = [e for e in ink if isinstance(e, Arc)]
    assert len(bows) == 2 * (5 + 3)
    inside = shapely.box(35.01, 31.01, 64.99, 48.99)
    assert not any(shape(b).intersects(inside) for b in bows)  # type: ignore[union-attr]
    assert [e.text for e in ink if isinstance(e, Text)] == ["B"]


@pytest.mark.parametrize(
    ("profile", "head"), [(ISO_MM, ["Rev.", "Zone", "Change"]), (ASME_INCH, ["REVISIONS", "ZONE", "REV"])]
)
def test_the_table_stands_where_the_standard_has_it(profile: Profile, head: list[str]) -> None:
    """ASME Y14.35: the upper right corner, going down (memory); else on the title block, going up (common
    practice)."""
    page = Sheet(id="s", size="A3")
    drawing = Drawing(name="x", profile=profile, projection="first", sheets=[page])
    for mark in ("A", "B"):
        start = StartRevision(mark=mark, description=f"change {mark}", date="2026-11-29", by="A. Fell")
        drawing = applied(drawing, start)
    (table,) = drawing.sheets[0].annotations
    context = Context(drawing, drawing.sheets[0], demo("HB-204").facts, None, True)
    texts = [e for e in registry.ink(table, context) if isinstance(e, Text)]
    assert [t.text for t in texts][:3] == head
    at = {t.text: t.at for t in texts}
    frame = frame_box(page)
    left, bottom, right, top = box(table, context)  # type: ignore[arg-type]
    assert right == pytest.approx(frame.right, abs=0.01)
    if profile.standard == "ASME":
        assert top == frame.top
        assert at["change A"][1] > at["change B"][1] > bottom
    else:
        assert bottom == block_box(page).top
        assert at["change B"][1] > at["change A"][1] > bottom
    with pytest.raises(CommandError, match="Revision B is in the table already"):
        applied(drawing, StartRevision(mark="B", description="x", date="", by=""))
