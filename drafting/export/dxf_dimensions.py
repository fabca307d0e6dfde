"""Sizes in DXF as real DIMENSION entities: the definition points a receiving program measures, with our ink as the entity's block.

A chamfer measures its leg. Arc lengths have no entity of this kind that every program reads; they go out as plain ink.
"""

import math
from collections.abc import Callable

from ezdxf.document import Drawing as DxfDocument
from ezdxf.entities import Dimension
from ezdxf.graphicsfactory import CreatorInterface
from ezdxf.layouts.blocklayout import BlockLayout

from drafting.annotation.dimension_ink import Definition, SizeInk
from drafting.ink.elements import Element, Text, placed
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
    style.dxf.dimexo, style.dxf.dimexe, style.dxf.dimgap = profile.extension_gap, profile.extension_beyond, profile.text_gap
    style.dxf.dimdec, style.dxf.dimdsep = profile.places, ord(profile.decimal_sign)
    style.dxf.dimzin = (0 if profile.trailing_zeros else 8) + (0 if profile.leading_zero else 4)
    style.dxf.dimtad = 1 if profile.dimension_text == "above" else 0


def add(document: DxfDocument, ink: SizeInk, elements: list[Element], origin: tuple[float, float], profile: Profile, draw: Draw) -> bool:
    """Put a size into model space; False where it is of a kind that goes out as plain ink."""
    found = ink.definition
    if found is None:
        return False
    block = document.blocks.new_anonymous_block(type_char="D")
    for e in elements:
        draw(block, placed(e, origin), profile)
    unit = 25.4 if profile.units == "in" else 1.0
    dimension = _entity(document, found, origin, block)
    dimension.dxf.text = "" if found.scale else _words(ink)
    middle = _middle(elements, origin)
    if middle:
        dimension.dxf.text_midpoint = middle
    if found.scale and found.kind != "angular":
        _override(dimension, document, 1 / (found.scale * unit))
    return True


def _entity(document: DxfDocument, found: Definition, origin: tuple[float, float], block: BlockLayout) -> Dimension:
    p = [(x + origin[0], y + origin[1]) for x, y in found.points]
    kinds = {"linear": LINEAR, "diameter": DIAMETER, "radius": RADIUS, "angular": ANGULAR_3P, "ordinate": ORDINATE}
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


def _override(dimension: Dimension, document: DxfDocument, factor: float) -> None:
    """How many units of the drawing one mm of paper stands for."""
    dimension.set_acad_dstyle({"dimlfac": factor})


def _words(ink: SizeInk) -> str:
    """What stands in place of the measurement where the view shows the size foreshortened."""
    return " ".join(e.text for e in ink.lettering if isinstance(e, Text))


def _middle(elements: list[Element], origin: tuple[float, float]) -> tuple[float, float] | None:
    texts = [e for e in elements if isinstance(e, Text)]
    if not texts:
        return None
    return texts[0].at[0] + origin[0], texts[0].at[1] + origin[1]
