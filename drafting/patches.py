"""What changed between two states of a drawing, as a JSON patch (RFC 6902), and a drawing after such a patch.

States share what did not change: sheets, views and annotations that are the same object are not looked into.
"""

from collections.abc import Iterable, Sequence
from operator import is_
from typing import Any

import jsonpatch
from pydantic import BaseModel

from drafting.annotation import registry as _kinds  # noqa: F401  sheets are read here
from drafting.document import Drawing, Sheet

Operations = list[dict[str, Any]]


def difference(before: Drawing, after: Drawing) -> Operations:
    """The operations that lead from one state to the other."""
    out = _fields(before, after, "", {"sheets"})
    out += _listed(before.sheets, after.sheets, "/sheets", _sheets)
    return out


def _sheets(before: Sheet, after: Sheet, path: str) -> Operations:
    out = _fields(before, after, path, {"views", "annotations"})
    for name in ("views", "annotations"):
        out += _listed(getattr(before, name), getattr(after, name), f"{path}/{name}", _whole)
    return out


def _whole(before: BaseModel, after: BaseModel, path: str) -> Operations:
    return (
        [] if before == after else [{"op": "replace", "path": path, "value": after.model_dump(mode="json")}]
    )


def _fields(before: BaseModel, after: BaseModel, path: str, without: set[str]) -> Operations:
    """Fields that differ, each replaced as a whole."""
    changed = {
        n
        for n in type(after).model_fields
        if n not in without and _differs(getattr(before, n), getattr(after, n))
    }
    values = after.model_dump(mode="json", include=changed) if changed else {}
    return [{"op": "replace", "path": f"{path}/{name}", "value": values[name]} for name in sorted(changed)]


def _differs(one: Any, two: Any) -> bool:
    return one is not two and one != two


def _listed(before: Sequence[Any], after: Sequence[Any], path: str, inside: Any) -> Operations:
    """Two lists of things with ids: what is gone, what has moved, what is new, and what has changed
    within."""
    out: Operations = []
    if len(before) == len(after):
        other = [n for n, same in enumerate(map(is_, before, after)) if not same]
        if all(before[n].id == after[n].id for n in other):
            for n in other:
                out += inside(before[n], after[n], f"{path}/{n}")
            return out
    kept = {a.id for a in after}
    now = list(before)
    for n in range(len(now) - 1, -1, -1):
        if now[n].id not in kept:
            out.append({"op": "remove", "path": f"{path}/{n}"})
            del now[n]
    known = {b.id: b for b in now}
    for n, thing in enumerate(after):
        if n < len(now) and now[n].id == thing.id:
            pass
        elif thing.id in known:
            old = next(k for k in range(n + 1, len(now)) if now[k].id == thing.id)
            out.append({"op": "move", "from": f"{path}/{old}", "path": f"{path}/{n}"})
            now.insert(n, now.pop(old))
        else:
            out.append({"op": "add", "path": f"{path}/{n}", "value": thing.model_dump(mode="json")})
            now.insert(n, thing)
            continue
        if known[thing.id] is not thing:
            out += inside(known[thing.id], thing, f"{path}/{n}")
    return out


def patched(drawing: Drawing, patch: Iterable[dict[str, Any]]) -> Drawing:
    """The drawing after a patch. Only sheets that the patch looks into are read anew; the others are the same
    objects."""
    operations = list(patch)
    data: dict[str, Any] = drawing.model_dump(mode="json", exclude={"sheets"}) if _in_head(operations) else {}
    sheets: list[Any] = list(drawing.sheets)
    for op in operations:
        where, parts = str(op["path"]), str(op["path"]).split("/")[1:]
        if parts[0] != "sheets":
            jsonpatch.apply_patch(data, [op], in_place=True)
            continue
        if len(parts) == 1:  # of logs from before sheets were looked into one by one
            sheets = list(op["value"])
            continue
        number = len(sheets) if parts[1] == "-" else int(parts[1])
        if len(parts) == 2:
            _in_list(op, sheets, number)
            continue
        if isinstance(sheets[number], Sheet):
            sheets[number] = sheets[number].model_dump(mode="json")
        inner = {**op, "path": where[len(f"/sheets/{parts[1]}") :]}
        if "from" in op:
            inner["from"] = "/" + "/".join(str(op["from"]).split("/")[3:])
        jsonpatch.apply_patch(sheets[number], [inner], in_place=True)
    found = [s if isinstance(s, Sheet) else Sheet.model_validate(s) for s in sheets]
    if not data:
        return drawing.model_copy(update={"sheets": found})
    return headed(data, found)


def headed(head: dict[str, Any], sheets: list[Sheet]) -> Drawing:
    """A drawing of plain data without its sheets, and sheets that are valid already. Raises
    ValidationError."""
    stand_ins = [{"id": s.id, "size": s.size} for s in sheets]
    return Drawing.model_validate({**head, "sheets": stand_ins}).model_copy(update={"sheets": sheets})


def _in_head(operations: Operations) -> bool:
    return any(not str(op["path"]).startswith("/sheets") for op in operations)


def _in_list(op: dict[str, Any], sheets: list[Any], number: int) -> None:
    """A sheet put in, taken out, moved or replaced as a whole."""
    if op["op"] == "add":
        sheets.insert(number, op["value"])
    elif op["op"] == "remove":
        del sheets[number]
    elif op["op"] == "replace":
        sheets[number] = op["value"]
    elif op["op"] == "move":
        sheets.insert(number, sheets.pop(int(str(op["from"]).split("/")[2])))
    else:
        raise ValueError(f"a sheet is not changed by {op['op']}")
