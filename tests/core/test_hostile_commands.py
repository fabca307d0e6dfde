"""Commands with values that nobody would type: each is refused in a sentence, or makes a drawing that still
draws and can be taken back."""

import copy
import hashlib
import json
import os
import random
from typing import Any

import pytest
from pydantic import TypeAdapter, ValidationError

from drafting.commands import AnyCommand, execute, patched
from drafting.compose import compose
from drafting.document import Drawing, Fields, Sheet
from drafting.errors import DraftingError
from drafting.placed import content, dxf
from drafting.standards.profile import ISO_MM
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from tests.core.conftest import ROOT, demo

ADAPTER: TypeAdapter[Any] = TypeAdapter(AnyCommand)
NUMBERS = ["HB-200", "HB-204", "HB-205", "HB-206", "HB-207", "HB-210", "HB-214", "HB-220"]
TRIES = 4000 if os.environ.get("MOORCREST_EXPLORE") else 150
HOSTILE = [
    0, -1, 1e-9, -1e-9, 1e6, -1e6, 1e300, float("nan"), float("inf"), 10**30, True, None, "", " ", "\0",
    "\ud800", "x" * 5000, "\n", "<b>&", [], [0, 0],
    [0, 0, 0], [1, 0, 0], {}, {"x": 0, "y": 0}, {"x": 1e6, "y": -1e6},
    "front", "A-A", "section", ["front"], -0.5, 0.5, 7, 90, 360,
]  # fmt: skip


def leaves(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Paths to everything in plain data, but for the name of the command."""
    own = [path] if path and path != ("command",) else []
    parts = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else []
    return own + [p for key, part in parts for p in leaves(part, (*path, key))]


def mutated(command: dict[str, Any], rng: random.Random) -> dict[str, Any]:
    out = copy.deepcopy(command)
    for _ in range(rng.choice([1, 1, 1, 2, 3])):
        paths = leaves(out)
        if not paths:
            break
        *way, last = rng.choice(paths)
        holder: Any = out
        for key in way:
            holder = holder[key]
        what = rng.random()
        if what < 0.1 and isinstance(holder, dict):
            del holder[last]
        elif what < 0.2 and isinstance(holder, list):
            holder.append(copy.deepcopy(holder[last]))
        else:
            holder[last] = copy.deepcopy(rng.choice(HOSTILE))
    return out


def start(number: str) -> tuple[Any, Drawing, list[dict[str, Any]]]:
    model = demo(number)
    text = (ROOT / "demo" / "drawings" / f"{number}.json").read_text()
    for file in (ROOT / "demo" / "files").iterdir():
        packed = dxf.read(file)[0].packed()
        key = hashlib.sha256(packed).hexdigest()
        text = text.replace(f'"file": "{file.name}"', f'"file": "{key}"')
        content.read_with({key: packed}.get)
    data = json.loads(text)
    sheet = Sheet(id="first", name="Sheet 1", size="A2")
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", fields=Fields(owner="x"), sheets=[sheet])
    for command in data["commands"]:
        if command.get("sheet") == "":
            command["sheet"] = sheet.id
    return model, drawing, data["commands"]


@pytest.mark.parametrize("number", NUMBERS)
def test_no_command_breaks_a_drawing(number: str) -> None:
    model, drawing, script = start(number)
    facts, prepared = model.facts, Prepared(model)
    derived: dict[str, ViewGeometry | None] = {}

    def geometry(d: Derivation) -> ViewGeometry | None:
        key = d.key("", "")
        if key not in derived:
            try:
                derived[key] = derive(prepared, d)
            except DraftingError:
                derived[key] = None
        return derived[key]

    def draw(d: Drawing) -> None:
        for sheet in d.sheets:
            found = {v.id: g for v in sheet.views if (g := geometry(derivation_of(v, facts))) is not None}
            compose(d, sheet, facts, found)

    states = []
    for command in script:
        states.append((drawing, command))
        drawing, _, _ = execute(drawing, ADAPTER.validate_python(command), facts)
    rng = random.Random(os.environ.get("MOORCREST_SEED", f"commands of {number}"))
    taken = refused = 0
    for _ in range(TRIES):
        before, command = rng.choice(states)
        if "annotations" in command:  # one at a time: of a hundred the one that is refused says little
            command = {**command, "annotations": [rng.choice(command["annotations"])]}
        if rng.random() < 0.5:
            before = drawing
        try:
            said = ADAPTER.validate_python(mutated(command, rng))
            after, _, inverse = execute(before, said, facts)
        except (ValidationError, DraftingError):
            refused += 1
            continue
        taken += 1
        draw(after)
        assert patched(after, inverse) == before
    assert taken > TRIES / 20
    assert refused > TRIES / 20
