"""General geometric tolerances: what holds where a drawing says none. ISO 2768-2, tables 1 to 4 (memory), and
the one profile of ISO 22081."""

import re
from typing import Literal

Class = Literal["H", "K", "L"]
_STATED = re.compile(r"ISO\s*2768(?:-1)?\s*[-–: ]\s*[fmcv]\s*([HKL])", re.IGNORECASE)
_ONLY = re.compile(r"ISO\s*2768-2\s*[-–: ]\s*([HKL])", re.IGNORECASE)
_PROFILE = re.compile(r"ISO\s*22081\D*?(?:⌓|prof\w*)\s*(\d+(?:[.,]\d+)?)", re.IGNORECASE)
_STEPS = (10, 30, 100, 300, 1000, 3000)
_FLAT: dict[Class, tuple[float, ...]] = {
    "H": (0.02, 0.05, 0.1, 0.2, 0.3, 0.4),
    "K": (0.05, 0.1, 0.2, 0.4, 0.6, 0.8),
    "L": (0.1, 0.2, 0.4, 0.8, 1.2, 1.6),
}
_WIDE_STEPS = (100, 300, 1000, 3000)
_SQUARE: dict[Class, tuple[float, ...]] = {
    "H": (0.2, 0.3, 0.4, 0.5),
    "K": (0.4, 0.6, 0.8, 1.0),
    "L": (0.6, 1.0, 1.5, 2.0),
}
_SYMMETRY: dict[Class, tuple[float, ...]] = {
    "H": (0.5, 0.5, 0.5, 0.5),
    "K": (0.6, 0.6, 0.8, 1.0),
    "L": (0.6, 1.0, 1.5, 2.0),
}
_RUNOUT: dict[Class, float] = {"H": 0.1, "K": 0.2, "L": 0.5}


def stated(words: str) -> Class | None:
    """The class that a title block's words name, as "ISO 2768-mK"; None for none."""
    found = _STATED.search(words) or _ONLY.search(words)
    return found[1].upper() if found else None  # type: ignore[return-value]


def profile(words: str) -> float | None:
    """The general profile, mm, of words as "ISO 22081 ⌓ 0.5"; None for none."""
    found = _PROFILE.search(words)
    return float(found[1].replace(",", ".")) if found else None


def _step(value: float, steps: tuple[int, ...], row: tuple[float, ...]) -> float | None:
    return next((t for s, t in zip(steps, row, strict=True) if value <= s + 1e-9), None)


def flatness(of: Class, length: float) -> float | None:
    """Straightness and flatness by the longer side of a surface, mm (table 1); None beyond it."""
    return _step(length, _STEPS, _FLAT[of])


def perpendicularity(of: Class, length: float) -> float | None:
    """By the length of the shorter side, mm (table 2); None beyond it."""
    return _step(length, _WIDE_STEPS, _SQUARE[of])


def symmetry(of: Class, length: float) -> float | None:
    """By the length of the feature, mm (table 3); None beyond it."""
    return _step(length, _WIDE_STEPS, _SYMMETRY[of])


def runout(of: Class) -> float:
    """Circular runout, mm (table 4)."""
    return _RUNOUT[of]
