"""Runs of sizes, hole tables, sizes said once, Tidy, breaks at crossings, and what goes into files."""

import csv
import io
import math
from collections.abc import Sequence
from typing import Any

import ezdxf.recover
import numpy as np
import openpyxl
import pytest
import shapely
from ezdxf.entities import Dimension as DxfDimension
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds import hole_table
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.kinds.kind import Move
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.ordinate import OrdinateDimension, spread
from drafting.annotation.kinds.radius import RadiusDimension
from drafting.annotation.proposing import runs, tidy
from drafting.annotation.registry import Annotation
from drafting.annotation.review import redundancy, size_sheet
from drafting.commands import execute
from drafting.commands.annotations import Change, MoveAnnotations, Place
from drafting.commands.sizes import ChangeRun, CopySizeStyle
from drafting.compose import annotation_groups, compose, own_ink
from drafting.document import (
    Dimension,
    Drawing,
    Pick,
    Placement,
    Point,
    Sheet,
    Source,
    Tolerance,
    View,
    Wording,
)
from drafting.errors import CommandError, SizeError
from drafting.export import tables
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.ink.elements import Group, Line, Text
from drafting.ink.shapes import shapes, text_boxes
from drafting.model.model import Facts, Model
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.standards.scales import Scale
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.frame import ViewFrame
from drafting.views.geometry import ViewGeometry
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import block, part
from tests.core.contexts import seen_in

TOP = PRINCIPAL["top"]
STEPS = [12.0, 30.0, 33.0, 36.0, 70.0]


def steps(
    places: Sequence[float] = STEPS, height: float = 40.0, holes: Sequence[tuple[float, float]] = ()
) -> Model:
    """A stair in the x-y plane, 10 thick: treads at the places, each a little lower."""
    xs = [0.0, *places]
    to: list[dict[str, Any]] = [{"line": [xs[-1], 0], "name": "base"}]
    for n in range(len(xs) - 1, 0, -1):
        level = height * (len(xs) - n) / (len(xs) - 1)
        to += [
            {"line": [xs[n], level], "name": f"riser{n}"},
            {"line": [xs[n - 1], level], "name": f"tread{n}"},
        ]
    to += [{"line": [0, 0], "name": "back"}]
    features: list[dict[str, Any]] = [
        {"id": "p", "kind": "extrude", "profile": {"start": [0, 0], "to": to}, "depth": 10}
    ]
    for n, (d, x) in enumerate(holes):
        features.append({"id": f"h{n}", "kind": "hole", "plane": {"origin": [x, 8, 10]}, "diameter": d})
    return part(features)


def edge(source: str, **more: Any) -> Pick:
    return Pick(instance="part", source=source, **more)


BACK = edge("p/end|p/side.back")
RISERS = [edge(f"p/end|p/side.riser{n}") for n in range(1, 6)]


def at(x: float, y: float) -> Placement:
    return Placement(model=Point(x=0, y=0), paper=Point(x=x, y=y))


def drawing(sizes: Sequence[Annotation], profile: Profile = ISO_MM, scale: Scale | None = None) -> Drawing:
    view = View(id="v", kind="main", orientation=TOP, position=Point(x=200, y=150), hidden_lines=False)
    sheet = Sheet(
        id="s",
        name="Sheet 1",
        size="A3",
        scale=scale or Scale(drawn=1, true=1),
        views=[view],
        annotations=list(sizes),
    )
    return Drawing(name="Steps", profile=profile, projection="first", sheets=[sheet])


def frame(d: Drawing, facts: Facts) -> ViewFrame:
    sheet = d.sheets[0]
    return ViewFrame.of(sheet.views[0], facts, sheet.scale.factor)


def run(
    form: runs.Form, model: Model, picks: Sequence[Pick], pointer: tuple[float, float] = (0, -33)
) -> list[Dimension]:
    return runs.made(
        form,
        list(picks),
        "horizontal",
        np.array(pointer),
        "r",
        seen_in(facts=model.facts, frame=frame(drawing([]), model.facts), scale=1.0, profile=ISO_MM),
    )


def values(sizes: Sequence[Dimension], facts: Facts) -> list[float]:
    f = frame(drawing([]), facts)
    return [registry.value(s, seen_in(facts=facts, frame=f)) for s in sizes]


@given(
    st.lists(st.integers(5, 200), min_size=3, max_size=6, unique=True).map(
        lambda v: [float(x) for x in sorted(v)]
    ),
    st.randoms(),
)
@settings(max_examples=12)
def test_chain_baseline_and_ordinates_read_the_steps_whatever_order_they_are_picked_in(
    places: list[float], random: Any
) -> None:
    model = steps(places)
    rest = [edge(f"p/end|p/side.riser{n + 1}") for n in range(len(places))]
    random.shuffle(rest)
    picks = [BACK, *rest]
    assert values(run("chain", model, picks), model.facts) == pytest.approx(np.diff([0.0, *places]))
    assert values(run("baseline", model, picks), model.facts) == pytest.approx(places)
    assert values(run("ordinate", model, picks), model.facts) == pytest.approx([0.0, *places])


def test_a_chain_stands_in_one_row_and_a_baseline_in_rows_the_standard_apart() -> None:
    model = steps()
    rows = [s.place.at(1.0)[1] for s in run("chain", model, [BACK, *RISERS])]
    assert len(set(rows)) == 1
    assert rows[0] == pytest.approx(
        -20 - ISO_MM.first_row
    )  # the nearest row to the pointer, 13 below the outline
    stacked = [s.place.at(1.0)[1] for s in run("baseline", model, [BACK, *RISERS])]
    assert np.diff(stacked) == pytest.approx([-ISO_MM.next_row] * 4)
    lengths = values(run("baseline", model, [BACK, *RISERS]), model.facts)
    assert lengths == sorted(lengths)  # shortest inside


@given(st.lists(st.floats(0, 100), min_size=1, max_size=12), st.floats(0.5, 10))
def test_ordinates_spread_to_their_pitch_and_no_further_than_they_must(
    places: list[float], pitch: float
) -> None:
    moved = spread(places, pitch)
    order = sorted(range(len(places)), key=lambda n: places[n])
    gaps = [moved[b] - moved[a] for a, b in zip(order, order[1:], strict=False)]
    assert all(g >= pitch - 1e-9 for g in gaps)
    if all(places[b] - places[a] >= pitch for a, b in zip(order, order[1:], strict=False)):
        assert moved == pytest.approx(places)
    assert sum(moved) == pytest.approx(
        sum(places), abs=1e-6 * len(places) * 100
    )  # as a whole they stay where they were


def test_crowded_ordinates_jog_apart_and_their_numbers_do_not_touch() -> None:
    model = steps()
    d = drawing(run("ordinate", model, [BACK, *RISERS]))
    groups = annotation_groups(d, d.sheets[0], model.facts)
    boxes = [b for g in groups.values() if isinstance(g, Group) for b in text_boxes(g.elements, margin=0.0)]
    assert len(boxes) == 6
    assert not any(a.intersects(b) for n, a in enumerate(boxes) for b in boxes[:n])


def test_members_are_added_and_taken_out_and_keep_what_they_say() -> None:
    model = steps()
    made = run("chain", model, [BACK, RISERS[0], RISERS[4]])
    made[0] = made[0].model_copy(update={"tolerance": Tolerance(form="equal", upper=0.1)})
    d, _, _ = execute(drawing([]), Place(command="place", annotations=made), model.facts)
    d, _, _ = execute(d, ChangeRun(command="change_run", run="r", add=[RISERS[1]]), model.facts)
    sizes = [a for a in d.sheets[0].annotations if isinstance(a, Dimension)]
    assert values(sizes, model.facts) == pytest.approx([12, 18, 40])
    assert sizes[0].id == made[0].id
    assert sizes[0].tolerance.form == "equal"
    d, _, _ = execute(d, ChangeRun(command="change_run", run="r", remove=[sizes[0].id]), model.facts)
    assert values(
        [a for a in d.sheets[0].annotations if isinstance(a, Dimension)], model.facts
    ) == pytest.approx([30, 40])
    with pytest.raises(CommandError, match="no longer"):
        execute(d, ChangeRun(command="change_run", run="gone", add=[RISERS[2]]), model.facts)


def test_a_run_of_angles_and_what_makes_none() -> None:
    spokes = {
        "start": [0, 0],
        "to": [
            {"line": [60, 0], "name": "a"},
            {"line": [50, 20], "name": "tip1"},
            {"line": [0, 0], "name": "b"},
        ],
    }
    more = {
        "start": [0, 0],
        "to": [
            {"line": [-5, 60], "name": "c"},
            {"line": [-30, 40], "name": "tip2"},
            {"line": [0, 0], "name": "d"},
        ],
    }
    model = part(
        [
            {"id": "p", "kind": "extrude", "profile": spokes, "depth": 10},
            {"id": "q", "kind": "extrude", "profile": more, "depth": 10},
        ]
    )
    picks = [edge("p/end|p/side.a"), edge("p/end|p/side.b"), edge("q/end|q/side.c")]
    found = [math.degrees(v) for v in values(run("baseline", model, picks, (20, 30)), model.facts)]
    first, second = math.degrees(math.atan2(20, 50)), math.degrees(math.atan2(60, -5))
    assert found == [pytest.approx(first), pytest.approx(second)]
    chain = [math.degrees(v) for v in values(run("chain", model, picks, (30, 40)), model.facts)]
    assert sum(chain) == pytest.approx(second)
    with pytest.raises(SizeError, match="at least one more"):
        run("chain", model, [picks[0]])
    with pytest.raises(SizeError, match="Ordinates count lengths"):
        run("ordinate", model, picks)
    with pytest.raises(SizeError, match="square to the horizontal"):
        run("chain", steps(), [BACK, RISERS[0], edge("p/end|p/side.base")])


def test_a_hole_table_numbers_by_diameter_and_reads_the_recipes_places() -> None:
    model = steps(height=60, holes=((5.0, 8.0), (3.0, 20.0), (3.0, 50.0)))
    rims = [
        e.name
        for e in model.facts.parts["part"].edges
        if e.kind == "circle" and e.center and e.center[2] == pytest.approx(10)
    ]
    corner = edge("p/end|p/side.base", point="crossing", other=Source(instance="part", source=BACK.source))
    table = HoleTable(id="t", view="v", picks=[corner, *(edge(r) for r in rims)], place=at(60, 60))
    f = frame(drawing([]), model.facts)
    assert hole_table.written_rows(table, seen_in(facts=model.facts, frame=f, profile=ISO_MM)) == [
        ("Hole", "X", "Y", "Ø"),
        ("A1", "20", "8", "Ø3"),
        ("A2", "50", "8", "Ø3"),
        ("B1", "8", "8", "Ø5"),
    ]
    d = drawing([table])
    group = annotation_groups(d, d.sheets[0], model.facts)["t"]
    assert isinstance(group, Group)
    texts = [e.text for e in group.elements if isinstance(e, Text)]
    assert [t for t in texts if t in ("A1", "A2", "B1")] == [
        "A1",
        "A2",
        "B1",
        "A1",
        "A2",
        "B1",
    ]  # at the holes and in the table
    with pytest.raises(SizeError, match="origin of a hole table"):
        hole_table.rows(table.with_picks([BACK, edge(rims[0])]), seen_in(facts=model.facts, frame=f))


# ---- once only ---------------------------------------------------------------------------------------------
def length(key: str, *picks: Pick, y: float = -40, **more: Any) -> LinearDimension:
    more.setdefault("direction", "horizontal")
    return LinearDimension(id=key, view="v", picks=list(picks), place=at(0, y), **more)


def test_a_size_that_repeats_one_in_another_view_is_known() -> None:
    model = steps()
    d = drawing([length("a", BACK, RISERS[4])])
    d.sheets[0].views.append(
        View(id="w", kind="projected", orientation=PRINCIPAL["front"], position=Point(x=200, y=60))
    )
    again = LinearDimension(
        id="b",
        view="w",
        picks=[edge("p/side.base|p/side.riser5"), edge("p/side.back|p/side.base")],
        place=at(0, 30),
    )
    other = ViewFrame.of(d.sheets[0].views[1], model.facts)
    assert registry.value(again, seen_in(facts=model.facts, frame=other)) == pytest.approx(70)
    found = redundancy.repeats(
        again, seen_in(frame=other, facts=model.facts), redundancy.index(redundancy.stated(d, model.facts))
    )
    assert found is not None
    assert found.id == "a"
    assert (
        redundancy.repeats(
            again.with_picks(again.picks[:1] + [edge("p/side.riser1|p/side.base")]),
            seen_in(frame=other, facts=model.facts),
            redundancy.index(redundancy.stated(d, model.facts)),
        )
        is None
    )
    reference = drawing([length("a", BACK, RISERS[4], wording=Wording(reference=True))])
    reference.sheets[0].views.append(d.sheets[0].views[1])
    assert (
        redundancy.repeats(
            again,
            seen_in(frame=other, facts=model.facts),
            redundancy.index(redundancy.stated(reference, model.facts)),
        )
        is None
    )  # what is for reference is not said


def test_a_closed_chain_names_what_makes_a_size_redundant() -> None:
    model = steps()
    chain = [
        length("a", BACK, RISERS[0]),
        length("b", RISERS[0], RISERS[1]),
        length("c", RISERS[1], RISERS[4]),
    ]
    assert redundancy.redundant(redundancy.stated(drawing(chain), model.facts)) == {}
    closed = drawing([*chain, length("all", BACK, RISERS[4])])
    assert redundancy.redundant(redundancy.stated(closed, model.facts)) == {"all": ["a", "b", "c"]}
    free = drawing([*chain, length("all", BACK, RISERS[4], wording=Wording(reference=True))])
    assert redundancy.redundant(redundancy.stated(free, model.facts)) == {}
    twice = drawing([*chain, length("again", RISERS[0], BACK, y=-60)])
    assert redundancy.redundant(redundancy.stated(twice, model.facts)) == {"again": ["a"]}
    upright = drawing([*chain, LinearDimension(id="h", view="v", picks=[BACK], place=at(-60, 0))])
    assert redundancy.redundant(redundancy.stated(upright, model.facts)) == {}


# ---- Tidy --------------------------------------------------------------------------------------------------
def tidied(d: Drawing, model: Model, geometry: ViewGeometry) -> Drawing:
    sheet, view = d.sheets[0], d.sheets[0].views[0]
    sizes = [a for a in sheet.annotations if isinstance(a, Dimension)]
    fixed = own_ink(d, sheet, view, model.facts, geometry)
    moves = tidy.tidied(
        sizes,
        fixed,
        seen_in(facts=model.facts, frame=frame(d, model.facts), profile=d.profile, scale=sheet.scale.factor),
        (-180, -130, 200, 130),
    )
    command = MoveAnnotations(
        command="move", with_run=False, moves=[Move(id=m.id, place=m.place, shift=m.shift) for m in moves]
    )
    return execute(d, command, model.facts)[0]


def overlaps(d: Drawing, model: Model, geometry: ViewGeometry) -> list[tuple[str, str]]:
    """Boxes of the lettering of sizes against all ink: the view's own lines, and lines, arrows and lettering
    of every other size."""
    sheet, view = d.sheets[0], d.sheets[0].views[0]
    groups = annotation_groups(d, sheet, model.facts)
    ink: list[tuple[str, shapely.Geometry]] = [
        ("view", g) for g in shapes(own_ink(d, sheet, view, model.facts, geometry))
    ]
    boxes: list[tuple[str, shapely.Geometry]] = []
    for key, group in groups.items():
        assert isinstance(group, Group), group
        ink += [(key, g) for g in shapes(group.elements)]
        boxes += [(key, b) for b in text_boxes(group.elements, margin=0.0)]
    tree = shapely.STRtree([g for _, g in ink])
    found = [
        (key, ink[n][0])
        for key, box in boxes
        for n in tree.query(box, predicate="intersects")
        if ink[n][0] != key
    ]
    return found + [
        (a, b) for n, (a, p) in enumerate(boxes) for b, q in boxes[:n] if a != b and p.intersects(q)
    ]


def crowded(profile: Profile) -> tuple[Drawing, Model]:
    """Lengths of all pairs of steps, heights, diameters and radii, all dropped on nearly one spot."""
    model = steps(height=60, holes=((5.0, 8.0), (3.0, 20.0), (3.0, 50.0)))
    sizes: list[Annotation] = [length(f"l{n}", BACK, r, y=-45 - n % 3) for n, r in enumerate(RISERS)]
    sizes += [length(f"m{n}", a, b, y=-44) for n, (a, b) in enumerate(zip(RISERS, RISERS[1:], strict=False))]
    treads = [edge(f"p/end|p/side.tread{n}") for n in range(1, 6)]
    base = edge("p/end|p/side.base")
    sizes += [
        LinearDimension(id=f"u{n}", view="v", picks=[base, t], place=at(60 + n % 2, 0), direction="vertical")
        for n, t in enumerate(treads)
    ]
    rims = [
        e.name
        for e in model.facts.parts["part"].edges
        if e.kind == "circle" and e.center and e.center[2] == pytest.approx(10)
    ]
    sizes += [
        DiameterDimension(id=f"d{n}", view="v", picks=[edge(r)], place=at(5, 5)) for n, r in enumerate(rims)
    ]
    return drawing(sizes, profile), model


@pytest.mark.parametrize("profile", [ISO_MM, ASME_INCH])
def test_after_tidy_nothing_overlaps_and_rows_are_those_of_the_standard(profile: Profile) -> None:
    d, model = crowded(profile)
    geometry = derive(Prepared(model), Derivation(orientation=TOP))
    assert overlaps(d, model, geometry)
    done = tidied(d, model, geometry)
    assert overlaps(done, model, geometry) == []
    level = {
        a.id: a.place.at(1.0)[1]
        for a in done.sheets[0].annotations
        if isinstance(a, LinearDimension) and a.direction == "horizontal"
    }
    assert max(level.values()) == pytest.approx(-30 - profile.first_row)
    baseline = [level[f"l{n}"] for n in range(5)]
    assert baseline == sorted(baseline, reverse=True)  # the longer, the further out
    rows = sorted(set(level.values()), reverse=True)
    assert all(a - b >= profile.next_row - 1e-6 for a, b in zip(rows, rows[1:], strict=False))
    again = tidied(done, model, geometry)
    assert overlaps(again, model, geometry) == []


# ---- crossings ---------------------------------------------------------------------------------------------
def test_extension_lines_break_at_other_sizes_and_can_be_told_not_to() -> None:
    model = steps()
    low, cross = length("low", RISERS[0], RISERS[4], y=-34), length("cross", BACK, RISERS[1], y=-50)
    whole = drawing([low, cross.model_copy(update={"breaks": False})])

    def upright(d: Drawing) -> list[Line]:
        group = annotation_groups(d, d.sheets[0], model.facts)["cross"]
        assert isinstance(group, Group)
        return [e for e in group.elements if isinstance(e, Line) and abs(e.a[0] - e.b[0]) < 1e-9]

    assert len(upright(whole)) == 2
    pieces = upright(drawing([low, cross]))
    assert len(pieces) == 3  # the one at 30 crosses the line of the other, the one at 0 does not
    gap = sorted(y for e in pieces for y in (e.a[1], e.b[1]) if abs(e.a[0] - (30 - 35)) < 1e-6)
    assert gap[2] - gap[1] == pytest.approx(2 * ISO_MM.arrow_length / 3, abs=0.3)
    chain = drawing(run("chain", model, [BACK, RISERS[0], RISERS[1], RISERS[4]]))
    for group in annotation_groups(
        chain, chain.sheets[0], model.facts
    ).values():  # lines that only meet stay whole
        assert isinstance(group, Group)
        assert len([e for e in group.elements if isinstance(e, Line) and abs(e.a[0] - e.b[0]) < 1e-9]) == 2


# ---- edits -------------------------------------------------------------------------------------------------
def test_many_sizes_change_at_once_and_a_style_is_brushed_on() -> None:
    model = steps()
    d = drawing(
        [
            length("a", BACK, RISERS[0]),
            length("b", BACK, RISERS[1]),
            AngleDimension(id="c", view="v", picks=[BACK, edge("p/end|p/side.base")], place=at(-60, -40)),
        ]
    )
    d, _, inverse = execute(
        d,
        Change(
            command="change", ids=["a", "b"], values={"says": "H7", "wording": {"places": 1, "suffix": " A"}}
        ),
        model.facts,
    )
    f = frame(d, model.facts)
    texts = [
        registry.text(a, seen_in(facts=model.facts, frame=f, profile=ISO_MM)) for a in d.sheets[0].annotations
    ]
    assert texts == ["12,0 H7 A", "30,0 H7 A", "90°"]
    assert inverse
    d, _, _ = execute(d, Change(command="change", ids=["a"], values={"wording": {"count": 2}}), model.facts)
    assert (
        registry.text(d.sheets[0].annotations[0], seen_in(facts=model.facts, frame=f, profile=ISO_MM))
        == "2× 12,0 H7 A"
    )  # what is not named stays
    d, _, _ = execute(d, CopySizeStyle(command="copy_size_style", source="a", ids=["c", "b"]), model.facts)
    assert [
        registry.text(a, seen_in(facts=model.facts, frame=f, profile=ISO_MM)) for a in d.sheets[0].annotations
    ] == [
        "2× 12,0 H7 A",
        "30,0 H7 A",
        "90,0°",
    ]
    for says, problem in (
        ("letters", "no tolerance"),
        ("H19", "does not exist"),
        ("-0.1/0.2", "upper deviation"),
    ):
        with pytest.raises(SizeError, match=problem):
            execute(d, Change(command="change", ids=["a"], values={"says": says}), model.facts)
    with pytest.raises(SizeError, match="degrees"):
        execute(d, Change(command="change", ids=["c"], values={"says": "H7"}), model.facts)
    with pytest.raises(SizeError, match="degrees"):
        execute(
            d,
            Change(command="change", ids=["c"], values={"tolerance": {"form": "class", "designation": "H7"}}),
            model.facts,
        )
    with pytest.raises(CommandError, match="no sector"):
        execute(d, Change(command="change", ids=["a"], values={"sector": 2}), model.facts)


def test_moving_a_member_takes_its_run_along() -> None:
    model = steps()
    d, _, _ = execute(
        drawing([]), Place(command="place", annotations=run("chain", model, [BACK, *RISERS])), model.facts
    )
    one = d.sheets[0].annotations[2]
    assert isinstance(one, Dimension)
    d, _, _ = execute(
        d, MoveAnnotations(command="move", moves=[Move(id=one.id, place=at(0, -52))]), model.facts
    )
    assert {round(a.place.at(1.0)[1], 6) for a in d.sheets[0].annotations if isinstance(a, Dimension)} == {
        -52.0
    }


# ---- the Size sheet, and files -----------------------------------------------------------------------------
def all_kinds() -> tuple[Drawing, Model]:
    model = steps(height=60, holes=((8.0, 8.0),))
    rim = next(
        e.name
        for e in model.facts.parts["part"].edges
        if e.kind == "circle" and e.center and e.center[2] == pytest.approx(10)
    )
    sizes: list[Annotation] = [
        length("a", BACK, RISERS[4], tolerance=Tolerance(form="unequal", upper=0.2, lower=-0.1)),
        DiameterDimension(
            id="b",
            view="v",
            picks=[edge(rim)],
            place=at(-70, 40),
            tolerance=Tolerance(form="class", designation="H7"),
        ),
        RadiusDimension(
            id="c", view="v", picks=[edge(rim)], place=at(-70, 60), wording=Wording(reference=True)
        ),
        AngleDimension(id="e", view="v", picks=[BACK, edge("p/end|p/side.base")], place=at(-60, -50)),
        OrdinateDimension(id="f", view="v", picks=[BACK, RISERS[1]], direction="horizontal", place=at(0, 70)),
        length("lost", BACK, edge("gone")),
    ]
    return drawing(sizes, scale=Scale(drawn=2, true=1)), model


def test_the_size_sheet_lists_every_size_with_its_limits_and_reads_back_from_files() -> None:
    d, model = all_kinds()
    rows = size_sheet.rows(d, model.facts, ["e"])
    by_id = {r.id: r for r in rows}
    assert len(rows) == 6
    assert (by_id["a"].nominal, by_id["a"].lower, by_id["a"].upper, by_id["a"].says) == (
        70,
        69.9,
        70.2,
        "+0,2/-0,1",
    )
    assert by_id["a"].upper_in == pytest.approx(70.2 / 25.4, abs=1e-6)
    assert (by_id["b"].text, by_id["b"].lower, by_id["b"].upper) == ("Ø8 H7", 8.0, 8.015)
    assert (by_id["c"].tolerance, by_id["c"].lower) == ("reference", None)
    assert (by_id["e"].unit, by_id["e"].nominal, by_id["e"].tolerance, by_id["e"].state) == (
        "deg",
        90,
        "general",
        "follows from others",
    )
    assert by_id["f"].tolerance == "general"
    assert by_id["f"].upper == 30.2  # ISO 2768-m: 6 to 30 mm is 0.2
    assert by_id["lost"].state == "lost"
    assert all(r.zone and r.zone[0] in "ABCDEF" for r in rows)
    found = size_sheet.table(rows)
    page = openpyxl.load_workbook(io.BytesIO(tables.xlsx(found, "Sizes"))).active
    assert page is not None
    assert [[c.value for c in row] for row in page.iter_rows()] == [
        [None if v == "" else v for v in row] for row in found
    ]
    assert isinstance(page["F2"].value, int | float)
    text = list(csv.reader(io.StringIO(tables.comma_separated(found).decode("utf-8-sig"))))
    assert text[0] == list(size_sheet.HEAD)
    assert [float(text[n + 1][5]) for n in range(5)] == [r.nominal for r in rows[:5]]


def test_spreadsheets_never_run_text_as_a_formula() -> None:
    rows: list[list[str | float | None]] = [["Name", "N"], ["=1+1", 2.5], ["+cmd", -3], ["@x", None]]
    page = openpyxl.load_workbook(io.BytesIO(tables.xlsx(rows, "T"))).active
    assert page is not None
    assert page["A2"].data_type == "s"
    assert page["A2"].value == "=1+1"
    text = list(csv.reader(io.StringIO(tables.comma_separated(rows).decode("utf-8-sig"))))
    assert [r[0] for r in text[1:]] == ["'=1+1", "'+cmd", "'@x"]
    assert text[2][1] == "-3"


def test_dxf_carries_real_dimensions_that_measure_what_the_sheet_says_and_pdf_says_the_same() -> None:
    import pypdf

    d, model = all_kinds()
    geometry = derive(Prepared(model), Derivation(orientation=TOP))
    out = compose(d, d.sheets[0], model.facts, {"v": geometry})
    assert list(out.lost) == ["lost"]
    data, _ = sheet_dxf(out.ink, d.profile)
    document, audit = ezdxf.recover.read(io.BytesIO(data))
    assert not audit.errors
    found: dict[int, float] = {}
    texts: list[str] = []
    for e in document.modelspace().query("DIMENSION"):
        assert isinstance(e, DxfDimension)
        measure = e.get_measurement()
        factor = e.override().get("dimlfac") if e.dimtype != 5 else 1.0
        assert factor is not None
        found[e.dimtype] = abs((measure if isinstance(measure, float) else measure.x) * factor)
        block = document.blocks.get(e.dxf.geometry)
        assert block is not None
        texts += [t.dxf.text for t in block.query("TEXT")]
    assert found == {
        0: pytest.approx(70),
        3: pytest.approx(8),
        4: pytest.approx(4),
        5: pytest.approx(90),
        6: pytest.approx(30),
    }
    pdf = pypdf.PdfReader(io.BytesIO(sheets_pdf([out.ink], d.profile, "x"))).pages[0].extract_text()
    for text in texts:
        assert text in pdf
    assert {"70", "+0,2", "-0,1", "Ø8 H7", "(R4)", "90°", "30"} <= set(texts)


def read_alone(e: DxfDimension) -> str:
    """What a receiving program would letter that draws a DIMENSION anew, from the entity and its style alone:
    < > is the measurement with its own sign, decimals and decimal sign, tolerances as the style's settings
    say (DXF reference, group codes of DIMSTYLE; memory)."""
    style = e.override()

    def number(v: float, places: int, zeros: str = "dimzin") -> str:
        text = f"{v:.{places}f}".replace(".", chr(style.get("dimdsep")))
        return text[1:] if style.get(zeros) & 4 and text[0] == "0" else text

    kind = e.dimtype
    measure = e.get_measurement()
    if kind == 6:
        measure = abs(measure.x if e.dxf.dimtype & 64 else measure.y)  # type: ignore[union-attr]
    value = float(measure) * (style.get("dimlfac") if kind != 5 else 1.0)  # type: ignore[arg-type]
    sign, degree = {3: "Ø", 4: "R"}.get(kind, ""), "°" if kind == 5 else ""
    places = style.get("dimadec") if kind == 5 else style.get("dimdec")
    up, down, fine = style.get("dimtp"), style.get("dimtm"), style.get("dimtdec")
    if style.get("dimlim"):
        shown = f"{sign}{number(value + up, places)}{degree}/{sign}{number(value - down, places)}{degree}"
    else:
        shown = sign + number(value, places) + degree
        if style.get("dimtol"):
            signed = [
                ("0" if abs(v) < 1e-12 else ("+" if v > 0 else "-") + number(abs(v), fine, "dimtzin"))
                for v in (up, -down)
            ]
            shown += (
                f" ±{number(up, fine, 'dimtzin')}{degree}"
                if abs(up - down) < 1e-12
                else " " + "/".join(signed)
            )
    text = e.dxf.text.replace("<>", shown)
    return f"[{text}]" if style.get("dimgap") < 0 else text


WRITTEN = [
    (Wording(), Tolerance(), "70"),
    (Wording(count=4), Tolerance(form="class", designation="H7"), "4× 70 H7"),
    (Wording(), Tolerance(form="equal", upper=0.1), "70 ±0,1"),
    (Wording(), Tolerance(form="unequal", upper=0.2, lower=-0.1), "70 +0,2/-0,1"),
    (Wording(), Tolerance(form="unequal", upper=0.25, lower=0.0), "70 +0,25/0"),
    (
        Wording(),
        Tolerance(form="class", designation="H7", shown="both"),
        "70 +0,03/0 H7",
    ),  # ISO 286-1: IT7 of 50 to 80 is 0.030
    (Wording(), Tolerance(form="limits", upper=0.2, lower=-0.1), "70,2/69,9"),
    (Wording(), Tolerance(form="max"), "70 max."),
    (Wording(reference=True), Tolerance(), "(70)"),
    (Wording(basic=True), Tolerance(), "[70]"),
    (Wording(prefix="SQ ", suffix=" TYP"), Tolerance(), "SQ 70 TYP"),
    (Wording(above="THIS SIDE", below="AFTER COATING"), Tolerance(), "THIS SIDE\\P70\\PAFTER COATING"),
    (Wording(own="SEE TABLE"), Tolerance(), "SEE TABLE"),
    (Wording(unit="in", fraction=16), Tolerance(), "2 3/4"),
    (Wording(unit="in", places=3), Tolerance(form="equal", upper=0.254), "2,756 ±,010"),
]


@pytest.mark.parametrize(("wording", "tolerance", "want"), WRITTEN, ids=[w[2] for w in WRITTEN])
def test_a_dxf_dimension_alone_says_all_that_the_sheet_says(
    wording: Wording, tolerance: Tolerance, want: str
) -> None:
    model = steps()
    d = drawing(
        [length("a", BACK, RISERS[4], wording=wording, tolerance=tolerance)], scale=Scale(drawn=1, true=2)
    )
    assert alone(d, model) == {0: want}


def alone(d: Drawing, model: Model) -> dict[int, str]:
    """By type of the entity what each DIMENSION of a drawing's only view says alone."""
    out = compose(d, d.sheets[0], model.facts, {"v": derive(Prepared(model), Derivation(orientation=TOP))})
    document, audit = ezdxf.recover.read(io.BytesIO(sheet_dxf(out.ink, d.profile)[0]))
    assert not audit.errors
    return {
        e.dimtype: read_alone(e)
        for e in document.modelspace().query("DIMENSION")
        if isinstance(e, DxfDimension)
    }


def test_dxf_dimensions_of_every_kind_say_alone_what_the_sheet_says() -> None:
    d, model = all_kinds()
    assert alone(d, model) == {0: "70 +0,2/-0,1", 3: "Ø8 H7", 4: "(R4)", 5: "90°", 6: "30"}
    by_kind = {a.id: a for a in d.sheets[0].annotations}
    by_kind["b"].wording, by_kind["b"].tolerance = (
        Wording(count=4),
        Tolerance(form="limits", upper=0.2, lower=-0.1),
    )  # type: ignore[union-attr]
    by_kind["e"].tolerance = Tolerance(form="equal", upper=math.radians(0.5))  # type: ignore[union-attr]
    found = alone(d, model)
    assert (found[3], found[5]) == ("4× Ø8,2/Ø7,9", "90° ±0,5°")
    inch = d.model_copy(update={"profile": ASME_INCH})
    assert alone(inch, model)[0] == "2.75591 +.00787/-.00394"


def test_a_block_has_no_size_between_a_thing_and_itself() -> None:
    model = block(40, 30, 10)
    with pytest.raises(SizeError, match="picked twice"):
        registry.value(
            LinearDimension(id="x", view="v", picks=[edge("b/end|b/side.left")] * 2, place=at(0, 0)),
            seen_in(facts=model.facts, frame=frame(drawing([]), model.facts)),
        )
