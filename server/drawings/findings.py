"""What a drawing does wrong or leaves out, found by itself: one list for the desk and for machines that
build."""

import uuid
from typing import Literal

from django.http import HttpRequest
from ninja import Router, Schema

from drafting.document import Drawing as Document
from drafting.document import Sheet
from drafting.model.model import Facts
from drafting.sheet.template import FIELDS
from server.drawings import store
from server.drawings.access import own_drawing
from server.drawings.completeness import told
from server.drawings.models import Drawing
from server.drawings.sheets import SheetDrawn, drawn
from server.drawings.showing import shown_facts

router = Router(tags=["completeness"])
Gravity = Literal["grave", "look"]


class Finding(Schema):
    """Something to be mended (grave) or looked at. rule: what it is a case of; sheet: its id, and its number
    from 1; ids: the views and annotations it is about."""

    rule: str
    gravity: Gravity
    sheet: str
    number: int
    text: str
    ids: list[str]


class Findings(Schema):
    """What was found, the grave first."""

    findings: list[Finding]
    grave: int


@router.get("/{drawing_id}/findings", response=Findings)
def findings(request: HttpRequest, drawing_id: uuid.UUID) -> Findings:
    """All that is found on a drawing by itself."""
    d = own_drawing(request, drawing_id)
    return of_drawing(d)


def of_drawing(d: Drawing) -> Findings:
    """All that is found on all sheets of a drawing, as far as its views are derived."""
    document, facts = store.document_of(d), shown_facts(d)[1]
    found = _said(document, facts)
    for n, sheet in enumerate(document.sheets):
        found += _on_sheet(drawn(d, document, sheet), sheet, n)
    found = _once(found)
    found.sort(key=lambda f: f.gravity != "grave")
    return Findings(findings=found, grave=sum(f.gravity == "grave" for f in found))


def _once(found: list[Finding]) -> list[Finding]:
    """Findings of the same words on a sheet as one, of all that they are about."""
    out: dict[tuple[str, str, str], Finding] = {}
    for f in found:
        known = out.setdefault((f.rule, f.sheet, f.text), f)
        known.ids = list(dict.fromkeys([*known.ids, *f.ids]))
    return list(out.values())


def _said(document: Document, facts: Facts) -> list[Finding]:
    """What its sizes leave free, say twice, or cannot be understood to say."""
    if facts.kind != "part":
        return []
    places = {s.id: n for n, s in enumerate(document.sheets)}

    def of(rule: str, gravity: Gravity, text: str, sheet: str, ids: list[str]) -> Finding:
        n = places.get(sheet, 0)
        return Finding(
            rule=rule, gravity=gravity, sheet=document.sheets[n].id, number=n + 1, text=text, ids=ids
        )

    answer = told(document, facts)
    out = [of("completeness", "look", answer.why, "", [])] if answer.state == "unknown" else []
    out += [of("not given", "grave", g.text, "", []) for g in answer.gaps]
    out += [of("said twice", "look", t.text, t.sheet, [t.id, *t.follows]) for t in answer.twice]
    return out + [of("not understood", "look", s.text, s.sheet, [s.id]) for s in answer.silent]


def _on_sheet(page: SheetDrawn, sheet: Sheet, n: int) -> list[Finding]:
    """What is lost, blank, unmarked or in the way on a sheet."""

    def of(rule: str, gravity: Gravity, text: str, ids: list[str]) -> Finding:
        return Finding(rule=rule, gravity=gravity, sheet=sheet.id, number=n + 1, text=text, ids=ids)

    out = [
        of("lost", "grave", f"{a.text}: {a.lost}" if a.text else a.lost, [a.id])
        for a in page.annotations
        if a.lost
    ]
    out += [of("sheet", "look", w.text, w.views) for w in page.warnings]
    if page.unmarked:
        many = "A circle has" if page.unmarked == 1 else f"{page.unmarked} circles have"
        out.append(of("centers", "look", f"{many} no center.", []))
    if n == 0 and page.blank_fields:
        names = ", ".join(FIELDS.get(f, f).lower() for f in page.blank_fields)
        out.append(of("title block", "look", f"Blank in the title block: {names}.", []))
    return out
