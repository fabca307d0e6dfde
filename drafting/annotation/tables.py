"""Where tables and the title block stand on a sheet: views are laid out clear of them, and what lies on them is told."""

from drafting.annotation import hole_table, parts_list
from drafting.annotation.view_frame import ViewFrame
from drafting.document import Drawing, HoleTable, Sheet, View, view_scale
from drafting.errors import DraftingError
from drafting.model.model import Facts
from drafting.sheet.layout import block_box
from drafting.views.extents import Box


def standing(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[tuple[str, str, Box]]:
    """The title block and the parts lists: id (empty for the title block), name within a sentence, and box in sheet mm."""
    block = block_box(sheet)
    out = [("", "the title block", (block.left, block.bottom, block.right, block.top))]
    for plist in sheet.parts_lists:
        b = parts_list.laid_out(drawing, sheet, plist, facts).box
        out.append((plist.id, "the parts list", (b.left, b.bottom, b.right, b.top)))
    return out


def of_view(drawing: Drawing, sheet: Sheet, facts: Facts, view: View) -> list[Box]:
    """Boxes of a view's hole tables, paper mm about its position; those that lost their holes have none."""
    return [box for _, box in hole_tables(drawing, sheet, facts, view)]


def hole_tables(drawing: Drawing, sheet: Sheet, facts: Facts, view: View) -> list[tuple[str, Box]]:
    """Ids and boxes of a view's hole tables, paper mm about its position."""
    scale = view_scale(sheet, view).factor
    frame = ViewFrame.of(view, facts, scale)
    out = []
    for a in sheet.annotations:
        if isinstance(a, HoleTable) and a.view == view.id:
            try:
                out.append((a.id, hole_table.box(a, facts, frame, drawing.profile, scale)))
            except DraftingError:
                continue
    return out
