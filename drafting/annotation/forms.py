"""What of a kind can be set in the particulars, told from its data: the desk makes a panel of it without
knowing the kind."""

import types
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal, Union, get_args, get_origin

from annotated_types import Ge, Gt, Le, Lt

from drafting.annotation.kinds.kind import Kind
from drafting.document import AnnotationBase

APART = {"kind", "id", "anchor", "place", "position", "wording", "tolerance", "run", "run_form"}
"""Fields that are set by hand on the sheet, or by panels of their own."""


@dataclass(frozen=True)
class FormField:
    """A field to be set. form: how; choices: of a choice; least, most: of a number, None for no bound;
    optional: it may be left empty, and empty says what it is then."""

    name: str
    label: str
    form: Literal["switch", "choice", "number", "text", "lines"]
    choices: list[str]
    least: float | None = None
    most: float | None = None
    whole: bool = False
    optional: bool = False
    empty: str = "standard"


def form_of(kind: Kind[Any]) -> list[FormField]:
    """The fields of a kind that are plain: yes or no, one of several words, a number, a text of one line
    or several."""
    return [
        f
        for name in kind.data.model_fields
        if name not in APART and (f := _field(kind.data, name)) is not None
    ]


def _bound(found: Iterable[Any]) -> float | None:
    return next((float(v) for v in found), None)


def _field(data: type[AnnotationBase], name: str) -> FormField | None:
    info = data.model_fields[name]
    if isinstance(info.json_schema_extra, dict) and info.json_schema_extra.get("apart"):
        return None  # set by a panel of its own
    title = info.title
    of: Any = info.annotation
    optional, bounds, empty = False, list(info.metadata), "standard"
    while True:
        if get_origin(of) in (Union, types.UnionType):
            rest = [a for a in get_args(of) if a is not type(None)]
            if len(rest) != 1:
                return None
            of, optional = rest[0], True
        elif hasattr(of, "__metadata__"):
            for m in of.__metadata__:
                title = title or getattr(m, "title", None)  # of a field that may be left empty
                extra = getattr(m, "json_schema_extra", None)
                empty = extra.get("empty", empty) if isinstance(extra, dict) else empty
                bounds += list(getattr(m, "metadata", [])) or [m]
            of = get_args(of)[0]
        else:
            break
    label = title or name.replace("_", " ").capitalize()
    if get_origin(of) is Literal:
        words = get_args(of)
        return (
            FormField(name, label, "choice", [str(w) for w in words], optional=optional)
            if all(isinstance(w, str) for w in words)
            else None
        )
    if of is bool:
        return FormField(name, label, "switch", [])
    if of in (int, float):
        least = _bound(b.ge if isinstance(b, Ge) else b.gt for b in bounds if isinstance(b, Ge | Gt))
        most = _bound(b.le if isinstance(b, Le) else b.lt for b in bounds if isinstance(b, Le | Lt))
        return FormField(name, label, "number", [], least, most, of is int, optional, empty)
    lines = isinstance(info.json_schema_extra, dict) and bool(info.json_schema_extra.get("lines"))
    return FormField(name, label, "lines" if lines else "text", [], optional=optional) if of is str else None
