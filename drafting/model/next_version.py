"""A new version of a model: its parts, instances and their faces and edges called as they were, where they
were found again.

Parts are the same by number, by name, or by what they look like; never by the keys of a file, which follow
its order. Instances are the same where they stand where they stood, or where only one can be meant.
"""

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.optimize import linear_sum_assignment

from drafting.errors import ModelError
from drafting.model.carried_names import NEW, carried_names, renamed
from drafting.model.lasting import Found, found_again, found_by_role
from drafting.model.model import Facts, InstanceFacts, MateFact, PartFacts, TreeNode
from drafting.model.part_version import EVEN

LOOKS_SAME = 0.7
"""Share of a part's faces that are found in one that has another name, to be taken for it."""
UNITS = {"mm": "millimeters", "in": "inches"}
CLEAR = 0.5
"""An instance is the one that is nearer than this share of the way to any other."""


@dataclass(frozen=True)
class NextVersion:
    """facts: of the new version, called as the earlier one; keys: of its parts, as read → as they are
    called; share: of the earlier version's faces that are surely found again, 0 to 1; likely: by part what
    faces and edges of before are likely called now; said: what changed, a sentence each."""

    facts: Facts
    keys: Mapping[str, str]
    share: float
    likely: Mapping[str, Mapping[str, str]]
    said: list[str] = field(default_factory=list)


def next_version(old: Facts, new: Facts, earlier: Sequence[Facts] = ()) -> NextVersion:
    """A model that was read, as the next version of another. earlier: all versions before, whose names are
    given to nothing that is new. Raises ModelError where a part would become an assembly, or the other way
    round, or nothing is in it."""
    _check(old, new)
    by_role = old.source == new.source == "recipe"
    same, found = _same_parts(old, new, by_role)
    keys = _fresh(new.parts, {b: a for a, b in same.items()}, {k for f in (old, *earlier) for k in f.parts})
    parts: dict[str, PartFacts] = {}
    likely: dict[str, dict[str, str]] = {}
    for key, part in new.parts.items():
        mine = keys[key]
        if mine not in found:
            parts[mine] = part
            continue
        before = [f.parts[mine] for f in (old, *earlier) if mine in f.parts]
        names = carried_names(_all_names(before), part, found[mine])
        parts[mine] = renamed(part, names)
        asked = {a: names[b] for a, b in _unsure(old.parts[mine], found[mine])}
        if asked:
            likely[mine] = asked
    moved = new.model_copy(update={"instances": _keyed(new.instances, keys)})
    paths = _fresh(
        [i.path for i in new.instances],
        dict(_same_instances(old, moved, by_role)),
        {i.path for f in (old, *earlier) for i in f.instances},
    )
    facts = new.model_copy(
        update={
            "parts": parts,
            "instances": [i.model_copy(update={"path": paths[i.path]}) for i in moved.instances],
            "tree": _tree(new.tree, keys, paths, _groups(old.tree, new.tree)),
            "mates": [_mate(m, paths) for m in new.mates],
            "exploded": [
                e.model_copy(
                    update={
                        "steps": [
                            s.model_copy(update={"instances": [paths.get(p, p) for p in s.instances]})
                            for s in e.steps
                        ]
                    }
                )
                for e in new.exploded
            ],
        }
    )
    count = sum(len(p.faces) for p in old.parts.values())
    share = sum(len(f.silent) for f in found.values()) / count if count else 0.0
    return NextVersion(facts, keys, share, likely, list(_said(old, facts, found)))


def _check(old: Facts, new: Facts) -> None:
    if not any(p.faces for p in new.parts.values()):
        raise ModelError("Nothing is in the file that could be a version of this model.")
    if old.kind != new.kind:
        what = {"part": "a part", "assembly": "an assembly"}
        raise ModelError(f"The file is {what[new.kind]}, and the model is {what[old.kind]}.")


def _all_names(versions: Sequence[PartFacts]) -> PartFacts:
    """The latest of several versions of a part, with the names of all of them: those must not be taken."""
    first, *rest = versions
    if not rest:
        return first
    faces = {f.name: f for v in reversed(versions) for f in v.faces}
    edges = {e.name: e for v in reversed(versions) for e in v.edges}
    return first.model_copy(update={"faces": list(faces.values()), "edges": list(edges.values())})


def _unsure(old: PartFacts, found: Found) -> Iterator[tuple[str, str]]:
    """Faces that are likely found again, and edges between such, with their names as read."""
    silent = found.silent
    yield from ((a, b) for a, b in found.faces.items() if a not in silent)
    owners = {e.name: e.faces for e in old.edges}
    yield from ((a, b) for a, b in found.edges.items() if any(n not in silent for n in owners[a]))


def _same_parts(old: Facts, new: Facts, by_role: bool) -> tuple[dict[str, str], dict[str, Found]]:
    """Keys of parts of the new version by those of the earlier one, and what of them was found again."""
    same: dict[str, str] = {}
    telling: tuple[Callable[[PartFacts], str], ...] = (lambda p: p.number, lambda p: p.name)
    for told in telling:
        mine, theirs = (_by(told, f.parts, done) for f, done in ((old, same.keys()), (new, same.values())))
        same |= {a: theirs[name] for name, a in mine.items() if name in theirs}
    left = [k for k in old.parts if k not in same]
    free = [k for k in new.parts if k not in set(same.values())]
    found = {}
    for a, b in same.items():
        found[a] = _found(old.parts[a], new.parts[b], by_role)
    if len(old.parts) == len(new.parts) == 1 and left:
        same[left[0]] = free[0]
        found[left[0]] = _found(old.parts[left[0]], new.parts[free[0]], by_role)
        return same, found
    for a in left:
        looks = {
            b: found_again(old.parts[a], new.parts[b]) for b in free if _is_like(old.parts[a], new.parts[b])
        }
        good = [b for b, f in looks.items() if len(f.silent) >= LOOKS_SAME * len(old.parts[a].faces)]
        if len(good) == 1:
            same[a], found[a] = good[0], looks[good[0]]
            free.remove(good[0])
    return same, found


def _found(old: PartFacts, new: PartFacts, by_role: bool) -> Found:
    return found_by_role(old, new) if by_role else found_again(old, new)


def _by(
    told: Callable[[PartFacts], str], parts: Mapping[str, PartFacts], done: Iterable[str]
) -> dict[str, str]:
    """Keys of parts by what tells them, where only one has it."""
    taken = set(done)
    left = {k: told(p) for k, p in parts.items() if k not in taken}
    count = Counter(left.values())
    return {name: k for k, name in left.items() if name and count[name] == 1}


def _is_like(a: PartFacts, b: PartFacts) -> bool:
    """Whether it is worth looking closer: about as many faces."""
    return 0.5 * len(a.faces) <= len(b.faces) <= 2 * len(a.faces)


def _fresh(read: Iterable[str], kept: Mapping[str, str], taken: Iterable[str]) -> dict[str, str]:
    """What each is called: as it was, or by its name as read, where nothing was ever called so."""
    used = set(taken)
    out = {}
    for name in read:
        out[name] = kept.get(name, name)
        if name not in kept:
            while out[name] in used:
                out[name] += NEW
            used.add(out[name])
    return out


def _keyed(instances: Sequence[InstanceFacts], keys: Mapping[str, str]) -> list[InstanceFacts]:
    return [i.model_copy(update={"part": keys[i.part]}) for i in instances]


def _same_instances(old: Facts, new: Facts, by_role: bool) -> Iterator[tuple[str, str]]:
    """Paths of the new version as read, each with that of the earlier one it is."""
    mine, theirs = (defaultdict(list), defaultdict(list))  # type: ignore[var-annotated]
    for facts, by in ((old, mine), (new, theirs)):
        for i in facts.instances:
            by[i.part].append(i)
    for key, before in mine.items():
        after = theirs.get(key, [])
        if by_role:
            there = {i.path for i in after}
            yield from ((i.path, i.path) for i in before if i.path in there)
        elif len(before) == len(after) == 1:
            yield after[0].path, before[0].path
        elif after:
            yield from _nearest(before, after)


def _nearest(before: Sequence[InstanceFacts], after: Sequence[InstanceFacts]) -> Iterator[tuple[str, str]]:
    """Instances of one part: what stands where it stood, then what moved where that is clear."""
    a, b = (np.array([i.matrix for i in group]) for group in (before, after))
    size = max(float(np.linalg.norm(np.ptp(a[:, :3, 3], axis=0))), 1.0)
    off = np.linalg.norm(a[:, None, :3, 3] - b[None, :, :3, 3], axis=2)
    off = off + size * np.linalg.norm(a[:, None, :3, :3] - b[None, :, :3, :3], axis=(2, 3))
    named = np.array([[i.path == j.path for j in after] for i in before])
    there = off < EVEN  # what has not moved is never another one that has
    far = np.where(there, 0.0, off + 1e6) - EVEN * named
    for x, y in zip(*linear_sum_assignment(far), strict=True):
        rivals = np.concatenate([np.delete(off[x], y), np.delete(off[:, y], x)])
        least = float(rivals.min()) if len(rivals) else np.inf
        if off[x, y] < EVEN or off[x, y] < CLEAR * least:
            yield after[y].path, before[x].path


def _groups(old: TreeNode, new: TreeNode) -> dict[str, str]:
    """Marks of subassemblies: as they were, by number or name."""
    mine, theirs = ({}, {})  # type: ignore[var-annotated]
    for root, by in ((old, mine), (new, theirs)):
        for node in _nodes(root):
            if node.group:
                by.setdefault(node.number or node.name, set()).add(node.group)
    kept = {
        next(iter(groups)): next(iter(mine[name]))
        for name, groups in theirs.items()
        if len(groups) == 1 and len(mine.get(name, ())) == 1
    }
    every = dict.fromkeys(n.group for n in _nodes(new) if n.group)
    return _fresh(every, kept, {n.group for n in _nodes(old) if n.group})


def _nodes(node: TreeNode) -> Iterator[TreeNode]:
    yield node
    for child in node.children:
        yield from _nodes(child)


def _tree(
    node: TreeNode, keys: Mapping[str, str], paths: Mapping[str, str], groups: Mapping[str, str]
) -> TreeNode:
    return node.model_copy(
        update={
            "part": keys[node.part] if node.part else node.part,
            "path": paths.get(node.path, node.path),
            "group": groups.get(node.group, node.group),
            "children": [_tree(c, keys, paths, groups) for c in node.children],
        }
    )


def _mate(m: MateFact, paths: Mapping[str, str]) -> MateFact:
    return m.model_copy(update={"of": paths.get(m.of, m.of), "to": paths.get(m.to, m.to)})


def _said(old: Facts, new: Facts, found: Mapping[str, Found]) -> Iterator[str]:
    """What changed, for the list of versions."""
    if old.source != new.source:
        yield {"step": "now a STEP file, no recipe", "recipe": "now a recipe, no STEP file"}[new.source]
    for name in dict.fromkeys([*old.parameters, *new.parameters]) if old.source == new.source else ():
        value, other = old.parameters.get(name), new.parameters.get(name)
        if value != other:
            yield f"{name}: {_number(value)} → {_number(other)}"
    if old.units != new.units:
        was, now = (UNITS.get(f.units, f.units) for f in (old, new))
        yield f"The file is in {now}; the earlier one was in {was}."
    for key, part in old.parts.items():
        title = f"{part.number or part.name or key}: " if len(old.parts) > 1 else ""
        if key not in found:
            yield f"{title}no longer in it"
            continue
        f, now_ = found[key], new.parts[key]
        moved = sum(w == "moved" for w in f.certainty.values())
        counts = (
            (moved, "moved or grown"),
            (len(now_.faces) - len(f.faces), "new"),
            (len(part.faces) - len(f.faces), "not found again"),
            (len(f.faces) - len(f.silent), "likely the same"),
        )
        told = ", ".join(f"{n} {'face' if n == 1 else 'faces'} {what}" for n, what in counts if n > 0)
        if told:
            yield title + told
    yield from (f"{p.number or p.name or key}: new" for key, p in new.parts.items() if key not in old.parts)
    if len(old.instances) != len(new.instances):
        yield f"{len(old.instances)} parts placed before, {len(new.instances)} now"


def _number(value: float | None) -> str:
    return "none" if value is None else f"{value:g}"
