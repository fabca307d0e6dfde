"""Which way a view looks: its right and up directions in the model, and how one view is projected from
another.

Sources: ISO 5456-2 and ASME Y14.3 (first and third angle); the sheet's x is right and y is up.
"""

import math
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator, BaseModel, Field, model_validator

Projection = Literal["first", "third"]
Relation = Literal[
    "right", "left", "above", "below", "above-right", "above-left", "below-right", "below-left"
]

SQUARE = 1e-6
"""How far directions may be from length one and from each other's square."""


def _unit(v: list[float]) -> list[float]:
    if not abs(math.hypot(*v) - 1) <= SQUARE:
        raise ValueError("a direction has length one")
    return v


Direction = Annotated[
    list[Annotated[float, Field(allow_inf_nan=False)]],
    Field(min_length=3, max_length=3),
    AfterValidator(_unit),
]
"""A unit vector in model space."""
RELATIONS: dict[Relation, tuple[int, int]] = {
    "right": (1, 0),
    "left": (-1, 0),
    "above": (0, 1),
    "below": (0, -1),
    "above-right": (1, 1),
    "above-left": (-1, 1),
    "below-right": (1, -1),
    "below-left": (-1, -1),
}
"""Where a view stands beside its parent, as steps right and up."""


class Orientation(BaseModel):
    """Unit vectors in model space that point right and up on paper; toward the viewer is right x up."""

    right: Direction
    up: Direction

    @model_validator(mode="after")
    def _square(self) -> "Orientation":
        if abs(sum(a * b for a, b in zip(self.right, self.up, strict=True))) > SQUARE:
            raise ValueError("the right and the up direction of a view are square to each other")
        return self

    @property
    def toward(self) -> list[float]:
        """Unit vector toward the viewer."""
        return [float(v) for v in np.cross(self.right, self.up)]

    def rounded(self) -> "Orientation":
        """The same to nine digits, without negative zeros."""
        return Orientation(
            right=[round(v, 9) + 0.0 for v in self.right], up=[round(v, 9) + 0.0 for v in self.up]
        )

    def matrix(self) -> NDArray[np.float64]:
        """Rows right, up, toward: model to view coordinates."""
        return np.array([self.right, self.up, self.toward])


PRINCIPAL: dict[str, Orientation] = {
    "front": Orientation(right=[1, 0, 0], up=[0, 0, 1]),
    "rear": Orientation(right=[-1, 0, 0], up=[0, 0, 1]),
    "top": Orientation(right=[1, 0, 0], up=[0, 1, 0]),
    "bottom": Orientation(right=[1, 0, 0], up=[0, -1, 0]),
    "right": Orientation(right=[0, 1, 0], up=[0, 0, 1]),
    "left": Orientation(right=[0, -1, 0], up=[0, 0, 1]),
}
"""The six principal directions for a model whose z is up and whose front faces -y."""


def _orthonormal(right: NDArray[np.float64], up: NDArray[np.float64]) -> Orientation:
    r = right / np.linalg.norm(right)
    u = up - (up @ r) * r
    u /= np.linalg.norm(u)
    return Orientation(right=_clean(r), up=_clean(u))


def _clean(v: NDArray[np.float64]) -> list[float]:
    return [0.0 if abs(x) < 1e-12 else float(x) for x in v]


def rotate(o: Orientation, axis: str, degrees: float) -> Orientation:
    """Turn the model's picture about the view's own right, up or toward axis."""
    m = o.matrix()
    k = m[{"right": 0, "up": 1, "toward": 2}[axis]]
    a = math.radians(degrees)

    def turn(v: NDArray[np.float64]) -> NDArray[np.float64]:
        out: NDArray[np.float64] = (
            v * math.cos(a) + np.cross(k, v) * math.sin(a) + k * (k @ v) * (1 - math.cos(a))
        )
        return out

    return _orthonormal(turn(m[0]), turn(m[1]))


def isometric(front: Orientation, right: int = 1, up: int = 1) -> Orientation:
    """The isometric view that shows the front, and the side at right (1) or left (-1), from above (1) or
    below (-1)."""
    m = front.matrix()
    toward = m[2] + right * m[0] + up * m[1]
    toward /= np.linalg.norm(toward)
    sideways = np.cross(m[1], toward)
    return _orthonormal(sideways, np.cross(toward, sideways))


def projected(parent: Orientation, relation: Relation, projection: Projection) -> Orientation:
    """Direction of a view standing beside its parent.

    Third angle: the view at the right shows the right side. First angle: the view at the right shows the left
    side. The four diagonal places give pictorial views: in third angle the one above right looks from above
    right.
    """
    sx, sy = RELATIONS[relation]
    if projection == "first":
        sx, sy = -sx, -sy
    m = parent.matrix()
    if sx and sy:
        return isometric(parent, sx, sy)
    if sx:  # the eye goes to the right (or left) side; up stays
        return _orthonormal(-sx * m[2], m[1])
    return _orthonormal(m[0], -sy * m[2])


SEEN: dict[Relation, str] = {"right": "right side", "left": "left side", "above": "top", "below": "bottom"}


def shown_beside(relation: Relation, projection: Projection) -> str:
    """Which view of the part the trade calls the one that stands beside the front view: in third angle the
    top stands above and the right side at the right, in first angle the other way round (ISO 5456-2, ASME
    Y14.3). Pictorial ones by the corner they are seen from."""
    sx, sy = RELATIONS[relation]
    if projection == "first":
        sx, sy = -sx, -sy
    if sx and sy:
        return f"from {'above' if sy > 0 else 'below'} {'right' if sx > 0 else 'left'}"
    return next(SEEN[name] for name in SEEN if RELATIONS[name] == (sx, sy))
