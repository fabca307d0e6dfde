"""Hatch patterns: those of the standards by material, and patterns read from a `.pat` file.

Sources: ISO 128-3 (plain lines at 45 degrees for every material unless it must be told), ASME Y14.2 (memory:
general use, steel, cast iron, bronze and copper alloys, aluminium and magnesium, plastics and rubber, wood).
Spacings are this house's.
"""

import math
import re
from dataclasses import dataclass

from drafting.errors import CommandError


@dataclass(frozen=True)
class Family:
    """Parallel lines: angle in degrees, a point on the first, the step to the next (along and across the
    line), dashes (drawn, gap …), mm."""

    angle: float
    origin: tuple[float, float]
    step: tuple[float, float]
    dashes: tuple[float, ...] = ()


def _plain(angle: float, spacing: float, offset: float = 0.0, dashes: tuple[float, ...] = ()) -> Family:
    a = math.radians(angle)
    return Family(angle, (-math.sin(a) * offset, math.cos(a) * offset), (0.0, spacing), dashes)


BUILT_IN: dict[str, tuple[Family, ...]] = {
    "general": (_plain(45, 3.0),),
    "iron": (_plain(45, 3.0),),
    "steel": (_plain(45, 4.5), _plain(45, 4.5, 1.2)),
    "copper alloy": (_plain(45, 4.5), _plain(45, 4.5, 2.25, (4.0, 1.5))),
    "aluminium": (_plain(45, 4.5), _plain(135, 4.5, 0.0, (2.2, 4.16396))),
    "plastic": (_plain(45, 3.0), _plain(135, 3.0)),
    "wood": (_plain(0, 2.4, 0.0, (14.0, 1.2, 6.0, 1.8)), _plain(0, 2.4, 1.0, (7.0, 2.4, 10.0, 1.0))),
    "crossed": (_plain(0, 3.0), _plain(90, 3.0)),
    "level": (_plain(0, 2.0),),
    "dashed": (_plain(45, 3.0, 0.0, (4.0, 1.5)),),
}
BY_WORD = {
    "steel": "steel",
    "stainless": "steel",
    "iron": "iron",
    "brass": "copper alloy",
    "bronze": "copper alloy",
    "copper": "copper alloy",
    "aluminium": "aluminium",
    "aluminum": "aluminium",
    "magnesium": "aluminium",
    "pa6": "plastic",
    "pom": "plastic",
    "rubber": "plastic",
    "oak": "wood",
}
MAX_FAMILIES = 60


def for_material(standard: str, material: str) -> str:
    """The pattern of a material: ASME tells materials apart; ISO draws the general one, and wood and plastics
    as themselves."""
    for word in re.findall(r"[a-z0-9]+", material.lower()):
        if (found := BY_WORD.get(word)) and (standard == "ASME" or found in ("wood", "plastic")):
            return found
    return "general"


def check(name: str, own: dict[str, str]) -> None:
    """Raises CommandError for a pattern that is neither built in nor the drawing's own."""
    if name not in BUILT_IN and name not in own:
        raise CommandError(f"There is no hatch pattern called {name!r}.")


def families(name: str, own: dict[str, str]) -> tuple[Family, ...]:
    """Lines of a pattern; the general one where it is not known any more."""
    if name in own:
        return _families(name, own[name].splitlines())
    return BUILT_IN.get(name, BUILT_IN["general"])


def read(text: str) -> dict[str, str]:
    """Patterns of a `.pat` text by name: a head line `*name, words`, then lines angle, x, y, step along, step
    across, dashes.

    A negative dash is a gap, 0 a dot; `;` starts a remark. Raises CommandError with the line that is wrong.
    """
    out: dict[str, list[str]] = {}
    name = ""
    for number, line in enumerate(text.replace("\x00", "").splitlines(), 1):
        line = line.split(";")[0].strip()
        if not line:
            continue
        if line.startswith("*"):
            name = line[1:].split(",")[0].strip()[:60]
            if not name:
                raise CommandError(f"Line {number} of the pattern file has no name after the star.")
            out[name] = []
            continue
        if not name:
            raise CommandError(
                "This is no pattern file: it does not start with a line like *NAME, description."
            )
        _family(line, f"Line {number} of the pattern file")
        out[name].append(line)
        if len(out[name]) > MAX_FAMILIES:
            raise CommandError(f"The pattern {name} has more than {MAX_FAMILIES} lines.")
    if not any(out.values()):
        raise CommandError("There is no pattern in that file.")
    return {k: "\n".join(v) for k, v in out.items() if v}


def _families(name: str, lines: list[str]) -> tuple[Family, ...]:
    return tuple(_family(line, f"A line of the pattern {name}") for line in lines)


def _family(line: str, where: str) -> Family:
    try:
        v = [float(x) for x in line.split(",") if x.strip()]
    except ValueError:
        raise CommandError(f"{where} is not a list of numbers.") from None
    if len(v) < 5 or not all(math.isfinite(x) and abs(x) < 1e5 for x in v) or abs(v[4]) < 1e-3 or len(v) > 17:
        raise CommandError(
            f"{where} needs an angle, a point, a step along and a step across that is not zero."
        )
    dashes = v[5:]
    if dashes and sum(abs(x) for x in dashes) < 0.05:
        raise CommandError(f"{where} has dashes too short to draw.")
    drawn = tuple(abs(x) if (x >= 0) == (i % 2 == 0) else 0.0 for i, x in enumerate(dashes))
    return Family(v[0], (v[1], v[2]), (v[3], v[4]), drawn)
