"""Views against geometry, the standards' arrangement, and the kernel's own numbers."""

import math
from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.hidden_lines import bare_hidden_lines
from drafting.document import Drawing, Point, Sheet
from drafting.standards.profile import ISO_MM
from drafting.views.arrange import aligned, relation_of
from drafting.views.coincident import Candidate, distinct
from drafting.views.derive import Prepared, derive
from drafting.views.geometry import ViewGeometry, arc_points, bounds, length
from drafting.views.orientation import PRINCIPAL, RELATIONS, Orientation, isometric, projected, rotate
from drafting.views.project import conic
from tests.core.conftest import block, part

ISO = isometric(PRINCIPAL["front"])


def seen(g: ViewGeometry, *, visible: bool, classes: tuple[str, ...] = ("sharp", "silhouette")) -> float:
    return sum(length(c) for c in g.curves if c.visible == visible and c.edge_class in classes)


def test_isometric_shortens_86_to_70_219() -> None:
    """Isometric projection shortens all three axes by sqrt(2/3) (common practice; follows from the
    geometry)."""
    g = derive(Prepared(block(86, 40, 30)), ISO)
    drawn = {round(length(c), 3) for c in g.curves if c.kind == "line"}
    assert drawn == {round(v * math.sqrt(2 / 3), 3) for v in (86, 40, 30)}
    assert 70.219 in drawn
    angles = {
        round(math.degrees(math.atan2(c.data[3] - c.data[1], c.data[2] - c.data[0])) % 180) for c in g.curves
    }
    assert angles == {30, 90, 150}  # right angles between axes are drawn 60 or 120 degrees


def test_block_with_an_opening_has_hidden_lines_in_two_of_three_views() -> None:
    """A block 3 x 2 x 1.5 in with a 1 x 2 in opening through it (common practice)."""
    model = part(
        [
            {"id": "b", "kind": "extrude", "profile": {"width": 3, "height": 1.5}, "depth": 2},
            {
                "id": "o",
                "kind": "extrude",
                "profile": {"width": 1, "height": 1.5},
                "depth": 2,
                "plane": {"origin": [0, 0.25, 0]},
                "operation": "cut",
            },
        ],
        units="in",
    )
    prepared = Prepared(model)
    hidden = {
        name: seen(derive(prepared, PRINCIPAL[name]), visible=False) > 1e-6
        for name in ("front", "top", "right")
    }
    assert Counter(hidden.values())[True] == 2


def test_projected_views_stand_where_the_standards_put_them() -> None:
    """ASME Y14.3 and ISO 5456-2: third angle shows the right side at the right, first angle the left side."""
    front = PRINCIPAL["front"]
    third = {r: projected(front, r, "third") for r in ("right", "left", "above", "below")}
    assert (third["right"], third["left"], third["above"], third["below"]) == tuple(
        PRINCIPAL[n] for n in ("right", "left", "top", "bottom")
    )
    first = {r: projected(front, r, "first") for r in ("right", "left", "above", "below")}
    assert (first["right"], first["left"], first["above"], first["below"]) == tuple(
        PRINCIPAL[n] for n in ("left", "right", "bottom", "top")
    )


@given(
    st.sampled_from(list(PRINCIPAL)), st.sampled_from(list(RELATIONS)), st.sampled_from(["first", "third"])
)
@settings(deadline=None)
def test_every_orientation_is_orthonormal_and_there_and_back_is_the_same(
    name: str, relation: str, method: str
) -> None:
    o = projected(PRINCIPAL[name], relation, method)  # type: ignore[arg-type]
    m = o.matrix()
    assert np.allclose(m @ m.T, np.eye(3), atol=1e-12)
    assert np.linalg.det(m) == pytest.approx(1)
    assert any(abs(abs(v) - 1) < 1e-9 for v in o.toward) == (
        "-" not in relation
    )  # a diagonal one sees no face squarely
    if "-" not in relation:
        back = {"right": "left", "left": "right", "above": "below", "below": "above"}[relation]
        assert np.allclose(projected(o, back, method).matrix(), PRINCIPAL[name].matrix(), atol=1e-12)  # type: ignore[arg-type]


def test_quarter_turns_come_round() -> None:
    o: Orientation = PRINCIPAL["front"]
    for _ in range(4):
        o = rotate(o, "up", 90)
    assert np.allclose(o.matrix(), PRINCIPAL["front"].matrix(), atol=1e-12)
    assert np.allclose(rotate(PRINCIPAL["front"], "up", 90).matrix(), PRINCIPAL["right"].matrix(), atol=1e-12)


sizes = st.floats(5, 100).map(lambda v: round(v, 1))


@given(sizes, sizes, sizes)
@settings(max_examples=12, deadline=None)
def test_views_of_one_block_agree_with_each_other_and_with_its_sizes(w: float, d: float, h: float) -> None:
    prepared = Prepared(block(w, d, h))
    box = {n: derive(prepared, PRINCIPAL[n]) for n in ("front", "top", "right")}
    span = {n: (g.high[0] - g.low[0], g.high[1] - g.low[1]) for n, g in box.items()}
    assert span["front"] == pytest.approx((w, h))
    assert span["top"] == pytest.approx((w, d))
    assert span["right"] == pytest.approx((d, h))
    for g in box.values():  # nothing drawn twice: an outline of four lines, the rest lies under it
        assert len(g.curves) == 4
        assert all(c.visible for c in g.curves)


@given(st.floats(5, 85))
@settings(max_examples=10, deadline=None)
def test_an_inclined_circle_is_an_ellipse_of_d_and_d_cos(angle: float) -> None:
    """A circle inclined by an angle projects to axes d and d cos (geometry)."""
    g = derive(
        Prepared(part([{"id": "d", "kind": "extrude", "profile": {"diameter": 40}, "depth": 5}])),
        rotate(PRINCIPAL["top"], "right", angle),
    )
    ellipses = [c for c in g.curves if c.kind == "ellipse" and c.edge_class == "sharp"]
    assert ellipses
    for e in ellipses:
        assert math.hypot(e.data[2], e.data[3]) == pytest.approx(20, abs=1e-6)
        assert e.data[4] == pytest.approx(math.cos(math.radians(angle)), abs=1e-6)


def test_circles_are_circles_seen_true_and_lines_seen_edge_on() -> None:
    disc = Prepared(part([{"id": "d", "kind": "extrude", "profile": {"diameter": 40}, "depth": 5}]))
    top = derive(disc, PRINCIPAL["top"]).curves
    assert [(c.kind, c.data[2]) for c in top if c.edge_class == "sharp"] == [("arc", pytest.approx(20))]
    front = derive(disc, PRINCIPAL["front"]).curves
    assert {c.kind for c in front} == {"line"}
    assert sorted(round(length(c), 6) for c in front if c.visible) == [5, 5, 40, 40]


def test_the_outline_of_a_cylinder_on_its_seam_is_not_lost() -> None:
    """The kernel's seam lies at +x, which is the outline in the front view; both sides must be there and name
    their face."""
    model = part(
        [
            {"id": "d", "kind": "extrude", "profile": {"diameter": 40}, "depth": 30},
            {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 30]}, "diameter": 12},
        ]
    )
    prepared = Prepared(model)
    for name in ("front", "right", "left", "rear"):
        outlines = [c for c in derive(prepared, PRINCIPAL[name]).curves if c.role == "silhouette"]
        assert sorted(round(c.data[0], 6) for c in outlines if c.source == "d/side") == [-20, 20], name
        assert sorted(round(c.data[0], 6) for c in outlines if c.source == "h/bore") == [-6, 6], name
        assert all(c.visible == (c.source == "d/side") for c in outlines)


def test_every_curve_of_the_bearing_block_knows_its_source(bearing: Prepared) -> None:
    facts = bearing.model.facts.parts["part"]
    names = {e.name for e in facts.edges} | {f.name for f in facts.faces}
    for o in (PRINCIPAL["front"], PRINCIPAL["top"], PRINCIPAL["left"], ISO):
        g = derive(bearing, o)
        assert all(c.source in names for c in g.curves)
        assert g == derive(bearing, o)  # the same every time
    front = derive(bearing, PRINCIPAL["front"])
    lit = [c for c in front.curves if c.feature == "oil"]
    assert lit, "the oil hole is hidden in front, and can be found"
    assert not any(c.visible for c in lit)


def test_no_more_pieces_than_the_kernel_gives_and_nothing_drawn_twice(bearing: Prepared) -> None:
    for o in (PRINCIPAL["front"], PRINCIPAL["top"], ISO):
        g = derive(bearing, o)
        rounds = [
            (c.kind, tuple(np.round(arc_points(c, 5)[2], 3)), tuple(np.round(c.data[2:5], 3)))
            for c in g.curves
            if c.kind in ("arc", "ellipse")
        ]
        assert len(rounds) == len(set(rounds))
        kernel = bare_hidden_lines([bearing.model.shapes["part"]], tuple(o.toward), tuple(o.right))  # type: ignore[arg-type]
        assert (
            kernel >= sum(c.edge_class != "thread" for c in g.curves) > 10
        )  # the kernel draws no thread symbols
        for i, a in enumerate(g.curves):
            for b in g.curves[i + 1 :]:
                if a.kind == b.kind == "line" and _overlap(a.data, b.data) > 1e-3:
                    pytest.fail(f"{a} lies on {b}")


def _overlap(p: list[float], q: list[float]) -> float:
    a, b, c, d = (np.array(v) for v in (p[:2], p[2:], q[:2], q[2:]))
    u = (b - a) / np.linalg.norm(b - a)
    n = np.array([-u[1], u[0]])
    if max(abs((c - a) @ n), abs((d - a) @ n)) > 1e-4:
        return 0.0
    lo, hi = sorted(((c - a) @ u, (d - a) @ u))
    return float(min(hi, np.linalg.norm(b - a)) - max(lo, 0.0))


def test_a_mirrored_repeated_part_keeps_its_instances_apart(winder) -> None:  # type: ignore[no-untyped-def]
    instances = [i for i in winder.facts.instances if i.part == "block"]
    assert len(instances) == 2
    assert winder.facts.part_of("block-2")[1].number == "HB-204"
    assert len(winder.facts.instances) == 67


@given(
    st.floats(-50, 50),
    st.floats(0, 2 * math.pi),
    st.floats(0.5, 40),
    st.floats(0.05, 0.95),
    st.floats(0, 6),
    st.floats(0.1, 6.28),
    st.booleans(),
)
@settings(deadline=None)
def test_conics_run_through_the_points_of_their_conjugate_diameters(
    x, turn, long, ratio, first, span, mirrored
) -> None:  # type: ignore[no-untyped-def]
    """The ellipse from conjugate half diameters has the same points as the curve it was made from."""
    c, s = math.cos(turn), math.sin(turn)
    p = (
        long * math.cos(0.7) * c - long * ratio * math.sin(0.7) * s,
        long * math.cos(0.7) * s + long * ratio * math.sin(0.7) * c,
    )
    q = (
        -long * math.sin(0.7) * c - long * ratio * math.cos(0.7) * s,
        -long * math.sin(0.7) * s + long * ratio * math.cos(0.7) * c,
    )
    if mirrored:
        q = (-q[0], -q[1])
    drawn = conic((x, 3.0), p, q, first, first + span, 1e-6)
    assert drawn is not None
    from drafting.views.geometry import ViewCurve

    curve = ViewCurve(
        kind=drawn[0],
        data=drawn[1],
        edge_class="sharp",
        visible=True,
        instance=0,
        source="",
        role="edge",
        feature="",
    )
    wanted = np.array(
        [
            [x + p[0] * math.cos(t) + q[0] * math.sin(t), 3 + p[1] * math.cos(t) + q[1] * math.sin(t)]
            for t in (first, first + span)
        ]
    )
    got = arc_points(curve, 2)[[0, -1]]
    assert min(np.abs(got - wanted).max(), np.abs(got[::-1] - wanted).max()) < 1e-6 * max(1, long)
    low, high = bounds([curve])
    dense = arc_points(curve, 2000)
    assert np.allclose(low, dense.min(0), atol=long * 1e-4)
    assert np.allclose(high, dense.max(0), atol=long * 1e-4)


def test_coincident_lines_keep_the_visible_part_and_what_is_left_of_the_hidden() -> None:
    """Line precedence: visible before hidden (ASME Y14.2, ISO 128-2)."""
    visible = Candidate(("line", [0.0, 0.0, 10.0, 0.0]), 0, 0.0, 0)
    hidden = Candidate(("line", [15.0, 0.0, -5.0, 0.0]), 3, 0.0, 1)
    out = distinct([visible, hidden], 1e-4)
    spans = sorted((c.rank, *sorted((c.drawn[1][0], c.drawn[1][2]))) for c in out)
    assert spans == [(0, 0, 10), (3, -5, 0), (3, 10, 15)]
    circle = Candidate(("arc", [0.0, 0.0, 5.0, 0.0, 2 * math.pi]), 3, 0.0, 0)
    half = Candidate(("arc", [0.0, 0.0, 5.0, 0.0, math.pi]), 0, 0.0, 1)
    left = [c.drawn[1][3:] for c in distinct([circle, half], 1e-4) if c.rank == 3]
    assert left == [[pytest.approx(math.pi), pytest.approx(2 * math.pi)]]


def test_places_beside_a_view_by_eighths_and_alignment() -> None:
    for relation, (sx, sy) in RELATIONS.items():
        assert relation_of(100 * sx, 80 * sy) == relation
    sheet = Sheet(id="s", size="A3")
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    from drafting.document import View

    parent = View(id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=10, y=20))
    assert aligned(parent, "right", Point(x=90, y=33)) == Point(x=90, y=20)
    assert aligned(parent, "above", Point(x=14, y=90)) == Point(x=10, y=90)
    assert aligned(parent, "above-left", Point(x=1, y=90)) == Point(x=1, y=90)
    assert drawing.sheet("s") is not None
