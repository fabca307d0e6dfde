"""What frames come to on a drawing: missing basic sizes, boundaries, fasteners, general tolerances; faces
that are pointed at within, and datum targets."""

import math
import re
from collections import Counter
from dataclasses import replace
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
from ezdxf import bbox
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector

from drafting.annotation import registry
from drafting.annotation.inking.frame_ink import symbol
from drafting.annotation.kinds.control_frame_judged import freedom
from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.kinds.datum_target import DatumTarget
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.measuring.frames import DatumReference
from drafting.annotation.measuring.pointing import Tip
from drafting.annotation.measuring.seen_faces import face_seen
from drafting.annotation.measuring.toleranced import feature_at
from drafting.annotation.proposing import basic_sizes
from drafting.annotation.proposing.propose import propose
from drafting.annotation.review import frame_meaning, generally
from drafting.annotation.review.frame_meaning import divided
from drafting.commands import applied
from drafting.commands.annotations import Place
from drafting.context import Context
from drafting.document import Dimension, Drawing, Pick, Point, Sheet, Tolerance, View, Wording
from drafting.errors import CommandError, SizeError
from drafting.export.dxf import sheet_dxf
from drafting.export.svg import sheet_svg
from drafting.ink.elements import Arc, Fill, Group, Line, Polyline, SheetInk, Text
from drafting.model.assembly import build_model
from drafting.model.model import FaceFact, Model
from drafting.model.recipe import validate_recipe
from drafting.standards.profile import ISO_MM
from drafting.views.orientation import PRINCIPAL, isometric
from drafting.views.view import BrokenOut
from tests.core.conftest import block, demo, part
from tests.core.disguises import DISGUISES, written
from tests.core.test_control_frames import edge_at, put
from tests.core.test_note_links import on_plate
from tests.core.test_notes import seen

TWO = [[-15, 0], [15, 0]]


def holes(diameter: float = 6.0) -> Model:
    drilled = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": TWO, "diameter": diameter}
    return block(60, 40, 10, drilled)


def with_position(model: Model, line: str = "pos d0.2m a b") -> tuple[Any, Context, ControlFrame]:
    """A plate with two holes, 30 and 15 from its right side; datum A that side, B the one behind."""
    geometry, context = seen(model)
    size = propose("size", Request([edge_at(geometry, (18, 0))], (40, 30), "d"), context, dict).annotations[0]
    assert isinstance(size, Dimension)
    words, play = Wording(count=2), Tolerance(form="unequal", upper=0.1, lower=0.0)
    context.sheet.annotations.append(size.model_copy(update={"wording": words, "tolerance": play}))
    put("datum_feature", (30, 10), (50, 10), context, geometry)
    put("datum_feature", (10, 20), (10, 35), context, geometry)
    row = {"tip": note_tip(size), "view": "v", "id": "f", "below_size": True, "place": PLACE}
    f = ControlFrame.model_validate({**row, "rows": [{"characteristic": "position", "value": 1}]})
    made = registry.changed(f, {"says": line}, context)
    assert isinstance(made, ControlFrame)
    context.sheet.annotations.append(made)
    return geometry, context, made


PLACE: dict[str, Any] = {"model": {"x": 0, "y": 0}, "paper": {"x": 0, "y": 0}}


def note_tip(size: Dimension) -> dict[str, Any]:
    return {"instance": "", "at": {"x": 0.5, "y": 0}, "on": "line", "source": size.id, "role": "size"}


def center(geometry: Any, x: float, y: float) -> Spot:
    spot = edge_at(geometry, (x + 3, y))
    return Spot(spot.pick.model_copy(update={"point": "center"}), (x, y))


# ---- basic sizes -------------------------------------------------------------------------------------------
def test_basic_sizes_that_are_missing_are_listed_placed_and_then_are_there() -> None:
    geometry, context, f = with_position(holes())
    lacks = {(m.letters, round(m.distance, 6)) for m in basic_sizes.lacking(f, context)}
    assert lacks == {("A", 15), ("A", 45), ("B", 20)}  # each of the two holes counts
    found, left = basic_sizes.proposed(f, context, [context], {"v": geometry})
    assert left == 0
    assert sorted(registry.value(s, context) for s in found) == pytest.approx([15, 20, 45])
    assert all(s.wording.basic for s in found)
    context.sheet.annotations.extend(found)
    assert basic_sizes.lacking(f, context) == []
    assert not any("basic size" in s for s in registry.findings(f, context))


def test_a_chain_of_basic_sizes_will_do_and_a_size_with_a_tolerance_will_not() -> None:
    geometry, context, f = with_position(holes())

    def basic(*spots: Spot, at: tuple[float, float], is_basic: bool = True) -> None:
        name = f"b{len(context.sheet.annotations)}"
        made = propose("size", Request(list(spots), at, name), context, dict).annotations[0]
        assert isinstance(made, Dimension)
        context.sheet.annotations.append(made.model_copy(update={"wording": Wording(basic=is_basic)}))

    right, behind = edge_at(geometry, (30, 8)), edge_at(geometry, (-25, 20))
    basic(right, center(geometry, 15, 0), at=(20, -40), is_basic=False)
    assert ("A", 15) in {(m.letters, round(m.distance)) for m in basic_sizes.lacking(f, context)}
    basic(right, center(geometry, 15, 0), at=(20, -40))
    basic(center(geometry, 15, 0), center(geometry, -15, 0), at=(0, -50))
    basic(behind, center(geometry, -15, 0), at=(-50, 10))
    assert basic_sizes.lacking(f, context) == []


def test_what_datums_before_hold_asks_for_nothing_more() -> None:
    """A bore's axis locates; the plane after it only turns (common practice). A ring about it that
    stands square to the plane is located by its bolt circle alone."""
    ring = [[12 * math.cos(math.pi / 2 * k), 12 * math.sin(math.pi / 2 * k)] for k in range(4)]
    plane: dict[str, Any] = {"kind": "hole", "plane": {"origin": [0, 0, 10]}}
    bore = {**plane, "id": "bore", "at": [[0, 0]], "diameter": 12}
    geometry, context = seen(block(60, 40, 10, bore, {**plane, "id": "h", "at": ring, "diameter": 4}))
    hole = edge_at(geometry, (ring[0][0] + 2, ring[0][1]))
    for name, spot, count in (("b", edge_at(geometry, (6, 0)), 1), ("d", hole, 4)):
        made = propose("size", Request([spot], (40, 30), name), context, dict).annotations[0]
        assert isinstance(made, Dimension)
        context.sheet.annotations.append(made.model_copy(update={"wording": Wording(count=count)}))
    (x0, y0), (x1, y1) = registry.size_ink(context.sheet.annotations[0], context).straight()[0]  # type: ignore[arg-type]
    put("datum_feature", ((x0 + x1) / 2, (y0 + y1) / 2), (50, 50), context, geometry)
    put("datum_feature", (30, 10), (50, 10), context, geometry)
    tip = note_tip(context.sheet.annotations[1])  # type: ignore[arg-type]
    f = ControlFrame.model_validate(
        {
            "id": "f",
            "view": "v",
            "tip": tip,
            "place": PLACE,
            "rows": [{"characteristic": "position", "value": 1}],
        }
    )
    f = registry.changed(f, {"says": "pos d0.2 a b"}, context)  # type: ignore[assignment]
    assert {(m.letters, round(m.distance)) for m in basic_sizes.lacking(f, context)} == {("A", 12)}
    picks = [edge_at(geometry, (x + 2, y)).pick for x, y in ring]
    spots = [Spot(p, (0, 0)) for p in picks]
    made = propose("size", Request(spots, (30, -30), "ring"), context, dict).annotations[0]
    assert isinstance(made, Dimension)
    assert registry.value(made, context) == pytest.approx(24)
    context.sheet.annotations.append(made.model_copy(update={"wording": Wording(basic=True)}))
    assert basic_sizes.lacking(f, context) == []


def ring_about(x: float, y: float) -> tuple[Any, Context, ControlFrame]:
    """One hole 9 across and 12 up from a bore at a place, 15 away; a position to the bore alone."""
    plane: dict[str, Any] = {"kind": "hole", "plane": {"origin": [0, 0, 10]}}
    bore = {**plane, "id": "bore", "at": [[x, y]], "diameter": 12}
    far = [[x + 30 + 15 * math.cos(t), y + 15 * math.sin(t)] for t in (0.3, 2.4, 4.5)]
    small = {**plane, "id": "h", "at": [[x + 9, y + 12]], "diameter": 4}
    geometry, context = seen(block(120, 60, 10, bore, small, {**plane, "id": "r", "at": far, "diameter": 3}))
    for name, at in (("b", (x + 6, y)), ("d", (x + 11, y + 12))):
        made = propose("size", Request([edge_at(geometry, at)], (70, 40), name), context, dict).annotations[0]
        context.sheet.annotations.append(made)
    (x0, y0), (x1, y1) = registry.size_ink(context.sheet.annotations[0], context).straight()[0]  # type: ignore[arg-type]
    put("datum_feature", ((x0 + x1) / 2, (y0 + y1) / 2), (80, 60), context, geometry)
    tip = note_tip(context.sheet.annotations[1])  # type: ignore[arg-type]
    row = [{"characteristic": "position", "shape": "Ø", "value": 0.2, "datums": [{"letters": "A"}]}]
    f = ControlFrame.model_validate({"id": "f", "view": "v", "tip": tip, "place": PLACE, "rows": row})
    spots = [edge_at(geometry, (a + 1.5, b)) for a, b in far]
    return (geometry, far, spots), context, f


def test_a_size_along_one_direction_does_not_say_a_distance_along_two() -> None:
    (geometry, _, _), context, f = ring_about(-30, -10)

    def basic(direction: str, at: tuple[float, float]) -> None:
        ends = [edge_at(geometry, p) for p in ((-24, -10), (-19, 2))]
        picks = [s.pick.model_copy(update={"point": "center"}).model_dump() for s in ends]
        data = {"id": direction, "view": "v", "picks": picks, "place": PLACE, "direction": direction}
        linear = registry.KINDS["linear"].data.model_validate({**data, "wording": {"basic": True}})
        context.sheet.annotations.append(linear)

    assert [round(m.distance) for m in basic_sizes.lacking(f, context)] == [15]
    basic("horizontal", (0, 50))
    assert [round(m.distance) for m in basic_sizes.lacking(f, context)] == [15]
    basic("vertical", (50, 0))
    assert basic_sizes.lacking(f, context) == []


def test_a_bolt_circle_about_another_axis_says_nothing_of_this_one() -> None:
    (_, _, spots), context, f = ring_about(-30, -10)
    made = propose("size", Request(spots, (60, -40), "ring"), context, dict).annotations[0]
    assert isinstance(made, Dimension)
    assert registry.value(made, context) == pytest.approx(30)  # as far as the hole is from its datum
    context.sheet.annotations.append(made.model_copy(update={"wording": Wording(basic=True)}))
    assert [round(m.distance) for m in basic_sizes.lacking(f, context)] == [15]


def wedge(angle: float) -> Model:
    """A prism whose right side leans in from its foot by an angle to its base, degrees."""
    lean = 20 / math.tan(math.radians(angle))
    corners = [[40, -10], [40 - lean, 10], [-40, 10]]
    profile = {"start": [-40, -10], "to": [{"line": p} for p in corners]}
    return part([{"id": "w", "kind": "extrude", "profile": profile, "depth": 30}])


@given(st.integers(25, 80))
@settings(max_examples=6, deadline=None)
def test_a_slanted_plane_lacks_its_angle_until_a_basic_one_says_it(angle: int) -> None:
    lean = 20 / math.tan(math.radians(angle))
    geometry, context = seen(wedge(angle))
    base, side = (0.0, -10.0), (40 - lean / 2, 0.0)
    put("datum_feature", base, (0, -30), context, geometry)
    f = put("control_frame", side, (70, 20), context, geometry, line="prof 0.1 a")
    assert [m for m in basic_sizes.lacking(f, context) if m.angle]
    (said,) = [s for s in registry.findings(f, context) if "basic size" in s]
    assert said == f"No basic size says the {angle}° from A."
    (size,), left = basic_sizes.proposed(f, context, [context], {"v": geometry})
    assert left == 0
    assert math.degrees(registry.value(size, context)) == pytest.approx(angle)
    plain = size.model_copy(update={"wording": Wording()})
    context.sheet.annotations.append(plain)
    assert len(basic_sizes.lacking(f, context)) == 1  # an angle with a tolerance locates nothing
    context.sheet.annotations[-1] = size
    assert basic_sizes.lacking(f, context) == []


def test_lengths_to_both_ends_of_a_slant_say_its_angle() -> None:
    geometry, context = seen(wedge(50))
    put("datum_feature", (0, -10), (0, -30), context, geometry)
    f = put(
        "control_frame",
        (40 - 10 / math.tan(math.radians(50)), 0),
        (70, 20),
        context,
        geometry,
        line="prof 0.1 a",
    )
    side = edge_at(geometry, (40 - 10 / math.tan(math.radians(50)), 0)).pick
    ends = [side.model_copy(update={"point": p}).model_dump() for p in ("start", "end")]
    for direction in ("vertical", "horizontal"):
        assert len(basic_sizes.lacking(f, context)) == 1
        data = {"id": direction, "view": "v", "picks": ends, "place": PLACE, "direction": direction}
        linear = registry.KINDS["linear"].data.model_validate({**data, "wording": {"basic": True}})
        context.sheet.annotations.append(linear)
    assert basic_sizes.lacking(f, context) == []


def about_a_bore(turns: list[float], datum: float) -> tuple[Any, Context, ControlFrame]:
    """Holes 20 from a bore, turned from the x axis; a position to face, bore and a hole that keeps the part
    from turning."""
    plane: dict[str, Any] = {"kind": "hole", "plane": {"origin": [0, 0, 10]}}

    def at(turn: float) -> list[float]:
        return [20 * math.cos(math.radians(turn)), 20 * math.sin(math.radians(turn))]

    bore = {**plane, "id": "bore", "at": [[0, 0]], "diameter": 12}
    pin = {**plane, "id": "pin", "at": [at(datum)], "diameter": 3}
    ring = {**plane, "id": "h", "at": [at(t) for t in turns], "diameter": 5}
    geometry, context = seen(block(80, 60, 10, bore, pin, ring))
    for name, (x, y), r, count in (
        ("b", (0.0, 0.0), 6, 1),
        ("c", at(datum), 1.5, 1),
        ("d", at(turns[0]), 2.5, len(turns)),
    ):
        spot = edge_at(geometry, (x + r, y))
        at = {"b": (60, 40), "c": (52, -45), "d": (-60, 40)}[name]
        made = propose("size", Request([spot], at, name), context, dict).annotations[0]
        assert isinstance(made, Dimension)
        context.sheet.annotations.append(made.model_copy(update={"wording": Wording(count=count)}))
    for size in context.sheet.annotations[:2]:
        (x0, y0), (x1, y1) = registry.size_ink(size, context).straight()[0]  # type: ignore[arg-type]
        put("datum_feature", ((x0 + x1) / 2, (y0 + y1) / 2), (80, 60), context, geometry)
    tip = note_tip(context.sheet.annotations[2])  # type: ignore[arg-type]
    row = [
        {
            "characteristic": "position",
            "shape": "Ø",
            "value": 0.2,
            "datums": [{"letters": "A"}, {"letters": "B"}],
        }
    ]
    f = ControlFrame.model_validate({"id": "f", "view": "v", "tip": tip, "place": PLACE, "rows": row})
    return geometry, context, f


@pytest.mark.parametrize(
    ("turns", "lacks"),
    [
        ([35.0], 35.0),
        ([90.0], None),
        ([0.0, 120.0, 240.0], None),
        ([45.0, 135.0, 225.0, 315.0], 45.0),
        ([20.0, 140.0, 260.0], 20.0),
        ([0.0, 50.0], 50.0),
    ],
)
def test_what_lies_about_a_bore_lacks_its_angle_to_what_keeps_it_from_turning(
    turns: list[float], lacks: float | None
) -> None:
    """Right angles and equal steps need no size (ISO 129-1, ASME Y14.5)."""
    geometry, context, f = about_a_bore(turns, 0.0)
    missing = [m for m in basic_sizes.lacking(f, context) if m.angle]
    assert [math.degrees(m.angle) for m in missing] == (pytest.approx([lacks]) if lacks else [])
    sizes, left = basic_sizes.proposed(f, context, [context], {"v": geometry})
    angles = [s for s in sizes if s.kind == "angle"]
    assert len(angles) == len(missing)
    context.sheet.annotations.extend(sizes)
    assert [m for m in basic_sizes.lacking(f, context) if m.angle] == []
    assert left == 0


# ---- boundaries and fasteners ------------------------------------------------------------------------------
def test_boundaries_are_of_the_size_that_the_frame_is_on() -> None:
    _, context, f = with_position(holes())
    found = frame_meaning.meaning(f, context)
    assert found.sized.is_internal
    assert (found.sized.least, found.sized.most) == pytest.approx((6.0, 6.1))
    assert (found.bounds.virtual, found.bounds.outer) == pytest.approx((5.8, 6.4))
    assert found.bonus[0] == pytest.approx((6.0, 0.2))
    assert found.bonus[-1] == pytest.approx((6.1, 0.3))
    assert found.square == pytest.approx(0.2 / (2 * math.sqrt(2)))
    part = frame_meaning.measured(f, context, 6.05, (0.1, 0.05))
    assert part.off == pytest.approx(2 * math.hypot(0.1, 0.05))
    assert part.allowed == pytest.approx(0.25)
    assert part.passes
    assert frame_meaning.measured(f, context, 6.0, (0.1, 0.05)).passes is False
    with pytest.raises(SizeError, match="measured size is needed"):
        frame_meaning.measured(f, context, None, (0.1, 0.05))
    flat = registry.changed(f, {"says": "pos d0.2 a b"}, context)
    assert isinstance(flat, ControlFrame)
    assert frame_meaning.meaning(flat, context).bounds.virtual is None


def test_a_slot_is_internal_and_a_plate_is_not() -> None:
    geometry, context = on_plate()
    wide = put("control_frame", (20, -40), (0, -46), context, geometry, line="sym 0.1 k")
    context.drawing.profile.__dict__["general_tolerance"] = "ISO 2768-m"
    assert not frame_meaning.sized_of(wide, context).is_internal


def fastened(clearance: float, threaded: bool) -> tuple[Context, ControlFrame]:
    """Two plates and a screw of 6 through both, or held in the lower one; the upper hole's frame."""

    def plate(diameter: float, thread: bool) -> dict[str, Any]:
        hole: dict[str, Any] = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[0, 0]]}
        hole |= {"thread": "M6"} if thread else {"diameter": diameter}
        base = {"id": "b", "kind": "extrude", "profile": {"width": 60, "height": 40}, "depth": 10}
        return {"moorcrest": "part", "version": 1, "name": "Plate", "features": [base, hole]}

    pin = {"id": "p", "kind": "extrude", "profile": {"diameter": 6}, "depth": 20}
    parts = {
        "up": plate(clearance, False),
        "low": plate(clearance, threaded),
        "pin": {"moorcrest": "part", "version": 1, "name": "Screw", "features": [pin]},
    }
    at = {"up": 0, "low": -10, "pin": -10}
    instances = [{"id": k, "part": k, "at": {"origin": [0, 0, z]}} for k, z in at.items()]
    recipe = {"moorcrest": "assembly", "version": 1, "name": "A", "parts": parts, "instances": instances}
    model = build_model(validate_recipe(recipe))
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=100, y=100))
    sheet = Sheet(id="s", size="A3", views=[view])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    part = model.facts.part_of("up")[1]  # type: ignore[index]
    rim = next(e for e in part.edges if e.kind == "circle" and abs(e.start[2] - 10) < 1e-9)
    size = {"kind": "diameter", "id": "d", "view": "v", "place": PLACE}
    size |= {"picks": [{"instance": "up", "source": rim.name}], "tolerance": {"form": "equal", "upper": 0.1}}
    row = {"characteristic": "position", "shape": "Ø", "value": 0.1, "modifier": "M"}
    tip = {"instance": "", "at": {"x": 0.5, "y": 0}, "on": "line", "source": "d", "role": "size"}
    frame = {"kind": "control_frame", "id": "f", "view": "v", "rows": [row], "tip": tip, "place": PLACE}
    placing = Place.model_validate({"command": "place", "annotations": [size, frame]})
    drawing = applied(drawing, placing, model.facts)
    context = Context(drawing, drawing.sheets[0], model.facts, drawing.sheets[0].views[0])
    made = drawing.sheets[0].annotation("f")
    assert isinstance(made, ControlFrame)
    return context, made


def test_a_fastener_of_the_assembly_asks_for_its_zones() -> None:
    context, f = fastened(6.6, threaded=False)
    found = frame_meaning.fastening(f, context)
    assert (found.called, found.greatest, found.is_fixed) == ("Screw", pytest.approx(6.0), False)
    # the upper hole is 6.5 at its least, as drawn; the lower one has no limits drawn: nominal
    zones = {h.path: zone for h, zone in divided(found, 0.5, True)}
    assert zones == {"up": pytest.approx(0.5), "low": pytest.approx(0.6)}


def test_a_fastener_that_a_part_holds_divides_the_clearance() -> None:
    context, f = fastened(6.6, threaded=True)
    found = frame_meaning.fastening(f, context)
    assert found.is_fixed
    zones = {h.path: zone for h, zone in divided(found, 0.6, True)}
    assert zones == {"up": pytest.approx(0.3), "low": pytest.approx(0.2)}
    leaning = {h.path: zone for h, zone in divided(found, 0.6, False, 10.0)}
    assert leaning["low"] == pytest.approx(0.2 / (1 + 2 * 10 / 10))
    assert frame_meaning.with_zone(f.rows, 0.3, 10.0)[0].projected == 10.0
    said = frame_meaning.said_fastening(f, context, 6.2, True)
    assert [z for _, z in divided(said, 0.5, True)] == pytest.approx([0.15, 0.15])
    with pytest.raises(SizeError, match="does not pass"):
        divided(frame_meaning.said_fastening(f, context, 7.0, False), 0.5, True)


# ---- general tolerances ------------------------------------------------------------------------------------
def test_general_tolerances_hold_where_nothing_is_said() -> None:
    """ISO 2768-2 K (memory): 60 long flat within 0.2; the shorter side of a side face is 10: square within
    0.4."""
    geometry, context = on_plate()
    profile = ISO_MM.model_copy(update={"general_tolerance": "ISO 2768-mK"})
    (key,) = context.facts.parts
    part = context.facts.parts[key]
    none = generally.generally(key, part, profile, {})
    assert none["b/end"] == "flatness 0,2, perpendicularity 0,4 (ISO 2768-2, K)"
    put("control_frame", (30, 10), (50, 30), context, geometry, line="flat 0.02")
    drawing = context.drawing.model_copy(update={"sheets": [context.sheet]})
    said = generally.stated(drawing, context.facts)
    ((_, face),) = said
    after = generally.generally(key, part, profile, said)
    assert after[face] == "perpendicularity 0,4 (ISO 2768-2, K)"
    whole = profile.model_copy(update={"general_tolerance": "ISO 22081 ⌓ 0,5"})
    assert set(generally.generally(key, part, whole, {}).values()) == {"profile 0,5 (ISO 22081)"}
    assert face not in generally.generally(key, part, whole, said)
    assert generally.generally(key, part, profile.model_copy(update={"general_tolerance": ""}), {}) == {}


def test_only_what_meets_a_plane_squarely_is_said_to_be_square() -> None:
    profile = ISO_MM.model_copy(update={"general_tolerance": "ISO 2768-mK"})
    rod = part([{"id": "r", "kind": "extrude", "profile": {"diameter": 20}, "depth": 40}])
    (facts,) = rod.facts.parts.values()
    told = generally.generally("r", facts, profile, {})
    assert told["r/end"] == "flatness 0,1 (ISO 2768-2, K)"  # it meets nothing plane
    (facts,) = block(60, 40, 10).facts.parts.values()
    assert "perpendicularity" in generally.generally("b", facts, profile, {})["b/end"]


# ---- faces within ------------------------------------------------------------------------------------------
@pytest.mark.parametrize("look", ["plain", *DISGUISES])
@pytest.mark.parametrize("number", ["HB-204", "HB-205", "HB-206"])
def test_the_face_that_is_seen_is_the_one_that_a_ray_meets_first(
    number: str, look: str, tmp_path: Path
) -> None:
    """Against the kernel's rays: what is told is what they meet, and nearly all is told."""
    model = demo(number)
    if look != "plain":
        change, unit = DISGUISES[look]
        (shape,) = model.shapes.values()
        model = written(change(shape), tmp_path, unit)
    (instance,) = model.facts.instances
    rays = IntCurvesFace_ShapeIntersector()
    rays.Load(model.shapes[instance.part], 1e-7)
    r = np.random.default_rng(5)
    told: Counter[str] = Counter()
    met: Counter[str] = Counter()
    for orientation in (PRINCIPAL["front"], PRINCIPAL["top"], isometric(PRINCIPAL["front"])):
        view = View(id="v", kind="main", orientation=orientation, position=Point(x=0, y=0))
        sheet = Sheet(id="s", size="A3", views=[view])
        drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
        context = Context(drawing, sheet, model.facts, view)
        right, up, toward = np.asarray(context.frame.matrix)
        reach = float(np.linalg.norm(np.array(model.facts.high) - model.facts.low))
        for _ in range(40):
            place = r.uniform(-reach / 2, reach / 2, 2) * 0.7
            eye = context.frame.middle + right * place[0] + up * place[1] + toward * reach
            rays.Perform(gp_Lin(gp_Pnt(*eye.tolist()), gp_Dir(*(-toward).tolist())), -1e9, 1e9)
            hits = [rays.WParameter(n + 1) for n in range(rays.NbPnt())]
            found = face_seen(instance.path, place, context)
            if not hits:
                assert found is None
                continue
            first = min(range(len(hits)), key=lambda n: hits[n])
            kind = BRepAdaptor_Surface(rays.Face(first + 1)).GetType().name.removeprefix("GeomAbs_").lower()
            if found is not None:
                assert off_surface(found, eye - toward * hits[first]) < 1e-4
                told[found.kind] += 1
            met[kind] += 1
    assert told.total() > 0.9 * met.total()


def off_surface(face: FaceFact, at: Any) -> float:
    """How far a place lies off the surface of a face, mm."""
    off, axis = at - np.array(face.origin), np.array(face.axis)
    if face.kind == "plane":
        return abs(float(off @ axis))
    away = float(np.linalg.norm(off - axis * float(off @ axis)))
    if face.kind == "cylinder":
        return abs(away - face.radius)
    assert face.kind == "cone"
    slope = abs(math.tan(face.half_angle))
    return abs(away - slope * abs(float(off @ axis))) / math.hypot(1.0, slope)


def test_a_cone_that_is_pointed_at_is_reduced_to_its_apex_whatever_its_writer_measured_it_by() -> None:
    sunk = {"diameter": 12, "angle": 90}
    hole = {"kind": "hole", "id": "h", "plane": {"origin": [0, 0, 10]}, "at": [[0, 0]], "diameter": 4}
    _, context = seen(block(60, 40, 10, {**hole, "countersink": sunk}))
    tip = Tip(instance=context.facts.instances[0].path, at=Point(x=0.5 + 4 / 60, y=0.5), on="face")
    found = feature_at(tip, context)
    assert found.on == "cone"
    assert found.situation.at == pytest.approx([0, 0, 10 - 6])


def test_what_may_be_cut_away_is_not_told() -> None:
    _, context = seen(block(60, 40, 10))
    path = context.facts.instances[0].path
    assert face_seen(path, np.array([5.0, 5.0]), context) is not None
    assert context.view is not None
    outline = [Point(x=x, y=y) for x, y in ((-9, -9), (9, -9), (9, 9), (-9, 9))]
    cut = context.view.model_copy(update={"broken_out": [BrokenOut(outline=outline, depth=2)]})
    assert face_seen(path, np.array([5.0, 5.0]), replace(context, view=cut)) is None


def test_a_frame_on_a_face_knows_what_it_is_on() -> None:
    geometry, context = seen(block(60, 40, 10))
    flat = put("control_frame", (5, 5), (50, 35), context, geometry, line="flat 0.1")
    assert feature_at(flat.tip, context).on == "plane"
    with pytest.raises(CommandError, match="not said of a plane"):
        put("control_frame", (5, 5), (50, 35), context, geometry, line="cyl 0.1")


# ---- as it is picked ---------------------------------------------------------------------------------------
def test_datums_that_are_clicked_go_into_the_frame_in_their_order() -> None:
    geometry, context = on_plate()
    put("datum_feature", (30, 3), (50, 3), context, geometry)
    put("datum_feature", (-20, 20), (-20, 40), context, geometry)
    f = put(
        "control_frame", (-30, 3), (-60, 30), context, geometry, characteristic="parallelism", datums="B A"
    )
    assert [d.letters for d in f.rows[0].datums] == ["B", "A"]


def test_between_indicators_envelopes_and_words_of_its_own() -> None:
    geometry, context = on_plate()
    put("datum_feature", (30, 3), (50, 3), context, geometry)
    f = put("control_frame", (-30, 3), (-60, 30), context, geometry, line="lp 0.1 a[tilted] {int par a}")
    f = registry.changed(f, {"between": "J↔K"}, context)
    assert registry.text(f, context) == "J↔K ⌒ 0,1 A[tilted] {int ∥ A}"
    assert "What [tilted] says of A is in words of its own." in registry.findings(f, context)
    assert [e.text for e in registry.ink(f, context) if isinstance(e, Text)].count("A") == 1
    inch = context.drawing.model_copy(update={"profile": ISO_MM.model_copy(update={"standard": "ASME"})})
    with pytest.raises(CommandError, match="ISO's: say it in a note"):
        registry.check(f, Context(inch, context.sheet, context.facts, context.view))
    (size,) = [a for a in context.sheet.annotations if isinstance(a, Dimension)]
    bound = size.model_copy(update={"wording": Wording(envelope="E")})
    assert registry.text(bound, context).endswith("Ⓔ")
    context.sheet.annotations[:] = [bound if a.id == size.id else a for a in context.sheet.annotations]
    context.drawing.profile.__dict__["general_tolerance"] = "ISO 2768-m"
    under = put("control_frame", (20, -40), (0, -46), context, geometry, line="flat 0.9")
    assert any("says nothing: the size holds" in s for s in registry.findings(under, context))


def test_datums_that_refer_to_each_other_are_told() -> None:
    geometry, context = seen(block(60, 40, 10))
    put("datum_feature", (30, 3), (50, 3), context, geometry)
    put("datum_feature", (10, 20), (10, 40), context, geometry)
    one = put("control_frame", (30, 10), (60, 30), context, geometry, line="perp 0.1 b")
    assert not any("each other" in s for s in registry.findings(one, context))
    two = put("control_frame", (-10, 20), (-60, 40), context, geometry, line="perp 0.1 a")
    words = "The datums A and B refer to each other: none of them comes first."
    assert words in registry.findings(one, context)
    assert "The datums B and A refer to each other: none of them comes first." in registry.findings(
        two, context
    )


def test_a_pattern_as_a_datum_holds_what_all_of_it_holds() -> None:
    """One hole leaves a part to turn about it and to slide along; two, or a pattern of two, only to slide."""
    geometry, context, f = with_position(holes())
    tip = {"source": "d", "instance": "", "at": {"x": 0.5, "y": 0}, "on": "line", "role": "size"}
    datum = registry.KINDS["datum_feature"].data.model_validate(
        {"id": "p", "view": "v", "letter": "C", "tip": tip, "place": PLACE}
    )
    context.sheet.annotations.append(datum)
    row = f.rows[0].model_copy(update={"datums": [DatumReference(letters="C")]})
    both = freedom(row, context)
    (size,) = [a for a in context.sheet.annotations if a.id == "d"]
    one = size.model_copy(update={"wording": Wording()})
    context.sheet.annotations[context.sheet.annotations.index(size)] = one
    alone = freedom(row, context)
    assert both is not None
    assert alone is not None
    assert (both.free, alone.free) == (1, 2)


def test_a_datum_within_a_face_stands_on_the_shoulder_of_a_leader_with_a_dot() -> None:
    """ISO 5459 (memory)."""
    geometry, context = seen(block(60, 40, 10))
    made = put("datum_feature", (5, 5), (50, 35), context, geometry)
    assert feature_at(made.tip, context).on == "plane"
    ink = registry.ink(made, context)
    fills = [np.array(e.points).mean(0) for e in ink if isinstance(e, Fill)]
    assert any(np.allclose(p, (5, 5), atol=0.1) for p in fills)  # the dot
    lines = [e for e in ink if isinstance(e, Line) and e.a[1] == e.b[1]]
    triangle = next(e for e in ink if isinstance(e, Fill) and len(e.points) == 3)
    assert lines[0].a[1] == pytest.approx(min(y for _, y in triangle.points))


def test_forty_frames_stand_under_one_size_one_below_the_other() -> None:
    geometry, context = on_plate()
    frames = [
        put("control_frame", (20, -40), (0, -46), context, geometry, line=f"flat 0.{n + 10}")
        for n in range(40)
    ]
    tops = [
        max(p[1] for e in registry.ink(f, context) if isinstance(e, Polyline) for p in e.points)
        for f in frames
    ]
    steps = np.diff(tops)
    assert steps == pytest.approx(np.full(39, -2 * context.profile.text_height))
    assert any("read more easily" in s for s in registry.findings(frames[-1], context))
    assert not any("read more easily" in s for s in registry.findings(frames[2], context))


ENDS = re.compile(r"[ML](-?[0-9.]+) -?[0-9.]+|A(?:[0-9.]+ ){5}(-?[0-9.]+)")
"""Across, of the ends of lines and arcs in SVG."""
SYMBOL_SIZES = {
    "straightness": (2.0, 0.0),
    "flatness": (2.2, 1.0),
    "circularity": (1.5, 1.5),
    "profile of a line": (2.0, 1.0),
    "profile of a surface": (2.0, 1.0),
    "angularity": (2.0, 2 * math.tan(math.radians(30))),
    "perpendicularity": (2.0, 1.5),
    "position": (2.0, 1.9),
    "concentricity": (1.5, 1.5),
    "symmetry": (2.0, 0.8),
}
"""Width and height by the height of lettering (appendix of ASME Y14.5, ISO 7083; memory)."""


@pytest.mark.parametrize("name", list(SYMBOL_SIZES))
def test_symbols_have_their_size_in_dxf_and_svg(name: Any, tmp_path: Path) -> None:
    h = 3.5
    group = Group("g", "annotation", (50.0, 50.0), symbol(name, (0.0, 0.0), h))
    ink = SheetInk(100.0, 100.0, [group])
    (tmp_path / "s.dxf").write_bytes(sheet_dxf(ink, ISO_MM)[0])
    found = bbox.extents(ezdxf.readfile(tmp_path / "s.dxf").modelspace())
    wide, high = SYMBOL_SIZES[name]
    assert (found.size.x, found.size.y) == pytest.approx((wide * h, high * h), abs=0.05 * h)
    drawn = sheet_svg(ink, ISO_MM).decode().partition('id="g"')[2]
    ends = [float(x) for m in ENDS.finditer(drawn) for x in m.groups() if x]
    assert max(ends) - min(ends) == pytest.approx(wide * h, abs=0.05 * h)


# ---- datum targets -----------------------------------------------------------------------------------------
def target(context: Context, geometry: Any, at: tuple[float, float], **more: Any) -> DatumTarget:
    made = put("datum_target", at, (at[0] + 20, at[1] + 25), context, geometry, **more)
    assert isinstance(made, DatumTarget)
    return made


def test_targets_are_numbered_and_say_what_their_datum_lacks() -> None:
    geometry, context = seen(block(60, 40, 10))
    one = target(context, geometry, (-20, -10))
    two = target(context, geometry, (20, -10), form="circle")
    assert [registry.text(t, context) for t in (one, two)] == ["datum target A1", "datum target A2 Ø8"]
    assert registry.findings(one, context) == ["The target A1 is of a datum A that no symbol names."]
    put("datum_feature", (30, 3), (50, 3), context, geometry)
    assert registry.findings(one, context) == []
    again = one.model_copy(update={"id": "x", "number": 2})
    with pytest.raises(CommandError, match="There is a target A2 already"):
        registry.check(again, context)
    put("control_frame", (-30, 3), (-60, 30), context, geometry, line="par 0.05 a")
    context.sheet.annotations.remove(two)
    assert "three target points" in registry.findings(one, context)[0]


def test_a_targets_symbol_is_by_the_height_of_lettering() -> None:
    geometry, context = seen(block(60, 40, 10))
    h = context.profile.text_height
    made = target(context, geometry, (20, -10), form="rectangle")
    circle = next(e for e in registry.ink(made, context) if isinstance(e, Arc))
    across = [
        e for e in registry.ink(made, context) if isinstance(e, Line) and e.a[1] == e.b[1] == circle.center[1]
    ]
    assert len(across) == 1
    assert circle.radius == pytest.approx(2.2 * h)  # 3.5 to 4.5 heights across (both standards, memory)
    assert math.dist(across[0].a, across[0].b) == pytest.approx(2 * circle.radius)
    area = next(e for e in registry.ink(made, context) if isinstance(e, Polyline) and e.line == "phantom")
    assert np.array(area.points).mean(0) == pytest.approx((20, -10))
    far = made.model_copy(update={"far": True})
    assert any(isinstance(e, Line) and e.line == "hidden" for e in registry.ink(far, context))


@settings(max_examples=25)
@given(st.integers(-40, 40), st.integers(-20, 20), st.sampled_from(["circle", "point", "rectangle"]))
def test_basic_sizes_locate_targets(x: int, y: int, form: str) -> None:
    geometry, context = seen(block(100, 60, 10))
    made = target(context, geometry, (x + 0.1, y - 0.2), form=form)
    assert (made.x, made.y) == (x, y)  # clicked places are whole and half millimeters
    point: Any = {"circle": "center", "point": "middle", "rectangle": "start"}[form]
    source = made.id if form != "rectangle" else f"{made.id}#0"
    spot = Spot(Pick(instance="", source=source, role="added", point=point), (x, y))
    edge = edge_at(geometry, (50, 8))
    found = propose("size", Request([edge, spot], (0, 60), "s"), context, dict).annotations[0]
    assert isinstance(found, Dimension)
    left = made.wide / 2 if form == "rectangle" else 0.0
    assert registry.value(found, context) == pytest.approx(50 - x + left)
