"""Views of demo parts, and what is said on them, in the disguises of other writers: lines, centers, sizes,
runs, hole tables and callouts are those of the recipe."""

from collections import Counter
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from OCP.gp import gp_Vec

from drafting.annotation import registry
from drafting.annotation.kinds import hole_callout, hole_table
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.measuring.measure import pick_side
from drafting.annotation.proposing import find_centers, runs, size_tool
from drafting.context import Context
from drafting.document import Pick, Placement, Point
from drafting.errors import DraftingError
from drafting.model.model import Model
from drafting.standards.profile import ISO_MM
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.frame import ViewFrame
from drafting.views.geometry import ViewCurve, ViewGeometry, arc_points, length
from drafting.views.orientation import PRINCIPAL, Orientation
from drafting.views.view import View
from tests.core.conftest import demo
from tests.core.contexts import seen_in
from tests.core.disguises import DISGUISES, TURN, written

PARTS = ["HB-202", "HB-204", "HB-205", "HB-206", "HB-207", "HB-210", "HB-211", "HB-214", "HB-231"]
PLACES = 2
"""To how many decimals of a millimeter things are the same: what files in inches and recognition keep."""

LENGTH = 0.3
"""By how many millimeters all lines of a view may differ in length: where outlines graze a surface."""


def looked_at(model: Model, orientation: Orientation) -> tuple[ViewGeometry, Context]:
    view = View(id="v", kind="main", orientation=orientation, position=Point(x=0, y=0))
    frame = ViewFrame.of(view, model.facts)
    context = seen_in(facts=model.facts, frame=frame, scale=1.0, profile=ISO_MM, view=view)
    return derive(Prepared(model), Derivation(orientation=orientation)), context


def lines(geometry: ViewGeometry) -> dict[str, float]:
    """Length of all that is drawn, by how; without hidden arcs, which are left out or not where they are
    drawn on seen ones."""
    out: dict[str, float] = {}
    for c in geometry.curves:
        key = f"{'seen' if c.visible else 'hidden'} {'arc' if c.kind == 'arc' else 'line or curve'}"
        out[key] = out.get(key, 0.0) + length(c)
    return {k: v for k, v in out.items() if v > LENGTH and k != "hidden arc"}


def pick_of(c: ViewCurve, geometry: ViewGeometry, context: Context) -> Pick:
    """A curve as it is picked in its middle."""
    pick = Pick(instance=geometry.instances[c.instance], source=c.source, role=c.role)
    points = arc_points(c)
    middle = points[len(points) // 2] if c.kind != "line" else points.mean(0)
    return pick_side(pick, (float(middle[0]), float(middle[1])), context)


def is_near(values: list[float], known: list[list[float]]) -> bool:
    return any(max(abs(a - b) for a, b in zip(values, k, strict=True)) < 0.05 for k in known)


def rounds(geometry: ViewGeometry, context: Context) -> Counter[Any]:
    """What the size tool says of each seen circle and arc, once a circle."""
    out: Counter[Any] = Counter()
    done: list[list[float]] = []
    for c in geometry.curves:
        if c.kind != "arc" or not c.visible or c.edge_class == "thread" or is_near(c.data[:3], done):
            continue
        done.append(c.data[:3])
        try:
            pick = pick_of(c, geometry, context)
            size = size_tool.proposed([pick], arc_points(c)[16] + 20, "", "d", context).size
            out[size.kind, round(registry.value(size, context), PLACES)] += 1
        except DraftingError as error:
            out[str(error)] += 1
    return out


def ordinates(geometry: ViewGeometry, context: Context) -> Any:
    """Where the upright lines of a view stand from the leftmost."""
    upright = [
        c
        for c in geometry.curves
        if c.kind == "line"
        and c.visible
        and c.edge_class != "thread"
        and abs(c.data[0] - c.data[2]) < 1e-6 < abs(c.data[1] - c.data[3])
    ]
    picks: list[Pick] = []
    at: list[list[float]] = []
    for c in sorted(upright, key=lambda c: (round(c.data[0], PLACES), -length(c))):
        if not is_near(c.data[:1], at):
            at.append(c.data[:1])
            picks.append(pick_of(c, geometry, context))
    if len(picks) < 2:
        return []
    made = runs.made("ordinate", picks, "horizontal", np.array([0.0, -200.0]), "r", context)
    return sorted(abs(registry.value(size, context)) for size in made)


def callout_of(pick: Pick, context: Context) -> hole_callout.HoleCallout:
    return hole_callout.propose(Request([Spot(pick, (0.0, 0.0))], (90.0, 80.0), "x"), context)


def callouts(geometry: ViewGeometry, context: Context) -> Counter[str]:
    """What is said of what was picked, for each circle that belongs to a hole."""
    out: Counter[str] = Counter()
    for circle in find_centers.circles(geometry, context):
        try:
            out[hole_callout.words(callout_of(circle.pick, context), context)] += 1
        except DraftingError:
            out["none"] += 1
    return out


def table(geometry: ViewGeometry, context: Context) -> Counter[tuple[str, ...]]:
    """Rows of a hole table from the first hole on, with the letters of their tags."""
    holes = []
    for circle in find_centers.circles(geometry, context):
        try:
            hole_callout.called(callout_of(circle.pick, context), context)
            holes.append(circle)
        except DraftingError:
            pass
    if len(holes) < 2:
        return Counter()
    origin = min(holes, key=lambda c: (round(c.at[0], PLACES), round(c.at[1], PLACES), c.radius))
    made = hole_table.HoleTable(
        id="t",
        view="v",
        picks=[origin.pick, *(c.pick for c in holes)],
        place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0)),
    )
    return Counter((row[0][:1], *row[1:]) for row in hole_table.written_rows(made, context))


def told(model: Model, side: str, turned: bool) -> dict[str, Any]:
    """All that a view shows and says."""
    plain = PRINCIPAL[side]
    ways = [plain.right, plain.up]
    if turned:
        ways = [turned_way(w) for w in ways]
    geometry, context = looked_at(model, Orientation(right=ways[0], up=ways[1]))
    lacking = find_centers.lacking(geometry, context)
    return {
        "lines": lines(geometry),
        "centers": Counter((c.kind, len(c.picks) if c.kind == "bolt_circle" else 0) for c in lacking),
        "rounds": rounds(geometry, context),
        "ordinates": ordinates(geometry, context),
        "callouts": callouts(geometry, context),
        "table": table(geometry, context),
    }


def turned_way(way: list[float]) -> list[float]:
    v = gp_Vec(*way).Transformed(TURN)
    return [v.X(), v.Y(), v.Z()]


@cache
def of_recipe(number: str, side: str) -> dict[str, Any]:
    """Of the recipe, without its threads, which files do not know."""
    model = demo(number)
    (key,) = model.facts.parts
    part = model.facts.parts[key].model_copy(update={"threads": [], "holes": []})
    facts = model.facts.model_copy(update={"parts": {key: part}})
    out = told(replace(model, facts=facts), side, turned=False)
    near = {"lines": LENGTH, "ordinates": 1e-3}
    return {k: pytest.approx(v, rel=0, abs=near[k]) if k in near else v for k, v in out.items()}


@pytest.mark.parametrize("disguise", DISGUISES)
@pytest.mark.parametrize("number", PARTS)
def test_views_and_what_is_said_on_them_are_the_same_in_every_disguise(
    number: str, disguise: str, tmp_path: Path
) -> None:
    (shape,) = demo(number).shapes.values()
    change, unit = DISGUISES[disguise]
    model = written(change(shape), tmp_path, unit)
    for side in ("front", "top", "right"):
        assert told(model, side, "elsewhere" in disguise) == of_recipe(number, side)
