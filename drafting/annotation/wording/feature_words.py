"""What a callout says of a slot, a keyway, a groove and other features, row by row.

Forms: width by length and depth at a leader, full radii without a figure (ISO 129-1, ASME Y14.5), the taper's
sign (ISO 3040), threads of shafts (ISO 6410-1, ASME Y14.6), relief grooves by
their designation (ISO 18388); the rest is common practice. From memory.
"""

import math

from drafting.annotation.wording.callout_words import Row, Value, times_sign
from drafting.annotation.wording.hole_words import DEPTH, thread_words
from drafting.annotation.wording.numbers import DIAMETER, plain
from drafting.features.feature import Feature, Size
from drafting.features.naming import feature_name
from drafting.features.shafts import Shaft
from drafting.ink.symbols import NAMED
from drafting.standards.processes import knurl
from drafting.standards.profile import Profile
from drafting.standards.relief_grooves import relief

ROLES: dict[Size, str] = {
    "width": "width",
    "length": "length",
    "depth": "depth",
    "height": "depth",
    "diameter": "round",
    "radius": "round",
    "across": "width",
}
"""Which tolerance a size takes."""


def rows(feature: Feature, count: int, profile: Profile, named: bool = False) -> list[Row]:
    """The rows of a callout. count: how many it stands for; named: whether it begins with what it is."""
    asme = profile.standard == "ASME"
    times = times_sign(profile)
    first: Row = [f"{count}{times} "] if count > 1 else []
    if named:
        name = feature_name(feature)
        first.append(f"{name.upper() if asme else name} ")
    first += _said(feature, f" {times} ", asme)
    if (
        feature.size("depth") is None
        and asme
        and feature.kind in ("slot", "open slot", "curved slot", "opening")
    ):
        first.append(" THRU")
    out = [first]
    if feature.kind == "taper":
        out.append(_ratio(feature, profile))
    return out


def _said(feature: Feature, times: str, asme: bool) -> Row:
    kind = feature.kind
    if kind == "flat":
        if feature.size("across") is not None:
            return [_value(feature, "across"), " A/F"]
        over = (feature.size("height") or 0.0) + (feature.size("diameter") or 0.0) / 2
        return [Value("", over, "width"), " OVER FLAT" if asme else " over flat"]
    if kind in ("fillet", "round"):
        return [_value(feature, "radius", "R")]
    if kind == "taper":
        return [
            _value(feature, "diameter", DIAMETER),
            " / ",
            Value(DIAMETER, feature.size("inner") or 0.0),
            times,
            _value(feature, "length"),
        ]
    if kind == "chamfer":
        return [
            _value(feature, "length"),
            times,
            Value("", math.radians(feature.size("angle") or 45.0), is_angle=True),
        ]
    if kind == "curved slot":
        angle = Value("", math.radians(feature.size("angle") or 0.0), is_angle=True)
        return [
            _value(feature, "width"),
            times,
            angle,
            " ON " if asme else " on ",
            _value(feature, "radius", "R"),
            *_deep(feature),
        ]
    if kind in ("groove", "inner groove"):
        return [_value(feature, "width"), times, _value(feature, "diameter", DIAMETER)]
    if kind == "face groove":
        return [
            _value(feature, "diameter", DIAMETER),
            " / ",
            Value(DIAMETER, feature.size("inner") or 0.0),
            *_deep(feature),
        ]
    if kind == "relief groove":
        return _relief(feature, times, asme)
    if kind == "boss":
        return [_value(feature, "diameter", DIAMETER), times, _value(feature, "height")]
    out: Row = []
    sizes: tuple[Size, ...] = ("width",) if kind in ("channel", "hub keyway", "rib") else ("width", "length")
    if kind == "pad":
        sizes = ("width", "length", "height")
    for name in sizes:
        if feature.size(name) is not None:
            out += [*([times] if out else []), _value(feature, name)]
    if feature.size("corner") is not None:
        out += [" ", Value("R", feature.size("corner") or 0.0)]
    return [*out, *_deep(feature)] if out else _deep(feature)[1:]


def _relief(feature: Feature, times: str, asme: bool) -> Row:
    """By its designation where the standard has it, else its width, its depth, and its radius."""
    radius, depth, width, side = (feature.size(n) or 0.0 for n in ("radius", "depth", "width", "height"))
    known = None if asme else relief(radius, depth, width, side)
    if known is not None:
        return [f"ISO 18388 - {known.form} ", Value("", known.radius), times, Value("", known.depth)]
    out: Row = [_value(feature, "width"), times, Value("", depth, "depth"), " ", Value("R", radius)]
    return [*out, " / ", Value("", side)] if side else out


def _value(feature: Feature, name: Size, sign: str = "") -> Value:
    return Value(sign, feature.size(name) or 0.0, ROLES[name])


def _deep(feature: Feature) -> Row:
    depth = feature.size("depth")
    return [] if depth is None else [" ", Value(DEPTH, depth, "depth")]


def _ratio(feature: Feature, profile: Profile) -> Row:
    """The taper as a ratio: the length on which the diameter grows by one."""
    grows = (feature.size("diameter") or 0.0) - (feature.size("inner") or 0.0)
    length = feature.size("length") or 0.0
    return [f"{NAMED['taper']} 1:{plain(length / grows, 3, profile, profile.units, trim=True)}"]


def shaft_rows(shaft: Shaft, profile: Profile, thread_class: str = "") -> list[Row]:
    """The rows of a shaft: its thread with the length of it, or its diameter and how it is finished; knurls
    by their designation (ISO 13444, memory)."""
    if not shaft.thread:
        first: Row = [Value(DIAMETER, shaft.diameter, "round")]
        asme = profile.standard == "ASME"
        found = knurl(shaft.process)
        if found is not None:
            pitch = plain(found[1], 2, profile, "mm", trim=True)
            return [first, [f"{'KNURL' if asme else 'Knurl'} ISO 13444 - {found[0]} {pitch}"]]
        if shaft.process:
            first.append(f" {shaft.process.upper() if asme else shaft.process}")
        return [first]
    name = thread_words(shaft.thread, profile, external=True)
    if thread_class:
        name = f"{name.rpartition('-')[0] if profile.standard == 'ASME' else name}-{thread_class}"
    long = shaft.thread_length
    return [[name] if long is None else [name, f" {times_sign(profile)} ", Value("", long, "length")]]
