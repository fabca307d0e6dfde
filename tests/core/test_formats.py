"""The published recipe schema is the one the code reads by, and the demo recipes fit it."""

import json
from pathlib import Path

from docs.formats.__main__ import FILE, schema
from tests.core.conftest import RECIPES


def test_the_published_schema_is_current() -> None:
    assert json.loads(FILE.read_text()) == json.loads(json.dumps(schema()))


def test_the_page_names_every_kind_of_feature_and_mate() -> None:
    page = (Path(FILE).parent / "recipe.md").read_text()
    kinds = {
        d["properties"]["kind"]["const"]
        for d in schema()["$defs"].values()
        if "kind" in d.get("properties", {})
    }
    mates = {"coincident", "concentric", "angle"}
    assert kinds == mates | {"extrude", "revolve", "hole", "slot", "fillet", "chamfer", "pattern", "thread"}
    for kind in kinds:
        assert f"`{kind}`" in page
    for what, wanted in (("features", kinds - mates), ("mates", mates)):  # the sample office uses them all
        assert {
            f["kind"] for r in RECIPES.glob("*.json") for f in json.loads(r.read_text()).get(what, [])
        } == wanted
