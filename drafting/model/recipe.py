"""The recipe format, version 1: parametric parts and assemblies as JSON. See docs/formats/recipe.md."""

from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from drafting.errors import ModelError
from drafting.model.model import ExplodedState
from drafting.refusals import lower_first, sentence
from drafting.text import RefusedData, parsed

Value = float | Annotated[str, Field(max_length=200)]
"""A number in the recipe's units (angles in degrees), or an expression on its parameters."""
Identifier = Annotated[str, Field(pattern=r"^[A-Za-z][A-Za-z0-9_-]{0,39}$")]
XY = tuple[Value, Value]
XYZ = tuple[Value, Value, Value]


class Strict(BaseModel):
    """Base of what a recipe holds: fields that it does not have are refused."""

    model_config = ConfigDict(extra="forbid")


class PlaneSpec(Strict):
    """Where a profile or a hole pattern lies: origin, its x direction and its normal."""

    origin: XYZ = (0.0, 0.0, 0.0)
    x: XYZ = (1.0, 0.0, 0.0)
    normal: XYZ = (0.0, 0.0, 1.0)


class LineTo(Strict):
    """A straight piece of a profile to a point, mm."""

    line: XY
    name: Identifier | None = None


class ArcTo(Strict):
    """A round piece of a profile to a point through another, mm."""

    arc: XY
    through: XY
    name: Identifier | None = None


class OutlineProfile(Strict):
    """Lines and arcs from a start point; closed by a line when the last point is not the first."""

    start: XY
    to: Annotated[list[LineTo | ArcTo], Field(min_length=2, max_length=500)]


class CircleProfile(Strict):
    """A circle about the origin of the sketch plane, mm."""

    center: XY = (0.0, 0.0)
    diameter: Value


class RectangleProfile(Strict):
    """A rectangle about the origin of the sketch plane, mm."""

    center: XY = (0.0, 0.0)
    width: Value
    height: Value


class SlotProfile(Strict):
    """A slot with round ends; length over the centers of its ends, turned by an angle in degrees."""

    slot_center: XY = (0.0, 0.0)
    length: Value
    width: Value
    angle: Value = 0.0


Profile = OutlineProfile | CircleProfile | RectangleProfile | SlotProfile


class FeatureBase(Strict):
    """What all features have: an id of their own."""

    id: Identifier


class Extrude(FeatureBase):
    """A profile drawn out square to its plane, mm."""

    kind: Literal["extrude"]
    plane: PlaneSpec = PlaneSpec()
    profile: Profile
    openings: list[Profile] = []
    depth: Value
    symmetric: bool = False
    operation: Literal["add", "cut", "intersect"] = "add"


class Revolve(FeatureBase):
    """A profile turned about an axis of its plane, degrees."""

    kind: Literal["revolve"]
    plane: PlaneSpec = PlaneSpec()
    profile: Profile
    axis: tuple[XY, XY] = ((0.0, 0.0), (1.0, 0.0))
    angle: Value = 360.0
    operation: Literal["add", "cut", "intersect"] = "add"


class Bottom(Strict):
    """Counterbore or countersink of a hole."""

    diameter: Value
    depth: Value | None = None
    angle: Value | None = None


class LinearPattern(Strict):
    """Copies at a distance along a direction, mm."""

    direction: XYZ
    spacing: Value
    count: Annotated[int, Field(ge=2, le=500)]


class CircularPattern(Strict):
    """Copies about an axis."""

    center: XYZ = (0.0, 0.0, 0.0)
    axis: XYZ = (0.0, 0.0, 1.0)
    count: Annotated[int, Field(ge=2, le=500)]
    angle: Value = 360.0
    """Turned through in all; the full turn is divided evenly, a lesser one has a member at its end."""


class Hole(FeatureBase):
    """Holes drilled against the plane's normal from its origin height, at points of the plane."""

    kind: Literal["hole"]
    plane: PlaneSpec = PlaneSpec()
    at: Annotated[list[XY], Field(min_length=1, max_length=500)] = [(0.0, 0.0)]
    diameter: Value | None = None
    thread: str | None = None
    depth: Value | None = None
    """Full-diameter depth; through all where it is not given."""
    thread_depth: Value | None = None
    tip_angle: Value = 118.0
    counterbore: Bottom | None = None
    countersink: Bottom | None = None


class Slot(FeatureBase):
    """A slot cut against the plane's normal; through all where no depth is given."""

    kind: Literal["slot"]
    plane: PlaneSpec = PlaneSpec()
    center: XY = (0.0, 0.0)
    length: Value
    width: Value
    angle: Value = 0.0
    depth: Value | None = None


class Fillet(FeatureBase):
    """Edges rounded with a radius, mm."""

    kind: Literal["fillet"]
    edges: Annotated[list[str], Field(min_length=1, max_length=200)]
    radius: Value


class Chamfer(FeatureBase):
    """Edges broken by a length, mm, at an angle."""

    kind: Literal["chamfer"]
    edges: Annotated[list[str], Field(min_length=1, max_length=200)]
    length: Value


class Pattern(FeatureBase):
    """Repeats an extruded, revolved, hole or slot feature."""

    kind: Literal["pattern"]
    of: Identifier
    linear: LinearPattern | None = None
    circular: CircularPattern | None = None


class Thread(FeatureBase):
    """An outside thread on a cylindrical face; drawn as a symbol, the face keeps its size."""

    kind: Literal["thread"]
    face: str
    designation: str
    length: Value | None = None


Feature = Annotated[
    Extrude | Revolve | Hole | Slot | Fillet | Chamfer | Pattern | Thread, Field(discriminator="kind")
]


class Properties(Strict):
    """What the title block and the parts list say of a part."""

    number: str = ""
    description: str = ""
    material: str = ""
    finish: str = ""
    supplier: str = ""
    make: Literal["", "make", "buy"] = ""
    unit_cost: Annotated[float, Field(ge=0, le=1e9)] | None = None
    counted: Literal["", "length"] = ""
    stated_mass: Annotated[float, Field(ge=0, le=1e6)] | None = None
    sectioned: Literal["", "whole", "cut"] = ""


class PartRecipe(Strict):
    """A part: its parameters and the features that make it, in order."""

    moorcrest: Literal["part"]
    version: Literal[1]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    units: Literal["mm", "in"] = "mm"
    properties: Properties = Properties()
    color: tuple[float, float, float] | None = None
    parameters: Annotated[dict[Identifier, Value], Field(max_length=500)] = {}
    features: Annotated[list[Feature], Field(min_length=1, max_length=500)]


class Placement(Strict):
    """Where an instance's own frame lies in the assembly: origin (mm), x and z directions."""

    origin: XYZ = (0.0, 0.0, 0.0)
    x: XYZ = (1.0, 0.0, 0.0)
    z: XYZ = (0.0, 0.0, 1.0)


class InstanceSpec(Strict):
    """A part or assembly placed in an assembly, under a name."""

    id: Identifier
    part: Identifier
    at: Placement = Placement()
    mirrored: bool = False
    """The other hand of the part: mirrored in its own yz plane before it is placed. It is a part of its own,
    without the number."""


class ModelReference(Strict):
    """A part or an assembly kept elsewhere in the workspace, by its number."""

    model: str


FaceReference = Annotated[str, Field(pattern=r"^[^:]{1,300}:.{1,400}$")]
"""A face of an instance: `shaft:body/end`; of an instance within a subassembly: `crank/arm:bar/start`."""


class MateBase(Strict):
    """How a face of one instance, which moves, lies to a face of another, which stays."""

    id: Identifier
    of: FaceReference
    to: FaceReference


class Coincident(MateBase):
    """Two planes in one, or at an offset along the normal of `to`; facing each other, or both looking the
    same way."""

    kind: Literal["coincident"]
    offset: Value = 0.0
    facing: bool = True


class Concentric(MateBase):
    """Two axes in one, or parallel at an offset from each other."""

    kind: Literal["concentric"]
    offset: Value = 0.0


class AngleMate(MateBase):
    """The angle between the outward normals of two planes, degrees."""

    kind: Literal["angle"]
    angle: Value


Mate = Annotated[Coincident | Concentric | AngleMate, Field(discriminator="kind")]


class AssemblyRecipe(Strict):
    """An assembly: what it is made of, where that stands, and how it comes apart."""

    moorcrest: Literal["assembly"]
    version: Literal[1]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    units: Literal["mm", "in"] = "mm"
    properties: Properties = Properties()
    parameters: Annotated[dict[Identifier, Value], Field(max_length=500)] = {}
    parts: dict[Identifier, "ModelReference | PartRecipe | AssemblyRecipe"]
    instances: Annotated[list[InstanceSpec], Field(min_length=1, max_length=5000)]
    mates: Annotated[list[Mate], Field(max_length=5000)] = []
    """Move instances from where they are placed to where they belong."""
    exploded: Annotated[list[ExplodedState], Field(max_length=50)] = []
    """Named ways of taking the assembly apart."""


Recipe = Annotated[PartRecipe | AssemblyRecipe, Field(discriminator="moorcrest")]


UNIT_MM = {"mm": 1.0, "in": 25.4}
LARGEST_RECIPE = 20_000_000
"""Bytes; a recipe of 10,000 instances has four million."""


def recipe_data(path: Path) -> Any:
    """What a recipe's file holds. Raises ModelError."""
    if path.stat().st_size > LARGEST_RECIPE:
        raise ModelError(f"This is not a recipe: it is larger than {LARGEST_RECIPE // 1_000_000} MB.")
    try:
        return parsed(path.read_bytes())
    except RefusedData as error:
        raise ModelError(f"This is not a recipe: {lower_first(str(error))}") from error


def validate_recipe(raw: Any) -> PartRecipe | AssemblyRecipe:
    """Plain data as a recipe. Raises ModelError with a sentence that says where it is wrong."""
    try:
        return TypeAdapter(Recipe).validate_python(raw)  # type: ignore[return-value]
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"] if p not in ("part", "assembly")) or "the top"
        raise ModelError(f"The recipe is wrong at {where}: {lower_first(sentence(first))}") from error
