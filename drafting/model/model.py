"""The model as Moorcrest keeps it: distinct parts, placed instances, and plain facts about every named face
and edge.

`Facts` is what all measuring rests on; it holds no kernel object, so the web process measures without the
kernel.
"""

import math
from collections.abc import MutableMapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from drafting.memory import Identified, Plain
from drafting.model import arcs
from drafting.standards.materials import mass_kg

Shape = Any  # a kernel shape; this module must be importable without the kernel

Matrix = list[list[float]]
Vec = list[float]
Number = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
IDENTITY: Matrix = [[1, 0, 0, 0], [0, 1, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1]]


FACTS_FORMAT = 3
"""Raised whenever facts tell more than before; those of older models are then told anew."""


class FaceFact(BaseModel):
    """A named face in its part's frame. kind: plane, cylinder, cone, sphere, torus or other; axis is the
    outward normal of a plane; the origin of a cone is its apex, its radius that at a place of the writer's
    choice."""

    name: str
    kind: str
    origin: Vec
    axis: Vec
    radius: float = 0.0
    half_angle: float = 0.0
    minor_radius: float = 0.0
    """Of a torus, and of another surface turned from an arc, that of the arc; radius is the distance of the
    arc's center from the axis, below 0 where it lies beyond it."""
    span: list[float] | None = None
    """Extent along the axis from the origin (the apex of a cone), mm, of cylinders and cones; about the arc's
    center, radians, of turned arcs."""
    hollow: bool | None = None
    """Of a curved face, whether its material is outside, as at the wall of a hole."""
    x_axis: Vec | None = None
    turn: list[float] | None = None
    """How far it goes about its axis, radians from the x axis, counterclockwise."""
    inner: list[list[str]] = []
    """Of a plane, its inner loops by the names of their edges."""
    feature: str = ""


class EdgeFact(BaseModel):
    """A named edge in its part's frame; faces are the names of the faces that meet in it."""

    name: str
    kind: str
    start: Vec
    end: Vec
    middle: Vec
    length: float
    closed: bool = False
    center: Vec | None = None
    axis: Vec | None = None
    x_axis: Vec | None = None
    radius: float = 0.0
    minor_radius: float = 0.0
    first: float = 0.0
    last: float = 0.0
    faces: list[str] = []
    turn: Literal["", "convex", "concave", "smooth"] = ""
    """How its two faces meet."""
    feature: str = ""


class ThreadFact(BaseModel):
    """A thread on a face: its designation, and its length in mm, None for all of the face."""

    face: str
    designation: str
    length: float | None = None
    internal: bool = True
    said: bool = False
    """Whether the office says so, not the file."""


class ProcessFact(BaseModel):
    """How a round face is finished, as an office says: `standards.processes`."""

    face: str
    process: str


class HoleFact(BaseModel):
    """A hole a recipe states: for callouts and recognition."""

    feature: str
    count: int
    diameter: float
    depth: float | None
    thread: str | None = None


class PartFacts(Plain):
    """Plain data of one distinct part. Extents mm in the part's frame."""

    name: str
    number: str = ""
    description: str = ""
    material: str = ""
    finish: str = ""
    supplier: str = ""
    make: Literal["", "make", "buy"] = ""
    unit_cost: float | None = None
    """In the office's currency; by the meter (or the inch, in an inch drawing) where it is counted by
    length."""
    counted: Literal["", "length"] = ""
    """Whether parts lists count pieces, or the length of stock they take."""
    stated_mass: float | None = None
    """kg; in place of the mass computed from volume and material."""
    sectioned: Literal["", "whole", "cut"] = ""
    """Whether sections along it leave it whole or cut it; empty leaves it to its kind."""
    own: dict[str, str] = {}
    """The office's own fields."""
    color: Vec | None = None
    volume: float | None
    """mm3, 0 of surfaces that enclose nothing; None while it is not known."""
    low: Vec
    high: Vec
    faces: list[FaceFact]
    edges: list[EdgeFact]
    sided: bool = False
    """Whether sides and turns of faces and edges are told, which older files of facts lack."""
    flaws: list[str] = []
    """What is wrong with the shape as it was read, a sentence each."""
    threads: list[ThreadFact] = []
    processes: list[ProcessFact] = []
    holes: list[HoleFact] = []
    features: list[str] = []

    @property
    def is_solid(self) -> bool:
        """Whether it is a body, not surfaces only."""
        return self.volume is None or self.volume > 0

    @property
    def bulk(self) -> float:
        """About how large it is, mm3: its volume, or that of its box while it is not known."""
        if self.volume is not None:
            return self.volume
        return math.prod(b - a for a, b in zip(self.low, self.high, strict=True))

    @cached_property
    def _faces(self) -> dict[str, FaceFact]:
        return {f.name: f for f in reversed(self.faces)}

    @cached_property
    def _edges(self) -> dict[str, EdgeFact]:
        return {e.name: e for e in reversed(self.edges)}

    def face(self, name: str) -> FaceFact | None:
        """The face of a name."""
        return self._faces.get(name)

    def edge(self, name: str) -> EdgeFact | None:
        """The edge of a name."""
        return self._edges.get(name)

    @cached_property
    def _arcs(self) -> dict[str, tuple[float, float]]:
        return arcs.joined(self.edges)

    def arc(self, edge: EdgeFact) -> EdgeFact:
        """An edge that is a piece of an arc, as all of that arc; any other as it is."""
        whole = self._arcs.get(edge.name)
        if whole is None:
            return edge
        is_full = whole[1] - whole[0] > 2 * math.pi - 1e-6
        return edge.model_copy(update={"first": whole[0], "last": whole[1], "closed": is_full})


class InstanceFacts(BaseModel):
    """A placed part: path of names from the root, part key, matrix from part to model frame (rows, mm)."""

    path: str
    name: str
    part: str
    matrix: Matrix


class TreeNode(BaseModel):
    """A part (its key, and the path of its instance) or a group of others; groups with the same mark are the
    same subassembly, which may have a number."""

    name: str
    part: str | None = None
    path: str = ""
    group: str = ""
    number: str = ""
    children: list["TreeNode"] = []


class Step(BaseModel):
    """Instances (by path) moved together, mm along a direction of the model."""

    model_config = ConfigDict(extra="forbid")

    instances: Annotated[list[Annotated[str, Field(max_length=400)]], Field(min_length=1, max_length=2000)]
    direction: Annotated[list[Number], Field(min_length=3, max_length=3)]
    distance: Number


class ExplodedState(BaseModel):
    """A named way of taking the assembly apart. A part may be moved by several steps: they add up, the first
    one nearest to its place."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, Field(min_length=1, max_length=80)]
    steps: Annotated[list[Step], Field(max_length=500)] = []


class MateFact(BaseModel):
    """What positions a part: faces (with the paths of their instances) and the value, mm or radians; says: as
    the recipe writes it."""

    id: str
    kind: Literal["coincident", "concentric", "angle"]
    of: str
    of_face: str
    to: str
    to_face: str
    value: float = 0.0
    says: str = ""


class Facts(Identified):
    """All that is known of a model without its shapes."""

    name: str
    number: str = ""
    description: str = ""
    material: str = ""
    finish: str = ""
    kind: Literal["part", "assembly"]
    units: str
    source: Literal["step", "recipe"]
    parameters: dict[str, float] = {}
    parts: dict[str, PartFacts]
    instances: list[InstanceFacts]
    tree: TreeNode
    low: Vec
    high: Vec
    exploded: list[ExplodedState] = []
    mates: list[MateFact] = []
    same_as: dict[str, str] = {}
    """Parts that the office says are the same as another: the other's key by their own."""
    notes: list[str] = []
    """Sentences on what of the file could not be taken as it was meant."""
    unmeasured: bool = False
    """Whether volumes of parts are still to come: measured when the model is in use already."""
    densities: dict[str, float] = {}
    """Of the office's own materials, and of those whose density the file states, g/cm3."""

    def material_of(self, part: PartFacts) -> str:
        """The part's own material, else the model's."""
        return part.material or self.material

    def mass(self, part: PartFacts, material: str = "") -> float | None:
        """Mass of one part in kg: the stated one, else by its material, or the one given instead; None where
        that is unknown."""
        if part.stated_mass is not None:
            return part.stated_mass
        if not part.volume:
            return None
        return mass_kg(part.volume, material or self.material_of(part), self.densities)

    def awaits(self, part: PartFacts, material: str = "") -> bool:
        """Whether the mass of a part is not known yet, and will be when it is measured."""
        if not self.unmeasured or part.volume is not None or part.stated_mass is not None:
            return False
        return mass_kg(1.0, material or self.material_of(part), self.densities) is not None

    def unmeasurable(self, why: str) -> "Facts":
        """The facts of a model whose volumes cannot be known, with a note on it."""
        notes = [*self.notes, f"{why} Masses are unknown."]
        return self.model_copy(update={"unmeasured": False, "notes": notes})

    def without_mass(self) -> list[str]:
        """Keys of parts whose material is missing or has no known density."""
        return [key for key, part in self.parts.items() if self.mass(part) is None]

    def total_mass(self) -> float | None:
        """Sum over all instances in kg; None where a part's mass is unknown, never silently smaller."""
        masses = [self.mass(self.parts[i.part]) for i in self.instances]
        return None if any(m is None for m in masses) else sum(m or 0.0 for m in masses)

    @cached_property
    def _instances(self) -> dict[str, InstanceFacts]:
        return {i.path: i for i in reversed(self.instances)}

    def part_of(self, path: str) -> tuple[InstanceFacts, PartFacts] | None:
        """The instance at a path and its part; None where the model has none there."""
        instance = self._instances.get(path)
        return (instance, self.parts[instance.part]) if instance else None

    def face_of(self, path: str, name: str) -> FaceFact | None:
        """A face of the instance at a path."""
        found = self.part_of(path)
        return found[1].face(name) if found else None


@dataclass
class Model:
    """A model in memory: facts and the shape of each distinct part, in the part's own frame."""

    facts: Facts
    shapes: MutableMapping[str, Shape] = field(repr=False)
