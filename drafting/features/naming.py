"""Names of features, for lists and for what is under the pointer."""

from collections.abc import Callable, Sequence

from drafting.features.feature import Feature
from drafting.features.hole import Hole
from drafting.features.patterns import Pattern

NAMES = {
    "plain": "hole",
    "counterbored": "counterbored hole",
    "countersunk": "countersunk hole",
    "spotfaced": "spotfaced hole",
    "counterdrilled": "counterdrilled hole",
    "stepped": "stepped hole",
    "tapered": "tapered hole",
}


def hole_name(hole: Hole) -> str:
    """What a hole is called, in small letters."""
    name = NAMES[hole.kind]
    if hole.thread:
        return f"tapped {name}"
    return name if hole.is_through or hole.kind != "plain" else "blind hole"


def pattern_words(pattern: Pattern, written: Callable[[float], str]) -> str:
    """How holes stand together: "6 equally spaced on Ø75". written: a length as it is written."""
    count = len(pattern.members)
    if pattern.kind == "circle":
        return f"{count} {'equally spaced ' if pattern.is_whole else ''}on Ø{written(pattern.diameter)}"
    if pattern.kind == "row":
        return f"{count} in a row, {written(pattern.pitches[0])} apart"
    if pattern.kind == "mirrored":
        return f"{count} in pairs that mirror each other, {_listed(pattern.pitches, written)} apart"
    (across, up), (wide, high) = pattern.counts, map(written, pattern.pitches)
    return f"{across} by {up}, {wide} and {high} apart"


def _listed(values: Sequence[float], written: Callable[[float], str]) -> str:
    """Different values in words: "20 and 30"."""
    *first, last = dict.fromkeys(map(written, values))
    return f"{', '.join(first)} and {last}" if first else last


def feature_name(feature: Feature) -> str:
    """What a feature besides holes and shafts is called, in small letters."""
    if feature.kind == "channel" and (feature.size("length") or 0.0) < (feature.size("depth") or 0.0):
        return "notch"
    return {"hub keyway": "keyway", "inner groove": "groove", "open slot": "slot"}.get(
        feature.kind, feature.kind
    )
