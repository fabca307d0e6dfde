"""House styles: the built-in ones and the workspace's own; logos cleaned in a process of their own."""

import base64
import subprocess
import sys
import threading
import uuid

from drafting.errors import CommandError
from drafting.standards.house_style import HouseStyle as Style
from drafting.standards.house_style import built_in
from server.accounts.models import Workspace
from server.styles.models import HouseStyle

SECONDS = 10
PLACES = threading.BoundedSemaphore(2)
"""Logos read at once, so that nobody else waits for them."""


def found(workspace: Workspace, key: str) -> Style:
    """A style by its id or the key of a built-in one. Raises CommandError."""
    own = _own(workspace, key)
    if own:
        return own.style()
    styles = built_in()
    if key in styles:
        return styles[key]
    raise CommandError("That house style is no longer here.")


def _own(workspace: Workspace, key: str) -> HouseStyle | None:
    try:
        return HouseStyle.objects.filter(workspace=workspace, pk=uuid.UUID(key)).first()
    except ValueError:
        return None


def for_units(workspace: Workspace, units: str) -> tuple[str, Style]:
    """The style a new drawing takes unless told: the office's own of the model's units, changed last; else
    the built-in one."""
    wanted = "in" if units in ("in", "ft") else "mm"
    own = HouseStyle.objects.filter(workspace=workspace, units=wanted).order_by("-updated").first()
    if own:
        return str(own.pk), own.style()
    key = "asme-inch" if wanted == "in" else "iso-mm"
    return key, built_in()[key]


def save(workspace: Workspace, style: Style, row: HouseStyle | None = None) -> HouseStyle:
    """Keep a style under its name. Raises CommandError where another one has it."""
    same = HouseStyle.objects.filter(workspace=workspace, name=style.name)
    if row is not None:
        same = same.exclude(pk=row.pk)
    if same.exists():
        raise CommandError(f"There is a house style called {style.name} already.")
    row = row or HouseStyle(workspace=workspace)
    row.take(style)
    row.save()
    return row


def free_name(workspace: Workspace, name: str) -> str:
    taken = set(HouseStyle.objects.filter(workspace=workspace).values_list("name", flat=True)) | {
        s.name for s in built_in().values()
    }
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 1000))) if n not in taken)


def clean_logo(data: bytes) -> str:
    """PNG, base64, of a logo from outside. Raises CommandError with the sentence that says what is wrong with
    it."""
    if not PLACES.acquire(timeout=0.5):
        raise CommandError("Other logos are being read; try again in a moment.")
    try:
        run = subprocess.run(
            [sys.executable, "-m", "drafting.standards.logo"],
            input=data,
            capture_output=True,
            timeout=SECONDS,
            check=False,
        )
    except subprocess.TimeoutExpired:
        raise CommandError("The logo took too long to read; simplify it.") from None
    finally:
        PLACES.release()
    if run.returncode:
        said = run.stderr.decode(errors="replace").partition("said:")[2].strip()
        raise CommandError(said or "The logo could not be read.")
    return base64.b64encode(run.stdout).decode()
