"""A size is not taken on a hidden line where another view shows that line."""

from collections.abc import Iterator

from drafting.annotation import registry
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule
from drafting.context import Context
from drafting.document import Dimension, Pick, in_view
from drafting.errors import DraftingError
from drafting.views.geometry import ViewGeometry
from drafting.views.naming import view_name, within


def _faults(page: Page) -> Iterator[Fault]:
    for a, _ in page.drawn:
        geometry = page.shown.get(a.view)
        if not isinstance(a, Dimension) or geometry is None or not a.picks:
            continue
        if not all(_seen(p, geometry) is False for p in a.picks):
            continue
        views = [v for v in page.sheet.views if v.id != a.view and not v.is_pictorial]
        for view in views:
            other = page.shown.get(view.id)
            if other is not None and all(_seen(p, other) for p in a.picks) and _shows_it(page, a, view.id):
                where = within(view_name(page.drawing, page.sheet, view.id))
                text = f"{page.starting(a)} is taken on hidden lines; {where} shows them."
                yield Fault(text, (a.id, view.id))
                break


def _seen(pick: Pick, geometry: ViewGeometry) -> bool | None:
    """Whether a view shows what was picked; None where it is not among its lines, or an axis."""
    if pick.role not in ("edge", "silhouette"):
        return None
    mine = [
        c
        for c in geometry.curves
        if c.source == pick.source and geometry.instances[c.instance] == pick.instance
    ]
    return any(c.visible for c in mine) if mine else None


def _shows_it(page: Page, a: Dimension, view: str) -> bool:
    """Whether the size can be taken there, as long as it is; of what is measured across, whether it is seen
    round."""
    if getattr(a, "reading", "") == "across":
        sources = {p.source for p in a.picks}
        return any(c.kind == "arc" and c.visible and c.source in sources for c in page.shown[view].curves)
    context = Context(page.drawing, page.sheet, page.facts, page.sheet.view(view))
    moved = a.model_copy(update={"anchor": in_view(view, a.picks)})
    try:
        here = registry.value(a, page.context(a))
        return abs(registry.value(moved, context) - here) < 1e-6 and not registry.foreshortened(
            moved, context
        )
    except DraftingError:
        return False


RULE = Rule(
    "hidden lines",
    "Sizes are taken where their lines are seen",
    "ISO 129-1",
    "ASME Y14.5-2009 1.4 (common practice)",
    "look",
    _faults,
)
