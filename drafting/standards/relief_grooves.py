"""Relief grooves at shoulders: ISO 18388, forms E and F (from memory; sizes as in the national
standard that it follows)."""

from dataclasses import dataclass

RADII: tuple[tuple[float, float, float, float], ...] = (
    (0.2, 0.1, 1.0, 0.1),
    (0.4, 0.2, 2.0, 0.1),
    (0.6, 0.2, 2.0, 0.1),
    (0.6, 0.3, 2.5, 0.2),
    (0.8, 0.3, 2.5, 0.2),
    (1.0, 0.2, 2.5, 0.1),
    (1.0, 0.4, 4.0, 0.3),
    (1.2, 0.2, 2.5, 0.1),
    (1.2, 0.4, 4.0, 0.3),
    (1.6, 0.3, 4.0, 0.2),
    (2.5, 0.4, 5.0, 0.3),
    (4.0, 0.5, 7.0, 0.3),
)
"""Radius, depth t1 below the round surface, width f from the shoulder, and of form F the depth t2 in the
shoulder, mm."""
SLOPE = 15.0
"""How the groove runs out into the round surface, degrees from the axis."""
FACE_SLOPE = 8.0
"""How that of form F runs out into the shoulder, degrees from it."""
NEAR = 5e-3


@dataclass(frozen=True)
class Relief:
    """A relief groove: form E (into the round surface) or F (into the shoulder, too); mm."""

    form: str
    radius: float
    depth: float
    width: float
    face_depth: float


def iso_reliefs() -> list[Relief]:
    """All relief grooves of forms E and F."""
    return [Relief(form, r, t, f, t2 if form == "F" else 0.0) for form in "EF" for r, t, f, t2 in RADII]


def relief(radius: float, depth: float, width: float, face_depth: float = 0.0) -> Relief | None:
    """The standard's groove of these sizes, mm; face_depth is 0 where the shoulder is not cut into. None
    where it has none."""
    asked = (radius, depth, width, face_depth)
    return next(
        (
            r
            for r in iso_reliefs()
            if all(
                abs(a - b) < NEAR
                for a, b in zip(asked, (r.radius, r.depth, r.width, r.face_depth), strict=True)
            )
        ),
        None,
    )
