"""Welds: which side of the line they stand on, what is said of them, what they can be, and what cannot be."""

from typing import Any

import numpy as np
import pytest

from drafting.annotation import registry
from drafting.annotation.forms import form_of
from drafting.annotation.inking.weld_ink import elementary
from drafting.annotation.kinds import weld
from drafting.annotation.kinds.kind import Request
from drafting.annotation.kinds.weld import KIND, Weld
from drafting.annotation.proposing.propose import Proposed, propose
from drafting.annotation.review import weld_table
from drafting.context import Context
from drafting.document import Drawing, Point, Sheet
from drafting.errors import CommandError
from drafting.ink.elements import Arc, Element, Fill, Line, Polyline, Text
from drafting.standards import welds as table
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.conftest import block
from tests.core.test_assembly_views import assembly, at
from tests.core.test_notes import seen

FORMS = Weld.model_fields["form"].annotation


def made(
    profile: Profile = ISO_MM, pointer: tuple[float, float] = (70, 40), **fields: Any
) -> tuple[Weld, Context]:
    geometry, context = seen(block(60, 40, 10), profile=profile)
    w = weld.propose(Request([], pointer, "w", settings={"tip": (30, 3)}, geometry=geometry), context)
    return w.model_copy(update=fields), context


def heights(elements: list[Element], kind: type = Polyline) -> list[tuple[float, float]]:
    """Lowest and highest place of pieces of a kind."""
    out = []
    for e in elements:
        if isinstance(e, kind):
            ys = [p[1] for p in (e.points if hasattr(e, "points") else (e.a, e.b))]
            out.append((min(ys), max(ys)))
    return out


def texts(elements: list[Element]) -> list[str]:
    return [e.text for e in elements if isinstance(e, Text)]


# ---- sides of the line -------------------------------------------------------------------------------------
def test_the_arrow_side_stands_on_the_full_line_in_iso_and_under_it_in_aws() -> None:
    """ISO 2553, system A: on the continuous line, with a dashed one for the other side; AWS A2.4: the arrow
    side below the line, and no dashed one (memory)."""
    w, context = made(size=5)
    elements = weld.ink(w, context)
    assert heights(elements) == [pytest.approx((40, 43.5))]
    dashes = [e for e in elements if isinstance(e, Line) and e.a[1] == e.b[1] and e.a[1] < 39]
    assert len(dashes) > 3
    assert texts(elements) == ["a5"]
    w, context = made(ASME_INCH, size=6.35)
    h = ASME_INCH.text_height
    elements = weld.ink(w, context)
    assert heights(elements) == [pytest.approx((40 - h, 40))]
    assert not [e for e in elements if isinstance(e, Line) and e.a[1] == e.b[1] != 40]
    assert texts(elements) == [".25"]


def test_welds_on_both_sides_mirror_each_other_and_need_no_dashed_line() -> None:
    w, context = made(size=5, other="fillet")
    elements = weld.ink(w, context)
    assert heights(elements) == [pytest.approx((40, 43.5)), pytest.approx((36.5, 40))]
    assert texts(elements) == ["a5", "a5"]
    assert not [e for e in elements if isinstance(e, Line) and e.a[1] == e.b[1] != pytest.approx(40)]
    legs = [e.points for e in elements if isinstance(e, Polyline)]
    assert legs[0][0][0] == legs[0][1][0]  # the upright leg of a fillet is at the left, on both sides
    assert legs[1][0][0] == legs[1][1][0]
    shifted = weld.ink(
        w.model_copy(update={"staggered": True, "count": 3, "length": 20.0, "pitch": 30.0}), context
    )
    one, two = (e.points[0][0] for e in shifted if isinstance(e, Polyline))
    assert one < two


def test_a_line_that_stands_to_the_left_reads_the_same_way() -> None:
    w, context = made(pointer=(-60, 40), size=5, length=50)
    elements = weld.ink(w, context)
    (reference,) = [e for e in elements if isinstance(e, Line) and e.a[1] == e.b[1] == pytest.approx(40)]
    assert max(reference.a[0], reference.b[0]) == pytest.approx(-60)
    before, after = (e for e in elements if isinstance(e, Text))
    (symbol,) = [e for e in elements if isinstance(e, Polyline)]
    assert before.at[0] < symbol.points[0][0] < after.at[0]


# ---- what is said ------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("fields", "profile", "said"),
    [
        ({"size": 5}, ISO_MM, ["a5"]),
        ({"size": 7, "measure": "z", "length": 300}, ISO_MM, ["z7", "300"]),
        ({"size": 5, "count": 3, "length": 50, "pitch": 100}, ISO_MM, ["a5", "3 × 50 (100)"]),
        ({"size": 5, "process": "135", "tail": "ISO 5817-C"}, ISO_MM, ["a5", "135/ISO 5817-C"]),
        ({"size": 6.35, "length": 50.8, "count": 2, "pitch": 101.6}, ASME_INCH, [".25", "2-6"]),
    ],
)
def test_sizes_stand_before_the_symbol_and_lengths_after_it(
    fields: dict[str, Any], profile: Profile, said: list[str]
) -> None:
    """ISO 2553: a or z before, n × l (e) after; AWS A2.4: leg before, length and pitch from middle to middle
    after (memory)."""
    w, context = made(profile, **fields)
    registry.check(w, context)
    found = texts(weld.ink(w, context))
    assert [t.lstrip("0") for t in found] == [t.lstrip("0") for t in said]


def test_all_around_is_a_circle_and_on_site_a_flag_at_the_bend() -> None:
    w, context = made(size=5, around=True, field=True)
    elements = weld.ink(w, context)
    circles = [e for e in elements if isinstance(e, Arc)]
    assert [c.center for c in circles] == [pytest.approx((70, 40))]
    flags = [e for e in elements if isinstance(e, Fill) and max(p[1] for p in e.points) > 42]
    assert len(flags) == 1
    assert min(p[0] for p in flags[0].points) == pytest.approx(70)


@pytest.mark.parametrize("form", FORMS.__args__)  # type: ignore[union-attr]
def test_every_symbol_stands_on_its_line_and_is_about_as_high_as_the_lettering(form: str) -> None:
    elements, wide = elementary(form, 3.5)
    points: list[tuple[float, float]] = []
    for e in elements:
        if isinstance(e, Arc):
            t = np.linspace(e.first, e.last, 33)
            points += list(
                zip(e.center[0] + e.radius * np.cos(t), e.center[1] + e.radius * np.sin(t), strict=True)
            )
        elif isinstance(e, Line):
            points += [e.a, e.b]
        elif isinstance(e, Polyline):
            points += list(e.points)
    low, high = np.min(points, axis=0), np.max(points, axis=0)
    assert -0.2 * 3.5 <= low[0] <= high[0] <= wide + 0.2 * 3.5
    assert high[1] <= 1.01 * 3.5
    assert low[1] == pytest.approx(-1.75 if form in ("spot", "seam") else 0, abs=0.03)


# ---- what it can be ----------------------------------------------------------------------------------------
def on_seam(*instances: dict[str, Any], tip: tuple[float, float]) -> Weld:
    """The weld that is offered at a place of the front view of cubes."""
    model = assembly(*instances)
    view = View(id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=0, y=0))
    sheet = Sheet(id="s", size="A3", views=[view])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    geometry = derive(Prepared(model), Derivation(orientation=PRINCIPAL["front"]))
    context = Context(drawing, sheet, model.facts, view)
    middle = (np.array(model.facts.low) + np.array(model.facts.high)) / 2
    at = (tip[0] - middle[0], tip[1] - middle[2])
    return weld.propose(Request([], (60, 60), "w", settings={"tip": at}, geometry=geometry), context)


def test_faces_in_one_plane_are_butt_welded_and_those_at_an_angle_get_a_fillet() -> None:
    end_to_end = on_seam(at("a", "big", 0, 0, 0), at("b", "big", 40, 0, 0), tip=(20, 8))
    assert (end_to_end.form, end_to_end.measure) == ("square", "s")
    upright = on_seam(at("a", "big", 0, 0, 0), at("b", "small", 0, 0, 40), tip=(3, 40))
    assert (upright.form, upright.measure) == ("fillet", "a")


def test_a_seam_offers_all_that_it_can_be_and_takes_what_is_chosen() -> None:
    """A butt is no fillet; within a face there is no seam but what goes through it (common practice)."""
    geometry, context = seen(block(60, 40, 10))

    def proposed(tip: tuple[float, float], form: str = "") -> Proposed:
        request = Request([], (70, 40), "w", settings={"tip": tip, "form": form}, geometry=geometry)
        return propose("weld", request, context, dict)

    on_edge, on_face = proposed((30, 3)), proposed((5, 5))
    assert (on_edge.option, on_face.option) == ("fillet", "plug")
    for found, tip in ((on_edge, (30, 3)), (on_face, (5, 5))):
        for form in found.options:
            chosen = proposed(tip, form)
            assert (chosen.option, chosen.annotations[0].form) == (form, form)  # type: ignore[attr-defined]
    assert proposed((30, 3), "plug").option == "fillet"  # which it cannot be


@pytest.mark.parametrize(
    ("fields", "sentence"),
    [
        ({"form": "V", "measure": "a", "size": 5}, "penetration"),
        ({"form": "spot", "measure": "s", "around": True}, "does not go all around"),
        ({"other": "back run"}, "behind a butt weld"),
        ({"pitch": 20}, "two or more"),
        ({"staggered": True, "count": 3, "pitch": 20}, "both sides"),
        ({"form": "surfacing", "measure": "s", "other": "fillet"}, "one side"),
    ],
)
def test_what_cannot_be_welded_so_is_said(fields: dict[str, Any], sentence: str) -> None:
    w, context = made(**fields)
    with pytest.raises(CommandError, match=sentence):
        registry.check(w, context)


def test_a_process_that_is_none_and_a_fillet_without_a_size_are_told_of() -> None:
    w, context = made(process="999")
    assert weld.findings(w, context) == [
        "A fillet weld says no size.",
        "999 is no process of ISO 4063 that is known here.",
    ]
    assert "135" in table.PROCESSES


def test_all_of_a_weld_can_be_set_in_its_particulars() -> None:
    names = {f.name: f for f in form_of(KIND)}
    assert set(names) == set(Weld.model_fields) - {"kind", "id", "anchor", "place", "tip"}
    assert names["other"].choices == ["none", *names["form"].choices]


def test_a_number_that_the_standard_has_no_place_for_is_told_of() -> None:
    w, context = made(ASME_INCH, size=6.35, count=3, length=50.8, pitch=101.6)
    assert weld.findings(w, context) == [
        "AWS A2.4 says length and pitch of intermittent welds, not how many there are."
    ]


def test_the_welds_of_a_drawing_are_a_table() -> None:
    w, context = made(size=5.0, count=3, length=20.0, pitch=30.0, process="135", other="fillet", around=True)
    sheet = context.sheet.model_copy(update={"annotations": [w]})
    drawing = context.drawing.model_copy(update={"sheets": [sheet, *context.drawing.sheets[1:]]})
    head, row = weld_table.table(drawing, context.facts)
    told = dict(zip(head, row, strict=True))
    assert (told["No."], told["Weld"], told["Size is"], told["Size, mm"]) == (1, "fillet", "a", 5)
    assert (told["Other side"], told["Other side, mm"]) == ("fillet", 5)
    assert (told["Count"], told["Length, mm"], told["Gap, mm"], told["All around"]) == (3, 20, 30, "yes")
    assert (told["Process"], told["State"]) == ("135", "")
    gone = w.model_copy(update={"tip": w.tip.model_copy(update={"instance": "gone"})})
    lost = drawing.model_copy(update={"sheets": [sheet.model_copy(update={"annotations": [gone]})]})
    assert "no longer in the model" in str(weld_table.table(lost, context.facts)[1][-1])
