"""Shared parts for the core tests: small recipes, the demo recipes, and STEP files from installed
packages."""

import json
import os
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings
from pydantic import TypeAdapter

from drafting import commands
from drafting.document import Drawing, Sheet
from drafting.model.assembly import build_model
from drafting.model.model import Facts, Model
from drafting.model.recipe import validate_recipe
from drafting.standards.profile import ISO_MM
from drafting.views.derive import Prepared

# The same examples every run, so that a failure is the change's; MOORCREST_EXPLORE=1 looks for new ones.
settings.register_profile("settled", derandomize=not os.environ.get("MOORCREST_EXPLORE"), deadline=None)
settings.load_profile("settled")

ROOT = Path(__file__).resolve().parents[2]
RECIPES = ROOT / "demo" / "recipes"
OCCT = Path("/usr/share/opencascade/data/step")
T20 = Path(sys.prefix) / "share" / "doc" / "gmsh" / "tutorials" / "t20_data.step"
STEP_FILES = {"screw": OCCT / "screw.step", "linkrods": OCCT / "linkrods.step", "t20": T20}


def recipe(features: list[dict[str, Any]], parameters: dict[str, Any] | None = None, **more: Any) -> Any:
    return validate_recipe(
        {
            "moorcrest": "part",
            "version": 1,
            "name": "Test",
            "parameters": parameters or {},
            "features": features,
            **more,
        }
    )


def part(features: list[dict[str, Any]], parameters: dict[str, Any] | None = None, **more: Any) -> Model:
    return build_model(recipe(features, parameters, **more))


def block(width: float, depth: float, height: float, *more: dict[str, Any]) -> Model:
    """A block with its lower front left corner at (-width/2, -depth/2, 0)."""
    return part(
        [{"id": "b", "kind": "extrude", "profile": {"width": width, "height": depth}, "depth": height}, *more]
    )


def demo_data(number: str) -> Any:
    return json.loads((RECIPES / f"{number}.json").read_text())


def demo(number: str) -> Model:
    return build_model(validate_recipe(demo_data(number)), lambda n: demo_data(n))


def demo_drawing(number: str) -> Drawing:
    """A drawing of the sample office on a bare sheet, without its placed files."""
    facts = demo(number).facts
    sheet = Sheet(id="s", name="Sheet 1", size="A3")
    drawing = Drawing(name=facts.name, profile=ISO_MM, projection="first", sheets=[sheet])
    adapter: TypeAdapter[Any] = TypeAdapter(commands.AnyCommand)
    for c in json.loads((ROOT / "demo" / "drawings" / f"{number}.json").read_text())["commands"]:
        command = adapter.validate_python({**c, "sheet": "s"} if c.get("sheet") == "" else c)
        drawing = commands.applied(drawing, command, facts)
    return drawing


@pytest.fixture(scope="session")
def bearing() -> Prepared:
    return Prepared(demo("HB-204"))


@pytest.fixture(scope="session")
def winder() -> Model:
    return demo("HB-200")


@pytest.fixture(autouse=True)
def _given_drawings_stay(monkeypatch: pytest.MonkeyPatch) -> None:
    """States of a drawing share what no command touched: none may write into the drawing it was given."""
    real = commands.applied

    def watched(drawing: Drawing, command: commands.Command, facts: Facts | None = None) -> Drawing:
        before = drawing.model_dump_json()
        try:
            return real(drawing, command, facts)
        finally:
            assert drawing.model_dump_json() == before, command.command

    monkeypatch.setattr(commands, "applied", watched)
