"""From a cutting line or a broken-out outline drawn in a view to the direction of the section and the cuts it
makes.

A line is drawn in its parent's plane, in view mm at 1:1 about the projection of the model's middle. Its first
leg gives the section's paper; the section is seen from the side its arrows start at. Sources: ISO 128-3 (cuts
and sections), ASME Y14.3 (memory).
"""

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from drafting.errors import CommandError
from drafting.views.derivation import Cut, Leg, Side
from drafting.views.orientation import Orientation, Projection

Floats = NDArray[np.float64]
Form = Literal["straight", "aligned", "half"]
SQUARE = 1e-6


def perpendicular(d: Floats) -> Floats:
    """A quarter turn counterclockwise."""
    return np.array([-d[1], d[0]])


def legs_of(points: Sequence[tuple[float, float]]) -> Floats:
    """Unit directions (n - 1, 2) of a line's legs. Raises CommandError for a leg without length."""
    p = np.array(points, float)
    d = np.diff(p, axis=0)
    n = np.linalg.norm(d, axis=1)
    if len(p) < 2 or n.min(initial=math.inf) < 1e-6:
        raise CommandError("A cutting line needs two points that lie apart.")
    return np.asarray(d / n[:, None])


def check_line(points: Sequence[tuple[float, float]], form: Form) -> None:
    """Raises CommandError where the points do not make a line of that form."""
    d = legs_of(points)
    if form == "half" and len(d) != 1:
        raise CommandError("A half section has one leg, from outside the part to its center line.")
    if form == "aligned" and len(d) < 2:
        raise CommandError("An aligned section bends: give its line at least three points.")
    if form == "aligned" and (d[1:] * d[:-1]).sum(1).min() < -0.99:
        raise CommandError("A leg of the cutting line runs back on the leg before it.")
    if form == "straight":
        along = np.abs(d @ d[0])
        if not np.all((along > 1 - SQUARE) | (along < 1e-3)):
            raise CommandError(
                "The legs of a stepped section are parallel, with square steps "
                "between them; for a bent line choose aligned."
            )
        if along[-1] < 0.5 or (d @ d[0]).min() < -0.5:
            raise CommandError("A stepped section starts and ends with a leg, and its legs run the same way.")


def side_of(points: Sequence[tuple[float, float]], at: tuple[float, float], projection: Projection) -> int:
    """Where the viewer stands, 1 left of the line's first leg and -1 right of it, for a section placed at a
    point of the parent's plane.

    Third angle: the section stands on the viewer's side; first angle: on the other.
    """
    d = legs_of(points)[0]
    middle = (np.array(points[0]) + np.array(points[-1])) / 2
    side = 1 if float((np.array(at) - middle) @ perpendicular(d)) >= 0 else -1
    return side if projection == "third" else -side


def across(parent: Orientation, d: tuple[float, float], viewer: int, projection: Projection) -> Orientation:
    """Direction of a view square to a line of its parent's plane, folded about that line by the projection
    method.

    d: unit direction of the line on paper; viewer: 1 where the viewer stands left of it, -1 right.
    """
    rows = parent.matrix()
    along2 = np.array(d)
    toward2 = perpendicular(along2) * viewer
    along3 = rows[:2].T @ along2
    toward3 = rows[:2].T @ toward2
    # the paper beside the line, on the side where the view stands, shows what lies away from the parent's
    # viewer (third) or toward him (first)
    outward2, outward3 = (toward2, -rows[2]) if projection == "third" else (-toward2, rows[2])
    right = along2[0] * along3 + outward2[0] * outward3
    up = along2[1] * along3 + outward2[1] * outward3
    turned = np.cross(right, up)
    if turned @ toward3 < 0:  # cannot be: both methods keep the picture's hand
        raise CommandError("The view cannot be folded there.")
    return Orientation(right=_clean(right), up=_clean(up))


def _clean(v: Floats) -> list[float]:
    return [0.0 if abs(x) < 1e-12 else float(x) for x in v / np.linalg.norm(v)]


def section_cuts(
    points: Sequence[tuple[float, float]],
    form: Form,
    viewer: int,
    parent: Orientation,
    middle: Floats,
    reach: float,
) -> list[Cut]:
    """What a straight, stepped or half section takes away. reach: a length beyond the model's extents, mm."""
    p, d = np.array(points, float), legs_of(points)
    toward = perpendicular(d[0]) * viewer
    line = p.copy()
    line[0] = p[0] - d[0] * reach
    sides: list[Side] = ["cut" if abs(float(leg @ toward)) < 0.5 else "step" for leg in d]
    if form == "half":
        sides.append("step")
        sides += ["far", "far"]
    else:
        line[-1] = p[-1] + d[-1] * reach
        sides += ["far", "far", "far"]
    polygon = np.concatenate([line, [line[-1] + toward * 2 * reach, line[0] + toward * 2 * reach]])
    return [_prism(polygon, sides, parent, middle, reach)]


def section_legs(
    points: Sequence[tuple[float, float]], viewer: int, parent: Orientation, middle: Floats, reach: float
) -> list[Leg]:
    """What each leg of an aligned section keeps, and how it is turned into the paper of the first."""
    p, d = np.array(points, float), legs_of(points)
    turn = np.eye(4)
    out = []
    for i, leg in enumerate(d):
        if i:
            turn = turn @ _about(parent, middle, p[i], _angle(leg, d[i - 1]))
        a = p[i] - leg * reach if i == 0 else p[i]
        b = p[i + 1] + leg * reach if i == len(d) - 1 else p[i + 1]
        away = -perpendicular(leg) * viewer * 2 * reach
        ends: tuple[Side, Side] = ("far" if i == len(d) - 1 else "step", "far" if i == 0 else "step")
        keep = _prism(
            np.array([a, b, b + away, a + away]), ["cut", ends[0], "far", ends[1]], parent, middle, reach
        )
        out.append(Leg(keep=keep, turn=turn.tolist()))
    return out


def leg_turns(
    points: Sequence[tuple[float, float]], parent: Orientation, middle: Floats
) -> list[tuple[Floats, Floats, Floats]]:
    """For each leg of an aligned section where it starts and runs (model space), and the 4 x 4 turn that
    brings it into the paper."""
    p, d, rows = np.array(points, float), legs_of(points), parent.matrix()
    turn = np.eye(4)
    out = []
    for i, leg in enumerate(d):
        if i:
            turn = turn @ _about(parent, middle, p[i], _angle(leg, d[i - 1]))
        out.append((middle + rows[:2].T @ p[i], rows[:2].T @ leg, turn))
    return out


def section_depth(at: tuple[float, float], points: Sequence[tuple[float, float]], viewer: int) -> float:
    """How far toward the section's viewer from the model's middle a point of the parent's plane lies."""
    return float(np.array(at) @ perpendicular(legs_of(points)[0])) * viewer


def leg_depths(points: Sequence[tuple[float, float]], viewer: int) -> list[tuple[float, float, float]]:
    """From and to along a straight or stepped line, and the depth of its cut there, as `section_depth`."""
    d = legs_of(points)
    out = []
    for i, leg in enumerate(d):
        if abs(float(leg @ d[0])) > 0.5:
            a = -math.inf if i == 0 else float(np.array(points[i]) @ d[0])
            b = (
                math.inf
                if i == len(d) - 1 and len(d) > 1 or len(d) == 1
                else float(np.array(points[i + 1]) @ d[0])
            )
            out.append((a, b, section_depth(points[i], points, viewer)))
    return out


def _angle(a: Floats, b: Floats) -> float:
    """Angle that turns direction a onto b."""
    return math.atan2(float(a[0] * b[1] - a[1] * b[0]), float(a @ b))


def _about(parent: Orientation, middle: Floats, at: Floats, angle: float) -> Floats:
    """Rotation in the parent's plane about a point of it, as a 4 x 4 matrix in model space."""
    rows = parent.matrix()
    c, s = math.cos(angle), math.sin(angle)
    turn = rows.T @ np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]) @ rows
    center = middle + rows[:2].T @ at
    out = np.eye(4)
    out[:3, :3], out[:3, 3] = turn, center - turn @ center
    return out


def _prism(polygon: Floats, sides: list[Side], parent: Orientation, middle: Floats, reach: float) -> Cut:
    rows = parent.matrix()
    points = middle + polygon @ rows[:2] - rows[2] * reach
    return Cut(polygon=points.tolist(), sweep=(rows[2] * 2 * reach).tolist(), sides=sides)


def broken_out(
    outline: Sequence[tuple[float, float]],
    depth: float,
    orientation: Orientation,
    middle: Floats,
    reach: float,
) -> Cut:
    """What a broken-out section takes away: the outline swept toward the viewer from a depth. outline:
    closed, in the view's plane, view mm; depth: mm toward the viewer from the model's middle. Raises
    CommandError for an outline that crosses itself."""
    import shapely

    shape = shapely.Polygon(outline) if len(outline) > 2 else shapely.Polygon()
    if len(outline) < 3 or not shape.is_valid or shape.area < 1e-6:
        raise CommandError("The outline of a broken-out section is closed and does not cross itself.")
    rows = orientation.matrix()
    points = middle + np.array(outline) @ rows[:2] + rows[2] * depth
    sweep = rows[2] * (reach + 2 * abs(depth))
    return Cut(
        polygon=points.tolist(), sweep=sweep.tolist(), sides=["break"] * len(outline), caps=("cut", "far")
    )
