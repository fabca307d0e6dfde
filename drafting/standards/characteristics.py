"""Geometric characteristics and what their frames may say, as data with clauses: ISO 1101:2017 with ISO 2692,
ISO 5458, ISO 5459, ISO 10578 and ISO 10579, and ASME Y14.5-2018 (memory)."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Characteristic = Literal[
    "straightness",
    "flatness",
    "circularity",
    "cylindricity",
    "profile of a line",
    "profile of a surface",
    "angularity",
    "perpendicularity",
    "parallelism",
    "position",
    "concentricity",
    "symmetry",
    "circular runout",
    "total runout",
]
Group = Literal["form", "profile", "orientation", "location", "runout"]
Datums = Literal["none", "one at least", "as needed"]
Standard = Literal["ISO", "ASME"]
Toleranced = Literal[
    "plane",
    "cylinder",
    "cone",
    "sphere",
    "surface",
    "line",
    "axis",
    "median plane",
    "center point",
]
"""What a frame is on: a surface, a line of one, or what is derived from a feature of size."""
SURFACES: tuple[Toleranced, ...] = ("plane", "cylinder", "cone", "sphere", "surface", "line")
DERIVED: tuple[Toleranced, ...] = ("axis", "median plane", "center point")


@dataclass(frozen=True)
class Rules:
    """What a standard allows a characteristic. datums: how many it needs; on: what it may be on, in the order
    in which that is likeliest; round_on: on what its zone may be round (Ø, or SØ about a point); material:
    whether Ⓜ and Ⓛ may stand with its value, on features of size; on_datums: whether with its datums;
    projected, tangent, unequal, per_length: whether these may be said; clause: where the standard says it,
    round_clause, material_clause: of these two."""

    datums: Datums
    on: tuple[Toleranced, ...]
    clause: str
    round_on: tuple[Toleranced, ...] = ()
    round_clause: str = ""
    material: bool = False
    material_clause: str = ""
    on_datums: bool = False
    projected: bool = False
    tangent: bool = False
    unequal: bool = False
    per_length: bool = False


GROUPS: Mapping[Characteristic, Group] = {
    "straightness": "form",
    "flatness": "form",
    "circularity": "form",
    "cylindricity": "form",
    "profile of a line": "profile",
    "profile of a surface": "profile",
    "angularity": "orientation",
    "perpendicularity": "orientation",
    "parallelism": "orientation",
    "position": "location",
    "concentricity": "location",
    "symmetry": "location",
    "circular runout": "runout",
    "total runout": "runout",
}
SYMBOLS: Mapping[Characteristic, str] = {
    "straightness": "⏤",
    "flatness": "⏥",
    "circularity": "○",
    "cylindricity": "⌭",
    "profile of a line": "⌒",
    "profile of a surface": "⌓",
    "angularity": "∠",
    "perpendicularity": "⊥",
    "parallelism": "∥",
    "position": "⌖",
    "concentricity": "◎",
    "symmetry": "⌯",
    "circular runout": "↗",
    "total runout": "⌰",
}
"""As they are typed and read; drawn they are lines (`inking.characteristic_ink`)."""
MODIFIERS = frozenset(
    ("DV", "CF", "PL", "SL", "PT", "LD", "MD", "PD", "><", "ACS", "ALS", "SCS", "BSC", "TSF", "DF")
)
"""What may stand in brackets with a datum (ISO 5459; ASME Y14.5's BSC and translation by ▷ typed TSF)."""
Indicator = Literal["intersection plane", "orientation plane", "direction feature", "collection plane"]
INDICATORS: Mapping[str, Indicator] = {
    "int": "intersection plane",
    "ori": "orientation plane",
    "dir": "direction feature",
    "col": "collection plane",
}
"""ISO's indicators beside a frame, as they are typed (ISO 1101, 14 to 17)."""
SHORT: Mapping[str, Characteristic] = {
    "str": "straightness",
    "flat": "flatness",
    "circ": "circularity",
    "round": "circularity",
    "cyl": "cylindricity",
    "lp": "profile of a line",
    "prof": "profile of a surface",
    "ang": "angularity",
    "perp": "perpendicularity",
    "par": "parallelism",
    "pos": "position",
    "conc": "concentricity",
    "coax": "concentricity",
    "sym": "symmetry",
    "run": "circular runout",
    "total": "total runout",
}
"""How they are typed in a few letters."""

_ORIENTED: tuple[Toleranced, ...] = ("axis", "plane", "median plane", "line")
_ROUND_LINES: tuple[Toleranced, ...] = ("axis", "line")

ASME: Mapping[Characteristic, Rules] = {
    "straightness": Rules(
        "none",
        ("line", "cylinder", "cone", "plane", "axis", "median plane"),
        "8.4.1",
        round_on=("axis",),
        round_clause="8.4.1.3",
        material=True,
        material_clause="8.4.1.3",
        per_length=True,
    ),
    "flatness": Rules(
        "none",
        ("plane", "median plane"),
        "8.4.2",
        round_clause="8.4.2",
        material=True,
        material_clause="8.4.2.2",
        per_length=True,
    ),
    "circularity": Rules(
        "none", ("cylinder", "cone", "sphere"), "8.4.3", round_clause="8.4.3", material_clause="8.4.3"
    ),
    "cylindricity": Rules("none", ("cylinder",), "8.4.4", round_clause="8.4.4", material_clause="8.4.4"),
    "profile of a line": Rules(
        "as needed",
        ("line", "surface", "plane", "cylinder", "cone", "sphere"),
        "11.2",
        round_clause="11.3",
        material_clause="11.3",
        on_datums=True,
        unequal=True,
    ),
    "profile of a surface": Rules(
        "as needed",
        ("surface", "plane", "cone", "cylinder", "sphere", "line"),
        "11.2",
        round_clause="11.3",
        material_clause="11.3",
        on_datums=True,
        unequal=True,
    ),
    "angularity": Rules(
        "one at least",
        _ORIENTED,
        "9.3",
        round_on=("axis",),
        round_clause="9.3.1",
        material=True,
        material_clause="9.3.3",
        on_datums=True,
        projected=True,
        tangent=True,
    ),
    "perpendicularity": Rules(
        "one at least",
        _ORIENTED,
        "9.3",
        round_on=("axis",),
        round_clause="9.3.1",
        material=True,
        material_clause="9.3.3",
        on_datums=True,
        projected=True,
        tangent=True,
    ),
    "parallelism": Rules(
        "one at least",
        ("plane", "axis", "median plane", "line"),
        "9.3",
        round_on=("axis",),
        round_clause="9.3.1",
        material=True,
        material_clause="9.3.3",
        on_datums=True,
        projected=True,
        tangent=True,
    ),
    "position": Rules(
        "as needed",
        ("axis", "median plane", "center point"),
        "10.2",
        round_on=("axis", "center point"),
        round_clause="10.2",
        material=True,
        material_clause="10.3.2",
        on_datums=True,
        projected=True,
    ),
    "circular runout": Rules(
        "one at least",
        ("cylinder", "cone", "plane", "sphere", "surface"),
        "12.4",
        round_clause="12.3",
        material_clause="12.3",
    ),
    "total runout": Rules(
        "one at least",
        ("cylinder", "plane"),
        "12.4",
        round_clause="12.3",
        material_clause="12.3",
    ),
}
"""ASME Y14.5-2018; it has neither concentricity nor symmetry any more."""

ISO: Mapping[Characteristic, Rules] = {
    "straightness": Rules(
        "none",
        ("line", "cylinder", "cone", "plane", "axis"),
        "ISO 1101, 17.2",
        round_on=("axis",),
        round_clause="ISO 1101, 17.2",
        material=True,
        material_clause="ISO 2692, 4.2",
        per_length=True,
    ),
    "flatness": Rules(
        "none",
        ("plane", "median plane"),
        "ISO 1101, 17.3",
        round_clause="ISO 1101, 17.3",
        material=True,
        material_clause="ISO 2692, 4.2",
        per_length=True,
    ),
    "circularity": Rules(
        "none",
        ("cylinder", "cone", "sphere"),
        "ISO 1101, 17.4",
        round_clause="ISO 1101, 17.4",
        material_clause="ISO 2692, 4.1",
    ),
    "cylindricity": Rules(
        "none",
        ("cylinder",),
        "ISO 1101, 17.5",
        round_clause="ISO 1101, 17.5",
        material_clause="ISO 2692, 4.1",
    ),
    "profile of a line": Rules(
        "as needed",
        ("line", "surface", "plane", "cylinder", "cone", "sphere"),
        "ISO 1101, 17.6",
        round_clause="ISO 1660, 4",
        material_clause="ISO 2692, 4.1",
        unequal=True,
    ),
    "profile of a surface": Rules(
        "as needed",
        ("surface", "plane", "cone", "cylinder", "sphere", "line"),
        "ISO 1101, 17.8",
        round_clause="ISO 1660, 4",
        material_clause="ISO 2692, 4.1",
        unequal=True,
    ),
    "angularity": Rules(
        "one at least",
        _ORIENTED,
        "ISO 1101, 17.12",
        round_on=_ROUND_LINES,
        round_clause="ISO 1101, 17.12",
        material=True,
        material_clause="ISO 2692, 4.2",
        on_datums=True,
        projected=True,
        tangent=True,
    ),
    "perpendicularity": Rules(
        "one at least",
        _ORIENTED,
        "ISO 1101, 17.11",
        round_on=_ROUND_LINES,
        round_clause="ISO 1101, 17.11",
        material=True,
        material_clause="ISO 2692, 4.2",
        on_datums=True,
        projected=True,
        tangent=True,
    ),
    "parallelism": Rules(
        "one at least",
        ("plane", "axis", "median plane", "line"),
        "ISO 1101, 17.10",
        round_on=_ROUND_LINES,
        round_clause="ISO 1101, 17.10",
        material=True,
        material_clause="ISO 2692, 4.2",
        on_datums=True,
        projected=True,
        tangent=True,
    ),
    "position": Rules(
        "as needed",
        ("axis", "median plane", "center point", "plane", "line"),
        "ISO 1101, 17.13",
        round_on=("axis", "center point", "line"),
        round_clause="ISO 1101, 17.13",
        material=True,
        material_clause="ISO 2692, 4.2",
        on_datums=True,
        projected=True,
    ),
    "concentricity": Rules(
        "one at least",
        ("axis", "center point"),
        "ISO 1101, 17.14",
        round_on=("axis", "center point"),
        round_clause="ISO 1101, 17.14",
        material=True,
        material_clause="ISO 2692, 4.2",
        on_datums=True,
    ),
    "symmetry": Rules(
        "one at least",
        ("median plane", "axis"),
        "ISO 1101, 17.15",
        round_clause="ISO 1101, 17.15",
        material=True,
        material_clause="ISO 2692, 4.2",
        on_datums=True,
    ),
    "circular runout": Rules(
        "one at least",
        ("cylinder", "cone", "plane", "sphere", "surface"),
        "ISO 1101, 17.16",
        round_clause="ISO 1101, 17.16",
        material_clause="ISO 2692, 4.1",
    ),
    "total runout": Rules(
        "one at least",
        ("cylinder", "plane"),
        "ISO 1101, 17.17",
        round_clause="ISO 1101, 17.17",
        material_clause="ISO 2692, 4.1",
    ),
}
TABLES: Mapping[Standard, Mapping[Characteristic, Rules]] = {"ISO": ISO, "ASME": ASME}


def named(name: str, standard: Standard) -> str:
    """What a standard calls a characteristic."""
    if standard == "ISO" and name == "circularity":
        return "roundness"
    if standard == "ISO" and name == "concentricity":
        return "coaxiality"
    return name


def offered(on: Toleranced, standard: Standard) -> list[Characteristic]:
    """The characteristics that what is toleranced can have, in the order of use (common practice)."""
    order = USUAL.get(on, ())
    allowed = [c for c, r in TABLES[standard].items() if on in r.on]
    return sorted(allowed, key=lambda c: order.index(c) if c in order else len(order))


USUAL: Mapping[Toleranced, tuple[Characteristic, ...]] = {
    "axis": ("position", "perpendicularity", "parallelism", "concentricity", "angularity", "straightness"),
    "median plane": ("position", "symmetry", "perpendicularity", "parallelism", "flatness"),
    "center point": ("position", "concentricity"),
    "plane": ("flatness", "perpendicularity", "parallelism", "profile of a surface", "circular runout"),
    "cylinder": ("circular runout", "cylindricity", "total runout", "circularity", "straightness"),
    "cone": ("circular runout", "profile of a surface", "circularity", "straightness"),
    "sphere": ("circularity", "profile of a surface"),
    "surface": ("profile of a surface", "profile of a line"),
    "line": ("straightness", "profile of a line"),
}
