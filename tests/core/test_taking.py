"""The Size tool's rule: what is picked decides the kind, the pointer the direction, and every size reads the
recipe's parameter."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.measuring.points import points
from drafting.annotation.proposing import size_tool
from drafting.annotation.proposing.size_tool import Proposal
from drafting.document import Pick, Point, Source, View
from drafting.errors import SizeError
from drafting.model.model import EdgeFact, Facts, Model
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL, Orientation, isometric
from tests.core.conftest import block, part
from tests.core.contexts import seen_in

PROFILES = st.sampled_from([ISO_MM, ASME_INCH])
SCALES = st.sampled_from([0.1, 0.5, 1.0, 2.0, 5.0])


def seen(facts: Facts, o: Orientation, scale: float = 1.0) -> ViewFrame:
    return ViewFrame.of(
        View(
            id="v",
            kind="main" if o in PRINCIPAL.values() else "pictorial",
            orientation=o,
            position=Point(x=0, y=0),
        ),
        facts,
        scale,
    )


def take(
    facts: Facts,
    frame: ViewFrame,
    *picks: Pick,
    at: tuple[float, float] = (0, -60),
    option: str = "",
    scale: float = 1.0,
    profile: Profile = ISO_MM,
) -> Proposal:
    return size_tool.proposed(
        picks,
        np.array(at, float),
        option,
        "d",
        seen_in(facts=facts, frame=frame, scale=scale, profile=profile),
    )


def value(found: Proposal, facts: Facts, frame: ViewFrame) -> float:
    return registry.value(found.size, seen_in(facts=facts, frame=frame))


def edge(source: str, **more: Any) -> Pick:
    return Pick(instance="part", source=source, **more)


def only(facts: Facts, *, kind: str, **near: Any) -> EdgeFact:
    """The edges of a kind whose facts are as given; the first by name."""
    found = [
        e
        for e in facts.parts["part"].edges
        if e.kind == kind and all(getattr(e, k) == pytest.approx(v, abs=1e-6) for k, v in near.items())
    ]
    return min(found, key=lambda e: e.name)


def plate(width: float, height: float, lean: float, radius: float, broken: float, slot: float) -> Model:
    """A plate 10 thick, in the x-y plane: one side leaning (degrees from upright), one corner rounded, one
    broken at 45 degrees, a slot in it."""
    run, half = height * math.tan(math.radians(lean)), radius * math.sqrt(0.5)
    profile = {
        "start": [0, 0],
        "to": [
            {"line": [width - broken, 0], "name": "low"},
            {"line": [width, broken], "name": "broken"},
            {"line": [width, height - radius], "name": "right"},
            {
                "arc": [width - radius, height],
                "through": [width - radius + half, height - radius + half],
                "name": "round",
            },
            {"line": [run, height], "name": "high"},
            {"line": [0, 0], "name": "lean"},
        ],
    }
    cut = {
        "id": "s",
        "kind": "slot",
        "plane": {"origin": [width * 0.55, height * 0.45, 10]},
        "center": [0, 0],
        "length": slot,
        "width": slot / 2,
    }
    return part([{"id": "p", "kind": "extrude", "profile": profile, "depth": 10}, cut])


@given(
    st.floats(60, 140).map(round),
    st.floats(40, 90).map(round),
    st.floats(5, 25).map(round),
    st.floats(4, 12).map(lambda v: round(v, 1)),
    st.floats(2, 8).map(lambda v: round(v, 1)),
    st.floats(10, 18).map(round),
    SCALES,
    PROFILES,
)
@settings(max_examples=12)
def test_every_kind_reads_the_recipes_parameter_in_every_view_scale_and_standard(
    width: float,
    height: float,
    lean: float,
    radius: float,
    broken: float,
    slot: float,
    scale: float,
    profile: Profile,
) -> None:
    facts = plate(width, height, lean, radius, broken, slot).facts
    low, right, tilt = edge("p/end|p/side.low"), edge("p/end|p/side.right"), edge("p/end|p/side.lean")
    top, rear, iso = (
        seen(facts, o, scale) for o in (PRINCIPAL["top"], PRINCIPAL["bottom"], isometric(PRINCIPAL["top"]))
    )
    end = next(
        e
        for e in facts.parts["part"].edges
        if e.kind == "circle" and e.radius == pytest.approx(slot / 4) and e.center and e.center[2] == 10
    )
    for frame in (top, rear, iso):

        def read(*picks: Pick, option: str = "", frame: ViewFrame = frame) -> float:
            found = take(facts, frame, *picks, option=option, scale=scale, profile=profile)
            assert registry.size_ink(
                found.size, seen_in(facts=facts, frame=frame, profile=profile, scale=scale)
            ).lettering
            return value(found, facts, frame)

        assert read(low, option="length") == pytest.approx(width - broken)
        assert read(edge("p/end|p/side.round")) == pytest.approx(radius)
        assert read(edge("p/end|p/side.round"), option="diameter") == pytest.approx(2 * radius)
        assert read(edge("p/end|p/side.round"), option="chord") == pytest.approx(radius * math.sqrt(2))
        assert read(edge("p/end|p/side.round"), option="included angle") == pytest.approx(math.pi / 2)
        assert read(edge("p/end|p/side.broken"), option="chamfer") == pytest.approx(broken)
        assert read(edge(end.name), option="slot width") == pytest.approx(slot / 2)
        assert read(edge(end.name), option="slot over centers") == pytest.approx(slot)
        corners = [edge("p/end|p/side.low", point=p) for p in ("start", "end")]
        assert read(*corners) == pytest.approx(width - broken)
    for frame in (top, rear):
        assert value(
            take(facts, frame, edge("p/end|p/side.round"), option="arc length", scale=scale), facts, frame
        ) == pytest.approx(radius * math.pi / 2)
        assert value(
            take(facts, frame, edge(end.name), option="slot overall", scale=scale), facts, frame
        ) == pytest.approx(1.5 * slot)
        # overall, from the leaning foot to the right side, and to the theoretical corners that the round and
        # the break have taken away
        sharp = edge(
            "p/end|p/side.right", point="crossing", other=Source(instance="part", source="p/end|p/side.high")
        )
        foot = edge(
            "p/end|p/side.low", point="crossing", other=Source(instance="part", source="p/end|p/side.lean")
        )
        assert value(
            take(facts, frame, foot, sharp, option="vertical", scale=scale), facts, frame
        ) == pytest.approx(height)
        assert value(
            take(facts, frame, foot, sharp, option="horizontal", scale=scale), facts, frame
        ) == pytest.approx(width)
    leaning = {
        round(math.degrees(value(take(facts, top, low, tilt, at=p, scale=scale), facts, top)), 6)
        for p in ((0, -400), (0, 400), (-400, 0), (400, 0))
    }
    assert leaning == {round(90.0 - lean, 6), round(90.0 + lean, 6)}  # its four sectors hold two angles
    steep = {
        round(math.degrees(value(take(facts, top, right, tilt, at=p, scale=scale), facts, top)), 6)
        for p in ((0, -4000), (0, 4000), (-4000, 0), (4000, 0))
    }
    assert steep == {round(float(lean), 6), round(180.0 - lean, 6)}


def test_the_pointer_chooses_between_aligned_horizontal_and_vertical() -> None:
    facts = block(80, 60, 10).facts
    f = seen(facts, PRINCIPAL["top"])
    pair = (edge("b/end|b/side.bottom", point="start"), edge("b/end|b/side.top", point="start"))
    ends = sorted(float(f.flat(np.array(p))[0]) for p in ((-40, 0, 0), (40, 0, 0)))
    assert ends == [-40, 40]
    assert value(take(facts, f, *pair, at=(0, -50)), facts, f) == pytest.approx(80)
    assert value(take(facts, f, *pair, at=(70, 0)), facts, f) == pytest.approx(60)
    assert value(take(facts, f, *pair, at=(60, 45)), facts, f) == pytest.approx(100)
    assert take(facts, f, *pair, at=(60, 45), option="vertical").size.direction == "vertical"  # type: ignore[union-attr]


def test_angle_of_three_points_and_its_refusals() -> None:
    facts = block(80, 60, 10).facts
    f = seen(facts, PRINCIPAL["top"])
    low, left = "b/end|b/side.bottom", "b/end|b/side.left"
    corner = edge(low, point="crossing", other=Source(instance="part", source=left))
    far = [edge(low, point=p) for p in ("start", "end")]
    across = max(
        far,
        key=lambda p: float(
            np.linalg.norm(
                size_tool.measure.point_of(p, seen_in(facts, f))
                - size_tool.measure.point_of(corner, seen_in(facts, f))
            )
        ),
    )
    up = max(
        (edge(left, point=p) for p in ("start", "end")),
        key=lambda p: size_tool.measure.point_of(p, seen_in(facts, f))[1],
    )
    found = take(facts, f, across, corner, up)
    assert (found.name, value(found, facts, f)) == ("angle of three points", pytest.approx(math.pi / 2))
    with pytest.raises(SizeError, match="in one line"):
        take(facts, f, far[0], edge(low, point="middle"), far[1])
    with pytest.raises(SizeError, match="picked twice"):
        take(facts, f, edge(low), edge(low))
    assert value(take(facts, f, edge(low, point="middle")), facts, f) == pytest.approx(
        80
    )  # a point alone stands for what it lies on
    with pytest.raises(SizeError, match="no size"):
        take(facts, f, corner)
    with pytest.raises(SizeError, match="no longer in the model"):
        take(facts, f, edge("gone"))


@given(
    st.floats(10, 60).map(round),
    st.floats(62, 90).map(round),
    st.floats(4, 9).map(lambda v: round(v, 1)),
    PROFILES,
)
@settings(max_examples=8)
def test_turned_parts_read_diameters_on_side_views_and_their_halves(
    small: float, large: float, cone: float, profile: Profile
) -> None:
    shape = {
        "start": [0, 0],
        "to": [
            {"line": [0, small / 2], "name": "a"},
            {"line": [30, small / 2], "name": "neck"},
            {"line": [30, large / 2], "name": "shoulder"},
            {"line": [70, large / 2], "name": "body"},
            {"line": [70 + cone, large / 2 - cone], "name": "break"},
            {"line": [70 + cone, 0], "name": "end"},
        ],
    }
    facts = part([{"id": "r", "kind": "revolve", "profile": shape}]).facts
    f = seen(facts, PRINCIPAL["front"])
    for name, d in (("neck", small), ("body", large)):
        outline = Pick(instance="part", source=f"r/side.{name}", role="silhouette", side=1)
        axis = Pick(instance="part", source=f"r/side.{name}", role="silhouette", side=0)
        for pick in (outline, axis):
            found = take(facts, f, pick, profile=profile)
            assert (found.name, value(found, facts, f)) == ("diameter", pytest.approx(d))
            assert registry.text(found.size, seen_in(facts=facts, frame=f, profile=profile)).startswith("Ø")
        half = take(facts, f, outline, option="symmetric half", profile=profile)
        assert value(half, facts, f) == pytest.approx(d)
        assert (
            len(
                registry.size_ink(half.size, seen_in(facts=facts, frame=f, profile=profile, scale=1.0)).arrows
            )
            == 1
        )
        both = take(facts, f, outline, outline.model_copy(update={"side": -1}), profile=profile)
        assert registry.text(both.size, seen_in(facts=facts, frame=f, profile=profile)).startswith("Ø")
    edge_on = next(
        e for e in facts.parts["part"].edges if e.kind == "circle" and e.radius == pytest.approx(small / 2)
    )
    assert value(take(facts, f, edge(edge_on.name), profile=profile), facts, f) == pytest.approx(small)
    broken = take(
        facts,
        f,
        Pick(instance="part", source="r/side.break", role="silhouette", side=1),
        option="chamfer",
        profile=profile,
    )
    assert value(broken, facts, f) == pytest.approx(cone)
    text = registry.text(broken.size, seen_in(facts=facts, frame=f, profile=profile))
    assert text.endswith("×45°" if profile.standard == "ISO" else " X 45°")


def test_two_circles_give_center_nearest_and_farthest_distances() -> None:
    holes = {
        "id": "h",
        "kind": "hole",
        "plane": {"origin": [0, 0, 10]},
        "at": [[-20, 0], [10, 0]],
        "diameter": 8,
    }
    facts = block(80, 40, 10, holes).facts
    f = seen(facts, PRINCIPAL["top"])
    pair = [edge(f"b/end|h/bore@{n}") for n in (1, 2)]
    for option, d in (("distance", 30), ("nearest", 22), ("farthest", 38)):
        found = take(facts, f, *pair, option=option)
        assert value(found, facts, f) == pytest.approx(d)
        ink = registry.size_ink(found.size, seen_in(facts=facts, frame=f, profile=ISO_MM, scale=1.0))
        assert ink.definition is not None
        assert ink.definition.scale == 1.0  # what is drawn is what is said
    assert value(
        take(facts, f, edge("b/end|b/side.left"), pair[0], option="nearest"), facts, f
    ) == pytest.approx(16)
    assert value(
        take(facts, f, pair[0], edge("b/end|b/side.left"), option="farthest"), facts, f
    ) == pytest.approx(24)


def test_a_foreshortened_length_offers_the_true_value_and_says_so() -> None:
    """A face leaning 30 degrees back: seen from the front its edge of 40 is drawn 40 cos 30."""
    shape = {
        "start": [0, 0],
        "to": [
            {"line": [40, 0], "name": "a"},
            {"line": [40 + 20, 40 * math.cos(math.pi / 6)], "name": "lean"},
            {"line": [0, 40 * math.cos(math.pi / 6)], "name": "c"},
            {"line": [0, 0], "name": "d"},
        ],
    }
    facts = part([{"id": "w", "kind": "extrude", "profile": shape, "depth": 30}]).facts
    side = seen(facts, PRINCIPAL["right"])
    slant = edge("w/end|w/side.lean")
    found = take(facts, side, slant, at=(40, 40), option="length")
    assert value(found, facts, side) == pytest.approx(40)
    assert "true length" in found.note
    shown = take(facts, side, slant, at=(40, 40), option="horizontal")
    assert value(shown, facts, side) == pytest.approx(40 * math.cos(math.pi / 6))
    assert shown.note == ""
    ends = [edge("w/end|w/side.lean", point=p) for p in ("start", "end")]
    assert value(take(facts, side, *ends, option="true distance"), facts, side) == pytest.approx(40)


def test_pickable_points_of_a_view_with_sharp_corners_and_tangent_points() -> None:
    model = plate(100, 60, 10, 8, 4, 12)
    geometry = derive(Prepared(model), Derivation(orientation=PRINCIPAL["top"]))
    f = seen(model.facts, PRINCIPAL["top"])
    found = points(geometry, seen_in(facts=model.facts, frame=f))
    middle = np.array([50.0, 30.0])
    at = {
        kind: [(p.x + middle[0], p.y + middle[1]) for p in found if p.kind == kind]
        for kind in {p.kind for p in found}
    }

    def has(kind: str, x: float, y: float) -> bool:
        return any(math.dist(p, (x, y)) < 1e-6 for p in at.get(kind, []))

    assert has("sharp corner", 100, 60)  # where the sides would meet but for the round
    assert has("sharp corner", 100, 0)  # and but for the broken corner
    assert has("tangent point", 100, 52)
    assert has("tangent point", 92, 60)
    assert has("center", 92, 52)
    assert has("end", 0, 0)
    assert has("middle", 48, 0)
    for p in found:  # each pick stands for the place it is shown at
        assert f.flat(size_tool.measure.point_of(p.pick, seen_in(model.facts, f))) == pytest.approx(
            [p.x, p.y], abs=1e-6
        )
    assert len({(round(p.x, 4), round(p.y, 4)) for p in found}) == len(found)


def test_a_radius_whose_center_is_off_the_sheet_is_jogged_and_drags_back() -> None:
    shape = {
        "start": [-40, 0],
        "to": [
            {"line": [40, 0], "name": "a"},
            {"line": [40, 20], "name": "b"},
            {"arc": [-40, 20], "through": [0, 22], "name": "crown"},
            {"line": [-40, 0], "name": "d"},
        ],
    }
    facts = part([{"id": "w", "kind": "extrude", "profile": shape, "depth": 10}]).facts
    f = seen(facts, PRINCIPAL["top"])
    pick = edge("w/end|w/side.crown")
    radius = 2 / 2 + 40**2 / (2 * 2)
    for room, jogged in (((-200.0, -150.0, 200.0, 150.0), True), ((-1000.0, -1000.0, 1000.0, 1000.0), False)):
        found = size_tool.proposed(
            [pick],
            np.array([3.0, -5.0]),
            "radius",
            "d",
            seen_in(facts=facts, frame=f, scale=1.0, profile=ISO_MM),
            room,
        )
        assert value(found, facts, f) == pytest.approx(radius)
        assert found.size.jogged is jogged  # type: ignore[union-attr]


@given(st.floats(2, 8).map(lambda v: round(v, 1)), st.sampled_from([-1, 1]), st.booleans())
@settings(max_examples=6)
def test_turned_fillets_and_rounds_read_their_radius_from_the_side(
    radius: float, side: int, hollow: bool
) -> None:
    """A shoulder from 20 to 40 with a fillet (hollow) or a round: the outline is the turned arc."""
    turn = radius * (1 - math.sqrt(0.5))
    start, end, through = (
        ([40 - radius, 20], [40, 20 + radius], [40 - turn, 20 + turn])
        if hollow
        else ([40, 40 - radius], [40 + radius, 40], [40 + turn, 40 - turn])
    )
    to: list[dict[str, Any]] = [
        {"line": [0, 20], "name": "a"},
        {"line": [start[0], start[1]] if hollow else [40, 20], "name": "neck"},
    ]
    to += [] if hollow else [{"line": start, "name": "shoulder"}]
    to += (
        [{"arc": end, "through": through, "name": "bend"}, {"line": [end[0], 40], "name": "up"}]
        if hollow
        else [{"arc": end, "through": through, "name": "bend"}]
    )
    to += [{"line": [80, 40], "name": "body"}, {"line": [80, 0], "name": "end"}]
    facts = part([{"id": "r", "kind": "revolve", "profile": {"start": [0, 0], "to": to}}]).facts
    f = seen(facts, PRINCIPAL["front"])
    at = f.flat(np.array([through[0], 0.0, 0.0])) + np.array([0.0, side * through[1]])
    (pick,) = size_tool.sided(
        [(Pick(instance="part", source="r/side.bend", role="silhouette"), (float(at[0]), float(at[1])))],
        seen_in(facts=facts, frame=f),
    )
    found = take(facts, f, pick, at=(0, side * 80.0))
    assert (found.name, value(found, facts, f)) == ("radius", pytest.approx(radius))
    ink = registry.size_ink(found.size, seen_in(facts=facts, frame=f, profile=ISO_MM, scale=1.0))
    assert ink.definition is not None
    center, tip = (np.array(p) for p in ink.definition.points)
    assert math.dist(center, tip) == pytest.approx(radius)
    assert abs(float(center[1])) == pytest.approx(20 + radius if hollow else 40 - radius)
    assert math.copysign(1, float(center[1])) == side
