"""Two states of a drawing that are compared: as it is, or as it was when it was released."""

from drafting import compose as composing
from drafting.annotation.registry import Annotation
from drafting.annotation.review.comparison import State
from drafting.annotation.review.revision_clouds import clouds_about
from drafting.document import Drawing as Document
from drafting.document import Sheet, new_id
from drafting.ink.elements import SheetInk
from drafting.model.model import Facts
from drafting.patches import headed
from drafting.views.family import derivation_of
from server.drawings import releasing, store
from server.drawings.geometry import requested_all
from server.drawings.models import RELEASED, DerivedView, Drawing, Release
from server.drawings.service import brought_to, geometries
from server.drawings.showing import shown_facts
from server.errors import NotThere, NotYet
from server.library.facts import facts_in
from server.library.models import ModelVersion

NOW = "now"
"""In place of a mark: the drawing as it is."""


class Side:
    """A drawing as it is, or as it was when it was released."""

    def __init__(self, d: Drawing, mark: str) -> None:
        self.drawing = d
        self.document: Document
        self.version: ModelVersion
        self.facts: Facts
        self.name = mark
        if mark == NOW:
            self.document = store.document_of(d)
            self.version, self.facts = shown_facts(d)
            self.name = (
                f"revision {self.document.fields.revision}, as it is" if d.state != RELEASED else "now"
            )
            return
        release: Release = releasing.release_at(d, mark)
        data = dict(release.document)
        sheets = [Sheet.model_validate(s) for s in data.pop("sheets")]
        self.document = headed(data, sheets)
        self.version, self.facts = brought_to(d, release.shows)[0], facts_in(release.facts_id)

    @property
    def state(self) -> State:
        """As it is compared."""
        return State(self.document, self.facts)

    def ink(self, sheet_id: str) -> SheetInk | None:
        """All ink of a sheet; None where it has it not. Raises NotYet while views are derived."""
        sheet = self.document.sheet(sheet_id)
        if sheet is None:
            return None
        rows = requested_all(self.version, [derivation_of(v, self.facts) for v in sheet.views])
        waiting = sum(r.state == DerivedView.WAITING for r in rows)
        if waiting:
            raise NotYet(f"{waiting} of {len(rows)} views are still being derived.")
        found = geometries(self.version, self.facts, sheet)
        return composing.compose(self.document, sheet, self.facts, found).ink


def inks_of(a: Side, b: Side, sheet_id: str) -> tuple[SheetInk, SheetInk]:
    """Ink of a sheet on both sides, nothing where one has it not. Raises NotThere, NotYet."""
    before, after = a.ink(sheet_id), b.ink(sheet_id)
    one = before or after
    if one is None:
        raise NotThere("Neither revision has that sheet.")
    nothing = SheetInk(one.width, one.height)
    return before or nothing, after or nothing


def clouds(d: Drawing, before: str) -> dict[str, list[Annotation]]:
    """Clouds about what differs from a released revision, by sheet. Raises NotYet while views are derived."""
    a, b = Side(d, before), Side(d, NOW)
    mark = b.document.fields.revision[:8]
    out: dict[str, list[Annotation]] = {}
    for sheet in b.document.sheets:
        known = {x.id for x in sheet.annotations if x.kind in ("revision_cloud", "revision_table")}
        out[sheet.id] = [*clouds_about(*inks_of(a, b, sheet.id), mark, new_id, known)]
    return out
