"""Welds: kinds, which of them go together, and processes (ISO 2553 system A, AWS A2.4, ISO 4063; memory)."""

from typing import Literal

Form = Literal[
    "fillet",
    "square",
    "V",
    "bevel",
    "Y",
    "U",
    "J",
    "flare V",
    "flare bevel",
    "plug",
    "spot",
    "seam",
    "edge",
    "surfacing",
    "back run",
]
Other = Literal[
    "none",
    "fillet",
    "square",
    "V",
    "bevel",
    "Y",
    "U",
    "J",
    "flare V",
    "flare bevel",
    "plug",
    "spot",
    "seam",
    "edge",
    "surfacing",
    "back run",
]
"""The same on the other side, or none there."""
BUTT = ("square", "V", "bevel", "Y", "U", "J", "flare V", "flare bevel")
"""Between faces in one plane."""
POINTS = ("plug", "spot", "seam")
"""Made through a part, one beside another."""
PROCESSES = {
    "111": "manual arc welding with covered electrode",
    "121": "submerged arc welding",
    "131": "MIG welding",
    "135": "MAG welding",
    "136": "flux-cored arc welding",
    "141": "TIG welding",
    "15": "plasma arc welding",
    "21": "resistance spot welding",
    "22": "resistance seam welding",
    "311": "oxyacetylene welding",
    "51": "electron beam welding",
    "52": "laser welding",
    "783": "stud welding",
    "912": "flame brazing",
}
"""By their numbers."""


def fault(
    form: str,
    other: str,
    has_throat: bool,
    count: int | None,
    pitch: float | None,
    staggered: bool,
    around: bool,
) -> str | None:
    """Why a weld cannot be so, a sentence; None where it can. other: the weld on the other side, empty for
    none."""
    forms = [f for f in (form, other) if f]
    if has_throat and "fillet" not in forms:
        return "A throat or leg (a, z) is that of a fillet weld; a butt weld has a penetration (s)."
    if around and any(f in POINTS for f in forms):
        return "A plug, spot or seam weld does not go all around."
    if other == "back run" and form not in BUTT:
        return "A back run is made behind a butt weld."
    if "surfacing" in forms and other:
        return "Surfacing is on one side."
    if other and form != "fillet" and other == "fillet" and form not in BUTT:
        return f"A {form} weld has no fillet weld on its other side."
    if pitch is not None and (count is None or count < 2):
        return "A pitch is between welds, so there are two or more."
    if staggered and not (form == other == "fillet" and pitch is not None):
        return "Staggered welds are fillet welds on both sides with a pitch."
    return None
