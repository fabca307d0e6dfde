"""Sizes in DXF as real DIMENSION entities: the definition points a receiving program measures, with our ink
as the entity's block.

A chamfer measures its leg. Arc lengths have no entity of this kind that every program reads; they go out as
plain ink.
"""

import math
import re
from collections.abc import Callable

from ezdxf.document import Drawing as DxfDocument
from ezdxf.entities import Dimension
from ezdxf.graphicsfactory import CreatorInterface
from ezdxf.layouts.blocklayout import BlockLayout

from drafting.annotation.inking.dimension_ink import Definition
from drafting.annotation.wording.label import Words
from drafting.annotation.wording.numbers import INCH
from drafting.ink.elements import Element, Group, Text, placed
from drafting.standards.profile import Profile

LINEAR, ANGULAR_3P, DIAMETER, RADIUS, ORDINATE = 0, 5, 3, 4, 6
OWN_BLOCK = 32
X_TYPE = 64
STYLE = "SIZES"
Draw = Callable[[CreatorInterface, Element, Profile], None]


def set_up(document: DxfDocument, profile: Profile) -> None:
    """The dimension style: lettering, arrows, gaps and number form of the profile."""
    style = document.dimstyles.new(STYLE)
    style.dxf.dimtxsty = "LETTERING"
    style.dxf.dimtxt, style.dxf.dimasz = profile.text_height, profile.arrow_length
    style.dxf.dimexo, style.dxf.dimexe, style.dxf.dimgap = (
        profile.extension_gap,
        profile.extension_beyond,
        profile.text_gap,
    )
    style.dxf.dimdec, style.dxf.dimdsep = profile.places, ord(profile.decimal_sign)
    style.dxf.dimzin = (0 if profile.trailing_zeros else 8) + (0 if profile.leading_zero else 4)
    style.dxf.dimtad = 1 if profile.dimension_text == "above" else 0


def add(document: DxfDocument, group: Group, profile: Profile, draw: Draw) -> None:
    """Put a size (`group.entity`) into model space."""
    found = group.entity.definition
    block = document.blocks.new_anonymous_block(type_char="D")
    for e in group.elements:
        draw(block, placed(e, group.origin), profile)
    dimension = _entity(document, found, group.origin, block)
    middle = _middle(group.elements, group.origin)
    if middle:
        dimension.dxf.text_midpoint = middle
    dimension.dxf.text, form = text_and_tolerance(found, group.entity.words, profile)
    dimension.set_acad_dstyle(form)


def text_and_tolerance(
    found: Definition, words: Words, profile: Profile
) -> tuple[str, dict[str, float | int]]:
    """The entity's text, with <> for what a reader measures, and the settings of number and tolerance that
    hold for it alone. What no setting can say (fractions, minutes, words in place of the value, sizes that
    the view shows foreshortened) stands as text."""
    form: dict[str, float | int] = {}
    if words.basic:
        form["dimgap"] = -profile.text_gap  # a frame about the number
    line = _literal(words)
    if found.scale and not words.own:
        line = _measured(found, words, form) or line
    if found.scale and found.kind != "angular":
        unit = INCH if _shown_in_inches(found, words) else 1.0
        form["dimlfac"] = 1 / (found.scale * unit)
    if words.above or words.below:
        line = "\\P".join(v for v in (words.above, line, words.below) if v)
    return line, form


def _shown_in_inches(found: Definition, words: Words) -> bool:
    """Whether the number is one of inches: it is 25.4 times less than what is measured."""
    measured = found.length / found.scale
    return abs(words.value * INCH - measured) < abs(words.value - measured)


def _literal(w: Words) -> str:
    deviations = "/".join(v for v in (w.upper, w.lower) if v)
    value = f"{w.symbol}{w.number}{w.tail}" + (f" {deviations}" if w.number and deviations else deviations)
    return f"{w.before}{value}{w.after}"


def _measured(found: Definition, w: Words, form: dict[str, float | int]) -> str:
    """The text with <> in it, and the settings to go with it; empty where the value is not a plain number."""
    is_angle = found.kind == "angular"
    places = "dimadec" if is_angle else "dimdec"
    if not w.number:  # limits
        high, low = (_plain(t, is_angle) for t in (w.upper, w.lower))
        if high is None or low is None:
            return ""
        form |= {
            "dimlim": 1,
            "dimtol": 0,
            "dimtp": high - w.value,
            "dimtm": w.value - low,
            places: _decimals(w.upper),
        }
        form |= {"dimtdec": _decimals(w.upper), "dimzin": _zeros(w.lower), "dimtzin": _zeros(w.lower)}
        return w.before + _own_sign(found, w.symbol) + "<>" + w.tail + w.after
    number, _, equal = w.number.partition(" ±")
    if _plain(number, is_angle) is None or (equal and _plain(equal, is_angle) is None):
        return ""
    form |= {places: _decimals(number), "dimzin": _zeros(number)}
    if equal:
        by = _plain(equal, is_angle) or 0.0
        form |= {
            "dimtol": 1,
            "dimlim": 0,
            "dimtp": by,
            "dimtm": by,
            "dimtdec": _decimals(equal),
            "dimtzin": _zeros(equal),
        }
    elif w.upper or w.lower:
        up, down = (_plain(t, is_angle) if t else 0.0 for t in (w.upper, w.lower))
        if up is None or down is None:
            return ""
        form |= {
            "dimtol": 1,
            "dimlim": 0,
            "dimtp": up,
            "dimtm": -down,
            "dimtdec": max(_decimals(w.upper), _decimals(w.lower)),
        }
        form["dimtzin"] = max(_zeros(w.upper), _zeros(w.lower))
    return w.before + _own_sign(found, w.symbol) + "<>" + w.tail + w.after


def _own_sign(found: Definition, symbol: str) -> str:
    """The sign without what a reader puts before such a measurement by itself."""
    return symbol.removesuffix({"diameter": "Ø", "radius": "R"}.get(found.kind, "\0"))


def _plain(text: str, is_angle: bool) -> float | None:
    """A plain decimal number as written, with its sign; None for anything else."""
    text = text.removesuffix("°") if is_angle else text
    return float(text.replace(",", ".")) if re.fullmatch(r"[+-]?(\d+([.,]\d+)?|[.,]\d+)", text) else None


def _zeros(text: str) -> int:
    """The setting that writes a number with the zeros it has: without a leading one where it has none."""
    return 4 if text.lstrip("+-")[:1] in (".", ",") else 0


def _decimals(text: str) -> int:
    digits = text.rstrip("°").replace(",", ".").partition(".")[2]
    return len(digits)


def _entity(
    document: DxfDocument, found: Definition, origin: tuple[float, float], block: BlockLayout
) -> Dimension:
    p = [(x + origin[0], y + origin[1]) for x, y in found.points]
    kinds = {
        "linear": LINEAR,
        "diameter": DIAMETER,
        "radius": RADIUS,
        "angular": ANGULAR_3P,
        "ordinate": ORDINATE,
    }
    kind = kinds[found.kind] + OWN_BLOCK + (X_TYPE if found.kind == "ordinate" and found.angle == 0 else 0)
    names = {
        "linear": ("defpoint2", "defpoint3", "defpoint"),
        "diameter": ("defpoint", "defpoint4"),
        "radius": ("defpoint", "defpoint4"),
        "angular": ("defpoint4", "defpoint2", "defpoint3", "defpoint"),
        "ordinate": ("defpoint", "defpoint2", "defpoint3"),
    }[found.kind]
    attributes: dict[str, object] = dict(zip(names, p, strict=True))
    if found.kind == "linear":
        attributes["angle"] = math.degrees(found.angle)
    attributes |= {"dimtype": kind, "geometry": block.name, "dimstyle": STYLE, "layer": "Dimension"}
    entity = document.modelspace().new_entity("DIMENSION", attributes)
    assert isinstance(entity, Dimension)
    return entity


def _middle(elements: list[Element], origin: tuple[float, float]) -> tuple[float, float] | None:
    texts = [e for e in elements if isinstance(e, Text)]
    if not texts:
        return None
    return texts[0].at[0] + origin[0], texts[0].at[1] + origin[1]
