"""STEP files to models and models to STEP files."""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from drafting.errors import ModelError
from drafting.kernel import measure, step
from drafting.kernel.topology import moved
from drafting.model.model import (
    IDENTITY,
    Facts,
    InstanceFacts,
    Matrix,
    Model,
    PartFacts,
    TreeNode,
)
from drafting.model.names import part_facts
from drafting.model.upload import check_header

MAX_INSTANCES = 20_000
MAX_DEPTH = 40
Progress = Callable[[float, str], None]


def read_model(path: Path, name: str, progress: Progress = lambda done, text: None) -> Model:
    """Read a STEP file into a model named after its product, or after the file where the product has no name.

    Raises ModelError with one sentence for a file that is not STEP, is cut short, or holds no solid.
    """
    with path.open("rb") as file:
        check_header(file.read(4096))
        file.seek(0, 2)
        file.seek(max(0, file.tell() - 4096))
        if b"END-ISO-10303-21" not in file.read():
            raise ModelError("The STEP file is cut short: its end mark END-ISO-10303-21 is missing.")
    return measured(step.read_step(path, progress), name, progress)


def measured(content: step.StepFile, name: str, progress: Progress = lambda done, text: None) -> Model:
    """The model of a STEP file that was read: every distinct part named and measured once, every instance placed."""
    reader = _Reader(progress)
    tree = [reader.walk(root, np.eye(4), "", 0) for root in content.roots]
    if not any(p.volume > 0 for p in reader.parts.values()):
        if any(step.has_faces(shape) for shape in reader.shapes.values()):
            raise ModelError("The STEP file holds surfaces only and no solid body: save it as a solid, then bring it in again.")
        raise ModelError("The STEP file holds no solid body.")
    root = tree[0] if len(tree) == 1 else TreeNode(name=name, children=tree)
    root_name = clean_name(root.name) or name
    kind: Any = "part" if len(reader.instances) == 1 else "assembly"
    facts = Facts(
        name=root_name, kind=kind, units=content.units, source="step", parts=reader.parts, instances=reader.instances,
        tree=root.model_copy(update={"name": root_name}), low=reader.low.tolist(), high=reader.high.tolist(),
    )  # fmt: skip
    return Model(facts, reader.shapes)


def clean_name(text: str) -> str:
    """A product name fit for a heading; empty where the writer left a placeholder."""
    text = re.sub(r"\s+", " ", text).strip()
    placeholders = {"", "the product name", "unnamed", "none", "solid", "compound", "open cascade step translator 7.9 1"}
    return "" if text.lower() in placeholders else text[:120]


class _Reader:
    """Gathers distinct parts and placed instances while walking the file's tree."""

    def __init__(self, progress: Progress) -> None:
        self.progress = progress
        self.parts: dict[str, PartFacts] = {}
        self.shapes: dict[str, Any] = {}
        self.instances: list[InstanceFacts] = []
        self.low, self.high = np.full(3, np.inf), np.full(3, -np.inf)

    def walk(self, node: step.StepNode, above: Any, path: str, depth: int) -> TreeNode:
        if depth > MAX_DEPTH:
            raise ModelError(f"The assembly is nested more than {MAX_DEPTH} levels deep.")
        matrix = above @ np.array(node.matrix)
        here = f"{path}/{_slug(node.name)}" if path else _slug(node.name)
        if node.shape is None:
            used: dict[str, int] = {}
            children = []
            for child in node.children:
                slug = _slug(child.name)
                used[slug] = used.get(slug, 0) + 1
                child.name = child.name if used[slug] == 1 else f"{child.name} {used[slug]}"
                children.append(self.walk(child, matrix, here, depth + 1))
            return TreeNode(name=node.name, children=children, group=node.key)
        if len(self.instances) >= MAX_INSTANCES:
            raise ModelError(f"The assembly has more than {MAX_INSTANCES} instances.")
        if node.key not in self.parts:
            self.progress(min(0.95, 0.65 + 0.02 * len(self.parts)), f"measuring part {len(self.parts) + 1}, {node.name or 'unnamed'}")
            facts = part_facts(node.shape, clean_name(node.name))
            self.parts[node.key] = facts.model_copy(update={"color": list(node.color) if node.color else None})
            self.shapes[node.key] = node.shape
        rows: Matrix = [[float(v) for v in row] for row in matrix]
        here = here if all(i.path != here for i in self.instances) else f"{here}.{len(self.instances) + 1}"
        self.instances.append(InstanceFacts(path=here, name=node.name, part=node.key, matrix=rows))
        low, high = self._extents(node.key, rows)
        self.low, self.high = np.minimum(self.low, low), np.maximum(self.high, high)
        return TreeNode(name=node.name, part=node.key, path=here)

    def _extents(self, key: str, matrix: Matrix) -> Any:
        if np.allclose(matrix, IDENTITY):
            return self.parts[key].low, self.parts[key].high
        return measure.extents(moved(self.shapes[key], matrix))


def _slug(text: str) -> str:
    return re.sub(r"[^A-Za-z0-9._-]+", "-", text).strip("-")[:60] or "part"


def write_model(model: Model, path: Path) -> None:
    """Write a model as STEP AP242 in mm, with names, colors and the instance tree."""
    facts = model.facts
    parts = {k: (p.name or facts.name, _color(p), model.shapes[k]) for k, p in facts.parts.items()}
    instances = [(i.name, i.part, i.matrix) for i in facts.instances]
    step.write_step(step.WriteNode(parts, instances), facts.name, path)


def _color(part: PartFacts) -> step.Color | None:
    return (part.color[0], part.color[1], part.color[2]) if part.color else None
