"""The published recipe schema is the one the code reads by, and the demo recipes fit it."""

import json
from pathlib import Path

from docs.formats.__main__ import FILE, schema
from tests.core.conftest import RECIPES


def test_the_published_schema_is_current() -> None:
    assert json.loads(FILE.read_text()) == json.loads(json.dumps(schema()))


def test_the_page_names_every_feature_kind() -> None:
    page = (Path(FILE).parent / "recipe.md").read_text()
    kinds = {d["properties"]["kind"]["const"] for d in schema()["$defs"].values() if "kind" in d.get("properties", {})}
    assert kinds == {"extrude", "revolve", "hole", "slot", "fillet", "chamfer", "pattern", "thread"}
    for kind in kinds:
        assert f"`{kind}`" in page
    used = {f["kind"] for r in RECIPES.glob("*.json") for f in json.loads(r.read_text()).get("features", [])}
    assert used == kinds  # the sample office uses them all
