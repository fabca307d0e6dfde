"""A detail is drawn larger than what it is taken from."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.document import view_scale
from drafting.standards.scales import SERIES


def _faults(page: Page) -> Iterator[Fault]:
    for view in page.sheet.views:
        home = page.drawing.sheet_of_view(view.parent or "")
        parent = home.view(view.parent or "") if home else None
        if view.kind != "detail" or home is None or parent is None:
            continue
        own, whole = view_scale(page.sheet, view), view_scale(home, parent)
        if own.factor > whole.factor + 1e-9:
            continue
        larger = [
            s for s in reversed(SERIES[page.drawing.profile.standard]) if s.factor > whole.factor + 1e-9
        ]
        remedies: tuple[Remedy, ...] = ()
        if larger:
            command = {"command": "change_view", "view": view.id, "scale": larger[0].model_dump()}
            remedies = (Remedy(f"Draw it {larger[0]}", command),)
        text = f"Detail {view.letter} is drawn {own}, no larger than the view it is taken from."
        yield Fault(text, (view.id,), remedies)


RULE = Rule("detail scale", "Details are drawn larger", "ISO 128-3", "ASME Y14.3", "look", _faults)
