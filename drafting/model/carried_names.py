"""Names that go with what was found again in a new version, and are taken by nothing else."""

from collections.abc import Mapping, Sequence

from drafting.model.lasting import Found
from drafting.model.model import PartFacts

NEW = " +"
"""Put to a name that what is new would share with what was there."""


def carried_names(
    old: PartFacts, new: PartFacts, found: Found, confirmed: Sequence[str] = ()
) -> dict[str, str]:
    """What the faces and edges of the new version are called so that what was found again keeps its name: by
    their names as read. confirmed: old names of faces that are only likely and that a person agreed to. What
    is new never takes a name of the old version, even one that fits its place."""
    sure = {**found.silent, **{n: found.faces[n] for n in confirmed if n in found.faces}}
    kept = {b: a for a, b in sure.items()}
    owners = {e.name: e.faces for e in old.edges}
    kept |= {b: a for a, b in found.edges.items() if all(n in sure for n in owners[a])}
    taken = {f.name for f in old.faces} | {e.name for e in old.edges}
    out: dict[str, str] = {}
    for name in [*(f.name for f in new.faces), *(e.name for e in new.edges)]:
        if name in kept:
            out[name] = kept[name]
            continue
        fresh = name
        while fresh in taken:
            fresh += NEW
        taken.add(fresh)
        out[name] = fresh
    return out


def renamed(part: PartFacts, names: Mapping[str, str]) -> PartFacts:
    """A part whose faces and edges are called otherwise, wherever they are named."""

    def of(name: str) -> str:
        return names.get(name, name)

    faces = [
        f.model_copy(
            update={
                "name": of(f.name),
                "feature": of(f.feature),
                "inner": [[of(e) for e in loop] for loop in f.inner],
            }
        )
        for f in part.faces
    ]
    edges = [
        e.model_copy(update={"name": of(e.name), "feature": of(e.feature), "faces": [of(n) for n in e.faces]})
        for e in part.edges
    ]
    threads = [t.model_copy(update={"face": of(t.face)}) for t in part.threads]
    processes = [p.model_copy(update={"face": of(p.face)}) for p in part.processes]
    return part.model_copy(
        update={"faces": faces, "edges": edges, "threads": threads, "processes": processes}
    )
