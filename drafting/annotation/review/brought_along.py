"""What bringing a drawing along to a later version of its model would do, before it happens: what it says
otherwise, what is only likely found again, and what is lost."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from drafting.annotation import registry
from drafting.annotation.review.comparison import Difference, State, compared, said
from drafting.document import AnnotationBase, Drawing, Sheet, Source
from drafting.errors import DraftingError
from drafting.model.model import Facts

Likely = Mapping[str, Mapping[str, str]]
"""By part, what faces and edges of the shown version are likely called in the later one."""
ASKED = "What it hangs on is likely found again; say whether it is the same."
WITH_IT = "What it hangs on is lost."
ON_MODEL = ("edge", "silhouette", "cut")


@dataclass(frozen=True)
class Replaced:
    """What of the model something hangs on: an edge or face of an instance, and that which takes its
    place."""

    instance: str
    source: str
    to_instance: str
    to_source: str


@dataclass(frozen=True)
class Hanging:
    """What would not follow by itself. before: what it says; after: what it would say, of what is likely
    found again; replaced: what it would hang on; held: whether that is likely, or it is lost; why: as a
    sentence."""

    annotation: str
    sheet: str
    view: str
    what: str
    before: str
    after: str
    held: Literal["likely", "lost"]
    why: str
    replaced: list[Replaced]


@dataclass(frozen=True)
class Report:
    """differences: what the drawing would say otherwise; hanging: what would not follow; follows: how many
    things hang on the model and do."""

    differences: list[Difference]
    hanging: list[Hanging]
    follows: int


def along(drawing: Drawing, old: Facts, new: Facts, likely: Likely) -> Report:
    """What bringing a drawing along would do. new: facts of the later version, called as those of the shown
    one are."""
    hanging: list[Hanging] = []
    named: set[str] = set()
    for sheet in drawing.sheets:
        for a in sheet.annotations:
            if not _names(a.model_dump(mode="json")):
                continue
            named.add(a.id)
            told = _held(drawing, sheet, a, old, new, likely)
            if told is not None:
                hanging.append(told)
        hanging += _with_them(State(drawing, old), sheet, hanging)
    lost = {h.annotation for h in hanging}
    differences = [d for d in compared(State(drawing, old), State(drawing, new)) if d.annotation not in lost]
    return Report(differences, hanging, len(named - lost))


def states_gone(drawing: Drawing, new: Facts) -> list[str]:
    """A sentence for each exploded state that views show and a later version has no more."""
    there = {s.name for s in new.exploded}
    shown = [v.exploded for v in drawing.views() if v.exploded and v.exploded not in there]
    return [
        f"There is no exploded state {name} any more: what shows it is drawn together."
        for name in dict.fromkeys(shown)
    ]


def _with_them(before: State, sheet: Sheet, hanging: Sequence[Hanging]) -> Iterator[Hanging]:
    """What hangs on annotations that are lost, and on those in turn."""
    lost_ones = {h.annotation for h in hanging if h.held == "lost"}
    told = {h.annotation for h in hanging}
    left = [a for a in sheet.annotations if a.id not in told]
    while more := [a for a in left if hosts(a.model_dump(mode="json")) & lost_ones]:
        for a in more:
            name = registry.name(a).lower()
            yield Hanging(a.id, sheet.id, a.view, name, said(before, sheet, a), "", "lost", WITH_IT, [])
        lost_ones = {a.id for a in more}
        left = [a for a in left if a.id not in lost_ones]


def hosts(data: Any) -> set[str]:
    """Ids of the annotations that one hangs on."""
    if isinstance(data, list):
        return set().union(*map(hosts, data))
    if not isinstance(data, dict):
        return set()
    found = {str(data["annotation"])} if data.get("annotation") else set()
    if data.get("role") == "size" and data.get("source"):
        found.add(str(data["source"]))
    return found.union(*map(hosts, data.values()))


def _held(
    drawing: Drawing, sheet: Sheet, a: AnnotationBase, old: Facts, new: Facts, likely: Likely
) -> Hanging | None:
    """None for what follows, and for what was lost before already."""
    before, after = State(drawing, old), State(drawing, new)
    was = said(before, sheet, a)
    if was.startswith("lost: "):
        return None
    why = lost(drawing, sheet, a, new)
    if not why:
        return None
    replaced = list(_replaced(a, old, likely))
    other = rehung(a, replaced) if replaced else a
    name = registry.name(a).lower()
    if not replaced or lost(drawing, sheet, other, new):
        return Hanging(a.id, sheet.id, a.view, name, was, "", "lost", why, [])
    would = said(after, sheet, other)
    return Hanging(a.id, sheet.id, a.view, name, was, would, "likely", ASKED, replaced)


def lost(drawing: Drawing, sheet: Sheet, a: AnnotationBase, facts: Facts) -> str:
    """Why an annotation cannot be drawn; empty where it can."""
    try:
        registry.check(a, registry.context_of(drawing, sheet, a, facts))
    except DraftingError as error:
        return str(error)
    return "What it hangs on is no longer in the model." if missing(a, facts) else ""


def missing(a: AnnotationBase, facts: Facts) -> list[tuple[str, str]]:
    """What an annotation names that the model has not: paths of instances with edges and faces."""
    return [(path, s) for path, s in sources(a) if not _is_there(facts, path, s)]


def _names(data: Any) -> bool:
    """Whether anything in it names an instance of the model."""
    if isinstance(data, dict):
        return bool(data.get("instance")) or any(map(_names, data.values()))
    return isinstance(data, list) and any(map(_names, data))


def _is_there(facts: Facts, path: str, source: str) -> bool:
    found = facts.part_of(path)
    return found is not None and (
        found[1].edge(source) is not None or found[1].face(source) is not None or not source
    )


def _replaced(a: AnnotationBase, old: Facts, likely: Likely) -> Iterator[Replaced]:
    for path, source in sources(a):
        here = old.part_of(path)
        other = likely.get(here[0].part, {}).get(source) if here else None
        if other is not None:
            yield Replaced(path, source, path, other)


def sources(a: AnnotationBase) -> list[tuple[str, str]]:
    """What of the model an annotation names: paths of instances with edges and faces."""
    return list(dict.fromkeys(_sources(a.model_dump(mode="json"))))


def _sources(data: Any) -> Iterator[tuple[str, str]]:
    if isinstance(data, dict):
        if data.get("source") and data.get("role", "edge") in ON_MODEL:
            yield str(data.get("instance", "")), str(data["source"])
        data = list(data.values())
    if isinstance(data, list):
        for value in data:
            yield from _sources(value)


def rehung(a: AnnotationBase, replaced: list[Replaced], like: Source | None = None) -> AnnotationBase:
    """An annotation that hangs on other edges and faces. like: the role and side that the others have."""
    to = {(r.instance, r.source): (r.to_instance, r.to_source) for r in replaced}
    if not any(s in to for s in sources(a)):
        return a
    more = {"role": like.role, "side": like.side} if like else {}
    return type(a).model_validate(_rehung(a.model_dump(mode="json"), to, more))


def _rehung(data: Any, to: Mapping[tuple[str, str], tuple[str, str]], more: Mapping[str, Any]) -> Any:
    if isinstance(data, list):
        return [_rehung(v, to, more) for v in data]
    if not isinstance(data, dict):
        return data
    out = {k: _rehung(v, to, more) for k, v in data.items()}
    found = to.get((str(data.get("instance", "")), str(data.get("source", ""))))
    if found and data.get("role", "edge") in ON_MODEL:
        out["instance"], out["source"] = found
        is_axis = data.get("role") == more.get("role") == "silhouette" and data.get("side") == 0
        out.update({} if is_axis else {k: v for k, v in more.items() if k in data})
    return out
