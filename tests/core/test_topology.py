"""What the kernel's faces and edges are told to be, against geometry that is known."""

import math

import pytest

from drafting.kernel import hidden_lines, measure
from drafting.kernel.mesh import triangulate
from drafting.kernel.shape_io import shape_from_bytes, shape_to_bytes
from drafting.kernel.topology import describe, location_matrix, moved
from drafting.model.names import part_facts
from tests.core.conftest import block, demo, part

TURNED = {
    "start": [0, 0],
    "to": [{"line": [0, 8], "name": "a"}, {"line": [20, 8], "name": "cyl"}, {"line": [32, 2], "name": "cone"}, {"line": [32, 0], "name": "b"}],
}


def test_cylinders_and_cones_know_axis_radius_and_extent() -> None:
    facts = part([{"id": "r", "kind": "revolve", "profile": TURNED}]).facts.parts["part"]
    faces = {f.name: f for f in facts.faces}
    cylinder, cone = faces["r/side.cyl"], faces["r/side.cone"]
    assert (cylinder.kind, cylinder.radius) == ("cylinder", pytest.approx(8))
    assert abs(cylinder.axis[0]) == pytest.approx(1)
    ends = sorted(cylinder.origin[0] + cylinder.axis[0] * h for h in cylinder.span or [])
    assert ends == pytest.approx([0, 20])
    assert cone.kind == "cone"
    assert math.tan(abs(cone.half_angle)) == pytest.approx(6 / 12)
    assert cone.origin == pytest.approx([36, 0, 0])  # the apex: 8 mm down at 6 in 12 from x = 20
    ends = sorted(cone.origin[0] + cone.axis[0] * h for h in cone.span or [])
    assert ends == pytest.approx([20, 32])


def test_seams_and_smooth_edges_are_told_from_corners() -> None:
    rounded = block(40, 30, 20, {"id": "f", "kind": "fillet", "edges": ["b/side.left|b/side.top"], "radius": 6})
    topology = describe(rounded.shapes["part"])
    assert sum(e.smooth for e in topology.edges) == 2  # where the fillet runs out into the two sides
    assert not any(e.seam for e in topology.edges)
    disc = describe(part([{"id": "d", "kind": "extrude", "profile": {"diameter": 40}, "depth": 5}]).shapes["part"])
    assert [e.kind for e in disc.edges if e.seam] == ["line"]
    assert sorted((e.kind, e.closed, round(e.length, 6)) for e in disc.edges if not e.seam) == [("circle", True, round(40 * math.pi, 6))] * 2


def test_planes_point_outward() -> None:
    faces = {f.name: f for f in block(40, 30, 20).facts.parts["part"].faces}
    assert faces["b/end"].axis == pytest.approx([0, 0, 1])
    assert faces["b/start"].axis == pytest.approx([0, 0, -1])
    assert faces["b/side.left"].axis == pytest.approx([-1, 0, 0])


def test_signatures_do_not_depend_on_where_the_part_is_placed_in_an_assembly_or_on_packing() -> None:
    shape = demo("HB-206").shapes["part"]
    before = part_facts(shape, "x")
    after = part_facts(shape_from_bytes(shape_to_bytes(shape)), "x")
    assert [e.name for e in before.edges] == [e.name for e in after.edges]
    assert len({f.name for f in before.faces}) == len(before.faces)
    assert any(n.name.startswith("circle r4.500") for n in before.edges)


def test_triangles_close_and_turn_outward() -> None:
    nodes, triangles, owners = triangulate(block(40, 30, 20).shapes["part"], 0.1)
    assert len(triangles) == 12
    assert len(set(owners.tolist())) == 6
    a, b, c = (nodes[triangles[:, i]] for i in range(3))
    import numpy as np

    volume = float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)  # divergence theorem
    assert volume == pytest.approx(24_000)


def test_placing_a_shape_places_its_box() -> None:
    m = [[0.0, -1.0, 0.0, 100.0], [1.0, 0.0, 0.0, 0.0], [0.0, 0.0, 1.0, 5.0], [0.0, 0.0, 0.0, 1.0]]
    there = moved(block(40, 30, 20).shapes["part"], m)
    low, high = measure.extents(there)
    assert low == pytest.approx((85, -20, 5))
    assert high == pytest.approx((115, 20, 25))
    assert location_matrix(there.Location()) == m


def test_hidden_line_pieces_keep_the_curve_of_their_edge() -> None:
    """What docs/decisions/001 rests on: the binding hands out the same curve object for an edge and for its pieces."""
    model = demo("HB-204")
    prepared = hidden_lines.prepare(model.shapes["part"])
    pieces = list(hidden_lines.hidden_lines([(prepared, model.shapes["part"])], (1.0, -1.0, 1.0), (1.0, 1.0, 0.0)))
    assert pieces
    assert all(p.edge >= 0 or p.face >= 0 for p in pieces)
    for p in pieces:
        if p.edge >= 0:
            edge = prepared.topology.edges[p.edge]
            assert p.kind == edge.kind
            assert edge.first - 1e-6 <= p.first
            assert p.last <= edge.last + 1e-6
        else:
            assert prepared.topology.faces[p.face].kind in ("cylinder", "cone", "torus", "sphere", "other")
