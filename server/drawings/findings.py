"""What a drawing does wrong or leaves out, found by itself: one list for the desk, for files and for machines
that build."""

import hashlib
from collections.abc import Iterable
from typing import Any, Literal

from ninja import Schema

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule, change, remove
from drafting.checking.rules import ALL, RULES
from drafting.document import Drawing as Document
from drafting.document import Sheet
from drafting.errors import CommandError, DraftingError
from drafting.memory import Memory, Same
from drafting.model.model import Facts
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.present import presented
from server.accounts.access import called
from server.drawings import store
from server.drawings.completeness import CompletenessOut, known, told
from server.drawings.geometry import ready, requested_all
from server.drawings.models import DerivedView, Drawing, MeantFinding
from server.drawings.showing import shown_facts

Found = list[tuple[Rule, Fault]]
_FOUND: Memory[Found] = Memory(24)
"""What rules find on sheets as they are kept, by what their views show."""


class RemedyOut(Schema):
    """What mends it in one step: a command, or an action that the desk does itself."""

    label: str
    command: dict[str, Any]
    action: str


class Meant(Schema):
    """That somebody means it so."""

    reason: str
    by: str
    at: str


class Finding(Schema):
    """Something to be mended (grave) or looked at. key: names it as long as it says the same of the same
    things; rule: what it is a case of; clause: where the standard says so; sheet: its id, and its number from
    1; ids: the views and annotations it is about; meant: who means it so, and why."""

    key: str
    rule: str
    clause: str
    gravity: Literal["grave", "look"]
    sheet: str
    number: int
    text: str
    ids: list[str]
    remedies: list[RemedyOut]
    meant: Meant | None = None


class Good(Schema):
    """A rule that found nothing."""

    rule: str
    title: str
    clause: str


class Findings(Schema):
    """What was found, sheet by sheet, the grave first. grave, look: how many are open; meant: how many are
    not, being meant so; good: what was looked at and is as it should be; waiting: views that are not derived
    yet, of which nothing is told; sizes_wait: whether a worker is still to tell what the sizes say."""

    findings: list[Finding]
    grave: int
    look: int
    meant: int
    good: list[Good]
    waiting: int
    sizes_wait: bool = False


def of_drawing(d: Drawing, is_here: bool = True) -> Findings:
    """All that is found on all sheets of a drawing, as far as its views are derived. is_here: whether what
    takes long is left to a worker."""
    document, facts = store.document_of(d), shown_facts(d)[1]
    answer = known(d) if is_here else told(document, facts)
    out = _said(document, facts, answer) if answer else []
    waiting = 0
    for sheet in document.sheets:
        shown, bare = shown_on(d, sheet, facts)
        waiting += bare
        out += [_finding(document, sheet, rule, fault) for rule, fault in _on(document, sheet, facts, shown)]
    out = [f for f in _once(out) if RULES[f.rule].gravity_in(document.profile) != "off"]
    rows = d.meant_findings.select_related("by")
    meant = {m.key: Meant(reason=m.reason, by=called(m.by), at=m.at.isoformat()) for m in rows}
    for f in out:
        f.meant = meant.get(f.key)
    out.sort(key=lambda f: (f.number, f.meant is not None, f.gravity != "grave"))
    still = [f for f in out if f.meant is None]
    bad = {f.rule for f in out}
    return Findings(
        findings=out,
        grave=sum(f.gravity == "grave" for f in still),
        look=sum(f.gravity == "look" for f in still),
        meant=len(out) - len(still),
        good=[] if waiting or answer is None else list(_good(document, facts, bad)),
        waiting=waiting,
        sizes_wait=answer is None,
    )


def _good(document: Document, facts: Facts, bad: set[str]) -> Iterable[Good]:
    unknown = {"not given", "said twice", "not understood"} if "completeness" in bad else set()
    for rule in ALL:
        off = rule.gravity_in(document.profile) == "off"
        of_parts = facts.kind != "part" and rule.faults is None
        if rule.key not in bad | unknown and not off and not of_parts:
            yield Good(rule=rule.key, title=rule.title, clause=rule.clause(document.profile))


def shown_on(d: Drawing, sheet: Sheet, facts: Facts) -> tuple[dict[str, ViewGeometry], int]:
    """What the views of a sheet show, and how many are not derived."""
    version, _ = shown_facts(d)
    rows = requested_all(version, [derivation_of(view, facts) for view in sheet.views])
    out: dict[str, ViewGeometry] = {}
    waiting = 0
    for view, row in zip(sheet.views, rows, strict=True):
        geometry = ready(row.key) if row.state == DerivedView.READY else None
        if geometry is None:
            waiting += row.state == DerivedView.WAITING
            continue
        try:
            out[view.id] = presented(view, sheet, facts, geometry)
        except DraftingError:
            continue  # the sheet tells that it shows nothing
    return out, waiting


def _on(document: Document, sheet: Sheet, facts: Facts, shown: dict[str, ViewGeometry]) -> Found:
    def find() -> Found:
        groups = store.groups(document, sheet, facts)
        page = Page(document, sheet, facts, groups, shown)
        first = sheet is document.sheets[0]
        rules = [r for r in ALL if r.faults is not None and (first or not r.whole)]
        return [
            (r, fault)
            for r in rules
            if r.gravity_in(document.profile) != "off"
            for fault in (r.faults(page) if r.faults else ())
        ]

    return _FOUND.recall(facts, (Same(document), Same(sheet), tuple(map(Same, shown.values()))), find)


def _finding(document: Document, sheet: Sheet, rule: Rule, fault: Fault) -> Finding:
    gravity = rule.gravity_in(document.profile)
    return Finding(
        key=_key(rule.key, sheet.id, fault),
        rule=rule.key,
        clause=rule.clause(document.profile),
        gravity="grave" if gravity == "grave" else "look",
        sheet=sheet.id,
        number=document.number_of(sheet.id),
        text=fault.text,
        ids=list(fault.ids),
        remedies=[RemedyOut(label=r.label, command=r.command, action=r.action) for r in fault.remedies],
    )


def _key(rule: str, sheet: str, fault: Fault) -> str:
    told_of = "\n".join([rule, sheet, fault.text, *sorted(fault.ids)])
    return hashlib.sha256(told_of.encode()).hexdigest()[:32]


def _once(found: list[Finding]) -> list[Finding]:
    """Findings of the same words on a sheet as one, of all that they are about."""
    out: dict[tuple[str, str, str], Finding] = {}
    for f in found:
        known = out.setdefault((f.rule, f.sheet, f.text), f)
        if known is not f:
            known.ids = list(dict.fromkeys([*known.ids, *f.ids]))
            known.key = _key(known.rule, known.sheet, Fault(known.text, tuple(known.ids)))
    return list(out.values())


def _said(document: Document, facts: Facts, answer: CompletenessOut) -> list[Finding]:
    """What its sizes leave free, say twice, or cannot be understood to say."""
    if facts.kind != "part":
        return []

    def of(rule: str, fault: Fault, sheet: str = "") -> Finding:
        home = document.sheet(sheet) or document.sheets[0]
        return _finding(document, home, RULES[rule], fault)

    out = [of("completeness", Fault(answer.why))] if answer.state == "unknown" else []
    give = (Remedy("Give the size", action="propose"),)
    out += [of("not given", Fault(g.text, (), give)) for g in answer.gaps]
    for t in answer.twice:
        mend = (change([t.id], "For reference", wording={"reference": True}), remove([t.id]))
        out.append(of("said twice", Fault(t.text, (t.id, *t.follows), mend), t.sheet))
    return out + [of("not understood", Fault(s.text, (s.id,)), s.sheet) for s in answer.silent]


def mean(d: Drawing, key: str, reason: str, user: Any) -> None:
    """That a finding is meant so, for a reason. Raises CommandError where there is no such finding."""
    if not reason.strip():
        raise CommandError("Say in a few words why it is meant so.")
    found = next((f for f in of_drawing(d).findings if f.key == key), None)
    if found is None:
        raise CommandError("That is no longer found on the drawing; look at the list again.")
    MeantFinding.objects.update_or_create(
        drawing=d,
        key=key,
        defaults={"rule": found.rule, "text": found.text[:400], "reason": reason.strip(), "by": user},
    )


def in_words(found: Findings) -> str:
    """How many are open, in a sentence; empty where none is."""
    many = found.grave + found.look
    if not many:
        return ""
    grave = f", {found.grave} of them grave" if found.grave else ""
    return f"{many} {'finding is' if many == 1 else 'findings are'} open{grave}."
