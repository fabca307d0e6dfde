"""What the general geometric tolerances ask of each surface of a part that no control frame speaks of."""

import math
from collections import defaultdict
from collections.abc import Mapping

import numpy as np

from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.measuring.toleranced import feature_at
from drafting.annotation.wording.numbers import plain
from drafting.context import Context
from drafting.document import Drawing
from drafting.errors import SizeError
from drafting.model.model import FaceFact, Facts, PartFacts
from drafting.standards import general_geometry as general
from drafting.standards.profile import Profile


def stated(drawing: Drawing, facts: Facts) -> Mapping[tuple[str, str], set[str]]:
    """What control frames say of the faces of parts: characteristics by part and face."""
    out: dict[tuple[str, str], set[str]] = defaultdict(set)
    for a, home in Context(drawing, drawing.sheets[0], facts).of_annotations("control_frame"):
        assert isinstance(a, ControlFrame)
        try:
            feature = feature_at(a.tip, home)
        except SizeError:
            continue
        found = facts.part_of(feature.instance)
        for face in feature.faces if found else ():
            assert found is not None
            out[(found[0].part, face)] |= {r.characteristic for r in a.rows}
    return out


def generally(
    part: str, known: PartFacts, profile: Profile, said: Mapping[tuple[str, str], set[str]]
) -> dict[str, str]:
    """What holds of each face by the general tolerances of a drawing, in words; faces that have none left
    out."""
    words = profile.general_tolerance
    name, all_around = general.stated(words), general.profile(words)
    if name is None and all_around is None:
        return {}
    out = {}
    for face in known.faces:
        own = said.get((part, face.name), set())
        asks = _of_profile(all_around, own) if name is None else _of_class(face, known, name, own)
        if asks:
            numbers = [f"{what} {_written(v, profile)}" for what, v in asks]
            source = f"ISO 2768-2, {name}" if name else "ISO 22081"
            out[face.name] = f"{', '.join(numbers)} ({source})"
    return out


def _written(value: float, profile: Profile) -> str:
    per = 25.4 if profile.units == "in" else 1.0
    trimmed = profile.model_copy(update={"trailing_zeros": False})
    return plain(value / per, 4, trimmed, profile.units, trim=True)


def _of_profile(value: float | None, own: set[str]) -> list[tuple[str, float]]:
    """One profile holds of all that no frame speaks of."""
    return [] if own or value is None else [("profile", value)]


def _of_class(face: FaceFact, part: PartFacts, name: general.Class, own: set[str]) -> list[tuple[str, float]]:
    out: list[tuple[str, float | None]] = []
    if face.kind == "plane":
        long, short = _sides(face, part)
        if "flatness" not in own:
            out.append(("flatness", general.flatness(name, long)))
        if _is_square(face, part) and not own & {
            "perpendicularity",
            "parallelism",
            "angularity",
            "profile of a surface",
            "position",
        }:
            out.append(("perpendicularity", general.perpendicularity(name, short)))
    elif face.kind == "cylinder" and face.span is not None:
        if not own & {"circular runout", "total runout", "concentricity", "position"}:
            out.append(("circular runout", general.runout(name)))
        if not own & {"straightness", "cylindricity", "total runout"}:
            out.append(("straightness", general.flatness(name, abs(face.span[1] - face.span[0]))))
    return [(what, v) for what, v in out if v is not None]


def _is_square(face: FaceFact, part: PartFacts) -> bool:
    """Whether a plane meets another one at a right angle."""
    met = {n for e in part.edges if face.name in e.faces for n in e.faces}
    others = (part.face(n) for n in met)
    return any(
        o is not None and o.kind == "plane" and abs(float(np.dot(o.axis, face.axis))) < 1e-6 for o in others
    )


def _sides(face: FaceFact, part: PartFacts) -> tuple[float, float]:
    """The longer and the shorter side of the box about a plane face, along the longest of its edges, mm."""
    edges = [e for e in part.edges if face.name in e.faces]
    if not edges:
        return math.inf, math.inf
    longest = max(edges, key=lambda e: math.dist(e.start, e.end))
    u = np.array(longest.end) - np.array(longest.start)
    n = float(np.linalg.norm(u))
    if n < 1e-9:  # a round face
        u = np.cross(face.axis, np.eye(3)[int(np.argmin(np.abs(face.axis)))])
        n = float(np.linalg.norm(u))
    u = u / n
    v = np.cross(face.axis, u)
    points = []
    for e in edges:
        points += [e.start, e.middle, e.end]
        if e.kind == "circle" and e.center is not None:
            points += [(np.array(e.center) + s * e.radius * w).tolist() for s in (1, -1) for w in (u, v)]
    p = np.array(points)
    sides = sorted(float(np.ptp(p @ w)) for w in (u, v))
    return sides[1], sides[0]
