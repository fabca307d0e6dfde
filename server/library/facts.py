"""Facts of a model version, parsed once and kept in memory: previews of sizes read them many times a second."""

from functools import lru_cache

from drafting.model.model import Facts
from server.library.models import Blob, Model, ModelVersion


@lru_cache(maxsize=32)
def _facts(sha256: str) -> Facts:
    return Facts.model_validate_json(Blob.objects.get(pk=sha256).content())


def facts_of(version: ModelVersion) -> Facts:
    return _facts(version.facts_id)


def current_facts(model: Model) -> tuple[ModelVersion, Facts]:
    version = model.current()
    return version, facts_of(version)
