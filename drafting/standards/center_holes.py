"""Center holes of type A: ISO 866, called out by ISO 6411 (from memory)."""

TYPE_A = {
    1.0: 2.12, 1.6: 3.35, 2.0: 4.25, 2.5: 5.3, 3.15: 6.7, 4.0: 8.5, 5.0: 10.6, 6.3: 13.2, 8.0: 17.0,
    10.0: 21.2,
}  # fmt: skip
"""Diameter of the pilot and of the 60° cone at the face, mm."""


def type_a(pilot: float, mouth: float, angle: float | None) -> bool:
    """Whether a pilot hole and a cone are those of a center hole of type A."""
    return (
        angle is not None
        and abs(angle - 60) < 0.1
        and any(abs(d - pilot) < 0.02 and abs(m - mouth) < 0.05 for d, m in TYPE_A.items())
    )
