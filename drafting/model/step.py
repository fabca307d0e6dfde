"""STEP files to models and models to STEP files."""

import re
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import Any

import numpy as np

from drafting.errors import ModelError
from drafting.kernel import measure, step
from drafting.kernel.volumes import Volumes, is_quick
from drafting.model.long_strings import readable
from drafting.model.measuring import MIRRORED, with_volumes
from drafting.model.mirrored import is_mirrored, other_hand, unmirrored
from drafting.model.model import IDENTITY, Facts, InstanceFacts, Matrix, Model, PartFacts, TreeNode
from drafting.model.names import part_facts
from drafting.model.step_words import DENSITY, product_words
from drafting.model.upload import check_header
from drafting.standards.materials import HEAVIEST, LIGHTEST

MAX_INSTANCES = 20_000
MAX_DEPTH = 40
MOST_OWN = 40
MOST_LETTERS = 120
"""Of a name."""
Progress = Callable[[float, str], None]


def read_model(
    path: Path, name: str, progress: Progress = lambda done, text: None, later: bool = False
) -> Model:
    """Read a STEP file into a model named after its product, or after the file where the product has no name.

    later: whether volumes may be left for later, where they take long to measure. Raises
    ModelError with one sentence for a file that is not STEP, is cut short, or holds no solid.
    """
    with path.open("rb") as file:
        check_header(file.read(4096))
        file.seek(0, 2)
        file.seek(max(0, file.tell() - 4096))
        if b"END-ISO-10303-21" not in file.read():
            raise ModelError("The STEP file is cut short: its end mark END-ISO-10303-21 is missing.")
    with readable(path) as (readable_path, notes):
        model = model_of(step.read_step(readable_path, progress), name, progress, later)
    return (
        model
        if not notes
        else Model(model.facts.model_copy(update={"notes": [*model.facts.notes, *notes]}), model.shapes)
    )


def model_of(
    content: step.StepFile, name: str, progress: Progress = lambda done, text: None, later: bool = False
) -> Model:
    """The model of a STEP file that was read: every distinct part named and measured once, every instance
    placed."""
    reader = _Reader(progress, _Said(content))
    shapes = {node.key: node.shape for root in content.roots for node in _leaves(root, 0)}
    wait = later and not is_quick(shapes.values())
    with Volumes({} if wait else shapes) as volumes:
        tree = [reader.walk(root, np.eye(4), "", _slug(root.name), 0) for root in content.roots]
        if not wait:
            reader.take_volumes(volumes)
    if not any(p.is_solid for p in reader.parts.values()):
        if any(step.has_faces(shape) for shape in reader.shapes.values()):
            raise ModelError(
                "The STEP file holds surfaces only and no solid body: save "
                "it as a solid, then bring it in again."
            )
        raise ModelError("The STEP file holds no solid body.")
    root = tree[0] if len(tree) == 1 else TreeNode(name=name, children=tree)
    root_name = clean_name(root.name) or name
    kind: Any = "part" if len(reader.instances) == 1 else "assembly"
    top = reader.said.of(content.roots[0]) if len(content.roots) == 1 else {}
    top = {k: v for k, v in top.items() if k in ("number", "description", "material", "finish")}
    facts = Facts(
        name=root_name,
        kind=kind,
        units=content.units,
        source="step",
        parts=reader.parts,
        instances=reader.instances,
        tree=root.model_copy(update={"name": root_name}),
        low=reader.extents.low.tolist(),
        high=reader.extents.high.tolist(),
        notes=reader.notes(),
        densities=reader.densities(),
        unmeasured=wait,
        **top,
    )
    return Model(facts, reader.shapes)


def _leaves(node: step.StepNode, depth: int) -> Iterator[step.StepNode]:
    if node.shape is not None:
        yield node
    elif depth <= MAX_DEPTH:
        for child in node.children:
            yield from _leaves(child, depth + 1)


NOISE = re.compile(
    r"(the product name|unnamed|none|void|null|n/?a|-+|\$|not (specified|defined|set|available)|unspecified"
    r"|undefined|no description|unknown|solid|compound|(open cascade )?step translator[\d. ]*)",
    re.I,
)
"""What writers put where nothing was said: common practice."""


def clean_name(text: str) -> str:
    """A product name fit for a heading; empty where the writer left a placeholder."""
    text = re.sub(r"\s+", " ", text).strip()
    return "" if NOISE.fullmatch(text) else text[:MOST_LETTERS]


class _Reader:
    """Gathers distinct parts and placed instances while walking the file's tree."""

    def __init__(self, progress: Progress, said: "_Said") -> None:
        self.progress, self.said = progress, said
        self.parts: dict[str, PartFacts] = {}
        self.shapes: dict[str, Any] = {}
        self.instances: list[InstanceFacts] = []
        self.extents = measure.Extents()
        self.paths: set[str] = set()
        self.weights: dict[str, float] = {}

    def walk(self, node: step.StepNode, above: Any, path: str, slug: str, depth: int) -> TreeNode:
        if depth > MAX_DEPTH:
            raise ModelError(f"The assembly is nested more than {MAX_DEPTH} levels deep.")
        matrix = above @ np.array(node.matrix)
        here = f"{path}/{slug}" if path else slug
        if node.shape is None:
            used: dict[str, int] = {}
            children = []
            if len(node.children) == 1 and not clean_name(node.children[0].name):
                node.children[0].name = node.name  # it stands on the node above
            for child in node.children:
                same = _slug(child.name)
                used[same] = used.get(same, 0) + 1
                numbered = same if used[same] == 1 else f"{same}-{used[same]}"
                children.append(self.walk(child, matrix, here, numbered, depth + 1))
            return TreeNode(
                name=node.name, children=children, group=node.key, number=self.said.of(node).get("number", "")
            )
        if len(self.instances) >= MAX_INSTANCES:
            raise ModelError(f"The assembly has more than {MAX_INSTANCES} instances.")
        rows: Matrix = [[float(v) for v in row] for row in matrix]
        key = self._part(node, is_mirrored(rows))
        if key != node.key:
            rows = unmirrored(rows)
        here = f"{here}.{len(self.instances) + 1}" if here in self.paths else here
        self.paths.add(here)
        self.instances.append(InstanceFacts(path=here, name=node.name, part=key, matrix=rows))
        part = self.parts[key]
        self.extents.take(key, self.shapes[key], rows, (part.low, part.high))
        return TreeNode(name=node.name, part=key, path=here)

    def _part(self, node: step.StepNode, mirrored: bool) -> str:
        """The key of a node's part, or of its other hand, measured when it is first met."""
        key = f"{node.key}{MIRRORED}" if mirrored else node.key
        if key in self.parts:
            return key
        self.progress(
            min(0.9, 0.65 + 0.02 * len(self.parts)),
            f"describing part {len(self.parts) + 1}, {node.name or 'unnamed'}",
        )
        if mirrored:
            known = self._part(node, False)
            self.shapes[key], self.parts[key] = other_hand(self.shapes[known], self.parts[known], named=False)
            return key
        name = next(filter(None, map(clean_name, (node.name, node.product, node.number))), "")
        update = {"color": list(node.color) if node.color else None, **self.said.of(node)}
        if (weight := self.said.density(node)) is not None:
            self.weights[key] = weight
        self.parts[key] = part_facts(node.shape, name, measured=False).model_copy(update=update)
        self.shapes[key] = node.shape
        return key

    def take_volumes(self, volumes: Volumes) -> None:
        """Tell the parts their volumes, as they become known."""
        self.parts = with_volumes(
            self.parts, volumes, lambda done, text: self.progress(0.9 + 0.05 * done, text)
        )

    def densities(self) -> dict[str, float]:
        """Of the materials that parts name, what the file says they weigh, g/cm3; none for a material to
        which it gives several."""
        found: dict[str, set[float]] = {}
        for key, value in self.weights.items():
            if key in self.parts and self.parts[key].material:
                found.setdefault(self.parts[key].material, set()).add(round(value, 6))
        return {material: next(iter(values)) for material, values in found.items() if len(values) == 1}

    def notes(self) -> list[str]:
        """What the reader of the model should know: parts that are not solid."""
        used = dict.fromkeys(i.part for i in self.instances)
        self.parts = {key: self.parts[key] for key in used}
        self.shapes = {key: self.shapes[key] for key in used}
        return [
            f"{part.name or 'A part'} holds surfaces only and no solid body: it "
            f"is drawn, but has no mass and is not cut by sections."
            for part in self.parts.values()
            if not part.is_solid
        ]


def _slug(text: str) -> str:
    return re.sub(r"[^A-Za-z0-9._-]+", "-", text).strip("-")[:60] or "part"


FIELD_NAMES = {
    "number": ("number", "part number", "part no", "part no.", "item number", "article number"),
    "description": ("description", "designation"),
    "material": ("material", "material name", "material designation"),
    "finish": ("finish", "surface finish", "coating", "treatment"),
    "supplier": ("supplier", "vendor", "manufacturer"),
    "make": ("make or buy", "make/buy", "procurement"),
    "unit_cost": ("cost", "unit cost", "price", "unit price"),
}
"""Names by which files say what Moorcrest has a field for: common practice, lower case."""
SHAPE_WORDS = re.compile(
    r"geometric validation|volume measure|surface area|centroid|^shape|^solid|^document|^placement|density",
    re.I,
)


class _Said:
    """Part properties that a STEP file states, by product."""

    def __init__(self, content: step.StepFile) -> None:
        self._products = product_words(content.files)
        names: dict[str, set[str]] = {}
        for number, name in self._products:
            names.setdefault(number, set()).add(name)
        self._shared = {
            number for number, of in names.items() if len(of) > 1
        }  # such as the 1 that some writers give to all

    def _product(self, node: step.StepNode) -> tuple[str, str]:
        if node.number == node.product:
            # an assembly in several files knows its parts by their names; their own files may say more
            more = [p for p in self._products if p[1] == node.product != p[0]]
            if len(more) == 1:
                return more[0]
        return node.number, node.product

    def _words(self, node: step.StepNode) -> Mapping[str, str]:
        return self._products.get(self._product(node), {})

    def density(self, node: step.StepNode) -> float | None:
        """What the file says the part's material weighs, g/cm3; None for nothing, and for what no material
        weighs."""
        text = self._words(node).get(DENSITY)
        value = float(text) if text else 0.0
        return value if LIGHTEST <= value <= HEAVIEST else None

    def of(self, node: step.StepNode) -> dict[str, Any]:
        """Fields of PartFacts; what has no field of its own goes to the own fields."""
        product = self._product(node)
        out = _fields({k: v for k, v in self._words(node).items() if k != DENSITY})
        if product[0] != product[1] and product[0] not in self._shared:
            out.setdefault("number", product[0][:60])
        if clean_name(node.description) and node.description != node.product:
            out.setdefault("description", node.description)
        return {field: value for field, value in out.items() if value != ""}


def _fields(words: Mapping[str, str]) -> dict[str, Any]:
    fields = {name: field for field, names in FIELD_NAMES.items() for name in names}
    out: dict[str, Any] = {}
    own: dict[str, str] = {}
    for name, text in words.items():
        field = fields.get(name.strip().lower())
        if field == "unit_cost":
            value = _amount(text)
            out.update({field: value} if value is not None else {})
        elif field == "make":
            kind = (
                "make"
                if "make" in text.lower()
                else "buy"
                if re.search("buy|bought|purchase", text.lower())
                else ""
            )
            out.update({field: kind} if kind else {})
        elif field:
            out.setdefault(field, text[: 60 if field == "number" else 400])
        elif not SHAPE_WORDS.search(name) and len(own) < MOST_OWN:
            own[name.strip()[:60]] = text
    return {**out, **({"own": own} if own else {})}


def _amount(text: str) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if 0 <= value <= 1e9 else None


def write_model(model: Model, path: Path) -> None:
    """Write a model as STEP AP242 in mm, with names, colors and the instance tree; subassemblies that recur
    are written once."""
    facts = model.facts
    parts = {k: (p.name or facts.name, _color(p), model.shapes[k]) for k, p in facts.parts.items()}
    if len(facts.instances) == 1:
        root = step.WriteNode(facts.name, facts.instances[0].matrix, part=facts.instances[0].part)
    else:
        at = {i.path: np.array(i.matrix) for i in facts.instances}
        children = facts.tree.children or [facts.tree]
        first: dict[str, Any] = {}
        root = step.WriteNode(
            facts.name, IDENTITY, children=[_written(node, np.eye(4), at, first) for node in children]
        )
    step.write_step(parts, root, path)


def _written(node: TreeNode, above: Any, at: Mapping[str, Any], first: dict[str, Any]) -> step.WriteNode:
    """A node placed in the frame above it. A group's frame is that in which the first of its make stands
    unmoved."""
    if node.part is not None:
        return step.WriteNode(
            node.path.rpartition("/")[2] or node.name, _rigid(above, at[node.path]), part=node.part
        )
    leaf = node
    while leaf.part is None:
        leaf = leaf.children[0]
    mark = node.group or node.path or node.name
    first.setdefault(mark, at[leaf.path])
    frame = at[leaf.path] @ np.linalg.inv(first[mark])
    return step.WriteNode(
        node.name,
        _rigid(above, frame),
        group=mark,
        children=[_written(c, frame, at, first) for c in node.children],
    )


def _rigid(above: Any, here: Any) -> Matrix:
    rows: Matrix = (np.linalg.inv(above) @ here).round(12).tolist()
    return rows


def _color(part: PartFacts) -> step.Color | None:
    return (part.color[0], part.color[1], part.color[2]) if part.color else None
