"""Sizes carried to another view: they say the same there, or are not carried."""

import pytest

from drafting.annotation import registry
from drafting.annotation.proposing.carried import carried
from drafting.annotation.review import redundancy
from drafting.context import Context
from drafting.document import Dimension, Sheet
from drafting.errors import SizeError
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from tests.core.conftest import demo, demo_drawing


@pytest.mark.parametrize(("number", "least"), [("HB-204", 6), ("HB-207", 1), ("HB-202", 2), ("HB-205", 2)])
def test_a_size_says_the_same_in_whatever_view_it_is_carried_to(number: str, least: int) -> None:
    model, drawing = demo(number), demo_drawing(number)
    prepared, facts = Prepared(model), model.facts
    done = 0
    for sheet in drawing.sheets:
        views = [v for v in sheet.views if not v.is_pictorial]
        geometries = {v.id: derive(prepared, derivation_of(v, facts)) for v in views}
        for a in sheet.annotations:
            if not isinstance(a, Dimension) or a.view not in geometries:
                continue
            here = Context(drawing, sheet, facts, sheet.view(a.view))
            for view in views:
                if view.id == a.view:
                    continue
                there = Context(drawing, sheet, facts, view)
                try:
                    made = carried(a, here, there, geometries[view.id], (30.0, 40.0))
                except SizeError:
                    continue
                done += 1
                assert made.view == view.id
                assert (made.id, made.tolerance, made.wording) == (a.id, a.tolerance, a.wording)
                assert registry.text(made, there) == registry.text(a, here)
                one, two = redundancy.statement_of(made, there), redundancy.statement_of(a, here)
                assert (one and one.key) == (two and two.key)
    assert done >= least


def test_what_a_view_does_not_show_squarely_is_not_carried_there() -> None:
    model, drawing = demo("HB-207"), demo_drawing("HB-207")
    sheet: Sheet = drawing.sheets[0]
    size, end = sheet.annotation("size-5"), sheet.view("end")  # the length, and the view along the axis
    assert isinstance(size, Dimension)
    assert end is not None
    here, there = (Context(drawing, sheet, model.facts, v) for v in (sheet.view("cut"), end))
    geometry = derive(Prepared(model), derivation_of(end, model.facts))
    with pytest.raises(SizeError, match="does not show this size squarely"):
        carried(size, here, there, geometry, (0, 0))


def test_a_size_that_symbols_stand_on_stays_with_them() -> None:
    model, drawing = demo("HB-207"), demo_drawing("HB-207")
    sheet: Sheet = drawing.sheets[0]
    size, end = sheet.annotation("size-2"), sheet.view("end")  # datum A stands on it
    assert isinstance(size, Dimension)
    assert end is not None
    geometry = derive(Prepared(model), derivation_of(end, model.facts))

    def carry(on: Sheet) -> Dimension:
        here, there = (Context(drawing, on, model.facts, v) for v in (on.view("cut"), end))
        return carried(size, here, there, geometry, (30, 30))

    with pytest.raises(SizeError, match="symbols stand"):
        carry(sheet)
    alone = sheet.model_copy(update={"annotations": [size]})
    assert carry(alone).view == "end"
