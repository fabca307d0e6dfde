"""Every kind of size reads the recipe's parameter in sections, details, interrupted and auxiliary views;
turned arcs and spheres from the side."""

import io
import math
from typing import Any

import ezdxf
import ezdxf.recover
import numpy as np
import pytest
from ezdxf.entities import Dimension as DxfDimension
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.inking.breaks import broken
from drafting.annotation.inking.dimension_ink import SizeInk
from drafting.annotation.kinds import chamfer
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.arc_length import ArcLengthDimension
from drafting.annotation.kinds.chamfer import ChamferDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.ordinate import OrdinateDimension
from drafting.annotation.measuring.measure import pick_side, resolve
from drafting.annotation.measuring.traces import Round
from drafting.annotation.proposing import size_tool
from drafting.compose import annotation_groups, compose
from drafting.document import Dimension, Drawing, Pick, Placement, Point, Sheet, View
from drafting.errors import SizeError
from drafting.export.dxf import sheet_dxf
from drafting.ink.elements import Arc, Fill, Group, Line, Polyline
from drafting.model.model import Facts, Model
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.standards.scales import Scale
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL, isometric
from drafting.views.section import across
from drafting.views.view import Auxiliary, CuttingLine, DetailOutline, Interruption, Section
from tests.core.conftest import block, part
from tests.core.contexts import seen_in

FRONT, TOP, ORIGIN = PRINCIPAL["front"], PRINCIPAL["top"], Point(x=0, y=0)
PROFILES = st.sampled_from([ISO_MM, ASME_INCH])
SCALES = st.sampled_from([0.1, 0.5, 1.0, 2.0, 5.0])
THICK = 10.0


def plate(
    width: float, height: float, lean: float, radius: float, broken: float, slot: float, tilt: float
) -> Model:
    """A plate leaning by tilt (degrees) in the front view: one side slanting, one corner rounded, one broken,
    and a slot through it."""
    run, half, c, s = (
        height * math.tan(math.radians(lean)),
        radius * math.sqrt(0.5),
        math.cos(math.radians(tilt)),
        math.sin(math.radians(tilt)),
    )
    axes = {"x": [c, 0, s], "normal": [-s, 0, c]}
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
    x = width * 0.55
    cut = {
        "id": "s",
        "kind": "slot",
        "plane": {"origin": [x * c - THICK * s, height * 0.45, x * s + THICK * c], **axes},
        "center": [0, 0],
        "length": slot,
        "width": slot / 2,
    }
    return part(
        [
            {
                "id": "p",
                "kind": "extrude",
                "plane": {"origin": [0, 0, 0], **axes},
                "profile": profile,
                "depth": THICK,
            },
            cut,
        ]
    )


def views(facts: Facts, tilt: float, width: float, scale: float) -> dict[str, ViewFrame]:
    """Views that show the plate's face squarely: where it does not lean, a detail, an interrupted view and a
    section through its thickness; where it does, an auxiliary view square to it."""
    if tilt:
        along = Point(x=math.cos(math.radians(tilt)), y=math.sin(math.radians(tilt)))
        direction = across(FRONT, (along.x, along.y), 1, "third")
        view = View(
            id="v",
            kind="auxiliary",
            orientation=direction,
            position=ORIGIN,
            auxiliary=Auxiliary(along=along, base=FRONT),
        )
        return {"auxiliary": ViewFrame.of(view, facts, scale)}
    detail = DetailOutline(shape="circle", center=Point(x=width / 8, y=3), radius=30)
    gaps = [
        Interruption(first=width * 0.2, last=width * 0.3, gap=3),
        Interruption(across="vertical", first=-6, last=-2, gap=2),
    ]
    line = CuttingLine(points=[Point(x=width, y=0), Point(x=-width, y=0)], viewer=-1, base=FRONT)
    cut = View(
        id="v",
        kind="section",
        orientation=across(FRONT, (-1.0, 0.0), -1, "first"),
        position=ORIGIN,
        section=Section(line=line),
    )
    return {
        "detail": ViewFrame.of(
            View(id="v", kind="detail", orientation=TOP, position=ORIGIN, detail=detail), facts, scale
        ),
        "interrupted": ViewFrame.of(
            View(id="v", kind="main", orientation=TOP, position=ORIGIN, interruptions=gaps), facts, scale
        ),
        "section": ViewFrame.of(cut, facts, scale),
    }


@given(
    st.floats(60, 140).map(round),
    st.floats(40, 90).map(round),
    st.floats(5, 25).map(round),
    st.floats(4, 12).map(lambda v: round(v, 1)),
    st.floats(2, 8).map(lambda v: round(v, 1)),
    st.floats(10, 18).map(round),
    st.sampled_from([0, 30, 50]),
    SCALES,
    PROFILES,
)
@settings(max_examples=18)
def test_every_kind_reads_true_in_sections_details_interrupted_and_auxiliary_views(
    width: float,
    height: float,
    lean: float,
    radius: float,
    broken: float,
    slot: float,
    tilt: float,
    scale: float,
    profile: Profile,
) -> None:
    facts = plate(width, height, lean, radius, broken, slot, tilt).facts
    faces = facts.parts["part"].faces
    end = next(f.name for f in faces if f.kind == "cylinder" and f.name.startswith("s/"))
    rim = next(
        e.name
        for e in facts.parts["part"].edges
        if e.kind == "circle" and end in e.faces and "p/end" in e.faces
    )
    for name, frame in views(facts, tilt, width, scale).items():
        cut = name == "section"

        def side(of: str, cut: bool = cut, **more: Any) -> Pick:
            if cut:
                return Pick(instance="part", source=of if "/" in of else f"p/side.{of}", role="cut", **more)
            return Pick(instance="part", source=rim if of == end else f"p/end|p/side.{of}", **more)

        def read(*picks: Pick, option: str = "", frame: ViewFrame = frame) -> float:
            found = size_tool.proposed(
                picks,
                np.array([3.0, -60.0]),
                option,
                "d",
                seen_in(facts=facts, frame=frame, scale=scale, profile=profile),
            )
            assert registry.size_ink(
                found.size, seen_in(facts=facts, frame=frame, profile=profile, scale=scale)
            ).lettering
            assert option in ("", found.name)
            return registry.value(found.size, seen_in(facts=facts, frame=frame))

        expected = {
            "length": width - broken,
            "radius": radius,
            "diameter": 2 * radius,
            "chord": radius * math.sqrt(2),
            "included angle": math.pi / 2,
            "arc length": radius * math.pi / 2,
            "chamfer": broken,
            "slot width": slot / 2,
            "slot over centers": slot,
            "slot overall": 1.5 * slot,
        }
        things = {
            "length": "low",
            "chamfer": "broken",
            "slot width": end,
            "slot over centers": end,
            "slot overall": end,
        }
        for option, value in expected.items():
            assert read(side(things.get(option, "round")), option=option) == pytest.approx(value), (
                name,
                option,
            )
        assert read(side("low"), side("high")) == pytest.approx(height), name
        assert min(
            read(side("low"), side("lean")), math.pi - read(side("low"), side("lean"))
        ) == pytest.approx(math.radians(90 - lean)), name
        origin, last = side("low"), side("high")
        place = Placement(model=ORIGIN, paper=Point(x=-40, y=0))
        ordinate = OrdinateDimension(
            id="o", view="v", picks=[origin, last], place=place, direction="vertical"
        )
        if not tilt:  # an auxiliary view stands at a slant on the paper, along which ordinates run
            assert registry.value(ordinate, seen_in(facts=facts, frame=frame)) == pytest.approx(height), name
        corner = side(
            "right",
            point="crossing",
            other={"instance": "part", "source": side("high").source, "role": side("high").role},
        )
        assert read(side("low"), corner) == pytest.approx(height), name


def handle(band: float, swell: float, length: float) -> Model:
    """Turned about the x axis: a band, and a bow of radius swell over a chord level with the axis. Its center
    lies beyond the axis where the bow is flat, which is how a grip is turned."""
    sag = swell - math.sqrt(swell**2 - (length / 2) ** 2)
    bow = {"arc": [8 + length, band], "through": [8 + length / 2, band + sag], "name": "bow"}
    profile = {
        "start": [0, 0],
        "to": [
            {"line": [0, band]},
            {"line": [8, band], "name": "band"},
            bow,
            {"line": [8 + length, 0]},
            {"line": [0, 0]},
        ],
    }
    plane = {"origin": [0, 0, 0], "x": [1, 0, 0], "normal": [0, -1, 0]}
    return part(
        [{"id": "g", "kind": "revolve", "plane": plane, "axis": [[0, 0], [1, 0]], "profile": profile}]
    )


@given(
    st.floats(8, 20).map(round),
    st.floats(40, 90).map(round),
    st.floats(0.55, 3).map(lambda v: round(v, 2)),
    SCALES,
    PROFILES,
)
@settings(max_examples=10)
def test_a_turned_bow_reads_its_radius_on_both_sides_and_cut(
    band: float, length: float, flat: float, scale: float, profile: Profile
) -> None:
    swell = round(length * flat, 3)
    facts = handle(band, swell, length).facts
    line = CuttingLine(points=[Point(x=-200, y=0), Point(x=200, y=0)], viewer=1, base=TOP)
    cut = View(
        id="v",
        kind="section",
        orientation=across(TOP, (1.0, 0.0), 1, "third"),
        position=ORIGIN,
        section=Section(line=line),
    )
    plain = [
        View(id="v", kind="main", orientation=PRINCIPAL[d], position=ORIGIN) for d in ("front", "top", "rear")
    ]
    sag = swell - math.sqrt(swell**2 - (length / 2) ** 2)
    for view, role in [*((v, "silhouette") for v in plain), (cut, "cut")]:
        frame = ViewFrame.of(view, facts, scale)
        for away in (1, -1):
            # the crown of the bow, on either side of the axis
            at = frame.flat(np.array([8 + length / 2, 0, 0])) + away * (band + sag) * np.array([0.0, 1.0])
            pick = pick_side(
                Pick(instance="part", source="g/side.bow", role=role),
                (at[0], at[1]),
                seen_in(facts=facts, frame=frame),
            )  # type: ignore[arg-type]
            arc = resolve(pick, seen_in(facts=facts, frame=frame))
            assert isinstance(arc, Round)
            assert math.dist(frame.flat(arc.center), at) == pytest.approx(swell, rel=1e-6)
            size = size_tool.proposed(
                [pick],
                at * scale + [0, 30 * away],
                "radius",
                "d",
                seen_in(facts=facts, frame=frame, scale=scale, profile=profile),
            ).size
            assert registry.value(size, seen_in(facts=facts, frame=frame)) == pytest.approx(swell, rel=1e-6)
    seen = ViewFrame.of(View(id="v", kind="pictorial", orientation=isometric(FRONT), position=ORIGIN), facts)
    with pytest.raises(SizeError, match="axis lies in the paper"):
        resolve(
            Pick(instance="part", source="g/side.bow", role="silhouette", side=1),
            seen_in(facts=facts, frame=seen),
        )


def test_the_outline_of_a_bow_lies_where_it_is_drawn() -> None:
    """Against the visibility engine, which marches the outline of a free surface through its mesh and then
    finds it round."""
    model = handle(11, 170, 90)
    view = View(id="v", kind="main", orientation=FRONT, position=ORIGIN)
    frame = ViewFrame.of(view, model.facts)
    drawn = [
        c
        for c in derive(Prepared(model), derivation_of(view, model.facts)).curves
        if c.source == "g/side.bow" and c.role == "silhouette"
    ]
    assert {c.kind for c in drawn} == {"arc"}
    sides = set()
    for c in drawn:
        x, y, radius, first, last = c.data
        middle = (x + radius * math.cos((first + last) / 2), y + radius * math.sin((first + last) / 2))
        pick = pick_side(
            Pick(instance="part", source="g/side.bow", role="silhouette"),
            middle,
            seen_in(facts=model.facts, frame=frame),
        )
        arc = resolve(pick, seen_in(facts=model.facts, frame=frame))
        assert isinstance(arc, Round)
        assert (*frame.flat(arc.center), arc.radius) == pytest.approx((x, y, radius), abs=1e-3)
        sides.add(pick.side)
    assert sides == {-1, 1}


@pytest.mark.parametrize(("profile", "says"), [(ISO_MM, "SØ24"), (ASME_INCH, "SØ.945")])
def test_a_sphere_is_sized_on_its_outline_with_the_sign_of_one(profile: Profile, says: str) -> None:
    ball = {
        "start": [0, -12],
        "to": [{"arc": [0, 12], "through": [12, 0], "name": "ball"}, {"line": [0, -12]}],
    }
    facts = part([{"id": "b", "kind": "revolve", "axis": [[0, 0], [0, 1]], "profile": ball}]).facts
    for o in (FRONT, TOP, isometric(FRONT)):
        frame = ViewFrame.of(View(id="v", kind="main", orientation=o, position=ORIGIN), facts)
        pick = pick_side(
            Pick(instance="part", source="b/side.ball", role="silhouette"),
            (12, 0),
            seen_in(facts=facts, frame=frame),
        )
        size = size_tool.proposed(
            [pick],
            np.array([30.0, 30.0]),
            "",
            "d",
            seen_in(facts=facts, frame=frame, scale=1.0, profile=profile),
        ).size
        assert registry.text(size, seen_in(facts=facts, frame=frame, profile=profile)) == says


def at(x: float, y: float) -> Placement:
    return Placement(model=ORIGIN, paper=Point(x=x, y=y))


def test_an_angle_across_a_break_stands_on_the_legs_as_they_are_drawn() -> None:
    """A long taper, its middle left out: the arc's center is where the two drawn legs of the sized piece
    meet."""
    taper = {
        "start": [0, -20],
        "to": [
            {"line": [200, -10], "name": "low"},
            {"line": [200, 10]},
            {"line": [0, 20], "name": "high"},
            {"line": [0, -20]},
        ],
    }
    facts = part([{"id": "t", "kind": "extrude", "profile": taper, "depth": 5}]).facts
    gap = Interruption(first=-40, last=40, gap=4)
    frame = ViewFrame.of(
        View(id="v", kind="main", orientation=TOP, position=ORIGIN, interruptions=[gap]), facts
    )
    picks = [Pick(instance="part", source=f"t/end|t/side.{n}") for n in ("low", "high")]
    true = 2 * math.atan(0.05)
    for x, shift in ((-90.0, 0.0), (20.0, -76.0)):
        found = size_tool.proposed(
            picks, np.array([x, 0.0]), "", "d", seen_in(facts=facts, frame=frame, scale=1.0, profile=ISO_MM)
        ).size
        ink = registry.size_ink(found, seen_in(facts=facts, frame=frame, profile=ISO_MM, scale=1.0))
        assert registry.value(found, seen_in(facts=facts, frame=frame)) == pytest.approx(true)
        arc = next(e for e in ink.lines if isinstance(e, Arc))
        assert arc.center == pytest.approx(
            (300 + shift, 0), abs=1e-6
        )  # they meet 400 from the wide end, whose middle is at -100


def test_numbers_slide_along_arcs_and_stay_on_them() -> None:
    facts = block(
        80, 60, 10, {"id": "f", "kind": "fillet", "edges": ["b/side.right|b/side.top"], "radius": 20}
    ).facts
    frame = ViewFrame.of(View(id="v", kind="main", orientation=TOP, position=ORIGIN), facts)
    lines = [Pick(instance="part", source=f"b/end|b/side.{n}") for n in ("bottom", "left")]
    rim = next(
        e.name
        for e in facts.parts["part"].edges
        if e.kind == "circle" and e.center and e.center[2] == pytest.approx(10)
    )
    angle = AngleDimension(id="a", view="v", picks=lines, place=at(20, 20))
    arc = ArcLengthDimension(id="b", view="v", picks=[Pick(instance="part", source=rim)], place=at(60, 50))
    sizes: list[Dimension] = [angle, arc]
    for size in sizes:
        kind = registry.size_kind(size)
        assert kind.shift_at is not None
        whole = registry.size_ink(size, seen_in(facts=facts, frame=frame, profile=ISO_MM, scale=1.0))
        line = next(e for e in whole.lines if isinstance(e, Arc))
        t = line.first + (line.last - line.first) * 0.75
        place = np.array(line.center) + line.radius * np.array([math.cos(t), math.sin(t)])
        shift = kind.shift_at(size, place, seen_in(facts, frame))
        assert shift is not None
        assert abs(shift) == pytest.approx(line.radius * (line.last - line.first) / 4, rel=0.02)
        number = registry.size_ink(
            size.model_copy(update={"shift": shift}),
            seen_in(facts=facts, frame=frame, profile=ISO_MM, scale=1.0),
        ).lettering[0]
        assert math.dist(number.at, place) < 6  # type: ignore[union-attr]
        middle = np.array(line.center) + line.radius * np.array(
            [math.cos((line.first + line.last) / 2), math.sin((line.first + line.last) / 2)]
        )
        assert kind.shift_at(size, middle, seen_in(facts, frame)) is None


def comb_chain() -> tuple[Drawing, Facts]:
    """A chain over three narrow teeth and a wide one."""
    places = [0.0, 3.0, 6.0, 9.0, 49.0]
    to = [{"line": [x, 0 if n % 2 else 0]} for n, x in enumerate(places[1:])]
    holes = {
        "id": "h",
        "kind": "hole",
        "plane": {"origin": [0, 0, 5]},
        "at": [[x + 5, 15] for x in places],
        "diameter": 1,
    }
    profile = {
        "start": [0, 0],
        "to": [*to, {"line": [60, 0]}, {"line": [60, 30]}, {"line": [0, 30]}, {"line": [0, 0]}],
    }
    facts = part([{"id": "c", "kind": "extrude", "profile": profile, "depth": 5}, holes]).facts
    rims = sorted(
        (e for e in facts.parts["part"].edges if e.kind == "circle" and e.center and e.center[2] == 5),
        key=lambda e: (e.center or [0])[0],
    )
    picks = [Pick(instance="part", source=e.name) for e in rims]
    sizes: list[Any] = [
        LinearDimension(
            id=f"s{n}",
            view="v",
            picks=[a, b],
            place=at(0, -30),
            direction="horizontal",
            run="r",
            run_form="chain",
        )
        for n, (a, b) in enumerate(zip(picks, picks[1:], strict=False))
    ]
    view = View(id="v", kind="main", orientation=TOP, position=Point(x=100, y=100))
    return Drawing(
        name="C",
        profile=ISO_MM,
        projection="first",
        sheets=[Sheet(id="s", size="A3", views=[view], annotations=sizes)],
    ), facts


def test_narrow_links_of_a_chain_take_dots_where_they_meet() -> None:
    drawing, facts = comb_chain()
    groups = annotation_groups(drawing, drawing.sheets[0], facts)
    found = {key: g.size for key, g in groups.items() if isinstance(g, Group) and isinstance(g.size, SizeInk)}
    assert len(found) == 4

    def dots(key: str) -> list[float]:
        return sorted(
            round(float(np.mean([p[0] for p in e.points])), 3)
            for e in found[key].arrows
            if isinstance(e, Fill) and len(e.points) > 3
        )

    ends = sorted(
        {x for ink in found.values() for x in (ink.definition.points[0][0], ink.definition.points[1][0])}
    )  # type: ignore[union-attr]
    assert dots("s0") == pytest.approx(ends[1:2], abs=1e-3)  # its outer end keeps an arrow
    assert dots("s1") == pytest.approx(ends[1:3], abs=1e-3)
    assert dots("s2") == pytest.approx(ends[2:3], abs=1e-3)
    assert dots("s3") == []
    spans = [
        max(x for e in found[k].lines if isinstance(e, Line) for x in (e.a[0], e.b[0])) for k in ("s0", "s1")
    ]
    assert spans[1] >= ends[2] - 1e-6


def test_dimension_arcs_and_bent_lines_break_where_they_cross_another_line() -> None:
    straight = SizeInk(lines=[Line((0, -50), (0, 50), "dimension")])
    arc = SizeInk(lines=[Arc((-30, 0), 30, -math.pi / 2, math.pi / 2, "dimension")])
    bent = SizeInk(lines=[Polyline(((-20, 10), (20, 14), (40, 14)), "dimension")])
    inks = {
        "straight": straight,
        "arc": arc,
        "bent": bent,
        "far": SizeInk(lines=[Arc((-30, 0), 60, 1.0, 1.5, "dimension")]),
    }
    broken(inks, frozenset(), ISO_MM, dict.fromkeys(inks, (5.0, 7.0)), {})
    half = ISO_MM.arrow_length / 3
    pieces = [e for e in inks["arc"].lines if isinstance(e, Arc)]
    assert len(pieces) >= 2
    assert (
        sum((e.last - e.first) * e.radius for e in pieces) < 30 * math.pi - half
    )  # something of it is left out
    left = [e for e in inks["bent"].lines if isinstance(e, Polyline)]
    assert [e.points[-1] for e in left][-1] == (40, 14)
    assert all(
        min(abs(p[0]) for p in e.points) >= half * 0.8
        for e in left
        if max(abs(p[0]) for p in e.points) < 20 or len(left) > 1
    )
    assert len(inks["straight"].lines) == 1  # the one placed first stays whole
    assert inks["far"].lines == [Arc((-30, 0), 60, 1.0, 1.5, "dimension")]


def test_a_line_across_an_arc_breaks_at_both_crossings_and_not_between() -> None:
    arc = SizeInk(lines=[Arc((0, 0), 30, 0.1, math.pi - 0.1, "dimension")])
    across_ = SizeInk(lines=[Line((-60, 15), (60, 15), "dimension")])
    inks = {"arc": arc, "across": across_}
    broken(inks, frozenset(), ISO_MM, dict.fromkeys(inks, (2.0, 3.0)), {})
    at = math.sqrt(30**2 - 15**2)
    pieces = sorted((e.a[0], e.b[0]) for e in inks["across"].lines if isinstance(e, Line))
    assert [b for _, b in pieces[:-1]] == pytest.approx([-at, at], abs=1.5)
    assert [a for a, _ in pieces[1:]] == pytest.approx([-at, at], abs=1.5)
    assert (pieces[0][0], pieces[-1][1]) == (-60, 60)


@pytest.mark.parametrize(
    "other",
    [
        Polyline(((-20, 30), (0, 30), (20, 30)), "dimension"),
        Arc((0, 0), 30, 0.1, math.pi - 0.1, "dimension"),
    ],
)
def test_a_line_through_where_two_pieces_of_another_join_breaks_there(other: Polyline | Arc) -> None:
    """An arc is tried in straight pieces, two of which join in its middle."""
    inks = {
        "other": SizeInk(lines=[other]),
        "upright": SizeInk(lines=[Line((0, 0), (0, 60), "dimension")]),
    }
    broken(inks, frozenset(), ISO_MM, dict.fromkeys(inks, (0.0, 0.0)), {})
    half = ISO_MM.arrow_length / 3
    (one, two) = [e for e in inks["upright"].lines if isinstance(e, Line)]
    assert (one.a, two.b) == ((0, 0), (0, 60))
    assert (one.b[1], two.a[1]) == pytest.approx((30 - half, 30 + half), abs=0.02)


@pytest.mark.parametrize("leg", [0, 1])
def test_a_chamfer_goes_to_dxf_as_a_dimension_of_its_leg(leg: int) -> None:
    sides = [
        {"line": [54, 0]},
        {"line": [60, 4], "name": "broken"},
        {"line": [60, 40]},
        {"line": [0, 40]},
        {"line": [0, 0]},
    ]
    model = part([{"id": "p", "kind": "extrude", "profile": {"start": [0, 0], "to": sides}, "depth": 5}])
    size = ChamferDimension(
        id="c",
        view="v",
        picks=[Pick(instance="part", source="p/end|p/side.broken")],
        place=at(60, -50),
        leg=leg,
    )
    view = View(id="v", kind="main", orientation=TOP, position=Point(x=150, y=120))
    sheet = Sheet(id="s", size="A3", scale=Scale(drawn=2, true=1), views=[view], annotations=[size])
    drawing = Drawing(name="C", profile=ISO_MM, projection="first", sheets=[sheet])
    legs = {
        round(
            chamfer.legs_of(
                size.picks[0], seen_in(facts=model.facts, frame=ViewFrame.of(view, model.facts))
            ).legs[n],
            9,
        )
        for n in (0, 1)
    }
    assert legs == {6.0, 4.0}
    data, _ = sheet_dxf(compose(drawing, sheet, model.facts, {}).ink, ISO_MM)
    (entity,) = ezdxf.recover.read(io.BytesIO(data))[0].modelspace().query("DIMENSION")
    assert isinstance(entity, DxfDimension)
    measured = float(entity.get_measurement()) * entity.override().get("dimlfac")  # type: ignore[arg-type]
    assert measured == pytest.approx(
        chamfer.value(size, seen_in(facts=model.facts, frame=ViewFrame.of(view, model.facts)))
    )
