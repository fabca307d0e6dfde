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
