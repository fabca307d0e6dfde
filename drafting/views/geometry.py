"""What a derived view consists of: curves in view millimeters at 1:1, each with its class, visibility and
source."""

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

Array = NDArray[np.float64]
CurveKind = Literal["line", "arc", "ellipse", "polyline"]
EdgeClass = Literal["sharp", "smooth", "silhouette", "cut", "thread", "break"]


class ViewCurve(BaseModel):
    """One drawn piece. data by kind, in view mm and radians (x right, y up):

    line x0 y0 x1 y1; arc cx cy r a0 a1 (counterclockwise, a1 - a0 up to a full turn); ellipse cx cy mx my
    ratio t0 t1 (major half axis as a vector, minor over major, parameters counterclockwise); polyline x0 y0
    x1 y1 and so on.
    """

    kind: CurveKind
    data: list[float]
    edge_class: EdgeClass
    visible: bool
    instance: int
    source: str
    role: Literal["edge", "silhouette", "cut", "added", "underlay"]
    feature: str


class CutFace(BaseModel):
    """A face made by a cut, as far as it is seen. rings: closed polygons x0 y0 x1 y1 … in view mm, outer ones
    counterclockwise, holes clockwise; area: of the whole face on the model, mm2, by the kernel."""

    instance: int
    rings: list[list[float]]
    area: float


class Shading(BaseModel):
    """A shaded picture: lower left corner and size in view mm, PNG as base64."""

    left: float
    bottom: float
    width: float
    height: float
    png: str


class Seen(BaseModel):
    """Which instance of an assembly is seen where, as a raster. left, bottom: its lower left corner, view mm;
    cell: side of a cell, mm; runs: count and instance in turn (-1: nothing), row by row from the bottom, each
    from the left."""

    left: float
    bottom: float
    cell: float
    columns: int
    rows: int
    runs: list[int]

    def raster(self) -> NDArray[np.int64]:
        """Instance by row and column (rows, columns); -1 where nothing is seen."""
        pairs = np.array(self.runs, int).reshape(-1, 2)
        return np.repeat(pairs[:, 1], pairs[:, 0]).reshape(self.rows, self.columns)

    def at(self, x: float, y: float) -> int:
        """The instance seen at a place (view mm), -1 for none."""
        column, row = int((x - self.left) // self.cell), int((y - self.bottom) // self.cell)
        return int(self.raster()[row, column]) if 0 <= row < self.rows and 0 <= column < self.columns else -1

    def places(self, instance: int) -> NDArray[np.float64]:
        """Middles (n, 2) of the cells in which an instance is seen, view mm."""
        row, column = np.nonzero(self.raster() == instance)
        return np.stack([self.left + (column + 0.5) * self.cell, self.bottom + (row + 0.5) * self.cell], 1)


class Trail(BaseModel):
    """A seen piece of a trail line: of which parts, and x0 y0 x1 y1 in view mm."""

    instances: list[str]
    data: list[float]


class ViewGeometry(BaseModel):
    """All curves of a view. Coordinates are relative to the projection of the model's middle; extents are of
    all curves."""

    curves: list[ViewCurve]
    instances: list[str]
    low: list[float]
    high: list[float]
    cut_faces: list[CutFace] = []
    image: Shading | None = None
    seen: Seen | None = None
    """Of assemblies: which instance is seen where."""
    trails: list[Trail] = []
    rough: bool = False
    """A rough view: lines cut at the triangles' corners only. Nothing is measured on it."""


def arc_points(c: ViewCurve, count: int = 33) -> Array:
    """Points (n, 2) along a curve: ends only for a line."""
    d = c.data
    if c.kind in ("line", "polyline"):
        return np.array(d).reshape(-1, 2)
    if c.kind == "arc":
        t = np.linspace(d[3], d[4], count)
        return np.stack([d[0] + d[2] * np.cos(t), d[1] + d[2] * np.sin(t)], 1)
    t = np.linspace(d[5], d[6], count)
    major, minor = np.array(d[2:4]), np.array([-d[3], d[2]]) * d[4]
    points: Array = np.array(d[:2]) + np.cos(t)[:, None] * major + np.sin(t)[:, None] * minor
    return points


def length(c: ViewCurve) -> float:
    """Drawn length in mm at 1:1 (arcs exact, ellipses and polylines by chords of a fine subdivision)."""
    if c.kind == "arc":
        return c.data[2] * (c.data[4] - c.data[3])
    points = arc_points(c, 257)
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())


def bounds(curves: list[ViewCurve]) -> tuple[list[float], list[float]]:
    """Lower left and upper right corner of all curves; exact for lines, arcs and ellipses."""
    xs: list[float] = []
    ys: list[float] = []
    for c in curves:
        d = c.data
        if c.kind in ("line", "polyline"):
            xs += d[0::2]
            ys += d[1::2]
        elif c.kind == "arc":
            for t in (d[3], d[4], *_turns(0.0, d[3], d[4]), *_turns(math.pi / 2, d[3], d[4])):
                xs.append(d[0] + d[2] * math.cos(t))
                ys.append(d[1] + d[2] * math.sin(t))
        else:
            across, along = math.atan2(-d[3] * d[4], d[2]), math.atan2(d[2] * d[4], d[3])
            for t in (d[5], d[6], *_turns(across, d[5], d[6]), *_turns(along, d[5], d[6])):
                xs.append(d[0] + d[2] * math.cos(t) - d[3] * d[4] * math.sin(t))
                ys.append(d[1] + d[3] * math.cos(t) + d[2] * d[4] * math.sin(t))
    if not xs:
        return [0.0, 0.0], [0.0, 0.0]
    return [min(xs), min(ys)], [max(xs), max(ys)]


def _turns(angle: float, first: float, last: float) -> list[float]:
    """Angles equal to angle plus whole half turns that lie between first and last."""
    k = math.ceil((first - angle) / math.pi)
    out = []
    while angle + k * math.pi <= last:
        out.append(angle + k * math.pi)
        k += 1
    return out
