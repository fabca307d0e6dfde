"""Drawings of the sample office as they are finished: their views derived and centered, without placed
files."""

import json
from functools import cache
from typing import Any

from pydantic import TypeAdapter

from drafting import commands
from drafting.annotation.proposing import find_centers
from drafting.checking.page import Page
from drafting.commands.annotations import Place
from drafting.compose import annotation_groups
from drafting.context import Context
from drafting.document import Drawing, Sheet
from drafting.model.model import Model
from drafting.standards.profile import ISO_MM
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.present import presented
from tests.core.conftest import ROOT, demo

PARTS = ("HB-202", "HB-204", "HB-205", "HB-206", "HB-207", "HB-210", "HB-211", "HB-214")


@cache
def modeled(number: str) -> Model:
    """The model of one of them, the same each time."""
    return demo(number)


def pages(number: str, drawing: Drawing | None = None) -> list[Page]:
    """The sheets of one of them, or of what was made of it, as rules look at them."""
    drawing, facts, prepared = drawing or finished(number), modeled(number).facts, Prepared(modeled(number))
    out = []
    for sheet in drawing.sheets:
        shown = {
            v.id: presented(v, sheet, facts, derive(prepared, derivation_of(v, facts))) for v in sheet.views
        }
        out.append(Page(drawing, sheet, facts, annotation_groups(drawing, sheet, facts), shown))
    return out


@cache
def finished(number: str) -> Drawing:
    """One of them, on a bare sheet."""
    model = modeled(number)
    prepared, facts = Prepared(model), model.facts
    drawing = Drawing(
        name=facts.name,
        profile=ISO_MM,
        projection="first",
        sheets=[Sheet(id="s", name="Sheet 1", size="A3")],
    )
    adapter: TypeAdapter[Any] = TypeAdapter(commands.AnyCommand)
    for c in json.loads((ROOT / "demo" / "drawings" / f"{number}.json").read_text())["commands"]:
        c = {**c, "sheet": "s"} if c.get("sheet") == "" else c
        if c["command"] == "place" and "underlay" in json.dumps(c["annotations"]):
            continue
        drawing = commands.applied(drawing, adapter.validate_python(c), facts)
    for view in drawing.views():
        sheet = drawing.sheet_of_view(view.id)
        if sheet is None or view.kind in ("pictorial", "detail") or not view.centers:
            continue
        geometry = presented(view, sheet, facts, derive(prepared, derivation_of(view, facts)))
        found = find_centers.lacking(geometry, Context(drawing, sheet, facts, view))
        if found:
            drawing = commands.applied(drawing, Place(command="place", annotations=[*found]), facts)
    return drawing
