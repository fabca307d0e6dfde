"""What a drawing does not say: how long a verdict takes beside the kernel's bare read of the same part, first
and after an edit, and how it grows."""

import tempfile
import time
from pathlib import Path
from typing import Any

from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.completeness.verdict import verdict
from drafting.data import Point
from drafting.document import Drawing, Pick, Placement, Sheet, in_view
from drafting.kernel import step
from drafting.model.assembly import build_model
from drafting.model.model import Model
from drafting.model.recipe import validate_recipe
from drafting.model.step import write_model
from drafting.standards.profile import ISO_MM
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View

ROWS = (5, 12, 22)
"""Holes along each side of the plates: 31, 150 and 490 faces."""
EDIT_MOST = 0.3
"""Seconds that a verdict may take after an edit, of parts of up to 150 faces."""


def plate(rows: int) -> Model:
    """A plate of rows by rows holes, none in line with another, in as many diameters as there are rows."""
    pitch = 190 / rows
    holes = [
        {
            "id": f"h{i}",
            "kind": "hole",
            "plane": {"origin": [0, 0, 10]},
            "at": [
                [-95 + pitch * (i + 0.5) + 0.013 * k, -95 + pitch * (k + 0.5) + 0.017 * i]
                for k in range(rows)
            ],
            "diameter": 4 + 0.1 * i,
        }
        for i in range(rows)
    ]
    base = {"id": "b", "kind": "extrude", "profile": {"width": 200, "height": 200}, "depth": 10}
    return build_model(
        validate_recipe(
            {"moorcrest": "part", "version": 1, "name": "Plate", "units": "mm", "features": [base, *holes]}
        )
    )


def measured() -> bool:
    """Prints times and ratios; whether edits are followed in time."""
    print("What is not said, beside the kernel's bare read")
    good = True
    for rows in ROWS:
        model = plate(rows)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "plate.step"
            write_model(model, path)
            bare = _seconds(lambda path=path: step.bare_read(path))  # type: ignore[misc]
        faces = len(model.facts.parts["part"].faces)
        first = _seconds(lambda model=model: verdict(_sized(model, 1), model.facts))  # type: ignore[misc]
        again = _seconds(lambda model=model: verdict(_sized(model, 2), model.facts))  # type: ignore[misc]
        met = again <= EDIT_MOST or faces > 150
        good &= met
        print(
            f"  {faces} faces: first {1e3 * first:.0f} ms, {first / bare:.1f} times the read; after an edit "
            f"{1e3 * again:.0f} ms, {again / bare:.1f} times"
            + ("" if faces > 150 else f": {'met' if met else 'MISSED'}")
        )
    return good


def _sized(model: Model, sizes: int) -> Drawing:
    """A drawing of the plate with some holes' diameters on it."""
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=200, y=150))
    edges = [e for e in model.facts.parts["part"].edges if e.kind == "circle"]
    places = Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0))
    made: list[Any] = [
        DiameterDimension(
            id=f"d{n}", anchor=in_view("v", [Pick(instance="part", source=e.name)]), place=places
        )
        for n, e in enumerate(edges[:sizes])
    ]
    sheet = Sheet(id="s", name="1", size="A2", views=[view], annotations=made)
    return Drawing(name="plate", profile=ISO_MM, projection="first", sheets=[sheet])


def _seconds(work: Any) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start
