"""Stored drawings of older formats, and their logs, brought up to the present one. Works on plain data; each
step is tested on data of its time.

Format 1: annotations name their view and picks themselves, parts lists are a list of their own on each sheet,
and the oldest sizes hold their decimals beside what became their wording. Format 2: annotations have an
anchor, parts lists are annotations.
"""

import copy
from collections.abc import Callable, Iterable
from typing import Any

import jsonpatch

from drafting.document import Drawing
from drafting.patches import Operations, difference

PRESENT = 2
Plain = dict[str, Any]


def upgraded(data: Plain) -> Plain:
    """A stored drawing in the present format; data itself is not changed."""
    out = data
    for step in range(int(data.get("format", 1)), PRESENT):
        out = STEPS[step](copy.deepcopy(out))
    return out


def read(data: Plain) -> Drawing:
    """A stored drawing of any format. Raises ValidationError."""
    return Drawing.model_validate(upgraded(data))


def upgraded_log(
    data: Plain, entries: Iterable[tuple[Operations, Operations]], applied: int
) -> list[tuple[Operations, Operations]]:
    """Patches and inverses of a log in the present format. data: the drawing as stored, in its old format;
    entries: patch and inverse of all entries in order; applied: how many of them the drawing bears."""
    log = list(entries)
    states: dict[int, Plain] = {applied: data}
    for n in range(applied - 1, -1, -1):
        states[n] = jsonpatch.apply_patch(states[n + 1], log[n][1])
    for n in range(applied, len(log)):
        states[n + 1] = jsonpatch.apply_patch(states[n], log[n][0])
    now = [read(states[n]) for n in range(len(log) + 1)]
    return [(difference(now[n], now[n + 1]), difference(now[n + 1], now[n])) for n in range(len(log))]


def _to_2(data: Plain) -> Plain:
    for sheet in data["sheets"]:
        sheet["annotations"] = [_anchored(a) for a in sheet.get("annotations", [])]
        for plist in sheet.pop("parts_lists", []):
            sheet["annotations"].append({**plist, "kind": "parts_list", "anchor": {"on": "sheet"}})
    data["format"] = 2
    return data


def _anchored(a: Plain) -> Plain:
    out = {name: value for name, value in a.items() if name not in ("view", "picks", "places")}
    out["anchor"] = {"on": "view", "view": a["view"], "picks": a.get("picks", [])}
    if "places" in a and a["kind"] == "hole_table":
        out["places"] = a["places"]
    elif a.get("places") is not None:
        out["wording"] = {"places": a["places"], **out.get("wording", {})}
    return out


STEPS: dict[int, Callable[[Plain], Plain]] = {1: _to_2}
