"""Placed files of a workspace: cleaned in a child process, kept, given to the core, and looked up before a
command may place them."""

import tempfile
from pathlib import Path
from typing import Any

from drafting.child import Progress
from drafting.commands import AnyCommand
from drafting.commands.annotations import Place
from drafting.errors import CommandError
from drafting.placed import content, pictures
from drafting.text import one_line
from server.accounts.models import Workspace
from server.drawings.models import PlacedFile
from server.library.models import Blob
from server.library.reading import FRESH

SECONDS = {"picture": 30.0, "underlay": 300.0}
"""That reading one may take."""


def kind_of(name: str) -> str:
    """What a file would be placed as, by its name; empty for none."""
    ending = name.lower().rpartition(".")[2]
    return "underlay" if ending == "dxf" else "picture" if ending in pictures.ENDINGS else ""


def kept(key: str) -> bytes | None:
    """The bytes of a placed file, for the core."""
    row = PlacedFile.objects.filter(blob_id=key).select_related("blob").first()
    return row.blob.content() if row else None


content.read_with(kept)


def take(workspace: Workspace, name: str, source: Path, progress: Progress) -> PlacedFile:
    """Clean a file in a child process and keep it. Raises DraftingError with a sentence."""
    kind = kind_of(name)
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder, FRESH.take() as child:
        out = Path(folder) / "placed"
        told = child.request(
            "read_placed", SECONDS[kind], progress, source=str(source), name=name, out=str(out)
        )
        blob = Blob.of_file(out)
    row, _ = PlacedFile.objects.update_or_create(
        workspace=workspace,
        blob=blob,
        defaults={"kind": told.pop("kind"), "name": one_line(name)[-120:], "told": told},
    )
    return row


def check(command: AnyCommand, workspace_id: Any) -> None:
    """Raises CommandError where a command places a file that the workspace does not have."""
    if not isinstance(command, Place):
        return
    keys = {str(a.file) for a in command.annotations if a.kind in ("picture", "underlay")}  # type: ignore[attr-defined]
    known = PlacedFile.objects.filter(workspace_id=workspace_id, blob_id__in=keys)
    if keys and set(known.values_list("blob_id", flat=True)) != keys:
        raise CommandError("That file is not in this workspace; bring it in first.")
