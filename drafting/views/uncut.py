"""Which parts a section leaves whole: shafts, pins, screws, nuts, washers, keys, rivets and balls cut along
their length.

ISO 128-3 and ASME Y14.3 (memory) show such parts uncut in a section along their axis, and cut in a section
across it. A part's kind is read from what it is called; a mark on the part overrides that, and one on the
view both.
"""

import re

import numpy as np
from numpy.typing import NDArray

from drafting.model.model import Facts, PartFacts

SOLID_KINDS = (
    "shaft",
    "pin",
    "screw",
    "bolt",
    "stud",
    "nut",
    "washer",
    "key",
    "rivet",
    "ball",
    "spindle",
    "axle",
    "rod",
    "roller",
)
ALONG = 0.1
"""Largest cosine between the axis and the normal of the cutting plane at which the plane still runs along the
part."""
EQUAL = 0.02
"""Two extents of a part that differ by less than this share are those of something round."""
LONG = 2.0
"""A part this many times longer than wide is a rod."""


def solid_kind(part: PartFacts) -> str | None:
    """The kind by which a part is left whole, None for one that is cut."""
    words = re.findall(r"[a-z]+", part.name.lower())
    for word in reversed(words):
        for kind in SOLID_KINDS:
            if word in (kind, f"{kind}s"):
                return kind
    return None


def main_axis(part: PartFacts) -> NDArray[np.float64] | None:
    """Axis of the part's cylinders, weighed by their size; where it has none, since its faces are free-form,
    that of its extents: the one that differs from two equal ones, or is by far the longest. None where
    neither tells."""
    axes: dict[tuple[float, ...], float] = {}
    for face in part.faces:
        if face.kind in ("cylinder", "cone") and face.span:
            a = (
                np.round(np.array(face.axis) * (1 if tuple(np.round(face.axis, 6)) > (0, 0, 0) else -1), 4)
                + 0.0
            )
            key = tuple(float(v) for v in a)
            axes[key] = axes.get(key, 0.0) + max(face.radius, 0.1) * abs(face.span[1] - face.span[0])
    if not axes:
        return _axis_of_extents(part)
    return np.array(max(axes, key=lambda k: axes[k]))


def _axis_of_extents(part: PartFacts) -> NDArray[np.float64] | None:
    size = np.array(part.high) - np.array(part.low)
    for k in range(3):
        others = np.delete(size, k)
        equal = abs(others[0] - others[1]) <= EQUAL * others.max()
        if (equal and abs(size[k] - others[0]) > 5 * EQUAL * others.max()) or size[k] > LONG * others.max():
            return np.asarray(np.eye(3)[k])
    return None


def left_whole(facts: Facts, normals: list[NDArray[np.float64]]) -> list[str]:
    """Paths of instances that cutting planes with these normals leave whole by kind."""
    out = []
    kinds = {
        key: {"whole": "marked", "cut": None}.get(part.sectioned, solid_kind(part))
        for key, part in facts.parts.items()
    }
    axes = {key: main_axis(part) for key, part in facts.parts.items() if kinds[key]}
    for instance in facts.instances:
        kind, axis = kinds[instance.part], axes.get(instance.part)
        if kind is None or len(facts.instances) == 1:
            continue
        if kind == "ball":
            out.append(instance.path)
            continue
        if axis is None:
            continue  # whether it is cut along its length cannot be told
        turned = np.array(instance.matrix)[:3, :3] @ axis
        if all(abs(float(turned @ n)) < ALONG for n in normals):
            out.append(instance.path)
    return out
