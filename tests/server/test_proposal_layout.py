"""Proposed sizes and callouts in their places: nothing stands on anything, by the rules that check drawings.
No database is asked."""

import pytest

from drafting.checking.rules import RULES
from drafting.completeness.proposal import proposal
from drafting.document import Dimension
from server.drawings import proposal as routes
from server.drawings import rooms
from server.drawings.model_sizes import in_place
from tests.core.finished import finished, modeled, pages
from tests.core.test_proposal import CENTERS, geometries, less

CLEAR = (
    "lettering",
    "crossed lettering",
    "crossing lines",
    "arrowheads",
    "near rows",
    "outside the frame",
    "hidden lines",
    "within the outline",
)


@pytest.mark.parametrize("number", ["HB-204", "HB-205", "HB-206", "HB-214"])
def test_what_is_proposed_stands_clear(number: str, monkeypatch: pytest.MonkeyPatch) -> None:
    model, drawing = modeled(number), finished(number)
    facts = model.facts
    gone = {a.id for s in drawing.sheets for a in s.annotations if a.kind not in CENTERS}
    drawing = less(drawing, gone)
    sheet = drawing.sheets[0]
    shown = geometries(drawing, sheet, model)
    monkeypatch.setattr(rooms, "shape", lambda d, host, view: ("", shown[view.id]))
    found = proposal(drawing, sheet, shown, facts)
    rows = [routes._row(p.annotation, p.view, drawing, sheet, facts) for p in found]
    in_place([r for r in rows if isinstance(r.size, Dimension)], drawing, sheet, facts, shown)
    routes._called(rows, None, drawing, sheet, facts, shown)  # type: ignore[arg-type]
    placed = [r.size for r in rows if r.size is not None]
    assert len(placed) == len(found)
    full = sheet.model_copy(update={"annotations": [*sheet.annotations, *placed]})
    page = pages(number, drawing.model_copy(update={"sheets": [full, *drawing.sheets[1:]]}))[0]
    said = [f.text for key in CLEAR for f in RULES[key].faults(page)]  # type: ignore[misc]
    assert said == []
