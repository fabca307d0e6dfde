"""The chain of a stack-up: along the sizes that are drawn and across contacts, against closed sums; contacts
against the kernel's own distance."""

import itertools
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepExtrema import BRepExtrema_DistShapeShape

from drafting.annotation import registry
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.kinds.stack_up import StackUp, result
from drafting.annotation.measuring.contacts import contacts
from drafting.annotation.measuring.stack_chain import chain
from drafting.annotation.proposing.propose import propose
from drafting.annotation.review.stack_table import table
from drafting.annotation.wording.frame_words import parsed
from drafting.commands import applied
from drafting.commands.annotations import Place
from drafting.context import Context
from drafting.document import Drawing, Pick, Point, Sheet, Tolerance, View
from drafting.errors import CommandError, SizeError
from drafting.export import tables
from drafting.model.assembly import build_model
from drafting.model.model import Model
from drafting.model.recipe import validate_recipe
from drafting.standards.profile import ASME_INCH, ISO_MM
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import part
from tests.core.test_winder import Placed

NOWHERE: dict[str, Any] = {"model": {"x": 0.0, "y": 0.0}, "paper": {"x": 0.0, "y": -20.0}}
BARE = ISO_MM.model_copy(update={"general_tolerance": ""})


def of(features: list[dict[str, Any]], name: str) -> dict[str, Any]:
    return {"moorcrest": "part", "version": 1, "name": name, "features": features}


def outline(points: list[list[float]]) -> dict[str, Any]:
    return {"start": points[0], "to": [{"line": p} for p in points[1:]]}


def block_of(width: float, name: str) -> dict[str, Any]:
    """Its left side at x = 0, as deep and as high as 20."""
    points = [[0, 0], [width, 0], [width, 20], [0, 20]]
    return of([{"id": "b", "kind": "extrude", "profile": outline(points), "depth": 20}], name)


def tray(opening: float) -> dict[str, Any]:
    """Cheeks of 10 about an opening whose left side is at x = 0; its floor is at y = 0."""
    w = opening
    points = [[-10, -5], [w + 10, -5], [w + 10, 20], [w, 20], [w, 0], [0, 0], [0, 20], [-10, 20]]
    return of([{"id": "t", "kind": "extrude", "profile": outline(points), "depth": 20}], "Tray")


def side(facts: Any, path: str, x: float) -> str:
    """A plane face of an instance that looks along x, where it lies in the model."""
    instance, p = facts.part_of(path)
    m = np.array(instance.matrix)
    for f in p.faces:
        at, n = m[:3, :3] @ f.origin + m[:3, 3], m[:3, :3] @ f.axis
        if f.kind == "plane" and abs(abs(n[0]) - 1) < 1e-9 and abs(at[0] - x) < 1e-6:
            return str(f.name)
    raise AssertionError((path, x))


def pick(facts: Any, path: str, x: float) -> Pick:
    """An edge of such a face that the top view shows as a line."""
    name, p = side(facts, path, x), facts.part_of(path)[1]
    edge = next(e for e in p.edges if name in e.faces and abs(e.start[2] - e.end[2]) < 1e-9)
    return Pick(instance=path, source=edge.name)


class Drawn:
    """A model seen from the top, with sizes along x between places of its parts."""

    def __init__(self, model: Model) -> None:
        self.facts = model.facts
        view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=150, y=120))
        sheet = Sheet(id="s", size="A3", views=[view])
        self.drawing = Drawing(name="x", profile=BARE, projection="first", sheets=[sheet])

    @property
    def context(self) -> Context:
        sheet = self.drawing.sheets[0]
        return Context(self.drawing, sheet, self.facts, sheet.views[0])

    def place(self, *annotations: dict[str, Any]) -> None:
        self.drawing = applied(
            self.drawing, Place.model_validate({"command": "place", "annotations": annotations}), self.facts
        )

    def size(self, path: str, a: float, b: float, upper: float, lower: float, **more: Any) -> None:
        picks = [pick(self.facts, path, v).model_dump() for v in (a, b)]
        count = len(self.context.sheet.annotations)
        tolerance = {"form": "unequal", "upper": upper, "lower": lower} if (upper, lower) != (0, 0) else {}
        size = {"kind": "linear", "id": f"s{count}", "view": "v", "direction": "horizontal", "picks": picks}
        self.place({**size, "place": NOWHERE, "tolerance": tolerance, **more})

    def stack(self, one: Pick, two: Pick, **more: Any) -> StackUp:
        spots = [Spot(p, (0.0, 0.0)) for p in (one, two)]
        made = propose("stack_up", Request(spots, (0, 0), "stack"), self.context, dict).annotations[0]
        assert isinstance(made, StackUp)
        return made.model_copy(update=more)


def in_tray(opening: float, *widths: float) -> Drawn:
    """Blocks beside each other in a tray, the first against its left cheek."""
    parts: dict[str, Any] = {"tray": tray(opening)}
    instances: list[dict[str, Any]] = [{"id": "tray", "part": "tray", "at": {"origin": [0, 0, 0]}}]
    for n, w in enumerate(widths):
        parts[f"b{n}"] = block_of(w, f"Block {n}")
        instances.append({"id": f"b{n}", "part": f"b{n}", "at": {"origin": [sum(widths[:n]), 0, 0]}})
    recipe = {"moorcrest": "assembly", "version": 1, "name": "A", "parts": parts, "instances": instances}
    return Drawn(build_model(validate_recipe(recipe)))


def test_a_gap_in_a_tray_adds_up_by_hand() -> None:
    d = in_tray(50, 20, 29)
    d.size("tray", 0, 50, 0.1, -0.1)
    d.size("b0", 0, 20, 0.0, -0.2)
    d.size("b1", 20, 49, 0.1, -0.1)
    a = d.stack(pick(d.facts, "b1", 49), pick(d.facts, "tray", 50), least=0.8, most=1.4, name="play")
    found = result(a, d.context)
    assert found.nominal == pytest.approx(1)
    assert (found.worst.least, found.worst.most) == pytest.approx((0.8, 1.4))
    spread = math.sqrt(3) * 0.1
    assert (found.squares.least, found.squares.most) == pytest.approx((1.1 - spread, 1.1 + spread))
    assert found.holds
    assert sorted(k.annotation for k in found.chain.links if k.annotation) == ["s0", "s1", "s2"]
    assert [round(s, 3) for s in found.shares if s] == [0.333] * 3
    tight = a.model_copy(update={"least": 0.9})
    assert registry.findings(tight, d.context) == [
        "The play of a stack-up is 0,8 to 1,4 (worst case); it has to be at least 0,9 and at most 1,4."
    ]
    assert registry.findings(tight.model_copy(update={"method": "root sum square"}), d.context) == []
    rows = table(a, d.context)
    assert ["Worst case", 0.8, 1.4] in [r[1:4] for r in rows if len(r) > 3]
    assert rows[-1][1] == "Holds"
    assert tables.xlsx(rows, "Stack-up")[:2] == b"PK"
    assert "Worst case,0.8,1.4" in tables.comma_separated(rows).decode()


def test_a_size_that_changes_changes_the_gap() -> None:
    d = in_tray(50, 20, 29)
    d.size("tray", 0, 50, 0.1, -0.1)
    d.size("b0", 0, 20, 0.0, -0.2)
    d.size("b1", 20, 49, 0.1, -0.1)
    a = d.stack(pick(d.facts, "b1", 49), pick(d.facts, "tray", 50), least=0.8)
    d.place(a.model_dump(mode="json"))
    assert registry.findings(a, d.context) == []
    wide = {"tolerance": Tolerance(form="equal", upper=0.3)}
    sheet = d.context.sheet
    sizes = [s.model_copy(update=wide) if s.id == "s0" else s for s in sheet.annotations]
    d.drawing = d.drawing.model_copy(update={"sheets": [sheet.model_copy(update={"annotations": sizes})]})
    assert "0,6 to 1,6" in registry.findings(a, d.context)[0]


def test_what_is_not_drawn_is_not_made_up() -> None:
    d = in_tray(50, 20, 29)
    d.size("tray", 0, 50, 0.1, -0.1)
    d.size("b0", 0, 20, 0.0, -0.2)
    one, two = pick(d.facts, "b1", 49), pick(d.facts, "tray", 50)
    with pytest.raises(SizeError, match="No sizes with tolerances lead"):
        chain([one, two], d.context)
    early = d.stack(one, two, least=0.5)  # it may be asked for before all is drawn
    assert registry.text(early, d.context) == "gap 1, its range not known"
    assert "No sizes with tolerances lead" in registry.findings(early, d.context)[0]
    d.size("b1", 20, 49, 0, 0)  # drawn, but with no tolerance, and there is no general one
    with pytest.raises(SizeError, match="No sizes with tolerances lead"):
        chain([one, two], d.context)
    d.size("b1", 20, 49, 0.1, -0.1, wording={"reference": True})
    with pytest.raises(SizeError, match="No sizes with tolerances lead"):
        chain([one, two], d.context)
    with pytest.raises(CommandError, match="at least less than at most"):
        registry.check(StackUp(id="s", view="v", picks=[one, two], least=3, most=2), d.context)  # type: ignore[call-arg]


def test_sizes_hold_for_every_instance_of_a_part() -> None:
    parts = {"tray": tray(61), "b": block_of(20, "Block")}
    instances: list[dict[str, Any]] = [{"id": "tray", "part": "tray", "at": {"origin": [0, 0, 0]}}]
    instances.append({"id": "one", "part": "b", "at": {"origin": [0, 0, 0]}})
    # the second is turned about
    turned = {"origin": [40, 0, 20], "x": [-1, 0, 0], "z": [0, 0, -1]}
    instances.append({"id": "two", "part": "b", "at": turned})
    instances.append({"id": "three", "part": "b", "at": {"origin": [40, 0, 0]}})
    recipe = {"moorcrest": "assembly", "version": 1, "name": "A", "parts": parts, "instances": instances}
    d = Drawn(build_model(validate_recipe(recipe)))
    d.size("tray", 0, 61, 0.2, 0.0)
    d.size("one", 0, 20, 0.05, -0.05)
    found = chain([pick(d.facts, "three", 60), pick(d.facts, "tray", 61)], d.context)
    assert sum(k.annotation == "s1" for k in found.links) == 3
    a = d.stack(pick(d.facts, "three", 60), pick(d.facts, "tray", 61))
    worst = result(a, d.context).worst
    assert (worst.least, worst.most) == pytest.approx((0.85, 1.35))


@settings(max_examples=25)
@given(
    st.lists(st.tuples(st.integers(5, 40), st.integers(0, 30), st.integers(1, 30)), min_size=1, max_size=5),
    st.integers(1, 20),
    st.randoms(use_true_random=False),
)
def test_random_trays_are_closed_sums(widths: list[tuple[int, int, int]], gap: int, random: Any) -> None:
    sizes = [w for w, _, _ in widths]
    opening = sum(sizes) + gap / 10
    d = in_tray(opening, *sizes)
    order = list(range(len(sizes) + 1))
    random.shuffle(order)
    for n in order:
        if n == len(sizes):
            d.size("tray", 0, opening, 0.1, -0.1)
        else:
            at = sum(sizes[:n])
            d.size(f"b{n}", at, at + sizes[n], widths[n][1] / 100, -widths[n][2] / 100)
    a = d.stack(pick(d.facts, f"b{len(sizes) - 1}", sum(sizes)), pick(d.facts, "tray", opening))
    worst = result(a, d.context).worst
    assert worst.least == pytest.approx(gap / 10 - 0.1 - sum(u for _, u, _ in widths) / 100)
    assert worst.most == pytest.approx(gap / 10 + 0.1 + sum(low for _, _, low in widths) / 100)


# ---- along one part ----------------------------------------------------------------------------------------
STEPS: list[list[float]] = [[0, 0], [60, 0], [60, 10], [45, 10], [45, 20], [20, 20], [20, 30], [0, 30]]


def stepped() -> Drawn:
    return Drawn(part([{"id": "b", "kind": "extrude", "profile": outline(STEPS), "depth": 12}]))


def test_the_chain_of_a_part_goes_the_way_that_is_drawn() -> None:
    d = stepped()
    (path,) = [i.path for i in d.facts.instances]
    d.size(path, 0, 60, 0.2, -0.2)
    d.size(path, 0, 20, 0.1, -0.1)
    d.size(path, 60, 45, 0.05, -0.05)
    a = d.stack(pick(d.facts, path, 20), pick(d.facts, path, 45))
    found = result(a, d.context)
    assert found.nominal == pytest.approx(25)
    assert (found.worst.least, found.worst.most) == pytest.approx((24.65, 25.35))
    d.size(path, 20, 45, 0.02, -0.02)  # said by itself, it is that
    found = result(a, d.context)
    assert (found.worst.least, found.worst.most) == pytest.approx((24.98, 25.02))


# ---- a shaft in a bore -------------------------------------------------------------------------------------
PLATE = of(
    [
        {"id": "b", "kind": "extrude", "profile": {"width": 100, "height": 60}, "depth": 12},
        {"id": "h", "kind": "hole", "plane": {"origin": [20, 10, 12]}, "diameter": 10.5},
    ],
    "Plate",
)
PIN = of([{"id": "b", "kind": "extrude", "profile": {"diameter": 10}, "depth": 40}], "Pin")


def test_a_pin_shifts_in_its_hole() -> None:
    instances = [
        {"id": "plate", "part": "plate", "at": {"origin": [0, 0, 0]}},
        {"id": "pin", "part": "pin", "at": {"origin": [20, 10, 0]}},
    ]
    parts = {"plate": PLATE, "pin": PIN}
    recipe = {"moorcrest": "assembly", "version": 1, "name": "A", "parts": parts, "instances": instances}
    d = Drawn(build_model(validate_recipe(recipe)))

    def circle(path: str, radius: float) -> dict[str, Any]:
        edges = d.facts.part_of(path)[1].edges  # type: ignore[index]
        e = next(e for e in edges if e.kind == "circle" and abs(e.radius - radius) < 1e-9)
        return {"instance": path, "source": e.name}

    hole, shaft = circle("plate", 5.25), circle("pin", 5)
    common: dict[str, Any] = {"view": "v", "place": NOWHERE}
    d.place({"kind": "diameter", "id": "h", "picks": [hole], **common, "tolerance": _limits(0.1, 0)})
    d.place({"kind": "diameter", "id": "p", "picks": [shaft], **common, "tolerance": _limits(0, -0.1)})
    left = pick(d.facts, "plate", -50)
    across = {
        "kind": "linear",
        "id": "x",
        "direction": "horizontal",
        **common,
        "tolerance": _limits(0.2, -0.2),
    }
    d.place({**across, "picks": [left.model_dump(), {**hole, "point": "center"}]})
    front = View(id="f", kind="main", orientation=PRINCIPAL["front"], position=Point(x=150, y=220))
    sheet = d.context.sheet.model_copy(update={"views": [*d.context.sheet.views, front]})
    d.drawing = d.drawing.model_copy(update={"sheets": [sheet]})
    context = Context(d.drawing, sheet, d.facts, front)
    pin = next(f.name for f in d.facts.part_of("pin")[1].faces if f.kind == "cylinder")  # type: ignore[index]
    wall = next(e.name for e in d.facts.part_of("plate")[1].edges if _is_foot(e))  # type: ignore[index]
    ends = [Pick(instance="plate", source=wall), Pick(instance="pin", source=pin, role="silhouette", side=1)]
    found = chain(ends, context)
    # from the wall to the hole 70 ± 0.2; the pin shifts by (10.6 - 9.9) / 2; its radius is 5 - 0.05
    worst = result(StackUp(id="s", anchor={"on": "view", "view": "f", "picks": ends}), context).worst  # type: ignore[arg-type]
    sign = 1 if found.gap > 70 else -1
    at = 70 + sign * 5
    low, high = (0.05, 0.0) if sign > 0 else (0.0, 0.05)
    assert found.gap == pytest.approx(at)
    assert (worst.least, worst.most) == pytest.approx((at - 0.55 - low, at + 0.55 + high))
    assert any("shifts in" in k.says for k in found.links)


def _limits(upper: float, lower: float) -> dict[str, Any]:
    return {"form": "unequal", "upper": upper, "lower": lower}


def _is_foot(e: Any) -> bool:
    """The upright edge of the plate's left side."""
    return bool(np.allclose(e.middle, (-50, -30, 6)))


# ---- contacts ----------------------------------------------------------------------------------------------
def test_contacts_are_where_the_kernel_finds_parts_that_touch(winder: Model) -> None:
    found = contacts(winder.facts)
    pairs = {frozenset((c.one.path, c.other.path)) for c in found if not c.is_fit}
    parts = {i.path: Placed(winder, i.path) for i in winder.facts.instances}
    for one, two in itertools.combinations(parts.values(), 2):
        if frozenset((one.path, two.path)) in pairs:
            assert BRepExtrema_DistShapeShape(one.shape, two.shape).Value() < 1e-6
    # each screw of the foot bars has its head on the bar and its shank in a bore of it
    assert frozenset(("foot-1", "foot-screw-1")) in pairs
    assert any(c.is_fit and c.one.path == "foot-1" and c.other.path == "foot-screw-1" for c in found)


def test_planes_at_one_level_that_do_not_meet_bear_nothing() -> None:
    def two(x: float) -> Model:
        parts = {"b": block_of(20, "Block")}
        upper = {"id": "up", "part": "b", "at": {"origin": [x, 20, 0]}}
        instances = [{"id": "low", "part": "b", "at": {"origin": [0, 0, 0]}}, upper]
        recipe = {"moorcrest": "assembly", "version": 1, "name": "A", "parts": parts, "instances": instances}
        return build_model(validate_recipe(recipe))

    assert len(contacts(two(15).facts)) == 1
    assert contacts(two(25).facts) == []
    assert contacts(two(20).facts) == []  # corner to corner


# ---- basic sizes -------------------------------------------------------------------------------------------
def located(profile: Any, line: str, datum_on_side: bool) -> tuple[Drawn, list[Pick]]:
    """A plate whose side is 60 from the other by a basic size, and a profile on that side."""
    d = Drawn(part([{"id": "b", "kind": "extrude", "profile": outline(STEPS), "depth": 12}]))
    d.drawing = d.drawing.model_copy(update={"profile": profile})
    (path,) = [i.path for i in d.facts.instances]
    d.size(path, 0, 60, 0, 0, wording={"basic": True})
    ends = [pick(d.facts, path, x) for x in (0, 60)]
    low = (
        pick(d.facts, path, 0)
        if datum_on_side
        else next(
            Pick(instance=path, source=e.name)
            for e in d.facts.part_of(path)[1].edges  # type: ignore[index]
            if np.allclose(e.middle, (30, 0, 12))
        )
    )
    places = {"tip": low, "frame": ends[1]}
    tips = {
        k: {"instance": path, "at": {"x": 0.5, "y": 0.5}, "on": "edge", "source": p.source, "role": "edge"}
        for k, p in places.items()
    }
    datum = {
        "kind": "datum_feature",
        "id": "a",
        "view": "v",
        "letter": "A",
        "tip": tips["tip"],
        "place": NOWHERE,
    }
    frame = {"kind": "control_frame", "id": "f", "view": "v", "tip": tips["frame"], "place": NOWHERE}
    rows = [r.model_dump() for r in parsed(line)]
    d.place(datum, {**frame, "rows": rows})
    return d, ends


@pytest.mark.parametrize(
    ("profile", "line", "half"),
    [
        (BARE, "prof 0.2 a", 0.1),
        (BARE, "prof 0.2(U 0.3) a", 0.4),  # ISO: the middle of the zone is moved by 0.3
        (ASME_INCH, "prof 0.2(U 0.15) a", 0.15),  # ASME: 0.15 of 0.2 lies outside
    ],
)
def test_a_basic_size_counts_by_what_locates_its_end(profile: Any, line: str, half: float) -> None:
    d, ends = located(profile.model_copy(update={"general_tolerance": ""}), line, datum_on_side=True)
    worst = result(d.stack(*ends), d.context).worst
    assert (worst.least, worst.most) == pytest.approx((60 - half, 60 + half))


def test_a_basic_size_to_what_nothing_locates_is_no_link() -> None:
    d, ends = located(BARE, "prof 0.2 a", datum_on_side=False)
    with pytest.raises(SizeError, match="No sizes with tolerances lead"):
        chain(ends, d.context)
