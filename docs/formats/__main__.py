"""Writes recipe.schema.json from the recipe's own definition."""

import json
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

from drafting.model.recipe import Recipe

FILE = Path(__file__).parent / "recipe.schema.json"


def schema() -> Any:
    return {"title": "Moorcrest recipe, version 1", **TypeAdapter(Recipe).json_schema()}


if __name__ == "__main__":
    FILE.write_text(json.dumps(schema(), indent=1, sort_keys=True) + "\n")
