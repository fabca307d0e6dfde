"""A tolerance is no finer than the surface texture that is asked for allows."""

from collections.abc import Iterator

from drafting.annotation import registry
from drafting.annotation.kinds.texture import SurfaceTexture
from drafting.annotation.measuring.picked_features import faces_at
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule
from drafting.document import Dimension, Pick, Sheet
from drafting.errors import DraftingError

SHARE = 0.2
"""Ra is at most a fifth of the tolerance: the peaks, some five times Ra high, would take all of it otherwise
(common practice)."""
MICRO = {"mm": 1e-3, "in": 25.4e-6}
"""mm for one of the unit that textures are written in."""


def _faults(page: Page) -> Iterator[Fault]:
    known = _textures(page)
    rest = next((v for names, v in known if not names), None)
    for a, _ in page.drawn:
        if not isinstance(a, Dimension) or registry.size_kind(a).is_angle:
            continue
        try:
            found = registry.bounds(a, page.context(a))
        except DraftingError:
            continue
        if found is None or found.general or found.upper is None or found.lower is None:
            continue
        faces = {n for p in a.picks for n in _faces(page, p)}
        values = [v for names, v in known if names & faces] or ([rest] if rest is not None else [])
        width = found.upper - found.lower
        if values and width > 0 and max(values) > SHARE * width:
            text = f"{page.starting(a)} is to be held within {width * 1e3:.0f} µm "
            text += f"on a surface of Ra {max(values) * 1e3:.2g} µm; it should be smoother."
            yield Fault(text, (a.id,))


def _textures(page: Page) -> list[tuple[set[str], float]]:
    """Faces that each texture is on, by name with the instance, and its Ra in mm; no faces for all that have
    none."""
    out = []
    for sheet in page.drawing.sheets:
        for a in sheet.annotations:
            if isinstance(a, SurfaceTexture) and a.value is not None and a.parameter == "Ra":
                names = {n for p in _picked(sheet, a) for n in _faces(page, p)}
                if names or a.tip is None:
                    out.append((names, a.value * MICRO[page.drawing.profile.units]))
    return out


def _picked(sheet: Sheet, a: SurfaceTexture) -> list[Pick]:
    """What a texture is on: an edge, or what the size is taken on whose line it stands on."""
    tip = a.tip
    if tip is None or not tip.source:
        return []
    if tip.role == "size":
        size = sheet.annotation(tip.source)
        return size.picks if size is not None else []
    return [Pick(instance=tip.instance, source=tip.source, role=tip.role)]


def _faces(page: Page, pick: Pick) -> list[str]:
    found = page.facts.part_of(pick.instance)
    return [f"{pick.instance}|{n}" for n in faces_at(pick, found[1])] if found else []


RULE = Rule(
    "fine tolerance", "Tolerances go with the surface", "common practice", "common practice", "look", _faults
)
