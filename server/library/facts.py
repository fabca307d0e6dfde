"""Facts of a model with what the office says of its parts, merged once and kept in memory: previews read them
many times a second."""

import json
from collections.abc import Sequence
from functools import lru_cache

from pydantic import TypeAdapter

from drafting.memory import Memory, digest
from drafting.model.model import ExplodedState, Facts, PartFacts, ProcessFact, ThreadFact
from server.library.models import Blob, Model, ModelVersion

FIELDS = ("number", "description", "material", "finish", "supplier", "make", "counted", "sectioned")
AMOUNTS = ("unit_cost", "stated_mass")


@lru_cache(maxsize=32)
def _facts(sha256: str) -> Facts:
    return Facts.model_validate_json(Blob.objects.get(pk=sha256).content())


@lru_cache(maxsize=32)
def _merged(
    sha256: str,
    exploded: str,
    same_as: tuple[tuple[str, str], ...],
    said: tuple[tuple[str, ...], ...],
    densities: tuple[tuple[str, float], ...],
) -> Facts:
    facts = _facts(sha256)
    parts = dict(facts.parts)
    for key, own, threads, processes, *values in said:
        if key in parts:
            texts, amounts = values[: len(FIELDS)], values[len(FIELDS) :]
            update: dict[str, object] = {
                name: value for name, value in zip(FIELDS, texts, strict=True) if value
            }
            update |= {name: float(value) for name, value in zip(AMOUNTS, amounts, strict=True) if value}
            parts[key] = parts[key].model_copy(
                update={**update, "own": {**parts[key].own, **json.loads(own)}}
            )
            if threads:
                parts[key] = _threaded(parts[key], THREADS.validate_json(threads))
            if processes:
                known = [p for p in PROCESSES.validate_json(processes) if parts[key].face(p.face) is not None]
                parts[key] = parts[key].model_copy(update={"processes": known})
    top: dict[str, object] = {}
    if facts.kind == "part":
        only = next(iter(parts.values()))
        top = {name: getattr(only, name) for name in FIELDS[:4] if getattr(only, name)}
    if exploded:
        top["exploded"] = TypeAdapter(list[ExplodedState]).validate_json(exploded)
    return facts.model_copy(
        update={
            "parts": parts,
            "densities": {**facts.densities, **dict(densities)},
            "same_as": dict(same_as),
            **top,
        }
    )


THREADS = TypeAdapter(list[ThreadFact])
PROCESSES = TypeAdapter(list[ProcessFact])


def _threaded(part: PartFacts, said: list[ThreadFact]) -> PartFacts:
    """A part with threads that the office says, in place of the file's on the same faces."""
    said = [t for t in said if part.face(t.face) is not None]
    faces = {t.face for t in said}
    return part.model_copy(update={"threads": [*(t for t in part.threads if t.face not in faces), *said]})


def facts_of(version: ModelVersion) -> Facts:
    """Facts of a version as its file gives them."""
    return _facts(version.facts_id)


def facts_in(sha256: str) -> Facts:
    """Facts that were kept in a blob of their own."""
    return _facts(sha256)


Inputs = tuple[
    str, str, tuple[tuple[str, str], ...], tuple[tuple[str, ...], ...], tuple[tuple[str, float], ...]
]
"""All that a model's facts are merged from: what `_merged` takes."""


def facts_key(facts: Facts) -> str:
    """A name of all that is in a model's current facts, the same in every process: what was counted for
    others is counted anew."""
    return _KEYS.recall(facts, None, lambda: digest(facts.model_dump_json()).hex())


_KEYS: Memory[str] = Memory(64)


def keys_of(shown: Sequence[tuple[Model, int | None]]) -> list[str]:
    """The same for versions of models (None: the newest), without reading any facts."""
    return [_key(inputs) for _, inputs in _inputs(shown)]


def _key(inputs: Inputs) -> str:
    return digest(repr(inputs)).hex()


def current_facts(model: Model) -> tuple[ModelVersion, Facts]:
    """The newest version and its facts, with the office's properties and materials."""
    return facts_at(model, None)


def facts_at(model: Model, number: int | None) -> tuple[ModelVersion, Facts]:
    """A version by its number and its facts, with the office's properties and materials; None: the newest."""
    ((version, inputs),) = _inputs([(model, number)])
    facts = _merged(*inputs)
    _KEYS.recall(facts, None, lambda: _key(inputs))
    return version, facts


WANTED = """
SELECT wanted.place, version.*,
    (SELECT jsonb_agg(to_jsonb(said)) FROM library_partproperties said WHERE said.model_id = version.model_id)
        AS said,
    (SELECT jsonb_agg(jsonb_build_array(material.designation, material.density))
        FROM library_material material JOIN library_model model USING (workspace_id)
        WHERE model.id = version.model_id) AS weights
FROM unnest(%s::uuid[], %s::int[]) WITH ORDINALITY AS wanted(model, number, place)
JOIN library_modelversion version ON version.model_id = wanted.model AND version.number = COALESCE(
    wanted.number, (SELECT max(number) FROM library_modelversion every WHERE every.model_id = wanted.model))
ORDER BY wanted.place
"""
"""Every request asks for this: one query, and no time to compose it."""


def _inputs(shown: Sequence[tuple[Model, int | None]]) -> list[tuple[ModelVersion, Inputs]]:
    found = ModelVersion.objects.raw(WANTED, [[m.pk for m, _ in shown], [number for _, number in shown]])
    versions = {version.__dict__["place"]: version for version in found}
    return [(versions[n], _inputs_of(m, versions[n])) for n, (m, _) in enumerate(shown, 1)]


def _inputs_of(model: Model, version: ModelVersion) -> Inputs:
    told = version.__dict__
    said = sorted(json.loads(told["said"] or "[]"), key=lambda row: str(row["part"]))
    weights = json.loads(told["weights"] or "[]")
    return (
        version.facts_id,
        "" if model.exploded is None else json.dumps(model.exploded),
        tuple(sorted(model.same_as.items())),
        tuple(
            (
                row["part"],
                json.dumps(row["own"], sort_keys=True),
                json.dumps(row["threads"], sort_keys=True) if row["threads"] else "",
                json.dumps(row["processes"], sort_keys=True) if row["processes"] else "",
                *(row[name] for name in FIELDS),
                *("" if row[name] is None else repr(float(row[name])) for name in AMOUNTS),
            )
            for row in said
        ),
        tuple(sorted((str(name), float(density)) for name, density in weights)),
    )
