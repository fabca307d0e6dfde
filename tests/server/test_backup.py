"""A backup brought back in another folder, with a database server of its own, holds the same."""

import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
FILL = """
from server.accounts.models import Workspace
from server.library.models import Blob
Workspace.objects.create(name="Mill")
for n in (0, 1, 1_048_576, 3_000_001):
    Blob.store(bytes(k % 251 for k in range(n)))
"""
TELL = """
import hashlib
from server.accounts.models import Workspace
from server.library.models import Blob
for blob in Blob.objects.order_by("size"):
    assert hashlib.sha256(blob.content()).hexdigest() == blob.pk
    print(blob.size)
print([w.name for w in Workspace.objects.all()])
"""
RUN = """
source scripts/setup.sh; source scripts/database.sh
choose_state; database_start
export DJANGO_SETTINGS_MODULE=server.settings.local MOORCREST_SECRET=for-this-test-alone-0123456789
"$0" manage.py migrate --verbosity 0
"$0" manage.py shell --verbosity 0 -c "$1"
database_stop
"""


def shell(folder: Path, *command: str) -> str:
    done = subprocess.run(
        command,
        cwd=ROOT,
        env={**os.environ, "MOORCREST_STATE": str(folder)},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


@pytest.fixture
def folders() -> Iterator[tuple[Path, Path]]:
    with tempfile.TemporaryDirectory(prefix="backup-", dir="/var/tmp") as name:
        Path(name).chmod(0o755)  # the database server may run as somebody else
        one, two = Path(name) / "one", Path(name) / "two"
        yield one, two


def test_a_backup_holds_everything(folders: tuple[Path, Path]) -> None:
    one, two = folders
    python = ("bash", "-euc", RUN, sys.executable)
    shell(one, *python, FILL)
    file = one / "all.backup"
    assert "Everything is in" in shell(one, "./moorcrest", "backup", str(file))
    shell(two, *python, "pass")
    assert "as it was" in shell(two, "./moorcrest", "restore", str(file))
    assert shell(two, *python, TELL).split("\n")[:5] == ["0", "1", "1048576", "3000001", "['Mill']"]
    with pytest.raises(AssertionError, match="not a backup"):
        shell(two, "./moorcrest", "restore", str(ROOT / "README.md"))
    assert "['Mill']" in shell(two, *python, TELL)


OLD = Path(__file__).with_name("office_of_november_25.backup")
"""Written by a version whose drawings were one document each, whose blobs were
one value each, and that knew no owners: the bearing block and its drawing, for ann and ben."""
OPENED = """
import hashlib
from django.contrib.auth import get_user_model
from drafting.annotation import registry
from drafting.document import Dimension
from server.accounts.models import Membership
from server.drawings import service, store
from server.drawings.geometry import derive_now, requested
from server.drawings.models import Drawing
from server.drawings.showing import shown_facts
from server.library.facts import current_facts
from server.library.models import Blob
from drafting.views.family import derivation_of
for blob in Blob.objects.all():
    assert hashlib.sha256(blob.content()).hexdigest() == blob.pk
print([(m.user.username, m.role) for m in Membership.objects.order_by("pk")])
drawing, ann = Drawing.objects.get(), get_user_model().objects.get(username="ann")
version, facts = current_facts(drawing.model)
document = store.document_of(drawing)
for sheet in document.sheets:
    for view in sheet.views:
        derive_now(requested(version, derivation_of(view, facts)).key)
ink = service.composed(drawing, document, document.sheets[0])
found = service.geometries(*shown_facts(drawing), document.sheets[0])
assert len(found) == len(document.sheets[0].views) == 4
print(sum(len(g.elements) for g in ink.ink.groups))
values = sorted(
    round(registry.value(a, registry.context_of(document, s, a, facts)), 6)
    for s in document.sheets for a in s.annotations if isinstance(a, Dimension)
)
print(values)
at = drawing.version
for forward in (False, False, True, True):
    drawing, title, patch = service.step(drawing.pk, drawing.version, ann, forward)
    assert patch
print(store.document_of(drawing) == document, drawing.version - at)
from drafting.features.recognized import features
from server.library import measuring
(part,) = facts.parts.values()
print(features(part).known, measuring.start_for_older(), measuring.start_for_older())
measuring.measure(version)
(part,) = current_facts(drawing.model)[1].parts.values()
print(sorted(round(h.diameter, 6) for h in features(part).holes))
print(measuring.start_for_older(), store.document_of(drawing) == document)
"""


SIZES = [4.2, 5.0, 6.0, 6.0, 12.0, 13.0, 18.0, 38.0, 40.0, 50.0, 52.0, 60.0, 62.0, 108.0, 140.0]
"""Of that drawing, as its recipe says them."""


def test_a_backup_of_an_older_version_is_brought_up(folders: tuple[Path, Path]) -> None:
    one, _ = folders
    python = ("bash", "-euc", RUN, sys.executable)
    shell(one, *python, "pass")
    assert "as it was" in shell(one, "./moorcrest", "restore", str(OLD))
    told = shell(one, *python, OPENED).splitlines()
    assert told[0] == "[('ann', 'owner'), ('ben', 'drafter')]"
    assert int(told[1]) > 300
    assert told[2] == str(SIZES)
    assert told[3] == "True 4"
    assert told[4] == "False 1 0"  # its facts are told anew, by one job
    assert told[5] == "[4.2, 4.2, 4.2, 4.2, 5.0, 40.0]"
    assert told[6] == "0 True"
