"""Sheets and views are drawn to a scale of the standard's."""

import math
from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.standards.profile import Standard
from drafting.standards.scales import SERIES, Scale
from drafting.views.naming import view_name


def _faults(page: Page) -> Iterator[Fault]:
    standard = page.drawing.profile.standard
    if page.sheet.views and not is_standard(page.sheet.scale, standard):
        best = nearest(page.sheet.scale, standard)
        command = {"command": "change_sheet", "sheet": page.sheet.id, "scale": best.model_dump()}
        text = f"The sheet's scale {page.sheet.scale} is none of the standard's."
        yield Fault(text, (), (Remedy(f"Take {best}", command),))
    for view in page.sheet.views:
        if view.scale is not None and not is_standard(view.scale, standard):
            best = nearest(view.scale, standard)
            command = {"command": "change_view", "view": view.id, "scale": best.model_dump()}
            name = view_name(page.drawing, page.sheet, view.id)
            yield Fault(
                f"{name} is drawn {view.scale}, none of the standard's scales.",
                (view.id,),
                (Remedy(f"Take {best}", command),),
            )


def is_standard(scale: Scale, standard: Standard) -> bool:
    """Whether a scale is one of the series, or of ISO's taken on by tens."""
    if any(math.isclose(scale.factor, s.factor) for s in SERIES[standard]):
        return True
    tens = math.log10(max(scale.factor, 1 / scale.factor))
    leading = 10 ** (tens - math.floor(tens + 1e-9))
    return standard == "ISO" and any(math.isclose(leading, v, rel_tol=1e-9) for v in (1.0, 2.0, 5.0))


def nearest(scale: Scale, standard: Standard) -> Scale:
    """The scale of the series that is nearest by ratio."""
    return min(SERIES[standard], key=lambda s: abs(math.log(s.factor / scale.factor)))


RULE = Rule("scale", "Scales are the standard's", "ISO 5455", "ASME Y14.1 (common practice)", "look", _faults)
