"""What views are called within sentences."""

from drafting.document import Drawing, Sheet
from drafting.views.orientation import shown_beside


def view_name(drawing: Drawing, sheet: Sheet, view_id: str) -> str:
    """A view's name at the start of a sentence, as the trade calls it."""
    view = sheet.view(view_id)
    if view is None:
        return "A view"
    if view.kind == "section":
        return f"Section {view.letter}-{view.letter}"
    if view.kind in ("detail", "auxiliary"):
        return f"{'Detail' if view.kind == 'detail' else 'Auxiliary view'} {view.letter}"
    if view.kind == "projected" and view.relation:
        parent = sheet.view(view.parent or "")
        where = view.relation.replace("-", " ")
        if parent is None or parent.kind == "main":
            return f"The {shown_beside(view.relation, drawing.projection)} view"
        return f"The view at the {where}" if where in ("right", "left") else f"The view {where}"
    return {"main": "The main view", "projected": "A projected view", "pictorial": "A pictorial view"}[
        view.kind
    ]


def within(text: str) -> str:
    """A name within a sentence."""
    return text[0].lower() + text[1:]
