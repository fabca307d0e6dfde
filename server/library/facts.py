"""Facts of a model with what the office says of its parts, merged once and kept in memory: previews read them
many times a second."""

import json
import uuid
from collections.abc import Sequence
from functools import lru_cache

from pydantic import TypeAdapter

from drafting.memory import Memory, digest
from drafting.model.model import ExplodedState, Facts
from server.library.models import Blob, Material, Model, ModelVersion, PartProperties

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
    for key, own, *values in said:
        if key in parts:
            texts, amounts = values[: len(FIELDS)], values[len(FIELDS) :]
            update: dict[str, object] = {
                name: value for name, value in zip(FIELDS, texts, strict=True) if value
            }
            update |= {name: float(value) for name, value in zip(AMOUNTS, amounts, strict=True) if value}
            parts[key] = parts[key].model_copy(
                update={**update, "own": {**parts[key].own, **json.loads(own)}}
            )
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


def facts_of(version: ModelVersion) -> Facts:
    """Facts of a version as its file gives them."""
    return _facts(version.facts_id)


Inputs = tuple[
    str, str, tuple[tuple[str, str], ...], tuple[tuple[str, ...], ...], tuple[tuple[str, float], ...]
]
"""All that a model's facts are merged from: what `_merged` takes."""


def facts_key(facts: Facts) -> str:
    """A name of all that is in a model's current facts, the same in every process: what was counted for
    others is counted anew."""
    return _KEYS.recall(facts, None, lambda: digest(facts.model_dump_json()).hex())


_KEYS: Memory[str] = Memory(64)


def keys_of(models: Sequence[Model]) -> dict[uuid.UUID, str]:
    """The same for models of one workspace by their ids, without reading any facts."""
    return {pk: _key(inputs) for pk, (_, inputs) in _inputs(models).items()}


def _key(inputs: Inputs) -> str:
    return digest(repr(inputs)).hex()


def current_facts(model: Model) -> tuple[ModelVersion, Facts]:
    """The newest version and its facts, with the office's properties and materials."""
    version, inputs = _inputs([model])[model.pk]
    facts = _merged(*inputs)
    _KEYS.recall(facts, None, lambda: _key(inputs))
    return version, facts


def _inputs(models: Sequence[Model]) -> dict[uuid.UUID, tuple[ModelVersion, Inputs]]:
    keys = [m.pk for m in models]
    newest = ModelVersion.objects.filter(model__in=keys).order_by("model", "-number").distinct("model")
    versions = {version.model_id: version for version in newest}
    said: dict[uuid.UUID, list[tuple[str, ...]]] = {}
    for row in PartProperties.objects.filter(model__in=keys).order_by("part"):
        said.setdefault(row.model_id, []).append(
            (
                row.part,
                json.dumps(row.own, sort_keys=True),
                *(getattr(row, name) for name in FIELDS),
                *("" if getattr(row, name) is None else repr(getattr(row, name)) for name in AMOUNTS),
            )
        )
    densities = tuple(
        Material.objects.filter(workspace_id__in={m.workspace_id for m in models})
        .order_by("designation")
        .values_list("designation", "density")
    )
    return {
        m.pk: (
            versions[m.pk],
            (
                versions[m.pk].facts_id,
                "" if m.exploded is None else json.dumps(m.exploded),
                tuple(sorted(m.same_as.items())),
                tuple(said.get(m.pk, [])),
                densities,
            ),
        )
        for m in models
    }
