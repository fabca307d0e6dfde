"""Versions of models: the next one of a model, and the one that is taken back."""

import tempfile
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction

from drafting.child import KernelChild, Progress
from drafting.errors import ModelError
from drafting.model.model import FACTS_FORMAT, Facts
from drafting.text import one_line
from server.library import measuring
from server.library.facts import facts_of
from server.library.models import Blob, Model, ModelVersion

OTHER_PART = 0.3
"""Share of faces found again below which a version may be another part altogether."""


@dataclass(frozen=True)
class Came:
    """What came in and was read into a folder: archive.zip, facts.json and preview.glb are there."""

    file_name: str
    kind: str
    source: Path
    folder: Path
    by: Any = None

    def facts(self) -> Facts:
        """As they are in the folder."""
        return Facts.model_validate_json((self.folder / "facts.json").read_bytes())

    def keep(self, model: Model, number: int = 1, told: Mapping[str, Any] | None = None) -> ModelVersion:
        """As a version of a model."""
        return ModelVersion.objects.create(
            model=model,
            number=number,
            file_name=one_line(self.file_name)[:200],
            source_kind=self.kind,
            source=Blob.of_file(self.source),
            archive=Blob.of_file(self.folder / "archive.zip"),
            facts=Blob.of_file(self.folder / "facts.json"),
            facts_format=FACTS_FORMAT,
            preview=Blob.of_file(self.folder / "preview.glb"),
            by=self.by,
            told=told or {},
        )


def add(
    model: Model,
    child: KernelChild,
    came: Came,
    progress: Progress,
    measure_later: Callable[[Model], object] | None = None,
) -> Model:
    """Keep what was read as the next version of a model, called as the earlier ones. Raises ModelError where
    it cannot be one, or another one came meanwhile."""
    progress(0.97, "looking for what was there")
    earlier = list(model.versions.order_by("-number"))
    paths = [v.facts.write_to(came.folder / f"earlier-{v.number}.json") for v in earlier]
    told = child.request(
        "carry", settings.READ_SECONDS, folder=str(came.folder), earlier=[str(p) for p in paths]
    )
    facts = came.facts()
    with transaction.atomic():
        model = Model.objects.select_for_update().get(pk=model.pk)
        if model.current().number != earlier[0].number:
            raise ModelError("Another version of this model came in meanwhile; bring yours in again.")
        came.keep(model, earlier[0].number + 1, told)
        model.units = facts.units
        model.save(update_fields=["units", "updated"])
        if facts.unmeasured and measure_later is not None:
            measure_later(model)
    return model


def adopt(model: Model, fresh: Model, by: Any, progress: Progress) -> Model:
    """Make a model that came in by itself the next version of another; it is then no model any more. Raises
    ModelError."""
    if fresh.pk == model.pk or fresh.drawings.exists() or fresh.versions.count() > 1:
        raise ModelError(f"{fresh} is in use as a model by itself.")
    version = fresh.current()
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as name, KernelChild() as child:
        folder = Path(name)
        for blob, file in ((version.archive, "archive.zip"), (version.facts, "facts.json")):
            blob.write_to(folder / file)
        version.preview.write_to(folder / "preview.glb")
        source = version.source.write_to(folder / "source")
        came = Came(version.file_name, version.source_kind, source, folder, by)
        with transaction.atomic():
            add(model, child, came, progress, lambda m: measuring.start(m, by))
            fresh.delete()
    return model


def warning(version: ModelVersion) -> str:
    """What to think of before anything is brought along to a version; empty for nothing."""
    share = version.told.get("share", 1.0)
    if share < OTHER_PART:
        return (
            f"Only {100 * share:.0f} % of the faces of the version before are found again: "
            f"this may be another part altogether."
        )
    return ""


def likely(model: Model, first: int, last: int) -> dict[str, dict[str, str]]:
    """By part, what faces and edges of one version are likely called in a later one."""
    out: dict[str, dict[str, str]] = {}
    for version in model.versions.filter(number__gt=first, number__lte=last).order_by("number"):
        for part, names in version.told.get("likely", {}).items():
            mine = out.setdefault(part, {})
            for old, new in mine.items():
                mine[old] = names.get(new, new)
            mine.update({old: new for old, new in names.items() if old not in mine})
    return out


@transaction.atomic
def take_back(version: ModelVersion) -> None:
    """Remove the newest version of a model, which no drawing shows. Raises ModelError."""
    model = Model.objects.select_for_update().get(pk=version.model_id)
    if model.current().pk != version.pk or version.number == 1:
        raise ModelError("Only the newest of several versions can be taken back.")
    shown = list(model.drawings.filter(shows=version.number))
    if shown:
        raise ModelError(f"{shown[0]} shows this version; bring it back to an earlier one first.")
    released = model.drawings.filter(releases__shows=version.number).first()
    if released is not None:
        raise ModelError(f"A released revision of {released} shows this version.")
    version.delete()
    model.units = facts_of(model.current()).units
    model.save(update_fields=["units", "updated"])
