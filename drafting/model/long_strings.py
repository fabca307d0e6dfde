"""Strings in STEP files that are longer than the kernel can read."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory

LONGEST = 4000
"""Bytes of a string that are handed on as they are."""
KEPT = 400


def shortened(data: bytes) -> tuple[bytes, int]:
    """The file with strings of more than LONGEST bytes cut to KEPT, and how many bytes the longest had; 0
    where none was cut."""
    if len(data) < LONGEST:
        return data, 0
    pieces, longest = data.split(b"'"), 0
    for n in range(1, len(pieces), 2):
        piece = pieces[n]
        if len(piece) > LONGEST and b";\n" not in piece:  # else an apostrophe stood in a comment
            longest = max(longest, len(piece))
            short = piece[:KEPT]
            open_at = short.rfind(b"\\X2\\")
            pieces[n] = short[:open_at] if open_at > short.rfind(b"\\X0\\") else short
    return (b"'".join(pieces), longest) if longest else (data, 0)


@contextmanager
def readable(path: Path) -> Iterator[tuple[Path, list[str]]]:
    """The file, or where it has strings that the kernel cannot read, a copy with those cut; and a note on
    it."""
    data, longest = shortened(path.read_bytes())
    if not longest:
        yield path, []
        return
    with TemporaryDirectory(prefix="moorcrest-") as folder:
        copy = Path(folder) / path.name
        copy.write_bytes(data)
        yield copy, [f"A text of {longest:,} letters in the file was cut to {KEPT}."]
