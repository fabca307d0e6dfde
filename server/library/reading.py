"""Bringing in a model: from an uploaded file to a model with facts, prepared shapes and a preview."""

import re
import shutil
import tempfile
import uuid
import zipfile
from collections.abc import Callable, Mapping
from contextlib import ExitStack
from dataclasses import dataclass
from pathlib import Path, PureWindowsPath
from typing import IO, Any

from django.conf import settings
from django.db import transaction

from drafting.child import FreshChildren, KernelChild, Progress
from drafting.errors import DraftingError, ModelError
from drafting.model.model import Facts
from drafting.text import one_line
from server.accounts.models import Workspace
from server.library import versions
from server.library.models import PIECE, Model
from server.library.versions import Came

FRESH = FreshChildren()
LONGEST_NAME = 200
"""Bytes of a file's name that are kept, from its end."""


def kind_of(file_name: str) -> str:
    ending = file_name.lower().rpartition(".")[2]
    return {"json": "recipe", "zip": "bundle"}.get(ending, "step")


def plain_name(file_name: str) -> str:
    """A user's file name, for sentences and for the file within a folder of its own: without folders, and
    without characters that a file system or the kernel may take for others."""
    base = re.sub(r"[^\w.()+ -]", "_", PureWindowsPath(file_name).name).strip(". ")
    return base.encode()[-LONGEST_NAME:].decode(errors="ignore") or "model"


def read_into(
    workspace: Workspace,
    file_name: str,
    source: Path,
    progress: Progress = lambda done, text: None,
    child: KernelChild | None = None,
    siblings: Mapping[str, Path] | None = None,
    measure_later: Callable[[Model], object] | None = None,
    of: Model | None = None,
    by: Any = None,
) -> Model:
    """Read a file in a child process, one of its own unless given, and keep it as a new model, or as the next
    version of one (of), brought in by a user (by).

    source: the file, or a zip of it and of the files it refers to. siblings: recipes by number that came with
    it and go before those of the workspace. measure_later: told of a model that is usable though not
    measured, in the transaction that keeps it; without it all is measured at once. Raises DraftingError; then
    nothing is kept. This process never holds more than a piece of a file from outside.
    """
    if child is None:
        with FRESH.take() as own:
            return read_into(workspace, file_name, source, progress, own, siblings, measure_later, of, by)
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as name:
        came = read_file(
            workspace, file_name, source, Path(name), child, progress, siblings, measure_later is not None, by
        )
        if of is not None:
            return versions.add(of, child, came, progress, measure_later)
        progress(0.99, "keeping it")
        return _keep(workspace, came, measure_later)


def read_file(
    workspace: Workspace,
    file_name: str,
    source: Path,
    folder: Path,
    child: KernelChild,
    progress: Progress = lambda done, text: None,
    siblings: Mapping[str, Path] | None = None,
    later: bool = False,
    by: Any = None,
) -> Came:
    """Read a file into a folder and keep nothing of it yet. later: whether volumes may be left to be
    measured. Raises DraftingError."""
    kind = kind_of(file_name)
    path = folder / "source" / plain_name(file_name)
    path.parent.mkdir()
    shutil.copyfile(source, path)
    recipes, archives = (
        _referred(child, workspace, path, siblings or {}, folder) if kind == "recipe" else ({}, {})
    )
    child.request(
        "read",
        settings.READ_SECONDS,
        progress,
        source=str(path),
        name=one_line(Path(file_name).stem)[:120],
        kind=kind,
        folder=str(folder),
        root=file_name,
        recipes=recipes,
        archives=archives,
        later=later,
    )
    return Came(file_name, kind, path, folder, by)


def _referred(
    child: KernelChild, workspace: Workspace, source: Path, siblings: Mapping[str, Path], folder: Path
) -> tuple[dict[str, str], dict[str, str]]:
    """What a recipe refers to by number, on all levels: paths of recipes, and of packed models that came from
    STEP files."""
    found: dict[str, str] = {}
    archives: dict[str, str] = {}
    waiting = child.request("referred", settings.READ_SECONDS, source=str(source))
    while waiting:
        number = waiting.pop()
        if number in found or number in archives:
            continue
        if number in siblings:
            found[number] = str(siblings[number])
        else:
            model = Model.objects.filter(workspace=workspace, number=number).order_by("-created").first()
            if model is None:
                continue
            version = model.current()
            if version.source_kind == "recipe":
                found[number] = str(version.source.write_to(folder / f"{version.source_id}.json"))
            else:
                archives[number] = str(version.archive.write_to(folder / f"{version.archive_id}.archive"))
                continue
        waiting += child.request("referred", settings.READ_SECONDS, source=found[number])
    return found, archives


@dataclass(frozen=True)
class Found:
    """Files of a bundle that make one model, or recipes in the order in which they are to be read; number by
    member where recipes say theirs."""

    kind: str
    members: list[Path]
    root: str
    numbers: dict[str, Path]

    def source(self, folder: Path) -> Path:
        """The one file as read_into takes it: itself, or a zip of several, written into a folder."""
        return self.members[0] if len(self.members) == 1 else self.zipped(folder)

    def zipped(self, folder: Path) -> Path:
        """All of them as a zip in a folder."""
        out = folder / f"{uuid.uuid4().hex}.zip"
        with out.open("wb") as file, ExitStack() as open_files:
            zip_into(file, {m.name: open_files.enter_context(m.open("rb")) for m in self.members})
        return out


def sorted_out(name: str, source: Path, folder: Path, progress: Progress) -> list[Found]:
    """What a zip holds, unpacked into a folder, one entry for each job to be done. Raises DraftingError."""
    with FRESH.take() as child:
        progress(0.02, f"looking into {name}")
        groups = child.request("sort_out", settings.READ_SECONDS, source=str(source), folder=str(folder))
    return [
        Found(
            g["kind"],
            [folder / member for member in g["members"]],
            g["root"],
            {number: folder / member for number, member in g["numbers"].items()},
        )
        for g in groups
    ]


def zip_into(out: IO[bytes], files: Mapping[str, IO[bytes]]) -> None:
    """Files as one zip, not packed any tighter."""
    with zipfile.ZipFile(out, "w") as archive:
        for name, file in files.items():
            file.seek(0)
            with archive.open(name, "w", force_zip64=True) as entry:
                shutil.copyfileobj(file, entry, PIECE)


def read_recipes(
    workspace: Workspace,
    found: Found,
    progress: Progress,
    measure_later: Callable[[Model], object] | None = None,
) -> Model:
    """Read recipes that came together, parts before assemblies. Those read before one that fails are kept.
    Returns the last model."""
    model = None
    with FRESH.take() as child:
        for n, path in enumerate(found.members):
            progress(n / len(found.members), path.name)
            try:
                model = read_into(
                    workspace,
                    path.name,
                    path,
                    child=child,
                    siblings=found.numbers,
                    measure_later=measure_later,
                )
            except DraftingError as error:
                raise ModelError(f"{path.name}: {error}") from error
    assert model is not None
    return model


@transaction.atomic
def _keep(workspace: Workspace, came: Came, measure_later: Callable[[Model], object] | None) -> Model:
    facts = came.facts()
    model = Model.objects.create(
        workspace=workspace,
        name=one_line(facts.name)[:120],
        number=one_line(_number(facts))[:60],
        kind=facts.kind,
        units=facts.units,
    )
    came.keep(model)
    if facts.unmeasured and measure_later is not None:
        measure_later(model)
    return model


def _number(facts: Facts) -> str:
    return facts.number or (next(iter(facts.parts.values())).number if facts.kind == "part" else "")
