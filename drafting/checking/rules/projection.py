"""Views stand on the side that the projection symbol in the title block promises."""

from collections.abc import Iterator

import numpy as np

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.views.arrange import relation_of
from drafting.views.naming import view_name
from drafting.views.orientation import projected

SAME = 1e-6


def _faults(page: Page) -> Iterator[Fault]:
    for view in page.sheet.views:
        parent = page.sheet.view(view.parent or "")
        if view.kind != "projected" or not view.relation or parent is None:
            continue
        name = view_name(page.drawing, page.sheet, view.id)
        wanted = projected(parent.orientation, view.relation, page.drawing.projection).matrix()
        turned = float(np.abs(wanted - view.orientation.matrix()).max()) > SAME
        dx, dy = view.position.x - parent.position.x, view.position.y - parent.position.y
        moved = relation_of(dx, dy) != view.relation
        if not (turned or moved):
            continue
        method = f"{page.drawing.projection}-angle"
        text = f"{name} stands on a side where {method} projection, as the title block's symbol says, "
        text += "shows another."
        arrange = Remedy(
            "Arrange the sheet", {"command": "arrange_sheet", "sheet": page.sheet.id, "keep_scale": True}
        )
        yield Fault(text, (view.id,), (arrange,) if moved and not turned else ())


RULE = Rule("projection", "Views stand as the symbol says", "ISO 5456-2", "ASME Y14.3", "grave", _faults)
