"""Assembly recipes to models: parts and assemblies found or built, instances placed and mated."""

import math
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from drafting.errors import ModelError
from drafting.kernel import measure
from drafting.model import exploded, mates
from drafting.model import recipe as r
from drafting.model.build import parameters, part_model, unit_vector
from drafting.model.expressions import evaluate
from drafting.model.mirrored import other_hand
from drafting.model.model import FaceFact, Facts, InstanceFacts, MateFact, Matrix, Model, PartFacts, TreeNode

Lookup = Callable[[str], "Mapping[str, Any] | Model | None"]
MOST_INSTANCES = 20_000
DEEPEST = 40
ROUND = ("cylinder", "cone", "torus")


def build_model(recipe: r.PartRecipe | r.AssemblyRecipe, lookup: Lookup = lambda number: None) -> Model:
    """Build a recipe. lookup gives the recipe (as data) or the model of a number that an assembly refers
    to."""
    return _Assembler(lookup).build(recipe, [recipe.properties.number] if recipe.properties.number else [])


class _Assembler:
    """Builds an assembly with all it refers to, each of these once."""

    def __init__(self, lookup: Lookup) -> None:
        self.lookup = lookup
        self.built: dict[str, Model] = {}

    def build(self, recipe: r.PartRecipe | r.AssemblyRecipe, within: list[str]) -> Model:
        """within: numbers of the assemblies around it, and its own."""
        if isinstance(recipe, r.PartRecipe):
            return part_model(recipe)
        if len(within) > DEEPEST:
            raise ModelError(f"The assembly is nested more than {DEEPEST} levels deep.")
        members = {key: self.member(spec, within) for key, spec in recipe.parts.items()}
        return _composed(recipe, members)

    def member(self, spec: "r.ModelReference | r.PartRecipe | r.AssemblyRecipe", within: list[str]) -> Model:
        if not isinstance(spec, r.ModelReference):
            return self.build(spec, [*within, spec.properties.number or spec.name])
        number = spec.model
        if number in within:
            chain = " > ".join([*within[within.index(number) :], number])
            raise ModelError(
                f"The assembly {number} contains itself ({chain}): take one of these references out."
            )
        if number not in self.built:
            found = self.lookup(number)
            if found is None:
                raise ModelError(
                    f"The assembly needs a part numbered {number}, and the "
                    f"workspace has none: bring it in first."
                )
            self.built[number] = (
                found if isinstance(found, Model) else self.build(r.validate_recipe(found), [*within, number])
            )
        return self.built[number]


def _composed(recipe: r.AssemblyRecipe, members: Mapping[str, Model]) -> Model:
    known, scale = parameters(recipe.parameters), r.UNIT_MM[recipe.units]
    start: dict[str, Matrix] = {}
    for item in recipe.instances:
        if item.part not in members:
            raise ModelError(f"Instance {item.id} is of part {item.part!r}, which the recipe does not list.")
        if item.id in start:
            raise ModelError("Two instances of the assembly have the same id.")
        start[item.id] = _placement(item.at, known, scale, item.id)
    hands = {
        item.part: _other_hand(members[item.part], item.id) for item in recipe.instances if item.mirrored
    }
    of = {item.id: hands[item.part] if item.mirrored else members[item.part] for item in recipe.instances}
    own, stated = _mated(recipe, of, known, scale)
    reach = max((math.dist(m.facts.low, m.facts.high) for m in members.values()), default=1.0)
    places = mates.solved({name: np.array(m) for name, m in start.items()}, own, reach)

    gathered = _Gathered()
    for item in recipe.instances:
        gathered.add(
            item.id,
            f"{item.part}-mirrored" if item.mirrored else item.part,
            of[item.id],
            places[item.id].tolist(),
        )
    facts = Facts(
        name=recipe.name,
        kind="assembly",
        units=recipe.units,
        source="recipe",
        parameters=known,
        parts=gathered.parts,
        instances=gathered.instances,
        tree=TreeNode(name=recipe.name, children=gathered.nodes),
        low=gathered.extents.low.tolist(),
        high=gathered.extents.high.tolist(),
        exploded=recipe.exploded,
        mates=[*stated, *gathered.mates],
        unmeasured=any(p.volume is None for p in gathered.parts.values()),
        **recipe.properties.model_dump(),
    )
    exploded.checked(facts.exploded, facts)
    return Model(facts, gathered.shapes)


def _other_hand(model: Model, instance: str) -> Model:
    if model.facts.kind != "part":
        raise ModelError(
            f"Instance {instance} is an assembly, and only parts can be mirrored: mirror its parts instead."
        )
    key = model.facts.instances[0].part
    shape, part = other_hand(model.shapes[key], model.facts.parts[key], named=model.facts.source == "recipe")
    facts = model.facts.model_copy(
        update={"parts": {key: part}, "name": part.name, "number": "", "low": part.low, "high": part.high}
    )
    return Model(facts, {key: shape})


class _Gathered:
    """Parts, instances and shapes of an assembly as its members come in."""

    def __init__(self) -> None:
        self.parts: dict[str, PartFacts] = {}
        self.shapes: dict[str, Any] = {}
        self.instances: list[InstanceFacts] = []
        self.nodes: list[TreeNode] = []
        self.mates: list[MateFact] = []
        self.extents = measure.Extents()
        self._keys: dict[int, str] = {}
        self._numbered: dict[str, list[str]] = {}

    def add(self, name: str, key: str, model: Model, place: Matrix) -> None:
        facts = model.facts
        single = facts.kind == "part"
        renamed = {
            inner: self._part(key if single else f"{key}.{inner}", inner, model) for inner in facts.parts
        }
        if len(self.instances) + len(facts.instances) > MOST_INSTANCES:
            raise ModelError(f"The assembly has more than {MOST_INSTANCES} instances.")
        for i in facts.instances:
            path = name if single else f"{name}/{i.path}"
            matrix = (np.array(place) @ np.array(i.matrix)).tolist()
            part = renamed[i.part]
            self.instances.append(
                InstanceFacts(path=path, name=name if single else i.name, part=part, matrix=matrix)
            )
            known = self.parts[part]
            self.extents.take(part, self.shapes[part], matrix, (known.low, known.high))
        self.mates += [
            m.model_copy(update={"id": f"{name}/{m.id}", "of": f"{name}/{m.of}", "to": f"{name}/{m.to}"})
            for m in facts.mates
        ]
        self.nodes.append(
            TreeNode(name=next(iter(facts.parts.values())).name, part=renamed[next(iter(renamed))], path=name)
            if single
            else _below(facts.tree, name, key, renamed, facts.number)
        )

    def _part(self, wanted: str, inner: str, model: Model) -> str:
        """The key a part goes by here: one part is one, however many subassemblies it came with."""
        shape, part = model.shapes[inner], model.facts.parts[inner]
        if not part.material and model.facts.material:
            part = part.model_copy(update={"material": model.facts.material})
        if id(shape) not in self._keys:
            alike = self._numbered.setdefault(part.number, []) if part.number else []
            same = next((key for key in alike if self.parts[key] == part), None)
            if same is None:
                same = wanted
                self.parts[same], self.shapes[same] = part, shape
                alike.append(same)
            self._keys[id(shape)] = same
        return self._keys[id(shape)]


def _below(tree: TreeNode, name: str, key: str, renamed: Mapping[str, str], number: str) -> TreeNode:
    """The tree of a subassembly under its instance's name; groups of the same make keep one mark."""

    def copy(node: TreeNode) -> TreeNode:
        path = f"{name}/{node.path}" if node.path else ""
        group = f"{key}.{node.group}" if node.group else ""
        return TreeNode(
            name=node.name,
            part=renamed[node.part] if node.part else None,
            path=path,
            group=group,
            number=node.number,
            children=[copy(c) for c in node.children],
        )

    return copy(tree).model_copy(update={"group": number or key, "number": number})


def _placement(at: r.Placement, known: Mapping[str, float], scale: float, who: str) -> Matrix:
    o = np.array([evaluate(v, known) for v in at.origin]) * scale
    x, z = (
        unit_vector([evaluate(v, known) for v in at.x], who),
        unit_vector([evaluate(v, known) for v in at.z], who),
    )
    if abs(float(x @ z)) > 1e-6:
        raise ModelError(f"The x and z directions of {who} are not square to each other.")
    m = np.eye(4)
    m[:3, 0], m[:3, 1], m[:3, 2], m[:3, 3] = x, np.cross(z, x), z, o
    return [[float(v) for v in row] for row in m]


def _mated(
    recipe: r.AssemblyRecipe, of: Mapping[str, Model], known: Mapping[str, float], scale: float
) -> tuple[list[mates.Mate], list[MateFact]]:
    """The recipe's mates for the solver, and as facts."""
    own: list[mates.Mate] = []
    stated: list[MateFact] = []
    for mate in recipe.mates:
        if any(m.id == mate.id for m in own):
            raise ModelError(f"Two mates of the assembly are called {mate.id!r}.")
        ends = [_end(reference, mate, of) for reference in (mate.of, mate.to)]
        (moved, path, face, surface), (still, to_path, to_face, to_surface) = ends
        if moved == still:
            raise ModelError(f"Mate {mate.id} is between {moved} and itself.")
        said = mate.angle if isinstance(mate, r.AngleMate) else mate.offset
        value = evaluate(said, known)
        value = math.radians(value) if isinstance(mate, r.AngleMate) else value * scale
        if isinstance(mate, r.AngleMate) and not 0 <= value <= math.pi + 1e-12:
            raise ModelError(f"Mate {mate.id}: an angle between planes is from 0° to 180°.")
        if isinstance(mate, r.Concentric) and value < 0:
            raise ModelError(f"Mate {mate.id}: the distance between two axes is not below 0.")
        facing = mate.facing if isinstance(mate, r.Coincident) else True
        own.append(mates.Mate(mate.id, mate.kind, moved, surface, still, to_surface, value, facing))
        stated.append(
            MateFact(
                id=mate.id,
                kind=mate.kind,
                of=path,
                of_face=face,
                to=to_path,
                to_face=to_face,
                value=value,
                says=str(said),
            )
        )
    return own, stated


def _end(reference: str, mate: r.Mate, of: Mapping[str, Model]) -> tuple[str, str, str, mates.Surface]:
    """Instance of this level, path and name of the face, and its surface in the instance's frame."""
    path, _, face_name = reference.partition(":")
    name, _, rest = path.partition("/")
    if name not in of:
        raise ModelError(f"Mate {mate.id} speaks of {name!r}, and the assembly has no such instance.")
    facts = of[name].facts
    inner = facts.instances[0].path if facts.kind == "part" and not rest else rest
    found = facts.part_of(inner)
    if found is None:
        raise ModelError(f"Mate {mate.id} speaks of {path!r}, and there is no such part in {name}.")
    face = found[1].face(face_name)
    if face is None:
        raise ModelError(
            f"Mate {mate.id} speaks of the face {face_name!r}, and {path} has none of that name."
        )
    return name, path, face_name, _surface(face, found[0].matrix, mate, path)


def _surface(face: FaceFact, matrix: Matrix, mate: r.Mate, path: str) -> mates.Surface:
    if mate.kind == "concentric" and face.kind not in ROUND:
        raise ModelError(f"Mate {mate.id}: {face.name} of {path} has no axis to be concentric with.")
    if mate.kind != "concentric" and face.kind != "plane":
        raise ModelError(f"Mate {mate.id}: {face.name} of {path} is not a plane.")
    m = np.array(matrix)
    return mates.Surface(m[:3, :3] @ face.origin + m[:3, 3], m[:3, :3] @ face.axis, f"{face.name} of {path}")
