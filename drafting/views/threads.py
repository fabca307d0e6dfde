"""Thread symbols: thin lines along a thread seen from the side, a three-quarter circle seen along its axis.

Sources: ISO 6410-1, ASME Y14.6 simplified representation (memory). An external thread's thin lines stand at
its minor diameter (ISO 68-1: major less 1.226869 pitches), an internal one's at its major diameter.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from drafting.errors import ModelError
from drafting.model.model import FaceFact, Facts, PartFacts, ThreadFact
from drafting.standards.threads import thread
from drafting.views.geometry import ViewCurve
from drafting.views.visibility.camera import Camera
from drafting.views.visibility.scene import Scene

Floats = NDArray[np.float64]
EXTERNAL_DEPTH = 1.226869
STEPS = 49


@dataclass
class _Place:
    """Where a thread stands in view coordinates: start, direction of its axis away from the start, length and
    radii, mm."""

    start: Floats
    axis: Floats
    length: float
    radius: float
    drawn: float
    internal: bool


def thread_curves(
    facts: Facts, scene: Scene, placed: list[tuple[int, bool]], camera: Camera
) -> list[ViewCurve]:
    """Symbols of all threads of the scene's instances, seen and hidden, in view mm.

    placed: for each instance of the scene the model's, and whether the scene's part lies in model coordinates
    already (a cut one)."""
    if camera.distance is not None:
        return []
    out: list[ViewCurve] = []
    done: set[tuple[int, str]] = set()
    for (number, in_model), (_, matrix) in zip(placed, scene.instances, strict=True):
        part = facts.parts[facts.instances[number].part]
        own = np.array(facts.instances[number].matrix)
        for t in part.threads:
            face = part.face(t.face)
            if face is None or face.kind != "cylinder" or not face.span or (number, t.face) in done:
                continue
            done.add((number, t.face))
            place = _place(t, face, part, matrix @ own if in_model else matrix, camera)
            if place is not None:
                out += _symbol(place, number, face, scene, camera)
    return out


def _place(t: ThreadFact, face: FaceFact, part: PartFacts, matrix: Floats, camera: Camera) -> _Place | None:
    try:
        screw = thread(t.designation)
    except ModelError:
        return None
    lo, hi = sorted(face.span or (0.0, 0.0))
    axis, origin = np.array(face.axis), np.array(face.origin)
    first = _open_end(face, part, lo, hi)
    length = min(t.length or hi - lo, hi - lo)
    begin, sign = (lo, 1.0) if first == lo else (hi, -1.0)
    start = matrix[:3, :3] @ (origin + axis * begin) + matrix[:3, 3]
    along = camera.matrix @ (matrix[:3, :3] @ axis) * sign
    drawn = screw.major / 2 if t.internal else face.radius - screw.pitch * EXTERNAL_DEPTH / 2
    return _Place(camera.view(start[None])[0], along, length, face.radius, drawn, t.internal)


def _open_end(face: FaceFact, part: PartFacts, lo: float, hi: float) -> float:
    """The end of a cylinder at which a thread starts: where a flat or a chamfer faces outward."""
    axis, origin = np.array(face.axis), np.array(face.origin)
    best, score = lo, -2.0
    for e in part.edges:
        if face.name not in e.faces or e.kind != "circle" or e.center is None:
            continue
        at = float((np.array(e.center) - origin) @ axis)
        outward = 1.0 if abs(at - hi) < abs(at - lo) else -1.0
        for other in (f for f in part.faces if f.name in e.faces and f.name != face.name):
            facing = (
                float(np.array(other.axis) @ axis) * outward
                if other.kind == "plane"
                else 0.5
                if other.kind == "cone"
                else 0.0
            )
            if (
                other.kind == "cone"
                and other.span
                and abs(other.span[1] - other.span[0]) > face.radius * 0.45
            ):
                facing = -0.5  # the tip of a drilled hole
            if facing > score:
                best, score = (hi if outward > 0 else lo), facing
    return best


def _symbol(p: _Place, instance: int, face: FaceFact, scene: Scene, camera: Camera) -> list[ViewCurve]:
    def curve(kind: str, data: list[float], visible: bool, edge_class: str = "thread") -> ViewCurve:
        return ViewCurve.model_construct(
            kind=kind,  # type: ignore[arg-type]
            data=[round(v, 9) for v in data],
            edge_class=edge_class,  # type: ignore[arg-type]
            visible=visible,
            instance=instance,
            source=face.name,
            role="silhouette",
            feature=face.feature,
        )

    out: list[ViewCurve] = []
    if abs(p.axis[2]) > 1 - 1e-9:
        if -p.axis[2] > 0:  # its open end faces the viewer
            turns = np.linspace(0.5 * math.pi, 2 * math.pi, STEPS)
            on = p.start + p.drawn * np.stack([np.cos(turns), np.sin(turns), 0 * turns], 1)
            for a, b, state in _runs(on, on, scene, camera, p):
                if state == "seen":
                    first, last = (0.5 + 1.5 * v for v in (a, b))  # three quarters of a turn, from the top
                    out.append(
                        curve(
                            "arc",
                            [float(p.start[0]), float(p.start[1]), p.drawn, first * math.pi, last * math.pi],
                            True,
                        )
                    )
        return out
    if abs(p.axis[2]) > 1e-6:
        return out
    across = np.array([-p.axis[1], p.axis[0], 0.0])
    steps = np.linspace(0, 1, STEPS)
    lift = math.sqrt(max(p.radius**2 - p.drawn**2, 0.0)) if not p.internal else 0.0
    for side in (1.0, -1.0):
        line = p.start + across * side * p.drawn + steps[:, None] * p.length * p.axis
        for a, b, state in _runs(line, line + np.array([0, 0, lift]), scene, camera, p):
            if state != "gone":
                q, r = line[0] + (line[-1] - line[0]) * a, line[0] + (line[-1] - line[0]) * b
                out.append(
                    curve("line", [float(q[0]), float(q[1]), float(r[0]), float(r[1])], state == "seen")
                )
    return out


def _runs(
    on: Floats, lifted: Floats, scene: Scene, camera: Camera, p: _Place
) -> list[tuple[float, float, str]]:
    """Stretches (from, to as parts of the whole) that are seen, hidden, or gone because a cut took the metal
    away."""
    states = _states(on, lifted, scene, camera, p)
    n = len(states)
    edges = [0.0]
    kinds = [states[0]]
    for i in range(1, n):
        if states[i] != kinds[-1]:
            edges.append((i - 0.5) / (n - 1))
            kinds.append(states[i])
    edges.append(1.0)
    return [
        (a, b, k)
        for a, b, k in zip(edges, edges[1:], kinds, strict=False)
        if b - a > 1.5 / n or len(kinds) == 1
    ]


def _states(on: Floats, lifted: Floats, scene: Scene, camera: Camera, p: _Place) -> list[str]:
    near = 2e-4 * scene.diagonal + 0.02 * p.radius + float(scene.linear.max(initial=0.0))
    toward = camera.matrix[2]

    def asked(points: Floats) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
        start = camera.model(points + np.array([0, 0, near]))
        distance, _ = scene.rays.first(start, -toward)
        return scene.rays.blocked(start, toward), distance < 4 * near

    blocked, metal = asked(lifted)
    flat_blocked, flat_metal = asked(on)
    out = []
    for i in range(len(on)):
        if not blocked[i] and metal[i] or not flat_blocked[i] and flat_metal[i]:
            out.append("seen")
        elif blocked[i] or flat_blocked[i]:
            out.append("hidden")
        else:
            out.append("gone")
    return out
