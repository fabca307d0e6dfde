"""What the kernel's faces and edges are told to be, against geometry that is known."""

import math

import numpy as np
import pytest

from drafting.kernel import measure
from drafting.kernel.facets import facet
from drafting.kernel.mesh import triangulate
from drafting.kernel.shape_io import shape_from_bytes, shape_to_bytes
from drafting.kernel.topology import describe, location_matrix, moved
from drafting.model.names import part_facts
from drafting.views.visibility.part import COUNT, FACE_A, FACE_B, INDEX
from tests.core.conftest import block, demo, part

TURNED = {
    "start": [0, 0],
    "to": [
        {"line": [0, 8], "name": "a"},
        {"line": [20, 8], "name": "cyl"},
        {"line": [32, 2], "name": "cone"},
        {"line": [32, 0], "name": "b"},
    ],
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
    rounded = block(
        40, 30, 20, {"id": "f", "kind": "fillet", "edges": ["b/side.left|b/side.top"], "radius": 6}
    )
    topology = describe(rounded.shapes["part"])
    assert sum(e.smooth for e in topology.edges) == 2  # where the fillet runs out into the two sides
    assert not any(e.seam for e in topology.edges)
    disc = describe(
        part([{"id": "d", "kind": "extrude", "profile": {"diameter": 40}, "depth": 5}]).shapes["part"]
    )
    assert [e.kind for e in disc.edges if e.seam] == ["line"]
    assert (
        sorted((e.kind, e.closed, round(e.length, 6)) for e in disc.edges if not e.seam)
        == [("circle", True, round(40 * math.pi, 6))] * 2
    )


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


def test_facets_name_the_edges_and_faces_they_come_from() -> None:
    """Nodes of every edge's polyline lie on the edge, at the parameters told; triangles turn outward and
    enclose the volume."""
    model = demo("HB-205")
    shape, facts = next(iter(model.shapes.values())), next(iter(model.facts.parts.values()))
    topology = describe(shape)
    faceted = facet(shape, math.dist(facts.low, facts.high))
    start = 0
    for row, form in zip(faceted.edges, faceted.edge_form, strict=True):
        nodes = faceted.edge_nodes[start : start + row[COUNT]]
        t = faceted.edge_parameters[start : start + row[COUNT], None]
        start += row[COUNT]
        edge = topology.edges[row[INDEX]]
        assert sorted({f for f in (row[FACE_A], row[FACE_B]) if f >= 0}) == sorted(edge.faces)
        if edge.kind in ("line", "circle"):
            exact = form[0] + np.cos(t) * form[1] + np.sin(t) * form[2] + t * form[3]
            assert np.abs(exact - nodes).max() < 1e-6
    a, b, c = (faceted.nodes[faceted.triangles[:, k]] for k in range(3))
    assert float((a * np.cross(b, c)).sum() / 6) == pytest.approx(facts.volume, rel=5e-3)
