"""What every kind of annotation must be able to do, run over the registry: a new kind is tested here without
a line in this file.

The sample is found by trying: the kind's own tool, or else its data on the edges of a small assembly that has
some of everything.
"""

import dataclasses
import hashlib
import io
import itertools
import math
from collections.abc import Iterable, Iterator
from typing import Any, Literal

import ezdxf
import numpy as np
import pypdf
import pytest
import shapely
from PIL import Image
from pydantic import Field

from drafting.annotation import registry
from drafting.annotation.forms import form_of
from drafting.annotation.kinds.kind import Kind, Move, Request, SizeKind, Spot
from drafting.annotation.kinds.linear import KIND as LENGTHS
from drafting.annotation.registry import ALL, KINDS
from drafting.commands import execute, patched
from drafting.commands.annotations import Change, MoveAnnotations, Place, Remove
from drafting.commands.sheets import ChangeSheet, CopySheet, SwitchProjection
from drafting.compose import annotation_groups, compose, obstacles
from drafting.context import Context
from drafting.document import (
    AnnotationBase,
    Drawing,
    InView,
    OnAnnotation,
    Pick,
    Placement,
    Point,
    Sheet,
    View,
)
from drafting.errors import CommandError, SizeError
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.export.svg import sheet_svg
from drafting.ink.elements import Group, Text
from drafting.ink.shapes import shapes, text_boxes
from drafting.model.assembly import build_model
from drafting.model.recipe import validate_recipe
from drafting.placed import content
from drafting.placed.underlay import Lines
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.standards.scales import Scale
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.orientation import PRINCIPAL, isometric
from drafting.views.present import presented
from drafting.views.section import across
from drafting.views.view import CuttingLine, DetailOutline, Interruption, Section

TOP = PRINCIPAL["top"]
ORIGIN = Point(x=210, y=150)
PICKS_TRIED = 26


def recipe() -> dict[str, Any]:
    """A plate with a ring of holes, a rounded and a broken corner, and a pin beside it."""
    ring = [[20 * math.cos(math.pi / 2 * k), 20 * math.sin(math.pi / 2 * k)] for k in range(4)]
    plate = [
        {"id": "b", "kind": "extrude", "profile": {"width": 80, "height": 60}, "depth": 10},
        {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": ring, "diameter": 6},
        {"id": "f", "kind": "fillet", "edges": ["b/side.right|b/side.top"], "radius": 12},
        {"id": "c", "kind": "chamfer", "edges": ["b/side.left|b/side.bottom"], "length": 6},
    ]
    pin = [{"id": "p", "kind": "extrude", "profile": {"diameter": 12}, "depth": 25}]
    parts = {
        name: {
            "moorcrest": "part",
            "version": 1,
            "name": name.title(),
            "features": f,
            "properties": {"material": "steel S235"},
        }
        for name, f in (("plate", plate), ("pin", pin))
    }
    placed = [
        {"id": "plate", "part": "plate", "at": {"origin": [0, 0, 0]}},
        {"id": "pin", "part": "pin", "at": {"origin": [0, -55, 0]}},
    ]
    return {"moorcrest": "assembly", "version": 1, "name": "Pair", "parts": parts, "instances": placed}


def sheet_of_each() -> Drawing:
    """A drawing of the assembly with a sheet for each kind, named by it, on which one stands in a view."""
    prepared, sheets = Prepared(build_model(validate_recipe(recipe()))), []
    for kind in ALL:
        sheet = held(prepared, kind, "main").sheet
        text = sheet.model_dump_json().replace('"v"', f'"v-{kind.key}"')
        for name in ("id", "annotation"):
            text = text.replace(f'"{name}":"a"', f'"{name}":"a-{kind.key}"')
        sheets.append(Sheet.model_validate_json(text).model_copy(update={"id": kind.key, "name": kind.key}))
    return Drawing(name="Pair", profile=ISO_MM, projection="first", sheets=sheets)


def view_of(kind: str) -> View:
    """A view of the assembly from above, of one kind."""
    more: dict[str, Any] = {}
    if kind == "section":
        line = CuttingLine(points=[Point(x=-60, y=0), Point(x=60, y=0)], base=TOP)
        more = {
            "section": Section(line=line),
            "letter": "A",
            "orientation": across(TOP, (1.0, 0.0), 1, "first"),
            "hidden_lines": False,
        }
    elif kind == "detail":
        more = {"detail": DetailOutline(shape="circle", center=Point(x=0, y=14), radius=34), "letter": "B"}
    elif kind == "interrupted":
        more = {"interruptions": [Interruption(first=-12, last=-4)]}
    elif kind == "pictorial":
        more = {"orientation": isometric(PRINCIPAL["front"])}
    own = kind if kind in ("section", "detail", "pictorial") else "main"
    return View(**{"id": "v", "kind": own, "orientation": TOP, "position": ORIGIN, **more})  # type: ignore[arg-type]


VIEW_KINDS = ("main", "section", "detail", "interrupted", "pictorial")


class Bench:
    """The assembly drawn in one view on one sheet, and ways to edit it."""

    def __init__(self, prepared: Prepared, view_kind: str, profile: Profile = ISO_MM) -> None:
        self.facts = prepared.model.facts
        view = view_of(view_kind)
        sheet = Sheet(id="s", name="One", size="A2", views=[view])
        self.drawing = Drawing(name="Pair", profile=profile, projection=profile.projection, sheets=[sheet])
        self.derived = derive(prepared, derivation_of(view, self.facts))
        self.geometry: ViewGeometry = presented(view, sheet, self.facts, self.derived)

    @property
    def sheet(self) -> Sheet:
        return self.drawing.sheets[0]

    @property
    def own(self) -> AnnotationBase:
        """The one that is tried."""
        return next(a for a in self.sheet.annotations if a.id != HOST)

    @property
    def context(self) -> Context:
        return Context(self.drawing, self.sheet, self.facts, self.sheet.views[0])

    def do(self, command: Any) -> "Bench":
        """An edit, which can be taken back and made again."""
        before = self.drawing
        self.drawing, patch, inverse = execute(before, command, self.facts)
        assert patched(self.drawing, inverse) == before
        assert patched(before, patch) == self.drawing
        return self

    def drawn(self, key: str = "a", facts: Any = None) -> Group | str:
        return annotation_groups(self.drawing, self.sheet, facts or self.facts)[key]

    def group(self, key: str = "a") -> Group:
        found = self.drawn(key)
        assert isinstance(found, Group), found
        return found

    def on_sheet(self, a: AnnotationBase) -> Context:
        return registry.context_of(self.drawing, self.sheet, a, self.facts)


@pytest.fixture(autouse=True)
def _files() -> Iterator[None]:
    """What pictures and underlays are of."""
    content.read_with({PNG_KEY: PNG, LINES_KEY: LINES}.get)
    yield
    content.read_with(lambda key: None)


UNDRAWN = ("underlay", "stack_up")
"""Kinds that are shown by the desk alone."""
NOTHING = Pick(instance="", source="", role="added")
"""What lies at a bare place."""


def _placed() -> tuple[bytes, bytes]:
    out = io.BytesIO()
    Image.new("RGB", (30, 20), (20, 90, 40)).save(out, "PNG")
    kinds, starts = np.array([0], np.uint8), np.array([0, 4])
    layers, data = np.array([0], np.uint16), np.array([0.0, 0, 40, 30])
    return out.getvalue(), Lines(kinds, layers, starts, data, ("0",), (), "mm", (0, 0), (40, 30)).packed()


PNG, LINES = _placed()
PNG_KEY, LINES_KEY = (hashlib.sha256(d).hexdigest() for d in (PNG, LINES))
PLACED: dict[str, dict[str, Any]] = {
    "picture": {"file": PNG_KEY, "name": "a.png", "wide": 30, "high": 20},
    "underlay": {"file": LINES_KEY, "name": "a.dxf", "unit": "mm"},
}
"""Settings of the tools that need a file."""


@pytest.fixture(scope="module")
def prepared() -> Prepared:
    return Prepared(build_model(validate_recipe(recipe())))


def spots(b: Bench) -> list[Spot]:
    """Things to pick: of every shape some, circles and short slanting lines first, since fewer kinds go
    without them."""
    found: dict[tuple[str, str], Spot] = {}
    curves = sorted(
        b.geometry.curves,
        key=lambda c: (c.kind != "arc", math.dist(c.data[:2], c.data[2:4]) if c.kind == "line" else 0.0),
    )
    for c in curves:
        if c.visible and c.source and c.edge_class not in ("smooth", "break"):
            d = c.data
            at = (
                (d[0], d[1])
                if c.kind != "arc"
                else (d[0] + d[2] * math.cos(d[3]), d[1] + d[2] * math.sin(d[3]))
            )
            key = (b.geometry.instances[c.instance], c.source)
            found.setdefault(
                key, Spot(Pick(instance=key[0], source=c.source, role=c.role), (float(at[0]), float(at[1])))
            )
    return list(found.values())[:PICKS_TRIED]


def tries(kind: Kind[Any], b: Bench) -> Iterator[AnnotationBase]:
    """Annotations of a kind to try in a view, or on the sheet."""
    if kind.key == "characteristic":
        yield kind.data(id="a", anchor=OnAnnotation(annotation=HOST), number=7)
        return
    least, most = kind.data.picks_taken
    things = spots(b)
    tip = next(
        ((c.data[0] + 0.2, c.data[1] + 0.2) for c in b.geometry.curves if c.visible and c.kind == "line"),
        (0.0, 0.0),
    )
    scale = b.context.scale
    groups: Iterable[tuple[Spot, ...]] = itertools.chain.from_iterable(
        itertools.combinations(things, count) for count in range(least, min(most, 4) + 1)
    )
    if kind.key == "added_line":  # from a place beside the part to an edge
        groups = ((Spot(NOTHING, (-70.0, 44.0)), t) for t in things)
    elif kind.key == "insertion_arrow":  # between two places
        groups = ((Spot(NOTHING, (-70.0, 44.0)), Spot(NOTHING, (-40.0, 40.0))),)
    for group in groups:
        request = Request(
            group,
            (30.0, 70.0),
            "a",
            settings={"tip": (tip[0] * scale, tip[1] * scale), **PLACED.get(kind.key, {})},
            geometry=b.geometry,
        )
        try:
            if kind.propose is not None:
                yield kind.propose(request, b.context)
            else:
                place = Placement(model=Point(x=0, y=45), paper=Point(x=0, y=14))
                yield kind.data.model_validate(
                    {
                        "id": "a",
                        "anchor": InView(view="v", picks=request.picks(b.context)),
                        "place": place,
                    }
                )
        except (SizeError, CommandError):
            continue


HOST = "host"
"""The size that what hangs on others hangs on."""


def own(sheet: Sheet, kind: str) -> list[AnnotationBase]:
    """Those of a kind on a sheet."""
    return [a for a in sheet.annotations if a.kind == kind]


def sized(b: Bench) -> AnnotationBase:
    """A length in the bench's view; skips where that holds none."""
    found = sample(LENGTHS, b)
    if found is None:
        pytest.skip("the view holds no length to hang on")
    return found.model_copy(update={"id": HOST})


def sample(kind: Kind[Any], b: Bench) -> AnnotationBase | None:
    """The first of them that can be placed and drawn; None where the view cannot hold the kind."""
    for a in tries(kind, b):
        try:
            b_then = execute(b.drawing, Place(command="place", annotations=[a], sheet="s"), b.facts)[0]
        except (SizeError, CommandError):
            continue
        if isinstance(annotation_groups(b_then, b_then.sheets[0], b.facts)["a"], Group):
            return a
    return None


def held(prepared: Prepared, kind: Kind[Any], view_kind: str, profile: Profile = ISO_MM) -> Bench:
    """The kind placed in a view of a kind; skips where no such view holds one."""
    b = Bench(prepared, view_kind, profile)
    if kind.key == "characteristic":
        b.do(Place(command="place", annotations=[sized(b)], sheet="s"))
    a = sample(kind, b)
    if a is None:
        assert view_kind != "main", f"no {kind.key} can be placed in a plain view"
        pytest.skip(f"a view of the kind {view_kind} holds no {kind.key}")
    return b.do(Place(command="place", annotations=[a], sheet="s"))


every_kind = pytest.mark.parametrize("kind", ALL, ids=lambda k: k.key)
every_view = pytest.mark.parametrize("view_kind", VIEW_KINDS)


@every_kind
@every_view
def test_it_is_placed_drawn_and_survives_every_change_around_it(
    prepared: Prepared, kind: Kind[Any], view_kind: str
) -> None:
    b = held(prepared, kind, view_kind)
    assert b.group().elements or kind.key in UNDRAWN
    with pytest.raises(CommandError, match="on the drawing already"):
        execute(b.drawing, Place(command="place", annotations=[b.own], sheet="s"), b.facts)
    b.do(ChangeSheet(command="change_sheet", sheet="s", scale=Scale(drawn=1, true=2)))
    assert b.group().elements or kind.key in UNDRAWN
    before = b.drawing
    other: Literal["first", "third"] = "third" if b.drawing.projection == "first" else "first"
    b.do(SwitchProjection(command="switch_projection", projection=other))
    assert b.group().elements or kind.key in UNDRAWN
    b.do(SwitchProjection(command="switch_projection", projection=before.projection))
    assert b.drawing == before
    assert Drawing.model_validate(b.drawing.model_dump(mode="json")) == b.drawing
    b.do(CopySheet(command="copy_sheet", sheet="s", id="t"))
    (copy,) = own(b.drawing.sheets[1], kind.key)
    assert copy.id != "a"
    assert isinstance(annotation_groups(b.drawing, b.drawing.sheets[1], b.facts)[copy.id], Group)
    b.do(Remove(command="remove", ids=["a"]))
    assert own(b.sheet, kind.key) == []


@every_kind
def test_what_can_be_set_is_set_or_refused_in_a_sentence(prepared: Prepared, kind: Kind[Any]) -> None:
    b = held(prepared, kind, "main")
    kept = 0
    for f in form_of(kind):
        now = getattr(b.own, f.name)
        wanted: dict[str, list[Any]] = {
            "switch": [not now],
            "choice": [c for c in f.choices if c != now],
            "text": ["Other words"],
            "lines": ["Other words\non two lines"],
            "number": [v for v in (f.least, f.most, 3, 4) if v is not None and v != now],
        }
        for value in wanted[f.form]:
            command = Change(command="change", ids=["a"], values={f.name: value})
            refused = refusal(b, command)
            if refused:
                assert refused.endswith("."), refused
                continue
            after, patch, inverse = execute(b.drawing, command, b.facts)
            assert getattr(own(after.sheets[0], kind.key)[0], f.name) == value
            assert patched(after, inverse) == b.drawing
            assert patched(b.drawing, patch) == after
            kept += 1
    assert kept or not form_of(kind)
    with pytest.raises(CommandError, match="has no"):
        execute(b.drawing, Change(command="change", ids=["a"], values={"sparkle": 1}), b.facts)
    for field in form_of(kind):
        if field.form == "number":
            with pytest.raises(CommandError):
                execute(b.drawing, Change(command="change", ids=["a"], values={field.name: "many"}), b.facts)


def test_fields_have_the_names_that_their_data_gives_them() -> None:
    labels = {k: [f.label for f in form_of(KINDS[k])] for k in ("stamp", "hole_table")}
    assert labels == {
        "stamp": ["Words", "Lettering, mm", "Angle, °", "Double frame"],
        "hole_table": ["Decimals"],
    }
    empty = {f.name: f.empty for f in form_of(KINDS["hole_callout"]) if f.form == "number"}
    own = {f"{role}_places": "as all" for role in ("diameter", "depth", "head", "head_depth")}
    assert empty == {"count": "as modeled", "places": "standard", **own}


def refusal(b: Bench, command: Any) -> str:
    """The sentence with which a command is refused; empty where it is not."""
    try:
        execute(b.drawing, command, b.facts)
    except (CommandError, SizeError) as error:
        return str(error)
    return ""


@every_kind
@every_view
def test_it_is_moved_or_says_that_it_stays(prepared: Prepared, kind: Kind[Any], view_kind: str) -> None:
    b = held(prepared, kind, view_kind)
    a = b.own
    move: dict[str, Any] = {"id": "a"}
    if "place" in type(a).model_fields:
        old = a.place  # type: ignore[attr-defined]
        move["place"] = Placement(model=old.model, paper=Point(x=old.paper.x + 14, y=old.paper.y + 9))
    else:
        move["position"] = Point(x=90, y=80)
    command = MoveAnnotations(command="move", moves=[Move(**move)])
    stays = "place" not in type(a).model_fields and "position" not in type(a).model_fields
    if stays and kind.move is None:
        with pytest.raises(CommandError, match="stays on what it was taken on"):
            execute(b.drawing, command, b.facts)
        return
    if kind.key == "underlay":
        b.do(command)
        assert b.own.position == move["position"]  # type: ignore[attr-defined]
        return
    was = middle(b.group())
    b.do(command)
    assert math.dist(middle(b.group()), was) > 0.5


def middle(group: Group) -> tuple[float, float]:
    """Where the lettering stands, on the sheet; of all ink where there is none."""
    boxes = text_boxes(group.elements, group.origin) or shapes(group.elements, group.origin)
    x0, y0, x1, y1 = shapely.union_all(boxes).bounds
    return (x0 + x1) / 2, (y0 + y1) / 2


@every_kind
def test_what_it_was_taken_on_may_be_lost_and_it_says_so(prepared: Prepared, kind: Kind[Any]) -> None:
    b = held(prepared, kind, "main")
    if b.own.anchor.on == "sheet" or kind.key in (
        "added_line",
        "underlay",
        "insertion_arrow",
        "datum_target",
    ):  # it stays
        assert isinstance(b.drawn(), Group)
        return
    bare = {key: p.model_copy(update={"edges": [], "faces": []}) for key, p in b.facts.parts.items()}
    gone = b.facts.model_copy(
        update={"parts": bare, "instances": [] if not b.own.picks else b.facts.instances}
    )
    lost = b.drawn(facts=gone)
    assert isinstance(lost, str), "it is drawn on a model that has none of its edges"
    assert lost.endswith(".")
    without = b.drawing.sheets[0].model_copy(update={"views": []})
    assert isinstance(annotation_groups(b.drawing, without, b.facts)["a"], str)


@every_kind
def test_the_room_it_takes_holds_its_table(prepared: Prepared, kind: Kind[Any]) -> None:
    b = held(prepared, kind, "main")
    found = obstacles(b.drawing, b.sheet, b.facts)
    takes_room = kind.obstacles is not None and kind.key not in ("note", "texture")  # those on the sheet do
    assert ("a" in found) == takes_room
    if "a" in found:
        name, box = found["a"]
        assert name.startswith("the ")
        assert box[0] < box[2]
        assert box[1] < box[3]
        room, group = shapely.box(*box).buffer(0.1), b.group()
        if kind.key == "picture":
            assert room.covers(shapes(group.elements, group.origin)[0])
            return
        inside = [t for t in text_boxes(group.elements, group.origin, margin=0.0) if room.covers(t.centroid)]
        assert len(inside) > len([e for e in group.elements if isinstance(e, Text)]) / 2


@every_kind
@pytest.mark.parametrize("profile", [ISO_MM, ASME_INCH], ids=["ISO", "ASME"])
def test_its_lettering_is_read_back_from_every_file(
    prepared: Prepared, kind: Kind[Any], profile: Profile
) -> None:
    b = held(prepared, kind, "main", profile)
    out = compose(b.drawing, b.sheet, b.facts, {"v": b.derived})
    assert out.lost == {}
    words = [e.text for e in b.group().elements if isinstance(e, Text)]
    assert b'id="a"' in sheet_svg(out.ink, profile)
    pdf = pypdf.PdfReader(io.BytesIO(sheets_pdf([out.ink], profile, "x"))).pages[0].extract_text()
    data, _ = sheet_dxf(out.ink, profile)
    document = ezdxf.read(io.StringIO(data.decode()))  # type: ignore[attr-defined]
    lettered = {t.dxf.text for t in document.modelspace().query("TEXT")}
    lettered |= {
        t.dxf.text
        for block in document.blocks
        if block.name.startswith(("*D", "SYMBOL"))
        for t in block.query("TEXT")
    }
    for text in words:
        assert text.replace(" ", "") in pdf.replace(" ", "").replace("\n", ""), text
        assert text in lettered


@every_kind
def test_what_hangs_on_it_goes_when_it_goes(prepared: Prepared, kind: Kind[Any]) -> None:
    b = held(prepared, kind, "main")
    stand_in = b.own.model_copy(update={"id": "on", "anchor": OnAnnotation(annotation="a")})
    sheet = b.sheet.model_copy(update={"annotations": [*b.sheet.annotations, stand_in]})
    both = b.drawing.model_copy(update={"sheets": [sheet]})
    assert sheet.view_of(stand_in) is sheet.view_of(b.own)
    after = execute(both, Remove(command="remove", ids=["a"]), b.facts)[0]
    assert [a.id for a in after.sheets[0].annotations if a.id != HOST] == []


# ---- the registry itself -----------------------------------------------------------------------------------
def test_a_kind_that_is_unknown_or_there_twice_or_draws_nothing_is_refused() -> None:
    with pytest.raises(TypeError, match="registered twice"):
        registry.registered((LENGTHS, LENGTHS))

    class Nothing(AnnotationBase):
        kind: Literal["nothing"] = "nothing"

    class Nameless(AnnotationBase):
        kind: str = Field(...)

    with pytest.raises(TypeError, match="draws nothing"):
        registry.registered((Kind(Nothing, "Nothing"),))
    with pytest.raises(TypeError, match="says no kind"):
        registry.registered((Kind(Nameless, "Nameless", ink=lambda a, c: []),))
    with pytest.raises(ValueError, match="nothing"):
        Sheet.model_validate(
            {
                "id": "s",
                "size": "A4",
                "annotations": [{"kind": "nothing", "id": "x", "anchor": {"on": "sheet"}}],
            }
        )


def test_kinds_give_only_abilities_that_there_are() -> None:
    names = {f.name for f in dataclasses.fields(SizeKind)}
    for kind in KINDS.values():
        assert {f.name for f in dataclasses.fields(kind)} <= names | {"strokes"}
        assert kind.name[0].isupper()
        assert np.isfinite(len(form_of(kind)))
