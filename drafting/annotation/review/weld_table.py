"""The welds of a drawing as a table: what is welded, how large and how long, by which process."""

from drafting.annotation import registry
from drafting.annotation.kinds.weld import Weld
from drafting.context import Context
from drafting.document import Drawing
from drafting.errors import DraftingError
from drafting.model.model import Facts
from drafting.sheet.frame import zone_at

HEAD = (
    "No.",
    "Sheet",
    "Zone",
    "Weld",
    "Size is",
    "Size, mm",
    "Other side",
    "Other side, mm",
    "Count",
    "Length, mm",
    "Gap, mm",
    "All around",
    "On site",
    "Process",
    "Tail",
    "Part",
    "State",
)


def table(drawing: Drawing, facts: Facts) -> list[list[str | float | None]]:
    """Head and a row for each weld, sheet by sheet; lengths in mm whatever the drawing's units."""
    out: list[list[str | float | None]] = [list(HEAD)]
    for n, sheet in enumerate(drawing.sheets, 1):
        for w in sheet.annotations:
            view = sheet.view_of(w)
            if not isinstance(w, Weld) or view is None:
                continue
            context = Context(drawing, sheet, facts, view)
            x, y = w.place.at(context.scale)
            state = ""
            try:
                registry.ink(w, context)
            except DraftingError as error:
                state = str(error)
            found = facts.part_of(w.tip.instance)
            has_other = w.other != "none"
            out.append(
                [
                    float(len(out)),
                    sheet.name or str(n),
                    zone_at(sheet, view.position.x + x, view.position.y + y),
                    w.form,
                    w.measure if w.size is not None else "",
                    w.size,
                    w.other if has_other else "",
                    (w.other_size or w.size) if has_other else None,
                    None if w.count is None else float(w.count),
                    w.length,
                    w.pitch,
                    "yes" if w.around else "",
                    "yes" if w.field else "",
                    w.process,
                    w.tail,
                    found[1].name if found else "",
                    state,
                ]
            )
    return out
