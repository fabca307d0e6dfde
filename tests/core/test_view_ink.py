"""Ink of views: kinds of line, centers, labels; and the paths that back ends make of it."""

import math
import re
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.document import Drawing, Point, Sheet, View
from drafting.export import pdf, svg
from drafting.ink.elements import Arc, Ellipse, Fill, Line, Polyline, Text, placed
from drafting.standards.profile import ASME_INCH, ISO_MM
from drafting.standards.scales import Scale
from drafting.views.geometry import ViewCurve, ViewGeometry, bounds
from drafting.views.ink import element, line_kind, view_ink
from drafting.views.orientation import PRINCIPAL


def view(**more: Any) -> View:
    return View(
        **{"id": "v", "kind": "main", "orientation": PRINCIPAL["front"], "position": Point(x=0, y=0), **more}
    )


def curve(kind: str, data: list[float], **more: Any) -> ViewCurve:
    base = {
        "edge_class": "sharp",
        "visible": True,
        "instance": 0,
        "source": "s",
        "role": "edge",
        "feature": "f",
    }
    return ViewCurve(**{"kind": kind, "data": data, **base, **more})


def geometry(*curves: ViewCurve) -> ViewGeometry:
    low, high = bounds(list(curves))
    return ViewGeometry(curves=list(curves), instances=["part"], low=low, high=high)


@pytest.mark.parametrize(
    ("more", "shows", "kind"),
    [
        ({}, {}, "visible"),
        ({"edge_class": "silhouette"}, {}, "visible"),
        ({"visible": False}, {}, "hidden"),
        ({"visible": False}, {"hidden_lines": False}, None),
        ({"edge_class": "smooth"}, {}, None),
        ({"edge_class": "smooth"}, {"tangent_edges": True}, "tangent"),
    ],
)
def test_the_kind_of_line_follows_class_and_visibility(
    more: dict[str, Any], shows: dict[str, Any], kind: str | None
) -> None:
    assert line_kind(curve("line", [0, 0, 1, 1], **more), view(**shows)) == kind


def test_hidden_lines_lie_under_visible_ones_and_scale_is_applied() -> None:
    g = geometry(
        curve("line", [0, 0, 10, 0]),
        curve("line", [0, 5, 10, 5], visible=False),
        curve("arc", [1, 2, 3, 0.1, 1.2]),
    )
    ink = view_ink(view(centers=False), g, ISO_MM, 2.0)
    assert [e.line for e in ink if not isinstance(e, Text)] == ["hidden", "visible", "visible"]
    assert ink[1] == Line((0, 0), (20, 0), "visible")
    assert ink[2] == Arc((2, 4), 6, 0.1, 1.2, "visible")
    assert element(curve("ellipse", [1, 1, 4, 0, 0.5, 0, 1]), 0.5, "visible") == Ellipse(
        (0.5, 0.5), (2, 0), 0.5, 0, 1, "visible"
    )
    assert element(curve("polyline", [0, 0, 1, 1, 2, 0]), 2, "visible") == Polyline(
        ((0, 0), (2, 2), (4, 0)), "visible"
    )


def test_a_view_with_a_scale_of_its_own_says_so() -> None:
    from drafting.views.marks import label_ink

    g = geometry(curve("line", [-10, -5, 10, 5]))
    sheet = Sheet(id="s", size="A3")
    for profile, text in ((ISO_MM, "(2:1)"), (ASME_INCH, "SCALE 2:1")):
        drawing = Drawing(name="x", profile=profile, projection="first", sheets=[sheet])
        own = view(scale=Scale(drawn=2, true=1))
        (label,) = label_ink(drawing, sheet, own, g)
        assert isinstance(label, Text)
        assert label.text == text
        assert label.at[1] + label.height < -10  # clear of the view, which reaches 10 mm down at 2:1
        assert label_ink(drawing, sheet, view(), g) == []
        assert label_ink(drawing, sheet, view(scale=Scale()), g) == []


angles = st.floats(0, 6.28)
spans = st.floats(0.05, 6.28)


def _arc_ends(data: str) -> tuple[list[float], list[float]]:
    numbers = [float(v) for v in re.findall(r"-?\d+\.?\d*", data)]
    return numbers[:2], numbers[-2:]


@given(angles, spans, st.floats(1, 50))
@settings(deadline=None)
def test_svg_arcs_run_the_right_way_round(first: float, span: float, radius: float) -> None:
    """Ends turned over in y, the large flag for more than half a turn, never the wrong sweep."""
    data = svg.path_data(Arc((3, 4), radius, first, first + span, "visible"))
    a, b = _arc_ends(data)
    assert a == pytest.approx([3 + radius * math.cos(first), -4 - radius * math.sin(first)], abs=1e-3)
    assert b == pytest.approx(
        [3 + radius * math.cos(first + span), -4 - radius * math.sin(first + span)], abs=1e-3
    )
    flags = re.search(r"A\S+ \S+ 0 (\d) (\d) ", data)
    assert flags
    assert flags.groups() == (str(int(span > math.pi)), "0")


class _Path:
    def __init__(self) -> None:
        self.pieces: list[list[tuple[float, float]]] = []
        self.at = (0.0, 0.0)

    def moveTo(self, x: float, y: float) -> None:
        self.at = (x, y)

    def curveTo(self, *p: float) -> None:
        self.pieces.append([self.at, (p[0], p[1]), (p[2], p[3]), (p[4], p[5])])
        self.at = (p[4], p[5])


@given(angles, spans, st.floats(1, 500))
@settings(deadline=None, max_examples=40)
def test_pdf_arcs_stay_within_4e_6_of_the_radius(first: float, span: float, radius: float) -> None:
    """Cubic approximation of an eighth of a turn (analytic error bound of the standard 4/3 tan(a/4)
    construction)."""
    path = _Path()
    pdf._conic(path, (0.0, 0.0), (radius, 0.0), 1.0, first, first + span)
    for p in path.pieces:
        for i in range(11):
            t = i / 10
            x, y = (
                sum(
                    w * q[k]
                    for w, q in zip(
                        ((1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3), p, strict=True
                    )
                )
                for k in (0, 1)
            )
            assert abs(math.hypot(x, y) - radius) < 4.3e-6 * radius
    assert path.at == pytest.approx(
        (radius * math.cos(first + span), radius * math.sin(first + span)), abs=1e-6 * radius
    )


@given(st.floats(-50, 50), st.floats(-50, 50))
@settings(deadline=None, max_examples=25)
def test_moving_ink_moves_all_of_it(dx: float, dy: float) -> None:
    for e in (
        Line((1, 2), (3, 4), "visible"),
        Arc((1, 2), 3, 0, 1, "visible"),
        Ellipse((1, 2), (3, 0), 0.5, 0, 1, "visible"),
        Polyline(((1, 2), (3, 4)), "visible"),
        Fill(((1, 2), (3, 4), (5, 6)), "visible"),
        Text((1, 2), "x", 3),
    ):
        there = placed(e, (dx, dy))
        for name, value in vars(e).items():
            moved = getattr(there, name)
            if name in ("a", "b", "center", "at"):
                assert moved == pytest.approx((value[0] + dx, value[1] + dy))
            elif name == "points":
                assert [c for q in moved for c in q] == pytest.approx(
                    [c for x, y in value for c in (x + dx, y + dy)]
                )
            else:
                assert moved == value


def test_a_full_ellipse_closes_and_a_polyline_too() -> None:
    assert svg.path_data(Ellipse((0, 0), (4, 0), 0.5, 0, 2 * math.pi, "visible")).endswith("Z")
    assert svg.path_data(Polyline(((0, 0), (1, 0), (1, 1)), "frame", True)).endswith("Z")
    assert not svg.path_data(Polyline(((0, 0), (1, 0), (1, 1)), "frame")).endswith("Z")
    with pytest.raises(TypeError):
        svg.path_data(Text((0, 0), "x", 3))
